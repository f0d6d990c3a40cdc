"""Backups: one file with the whole database and the photographs, made while the server runs and read back at once.

The database is copied by SQLite's own online backup (https://www.sqlite.org/backup.html), so that what stands in its
log is in it; one in PostgreSQL by its own pg_dump. Photographs are written before the line that names them, so those
of the copy are all there. The key of the vault is never in a plain backup. A sealed one holds it, under a passphrase
(scrypt, Fernet). Nothing of Django is needed here: a backup has to be made and restored where the database does not
open.
"""

import base64
import hashlib
import json
import os
import secrets
import shutil
import sqlite3
import struct
import sys
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import asdict, dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import IO

from cryptography.fernet import Fernet, InvalidToken
from cryptography.hazmat.primitives.kdf.scrypt import Scrypt

from tutelar.server.postgres import dump

FORMAT, SEALED = "tutelar-backup", b"tutelar-sealed-backup 1 "
DATABASE, KEY, MANIFEST = "tutelar.sqlite3", "vault-key", "manifest.json"
_PIECE = 1024 * 1024
_DAYS, _WEEKS = 7, 5  # of the backups that are made by themselves: one a day, then one a week
_OWN = "tutelar-"
_WRONG_PLACE = {
    True: "{path} holds rows of SQLite, and TUTELAR_DATABASE_URL is set. Restore it without that, then move the rows "
    "over: tutelar move FILE.",
    False: "{path} holds rows of PostgreSQL; say in TUTELAR_DATABASE_URL into which database they go.",
}
BROKEN_ZIP = (
    zipfile.BadZipFile,
    zlib.error,
    struct.error,
    EOFError,
    KeyError,
    ValueError,
    RuntimeError,
)  # of a bent ZIP


class BackupError(Exception):
    """A backup that cannot be made, read or restored; a sentence."""


@dataclass(frozen=True, slots=True)
class Manifest:
    """What is in a backup: when it was made, the last migration of its database, and each file with its SHA-256."""

    format: str
    version: int
    made: str
    migration: str
    files: dict[str, str]


def make(folder: Path, out: Path, passphrase: str | None = None, url: str = "") -> Manifest:
    """Make a backup of a data folder, sealed where there is a passphrase, and read it back; return what is in it.
    `url`: where the rows are, in PostgreSQL; "" where they are in the folder.

    Raises BackupError; nothing is left of a backup that was not finished.
    """
    if not url and not (folder / DATABASE).exists():
        raise BackupError(f"There is no database in {folder}; nothing to back up.")
    fresh = out.with_name(f"{out.name}.new")
    try:
        out.parent.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory(dir=out.parent) as room:
            copy = Path(room) / (dump.NAME if url else DATABASE)
            if url:
                dump.snapshot(url, copy)
            else:
                _snapshot(folder / DATABASE, copy)
            migration = dump.last_migration(url) if url else last_migration(copy)
            files = {copy.name: copy}
            files |= {
                f"photos/{path.parent.name}/{path.name}": path for path in sorted((folder / "photos").glob("*/*.jpg"))
            }
            if passphrase is not None and (folder / KEY).exists():
                files[KEY] = folder / KEY
            sums = {name: _sum(path) for name, path in files.items()}
            found = Manifest(FORMAT, 1, datetime.now(UTC).isoformat(timespec="seconds"), migration, sums)
            with _written(fresh, passphrase) as place, zipfile.ZipFile(place, "w", zipfile.ZIP_DEFLATED) as archive:
                archive.writestr(MANIFEST, json.dumps(asdict(found), indent=1))
                for name, path in files.items():
                    archive.write(path, name)
        check(fresh, passphrase)
        fresh.replace(out)
    except (OSError, sqlite3.Error, dump.DumpError) as error:
        fresh.unlink(missing_ok=True)
        raise BackupError(f"The backup {out} could not be made: {_why(error)}.") from None
    except BackupError:
        fresh.unlink(missing_ok=True)
        raise
    return found


def _why(error: Exception) -> str:
    return (getattr(error, "strerror", None) or str(error) or type(error).__name__).rstrip(".")


def _snapshot(database: Path, copy: Path) -> None:
    read = sqlite3.connect(f"file:{database}?mode=ro", uri=True, timeout=20)
    with closing(read) as source, closing(sqlite3.connect(copy)) as target:
        source.backup(target)
        target.execute("PRAGMA journal_mode=DELETE")


def _sum(path: Path) -> str:
    with path.open("rb") as data:
        return hashlib.file_digest(data, "sha256").hexdigest()


def last_migration(database: Path) -> str:
    """Return the name of the last migration that a database has seen, "" where it has none."""
    with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as opened:
        try:
            rows = opened.execute("SELECT name FROM django_migrations WHERE app = 'tutelar' ORDER BY name").fetchall()
        except sqlite3.OperationalError:
            return ""
    return str(rows[-1][0]) if rows else ""


