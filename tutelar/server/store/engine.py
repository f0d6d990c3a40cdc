"""What is asked of the database itself rather than of its rows, in the words of each it may be."""

from pathlib import Path

from django.db import connection


def engine() -> tuple[str, str]:
    """Return the name of the database and its version."""
    connection.ensure_connection()
    version = ".".join(map(str, connection.get_database_version()))
    return connection.display_name, version


def size_bytes() -> int:
    """Return how much room the rows take on the disk, in bytes."""
    if connection.vendor == "sqlite":
        file = Path(str(connection.settings_dict["NAME"]))
        return sum(path.stat().st_size for path in file.parent.glob(f"{file.name}*"))
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_database_size(current_database())")
        return int(cursor.fetchone()[0])


def write_anew(table: str) -> None:
    """Write anew what a table's file holds, so that nothing is left of rows as they were before."""
    with connection.cursor() as cursor:
        if connection.vendor == "sqlite":
            cursor.execute("VACUUM")
            cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        else:
            cursor.execute(f"VACUUM (FULL) {connection.ops.quote_name(table)}")
