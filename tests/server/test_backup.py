"""Backups: whole while others write, read back, restored into an empty folder, refused where something is wrong."""

import json
import shutil
import sqlite3
import subprocess
import sys
import tempfile
import threading
import zipfile
from collections.abc import Callable
from contextlib import closing
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from unittest import TestCase

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests import so_many
from tests.places import with_sqlite
from tutelar.server.backup import DATABASE, KEY, BackupError, check, daily, made_by_itself, make, restore
from tutelar.server.starting import ready
from tutelar.server.versions import KNOWN


class BackupCase(TestCase):
    def setUp(self) -> None:
        self.room = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.data, self.out = self.room / "data", self.room / "backups" / "one.zip"
        self.data.mkdir()
        with closing(self.opened()) as database:
            database.executescript(
                "PRAGMA journal_mode=WAL; CREATE TABLE line (number INTEGER); "
                "CREATE TABLE django_migrations (app TEXT, name TEXT);"
            )
            database.execute("INSERT INTO django_migrations VALUES ('tutelar', ?)", [KNOWN])
            database.commit()
        photo = self.data / "photos" / "quay" / f"{'a' * 32}.jpg"
        photo.parent.mkdir(parents=True)
        photo.write_bytes(b"a picture")
        (self.data / KEY).write_bytes(b"the key")

    def opened(self, folder: Path | None = None) -> sqlite3.Connection:
        return sqlite3.connect((folder or self.data) / DATABASE, timeout=20)

    def lines(self, folder: Path) -> int:
        with closing(self.opened(folder)) as database:
            return int(database.execute("SELECT count(*) FROM line").fetchone()[0])

    def refused(self, work: Callable[[], object]) -> str:
        with self.assertRaises(BackupError) as caught:
            work()
        return str(caught.exception)


