"""Django's SQLite backend with two beginnings of a transaction, and fit for write-ahead logging in tests.

A write takes its turn at once (IMMEDIATE); a read only holds on to one state of the database (DEFERRED), so it waits
for nobody and nobody waits for it. See https://www.sqlite.org/isolation.html. Writers of one process wait here for each
other: SQLite would let them sleep for longer and longer.
"""

import threading
from pathlib import Path

from django.db import OperationalError
from django.db.backends.sqlite3 import base, creation

_turn = threading.Lock()
_WAIT_S = 20.0  # as long as SQLite is told to wait for other processes


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
    has_turn = False  # to write
    only_reading = False  # set by `tutelar.server.store.reads` around what only reads
    _refuses_writes = False

    def _start_transaction_under_autocommit(self) -> None:
        if self.only_reading:
            self.connection.execute("PRAGMA query_only=ON")
            self._refuses_writes = True
            self.cursor().execute("BEGIN DEFERRED")
            return
        if not self.has_turn:
            if not _turn.acquire(timeout=_WAIT_S):
                raise OperationalError("database is locked")
            self.has_turn = True
        try:
            super()._start_transaction_under_autocommit()  # type: ignore[misc]
        except BaseException:
            self._end_turn()
            raise

    def _commit(self) -> None:
        super()._commit()  # type: ignore[misc]
        self._end_turn()  # where it fails, what follows is a rollback

    def _rollback(self) -> None:
        try:
            super()._rollback()  # type: ignore[misc]
        finally:
            self._end_turn()

    def _close(self) -> None:
        try:
            super()._close()  # type: ignore[misc]
        finally:
            self._end_turn()

    def _end_turn(self) -> None:
        if self._refuses_writes:
            self._refuses_writes = False
            if self.connection is not None:
                self.connection.execute("PRAGMA query_only=OFF")
        if self.has_turn:
            self.has_turn = False
            _turn.release()