def damage(database: Path) -> str | None:
    """Return what is wrong with a database in SQLite's words, None where it is whole."""
    try:
        with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True, timeout=20)) as opened:
            said = str(opened.execute("PRAGMA quick_check(1)").fetchone()[0])
    except sqlite3.Error as error:
        said = str(error)
    return None if said == "ok" else said


@contextmanager
def _written(path: Path, passphrase: str | None) -> Iterator[IO[bytes]]:
    """Write a file whole and onto the disk, sealed where there is a passphrase; only its owner reads it."""
    with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
        if passphrase is None:
            yield out
        else:
            with tempfile.TemporaryFile(dir=path.parent) as plain:
                yield plain
                plain.seek(0)
                salt = secrets.token_bytes(16)
                out.write(SEALED + base64.urlsafe_b64encode(salt) + b"\n")
                seal = _fernet(passphrase, salt)
                while piece := plain.read(_PIECE):
                    out.write(seal.encrypt(piece) + b"\n")
        out.flush()
        os.fsync(out.fileno())


def _fernet(passphrase: str, salt: bytes) -> Fernet:
    key = Scrypt(salt=salt, length=32, n=2**15, r=8, p=1).derive(passphrase.encode())
    return Fernet(base64.urlsafe_b64encode(key))


@contextmanager
def _opened(path: Path, passphrase: str | None) -> Iterator[zipfile.ZipFile]:
    try:
        with path.open("rb") as data, tempfile.TemporaryFile() as plain:
            source: IO[bytes] = data
            if data.read(len(SEALED)) == SEALED:
                _unseal(data, plain, passphrase, path)
                source = plain
            source.seek(0)
            with zipfile.ZipFile(source) as archive:
                yield archive
    except BROKEN_ZIP as error:
        raise BackupError(f"{path} is no whole backup: {_why(error)}.") from None
    except OSError as error:
        raise BackupError(f"{path} cannot be read: {_why(error)}.") from None


def _unseal(data: IO[bytes], plain: IO[bytes], passphrase: str | None, path: Path) -> None:
    if passphrase is None:
        raise BackupError(f"{path} is sealed: give its passphrase in TUTELAR_BACKUP_PASSPHRASE.")
    seal = _fernet(passphrase, base64.urlsafe_b64decode(data.readline().strip()))
    try:
        for line in data:
            plain.write(seal.decrypt(line.strip()))
    except InvalidToken:
        raise BackupError(f"{path} was sealed with another passphrase, or was changed since.") from None


def _manifest(archive: zipfile.ZipFile, path: Path) -> Manifest:
    try:
        found = Manifest(**json.loads(archive.read(MANIFEST)))
    except (ValueError, TypeError):
        raise BackupError(f"{path} is no backup of Tutelar: its manifest cannot be read.") from None
    shaped = isinstance(found.files, dict) and isinstance(found.migration, str)
    if not shaped or (found.format, found.version) != (FORMAT, 1):
        raise BackupError(f"{path} is no backup of Tutelar that this version reads.")
    for name in found.files:
        parts = Path(name).parts
        if name not in (DATABASE, dump.NAME, KEY) and (len(parts) != 3 or parts[0] != "photos" or ".." in parts):
            raise BackupError(f"{path} names a file that no backup holds: '{name[:80]}'.")
    return found


def check(path: Path, passphrase: str | None = None) -> Manifest:
    """Read a backup back: every file has its sum, the database is whole. Returns what is in it. Raises BackupError."""
    with tempfile.TemporaryDirectory() as room:
        return _unpack(path, Path(room), passphrase)


def _unpack(path: Path, room: Path, passphrase: str | None) -> Manifest:
    with _opened(path, passphrase) as archive:
        found = _manifest(archive, path)
        for name, told in found.files.items():
            place = room / name
            place.parent.mkdir(parents=True, exist_ok=True)
            with archive.open(name) as data, place.open("wb") as out:
                shutil.copyfileobj(data, out)
            if _sum(place) != told:
                raise BackupError(f"{path}: '{name}' is not as it was when the backup was made.")
    rows = [name for name in (DATABASE, dump.NAME) if name in found.files]
    if len(rows) != 1:
        raise BackupError(f"{path} holds no database.")
    wrong = dump.damage(room / rows[0]) if rows[0] == dump.NAME else damage(room / rows[0])
    if wrong is not None:
        raise BackupError(f"{path}: its database is damaged: {wrong}.")
    return found