class Backups(BackupCase):
    def test_what_was_acknowledged_before_it_is_in_it_while_others_write_on(self) -> None:
        stop, written = threading.Event(), [0]

        def write() -> None:
            with closing(self.opened()) as database:
                while not stop.is_set():
                    database.execute("INSERT INTO line VALUES (1)")
                    database.commit()
                    written[0] += 1

        writer = threading.Thread(target=write)
        writer.start()
        try:
            for number in range(3):
                while written[0] < 40 * (number + 1):
                    pass
                before = written[0]
                make(self.data, self.out)
                restore(self.out, self.room / f"again-{number}", KNOWN)
                self.assertGreaterEqual(self.lines(self.room / f"again-{number}"), before)
        finally:
            stop.set()
            writer.join()
        again = self.room / "again-0"
        self.assertEqual((again / "photos" / "quay" / f"{'a' * 32}.jpg").read_bytes(), b"a picture")
        self.assertFalse((again / KEY).exists())
        self.assertNotIn(b"the key", self.out.read_bytes())
        self.assertEqual(self.out.stat().st_mode & 0o077, 0)

    def test_a_sealed_one_holds_the_key_and_opens_with_its_passphrase_alone(self) -> None:
        make(self.data, self.out, "a long passphrase")
        self.assertNotIn(b"a picture", self.out.read_bytes())
        self.assertIn("is sealed", self.refused(lambda: check(self.out)))
        self.assertIn("another passphrase", self.refused(lambda: check(self.out, "a wrong one")))
        restore(self.out, self.room / "again", KNOWN, "a long passphrase")
        self.assertEqual((self.room / "again" / KEY).read_bytes(), b"the key")

    def test_what_is_wrong_with_one_is_said_and_nothing_is_half_restored(self) -> None:
        make(self.data, self.out)
        whole = self.out.read_bytes()
        self.assertIn("has a database", self.refused(lambda: restore(self.out, self.data, KNOWN)))
        self.assertIn("newer Tutelar", self.refused(lambda: restore(self.out, self.room / "older", "0001_first")))
        for name, content in (("cut", whole[: len(whole) // 2]), ("text", b"no backup at all"), ("empty", b"")):
            path = self.room / name
            path.write_bytes(content)
            self.assertIn("no whole backup", self.refused(lambda path=path: restore(path, self.room / "no", KNOWN)))
        other = self.room / "other.zip"
        with zipfile.ZipFile(self.out) as archive, zipfile.ZipFile(other, "w") as changed:
            for name in archive.namelist():
                changed.writestr(name, b"another picture" if name.endswith(".jpg") else archive.read(name))
        self.assertIn("not as it was", self.refused(lambda: restore(other, self.room / "no", KNOWN)))
        made_up = self.room / "made-up.zip"
        with zipfile.ZipFile(made_up, "w") as changed:
            told = {"format": "tutelar-backup", "version": 1, "made": "", "migration": 7, "files": 5}
            changed.writestr("manifest.json", json.dumps(told))
        self.assertIn("no backup of Tutelar", self.refused(lambda: check(made_up)))
        self.assertIn("cannot be read", self.refused(lambda: check(self.room / "nowhere.zip")))
        self.assertFalse((self.room / "no" / DATABASE).exists())
        self.assertIn("nothing to back up", self.refused(lambda: make(self.room / "bare", self.out)))
        self.assertIn("could not be made", self.refused(lambda: make(self.data, Path("/proc/no/one.zip"))))
        self.assertEqual(self.out.read_bytes(), whole)

    @settings(max_examples=so_many(40, 3_000), suppress_health_check=list(HealthCheck))
    @given(st.booleans(), st.lists(st.tuples(st.floats(0, 1, exclude_max=True), st.integers(1, 255)), min_size=1))
    def test_whatever_byte_is_bent_it_is_whole_or_refused_in_a_sentence(
        self, sealed: bool, bends: list[tuple[float, int]]
    ) -> None:
        passphrase = "a long passphrase" if sealed else None
        kept = self.room / f"kept-{sealed}"
        if not kept.exists():
            make(self.data, kept, passphrase)
        content, bent = bytearray(kept.read_bytes()), self.room / "bent"
        for share, by in bends:
            content[int(share * len(content))] ^= by
        bent.write_bytes(content)
        try:
            self.assertEqual(check(bent, passphrase).files, check(kept, passphrase).files)
        except BackupError as error:
            self.assertIn(str(bent), str(error))

    def test_one_a_day_stays_for_a_week_and_one_a_week_for_five(self) -> None:
        backups, now = self.room / "own", datetime(2027, 6, 1, 9, tzinfo=UTC)
        make(self.data, self.out)
        backups.mkdir()
        for age in range(1, 60):
            shutil.copy(self.out, backups / f"tutelar-{now - timedelta(days=age):%Y-%m-%d}.zip")
        self.assertIsNotNone(daily(self.data, backups, now))
        self.assertIsNone(daily(self.data, backups, now))
        ages = [(now.date() - date.fromisoformat(path.stem[8:])).days for path in made_by_itself(backups)]
        self.assertEqual(ages[:7], list(range(7)))
        self.assertTrue(4 <= len(ages[7:]) <= 6 and max(ages) <= 35, ages)


class Starting(BackupCase):
    def test_a_damaged_database_is_said_and_the_newest_good_backup_offered(self) -> None:
        self.assertIsNone(ready(self.data, self.room / "backups"))
        make(self.data, self.out)
        shutil.copy(self.out, self.out.with_name("later.zip"))
        self.out.with_name("later.zip").write_bytes(b"broken")
        (self.data / DATABASE).write_bytes(b"SQLite format 3\0" + b"\7" * 4000)
        said = ready(self.data, self.room / "backups") or ""
        self.assertIn("is damaged", said)
        self.assertIn(f"tutelar restore {self.out}", said)
        self.assertIn("There is no backup", ready(self.data, self.room / "none") or "")

    def test_an_earlier_one_is_backed_up_before_and_a_newer_one_is_left_alone(self) -> None:
        with closing(self.opened()) as database:
            database.execute("UPDATE django_migrations SET name = '0001_first'")
            database.commit()
        self.assertIsNone(ready(self.data, self.room / "backups"))
        (made,) = (self.room / "backups").glob("before-*.zip")
        self.assertEqual(check(made).migration, "0001_first")
        with closing(self.opened()) as database:
            database.execute("UPDATE django_migrations SET name = '9999_later'")
            database.commit()
        self.assertIn("newer Tutelar (9999_later)", ready(self.data, self.room / "backups") or "")

    def test_the_commands_say_it_in_a_sentence(self) -> None:
        def run(*arguments: str, folder: Path) -> tuple[int, str, str]:
            environment = with_sqlite(folder)
            done = subprocess.run(
                [sys.executable, "-m", "tutelar.cli", *arguments],
                capture_output=True,
                text=True,
                env=environment,
                check=False,
            )
            return done.returncode, done.stdout, done.stderr

        status, said, _ = run("backup", str(self.out), folder=self.data)
        self.assertEqual((status, "read back whole; the vault's key is NOT in it" in said), (0, True), said)
        status, said, _ = run("restore", str(self.out), folder=self.room / "again")
        self.assertEqual((status, "Put the vault's key back" in said), (0, True), said)
        status, _, said = run("restore", str(self.out), folder=self.room / "again")
        self.assertEqual((status, said.count("\n"), "Traceback" in said), (2, 1, False), said)
