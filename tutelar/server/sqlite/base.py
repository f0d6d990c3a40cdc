"""Django's SQLite backend with two beginnings of a transaction, and fit for write-ahead logging in tests.

A write takes its turn at once (IMMEDIATE); a read only holds on to one state of the database (DEFERRED), so it waits
for nobody and nobody waits for it. See https://www.sqlite.org/isolation.html.
"""

from pathlib import Path

from django.db.backends.sqlite3 import base, creation


class DatabaseCreation(creation.DatabaseCreation):
    """Makes test databases."""

    def _clone_test_db(self, suffix: str, verbosity: int, keepdb: bool = False) -> None:
        """Bring everything into the one file that is copied: what still stands in the log would be lost."""
        with self.connection.cursor() as cursor:
            cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        super()._clone_test_db(suffix, verbosity, keepdb)  # type: ignore[misc]

    def _destroy_test_db(self, test_database_name: str, verbosity: int) -> None:
        super()._destroy_test_db(test_database_name, verbosity)  # type: ignore[misc]
        for ending in ("-wal", "-shm"):
            Path(f"{test_database_name}{ending}").unlink(missing_ok=True)


class DatabaseWrapper(base.DatabaseWrapper):
    """SQLite with transactions that begin as they are meant: to write, or to read one state."""

    creation_class = DatabaseCreation
    only_reading = False  # set by `tutelar.server.store.reads` around what only reads

    def _start_transaction_under_autocommit(self) -> None:
        if self.only_reading:
            self.cursor().execute("BEGIN DEFERRED")
        else:
            super()._start_transaction_under_autocommit()  # type: ignore[misc]
