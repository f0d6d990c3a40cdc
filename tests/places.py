"""Where a server of the tests' own keeps its rows."""

import os
import secrets
from pathlib import Path

URL = "TUTELAR_DATABASE_URL"


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


def with_sqlite(folder: Path | str, **more: str) -> dict[str, str]:
    """Return the environment of a server whose rows are in a folder, whatever the other tests run with."""
    environment = {**os.environ, "TUTELAR_DATA": str(folder), **more}
    environment.pop(URL, None)
    return environment
