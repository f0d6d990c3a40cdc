"""The rows in PostgreSQL as one file, by the database's own tools (pg_dump and pg_restore, Debian's postgresql-client).

https://www.postgresql.org/docs/15/app-pgdump.html. Nothing of Django is needed here, as in `tutelar.server.backup`.
"""

import os
import shutil
import subprocess
from pathlib import Path
from urllib.parse import parse_qsl, unquote, urlsplit

NAME = "tutelar.pgdump"  # in a backup
_WAIT_S = 3600


class DumpError(Exception):
    """What one of the tools said, in one line."""


def snapshot(url: str, copy: Path) -> None:
    """Write every row of a database as it stands at one moment into a file. Raises DumpError."""
    _run("pg_dump", url, "--format=custom", "--no-owner", "--no-privileges", f"--file={copy}")


def put_back(copy: Path, url: str) -> None:
    """Bring the rows of a file into an empty database, all or nothing. Raises DumpError."""
    _run("pg_restore", url, "--no-owner", "--no-privileges", "--exit-on-error", "--single-transaction", str(copy))


def damage(copy: Path) -> str | None:
    """Return what is wrong with a file in pg_restore's words, None where every row can be read from it."""
    try:
        _run("pg_restore", None, "--file=/dev/null", str(copy))
    except DumpError as error:
        return str(error)
    return None


def last_migration(url: str) -> str:
    """Return the name of the last migration that a database has seen, "" where it has none. Raises DumpError."""
    try:
        import psycopg  # noqa: PLC0415 - only there where PostgreSQL is used
    except ImportError:
        raise DumpError("what speaks with PostgreSQL is not installed (make install-postgres)") from None
    try:
        with psycopg.connect(url, connect_timeout=20) as opened:
            found = opened.execute("SELECT to_regclass('django_migrations')").fetchone()
            if found is None or found[0] is None:
                return ""
            newest = opened.execute("SELECT max(name) FROM django_migrations WHERE app = 'tutelar'").fetchone()
    except psycopg.Error as error:
        raise DumpError(_line(str(error))) from None
    return str(newest[0] or "") if newest else ""


def environment(url: str) -> dict[str, str]:
    """Return the variables by which the tools find a database and get in, what stands behind a ? among them: sslmode.

    https://www.postgresql.org/docs/15/libpq-envars.html
    """
    parts = urlsplit(url)
    told = {
        "PGHOST": unquote(parts.hostname or ""),
        "PGPORT": str(parts.port or ""),
        "PGUSER": unquote(parts.username or ""),
        "PGPASSWORD": unquote(parts.password or ""),
        "PGDATABASE": unquote(parts.path.strip("/")),
        **{f"PG{name.upper()}": value for name, value in parse_qsl(parts.query)},
    }
    return {name: value for name, value in told.items() if value}


def _run(tool: str, url: str | None, *arguments: str) -> None:
    """Run a tool. Where the database is and how to get in goes by its environment: arguments are seen by everybody."""
    command = shutil.which(tool)
    if command is None:
        raise DumpError(f"{tool} is not installed (Debian: postgresql-client)")
    where = {} if url is None else environment(url)
    more = [] if url is None else [f"--dbname={where['PGDATABASE']}"]
    try:
        done = subprocess.run(  # noqa: S603 - a tool of the database, found in the path
            [command, *more, *arguments],
            env={**os.environ, **where},
            capture_output=True,
            text=True,
            timeout=_WAIT_S,
            check=False,
        )
    except subprocess.TimeoutExpired:
        raise DumpError(f"{tool} did not end within an hour") from None
    if done.returncode != 0:
        raise DumpError(_line(done.stderr) or f"{tool} ended with {done.returncode}")


def _line(said: str) -> str:
    return next((line.strip() for line in said.splitlines() if line.strip()), "").rstrip(".")
