"""Django's PostgreSQL backend with two beginnings of a transaction, as `tutelar.server.sqlite` has them.

A write takes its turn first: one transaction writes at a time, whatever process it is in. So whoever looks before he
leaps is not overtaken, two transactions never wait for each other, and lines of the log become visible in the order of
their numbers, which the event streams rely on. A read holds on to one state of the database (REPEATABLE READ) and waits
for nobody. See https://www.postgresql.org/docs/15/explicit-locking.html#ADVISORY-LOCKS and docs/decisions/0023.
"""

from typing import Any

from django.db.backends.postgresql import base
from psycopg import IsolationLevel
from psycopg.types.string import TextLoader

WRITERS = 7_883_527  # the number of the lock that writers take; any number that nothing else uses
_TURN = f"SELECT pg_advisory_xact_lock({WRITERS})"


class DatabaseWrapper(base.DatabaseWrapper):
    """PostgreSQL with transactions that begin as they are meant: to write in turn, or to read one state."""

    only_reading = False  # set by `tutelar.server.store.reads` around what only reads

    def _set_autocommit(self, autocommit: bool) -> None:
        if not autocommit:
            self.connection.read_only = self.only_reading
            self.connection.isolation_level = IsolationLevel.REPEATABLE_READ if self.only_reading else None
        super()._set_autocommit(autocommit)  # type: ignore[misc]
        if autocommit or self.only_reading:
            return
        try:
            with self.wrap_database_errors:
                self.connection.execute(_TURN)
        except BaseException:
            with self.wrap_database_errors:
                self.connection.rollback()
                self.connection.autocommit = True
            raise

    def get_new_connection(self, conn_params: dict[str, Any]) -> Any:
        """Return a connection that leaves documents as text, which Django reads itself."""
        found = super().get_new_connection(conn_params)
        found.adapters.register_loader("json", TextLoader)
        return found

    def get_connection_params(self) -> dict[str, Any]:
        """Return how to connect; a writer waits for its turn as long as with SQLite, and no longer."""
        found: dict[str, Any] = super().get_connection_params()
        return {**found, "options": f"{found.get('options', '')} -c lock_timeout=20s".strip()}