def restore(path: Path, folder: Path, known: str, passphrase: str | None = None, url: str = "") -> Manifest:
    """Put a backup into an empty data folder; return what was in it. `known` is the last migration of this version,
    `url` where the rows go, in PostgreSQL; "" where they go into the folder.

    All of it is read back before the first file stands in its place. Raises BackupError where there is a database
    already, the backup is of a newer version or of the other database, or cannot be read.
    """
    _room_for_it(folder, url)
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory(dir=folder) as room:
            found = _unpack(path, Path(room), passphrase)
            if found.migration > known:
                raise BackupError(f"{path} is of a newer Tutelar ({found.migration}); this one knows {known}.")
            if (dump.NAME in found.files) != bool(url):
                raise BackupError(_WRONG_PLACE[bool(url)].format(path=path))
            if KEY in found.files and (folder / KEY).exists():
                raise BackupError(
                    f"{folder} has a key already, and the backup brings one; restore into an empty folder."
                )
            _put(Path(room), sorted(found.files, key=lambda name: name in (DATABASE, dump.NAME)), folder, url)
    except (OSError, dump.DumpError) as error:
        raise BackupError(f"{path} could not be restored into {folder}: {_why(error)}.") from None
    return found


def _put(room: Path, names: list[str], folder: Path, url: str) -> None:
    """Put files where they belong, the database last: it makes it whole. Where that fails, none of them stays."""
    put: list[Path] = []
    try:
        for name in names:
            if name == dump.NAME:
                dump.put_back(room / name, url)
                continue
            place = folder / name
            place.parent.mkdir(parents=True, exist_ok=True)
            (room / name).chmod(0o600)
            (room / name).replace(place)
            put.append(place)
    except (OSError, dump.DumpError):
        for place in put:
            place.unlink(missing_ok=True)
        raise


def _room_for_it(folder: Path, url: str) -> None:
    """Raise BackupError where there is a database already."""
    if not url and (folder / DATABASE).exists():
        raise BackupError(f"{folder} has a database; restore into an empty folder: TUTELAR_DATA=FOLDER.")
    try:
        if url and dump.last_migration(url):
            raise BackupError("The database of TUTELAR_DATABASE_URL has rows already; restore into an empty one.")
    except dump.DumpError as error:
        raise BackupError(f"The database of TUTELAR_DATABASE_URL does not answer: {_why(error)}.") from None


def made_by_itself(backups: Path) -> list[Path]:
    """Return the backups that were made by themselves, the newest first."""
    return sorted(backups.glob(f"{_OWN}*.zip"), key=lambda path: path.name, reverse=True)


def daily(folder: Path, backups: Path, now: datetime, url: str = "") -> Path | None:
    """Make the backup of a day where there is none yet, and let go of old ones: of the last seven days each stays, then
    one a week for five weeks. Returns the new one. Raises BackupError."""
    out = backups / f"{_OWN}{now:%Y-%m-%d}.zip"
    if out.exists() or not (url or (folder / DATABASE).exists()):
        return None
    make(folder, out, url=url)
    weeks: set[tuple[int, int]] = set()
    for path in made_by_itself(backups):
        try:
            day = datetime.strptime(path.stem.removeprefix(_OWN), "%Y-%m-%d").replace(tzinfo=UTC)
        except ValueError:
            continue
        age, week = now - day, day.isocalendar()[:2]
        if age < timedelta(days=_DAYS):
            continue
        if week in weeks or age > timedelta(weeks=_WEEKS):
            path.unlink(missing_ok=True)
        weeks.add(week)
    return out


def newest_good(backups: Path) -> Path | None:
    """Return the newest plain backup that can be read back."""
    for path in sorted(backups.glob("*.zip"), key=lambda item: item.stat().st_mtime, reverse=True):
        try:
            check(path)
        except BackupError:
            continue
        return path
    return None


def main(arguments: list[str]) -> int:
    """Make or restore a backup of the data folder that the settings name: `backup FILE`, `restore FILE`."""
    from tutelar.server.private import private_folder  # noqa: PLC0415
    from tutelar.server.versions import KNOWN  # noqa: PLC0415

    what, path = arguments[0], Path(arguments[1])
    folder = Path(os.environ.get("TUTELAR_DATA", Path(__file__).resolve().parents[2] / "var"))
    passphrase = os.environ.get("TUTELAR_BACKUP_PASSPHRASE") or None
    url = os.environ.get("TUTELAR_DATABASE_URL", "")
    try:
        if what == "backup":
            found = make(folder, path, passphrase, url)
            key = (
                "the vault's key is in it, sealed"
                if KEY in found.files
                else "the vault's key is NOT in it: keep it apart"
            )
            print(f"{path}: {len(found.files)} files, read back whole; {key}.")
        else:
            found = restore(path, private_folder(folder), KNOWN, passphrase, url)
            print(f"{folder}: restored as of {found.made}, {len(found.files)} files. Start it with `tutelar serve`.")
            if KEY not in found.files and not (folder / KEY).exists():
                print(
                    f"Put the vault's key back to {folder / KEY} before the first start, or its passwords stay sealed."
                )
    except BackupError as error:
        print(error, file=sys.stderr)
        return 2
    return 0


if __name__ == "__main__":
    raise SystemExit(main(sys.argv[1:]))
