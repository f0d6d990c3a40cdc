"""Saved passwords on the machine: closed to others, whole after a kill, and readable as no login."""

import contextlib
import io
import random
import subprocess
import sys
import tempfile
import threading
import zipfile
from http.cookies import Morsel
from pathlib import Path
from unittest import mock

from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.test import TestCase, override_settings
from django_tasks_db.models import DBTaskResult
from openpyxl import Workbook

from tests.samples import demo as demo_file
from tests.samples import device, document
from tests.server.test_api import ApiCase
from tests.server.test_logbook import picture
from tutelar.server import demo, kept_worker, models, uploads
from tutelar.server.logbook import services as logbook
from tutelar.server.private import clear_unfinished, kept_or_made, private_folder
from tutelar.server.store.writes import WriteRejected


class OnTheDisk(TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "data"

    def test_the_data_folder_is_closed_to_other_accounts_at_every_start(self) -> None:
        (self.folder / "photos").mkdir(parents=True, mode=0o755)
        for name in ("tutelar.sqlite3", "photos/a.jpg"):
            (self.folder / name).write_bytes(b"x")
            (self.folder / name).chmod(0o644)
        code = "import tutelar.server.settings as s; (s.DATA_DIR / 'later').write_text('x')"
        subprocess.run(
            [sys.executable, "-c", code], check=True, env={"TUTELAR_DATA": str(self.folder), "PYTHONPATH": "."}
        )
        modes = {str(path.relative_to(self.folder)): path.stat().st_mode & 0o777 for path in self.folder.rglob("*")}
        self.assertEqual(self.folder.stat().st_mode & 0o777, 0o700)
        self.assertEqual(modes.pop("photos"), 0o700)
        self.assertEqual(set(modes), {"tutelar.sqlite3", "photos/a.jpg", "secret-key", "later"})
        self.assertEqual(set(modes.values()), {0o600})

    def test_an_empty_file_of_a_first_start_is_written_anew_and_what_was_begun_goes(self) -> None:
        private_folder(self.folder)
        (self.folder / "demo-login").write_text("\n")
        (self.folder / "photo.jpg.1234.new").write_text("half")
        further = mock.patch.multiple(demo.mornings, load_half_way=mock.DEFAULT, load_finished=mock.DEFAULT)
        with override_settings(DATA_DIR=self.folder), further:  # which take seconds
            user, password = demo.load()
        self.assertGreater(len(password), 10)
        self.assertTrue(User.objects.get(username=user).check_password(password))
        self.assertEqual(kept_or_made(self.folder / "demo-login", "another"), password)
        self.assertEqual(clear_unfinished(self.folder), 1)
        self.assertEqual([path.name for path in self.folder.iterdir()], ["demo-login"])


class Sessions(ApiCase):
    def test_what_stands_in_the_database_is_no_session(self) -> None:
        self.assertEqual(self.client.get("/api/sites").status_code, 200)
        cookie = self.client.cookies["sessionid"]
        self.assertIsInstance(cookie, Morsel)
        kept = Session.objects.get()
        self.assertNotEqual(kept.session_key, cookie.value)
        own, self.client.cookies["sessionid"] = cookie.value, kept.session_key
        self.assertEqual(self.client.get("/api/sites").status_code, 401)
        self.client.cookies["sessionid"] = own
        self.assertEqual(self.client.get("/api/sites").status_code, 200)
        self.client.logout()
        self.assertEqual(Session.objects.count(), 0)


def _with_sheet(whole: bytes, sheet: bytes) -> bytes:
    """Return the workbook with another content of its first sheet."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(whole)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            new.writestr(name, sheet if name == "xl/worksheets/sheet1.xml" else old.read(name))
    return out.getvalue()


class Strange(ApiCase):
    def test_strange_requests_are_answered_in_a_sentence(self) -> None:
        key = self.bring(document([device(1)]))
        for day in ("9999-12-31", "0001-01-01"):
            self.assertEqual(self.call("GET", f"/sites/{key}/log?day={day}")[0], 200)
        deep = b'{"models": ' + b"[" * 200_000 + b"]" * 200_000 + b"}"
        said = self.client.post("/api/catalogue", deep, content_type="application/json")
        self.assertEqual(said.status_code, 422, said.content)

    def test_a_damaged_spreadsheet_is_refused_in_a_sentence(self) -> None:
        book = Workbook()
        for number in range(20):
            book.active.append([f"S{number}", number, "02:1a:4b:00:00:01"])
        out = io.BytesIO()
        book.save(out)
        dice, whole = random.Random(4), out.getvalue()
        sheet = zipfile.ZipFile(io.BytesIO(whole)).read("xl/worksheets/sheet1.xml")
        for turn in range(120):
            if turn % 2:
                damaged = bytearray(whole)
                for _ in range(3):
                    damaged[dice.randrange(len(whole))] = dice.randrange(256)
            else:  # a proper archive with improper contents
                cut = dice.randrange(len(sheet))
                damaged = bytearray(_with_sheet(whole, sheet[:cut] + bytes([dice.randrange(256)]) + sheet[cut + 1 :]))
            with contextlib.suppress(WriteRejected):  # a byte of no weight may leave it readable
                uploads.rows_of(bytes(damaged))

    def test_one_photograph_from_six_at_once_is_kept_once(self) -> None:
        row, names, gate = models.Site(key="six"), [], threading.Barrier(6)
        with (
            tempfile.TemporaryDirectory() as folder,
            override_settings(DATA_DIR=Path(folder)),
            mock.patch.object(logbook.lookup, "site_row", return_value=row),
        ):

            def keep() -> None:
                gate.wait()
                names.append(logbook.keep_photo(row.key, picture()))

            threads = [threading.Thread(target=keep) for _ in range(6)]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
            self.assertEqual((len(names), len(set(names))), (6, 1))
            self.assertEqual([path.name for path in Path(folder).rglob("*.*")], names[:1])


class Killed(ApiCase):
    def test_what_a_killed_worker_left_is_ended_and_said(self) -> None:
        first, second = self.bring(document([device(1)])), self.bring(demo_file())
        rows = [models.Site.objects.get(key=key) for key in (first, second)]
        running = models.Proof.objects.create(site=rows[0], state="running", by="ines")
        others = models.Proof.objects.create(site=rows[1], state="running", by="ines")
        models.Pretend.objects.create(site=rows[0], targets={}, by="ines")
        for proof, worker in ((running, "killed"), (others, "well")):
            DBTaskResult.objects.create(
                task_path="tutelar.server.proof.tasks.measure", args_kwargs={"args": [proof.pk], "kwargs": {}},
                queue_name="default", backend_name="default", priority=0, status="RUNNING", worker_ids=[worker],
            )  # fmt: skip
        self.assertEqual(kept_worker.end_what_was_left(kept_worker.KILLED, "killed"), 1)
        running.refresh_from_db()
        others.refresh_from_db()
        self.assertEqual((running.state, others.state, models.Pretend.objects.count()), ("failed", "running", 1))
        self.assertEqual(DBTaskResult.objects.filter(status="RUNNING").count(), 1)
        line = models.Event.objects.get(kind="proof.failed")
        self.assertEqual((line.site_key, line.sentence), (first, kept_worker.KILLED))
        self.assertEqual(kept_worker.end_what_was_left(kept_worker.STOPPED), 1)
        self.assertEqual(models.Pretend.objects.count(), 0)

    def test_a_killed_worker_is_begun_again_until_it_ends_too_soon_too_often(self) -> None:
        asked = threading.Semaphore(0)
        sleeper = (sys.executable, "-c", "import sys; sys.stdin.read()")
        with (
            mock.patch.object(kept_worker, "COMMAND", sleeper),
            mock.patch.object(kept_worker, "end_what_was_left", side_effect=lambda *_, **__: asked.release() or 0),
        ):
            worker = kept_worker.KeptWorker()
            before = worker.process
            before.kill()
            self.assertTrue(asked.acquire(timeout=10))
            for _ in range(100):
                if worker.process is not before:
                    break
                threading.Event().wait(0.05)
            self.assertIsNone(worker.process.poll())
            worker.stop()
            self.assertIsNotNone(worker.process.wait(5))
            self.assertFalse(asked.acquire(timeout=0.5))
