"""Where a server of the tests' own keeps its rows."""

import fcntl
import hashlib
import os
import secrets
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from tutelar.server.backup import DATABASE

URL = "TUTELAR_DATABASE_URL"
ROOT = Path(__file__).parents[1]


def empty_place(folder: Path | str, **more: str) -> dict[str, str]:
    """Return the environment of a server that starts with nothing: an empty folder, and an empty database of its own
    where the tests run with PostgreSQL."""
    environment = {**os.environ, "TUTELAR_DATA": str(folder), **more}
    if URL in environment:
        import psycopg

        name = f"of_a_test_{secrets.token_hex(6)}"
        with psycopg.connect(environment[URL], autocommit=True) as database:
            database.execute(f'CREATE DATABASE "{name}"')
        environment[URL] = f"{environment[URL].rpartition('/')[0]}/{name}"
    return environment


def with_tables(folder: Path | str, **more: str) -> dict[str, str]:
    """Return the environment of a server that finds its tables, empty, where they are no matter of the test: making
    them takes seconds. Those of SQLite are made once for a state of the migrations and of what is installed."""
    if URL in os.environ:
        return empty_place(folder, **more)
    made_by = [*sorted((ROOT / "tutelar").rglob("migrations/*.py")), ROOT / "requirements" / "base.txt"]
    state = hashlib.sha256(b"".join(path.read_bytes() for path in made_by)).hexdigest()[:16]
    kept = ROOT / "var" / f"tables-{state}.sqlite3"
    kept.parent.mkdir(exist_ok=True)
    with (kept.parent / "tables.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not kept.exists():
            with tempfile.TemporaryDirectory() as room:
                command = [sys.executable, str(ROOT / "manage.py"), "migrate", "--verbosity", "0"]
                subprocess.run(command, env=with_sqlite(room), check=True)
                for older in kept.parent.glob("tables-*.sqlite3"):
                    older.unlink()
                shutil.copy(Path(room) / DATABASE, kept.with_suffix(".new"))
            kept.with_suffix(".new").rename(kept)
    shutil.copy(kept, Path(folder) / DATABASE)
    return with_sqlite(folder, **more)


def with_sqlite(folder: Path | str, **more: str) -> dict[str, str]:
    """Return the environment of a server whose rows are in a folder, whatever the other tests run with."""
    environment = {**os.environ, "TUTELAR_DATA": str(folder), **more}
    environment.pop(URL, None)
    return environment
