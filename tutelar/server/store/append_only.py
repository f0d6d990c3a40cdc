"""What makes the log append-only in the database itself, in the words of each database it may stand in."""

from typing import Any

from django.db.backends.base.schema import BaseDatabaseSchemaEditor

_SAID = "the log is append-only"
_SQLITE = tuple(
    f"CREATE TRIGGER event_no_{action.lower()} BEFORE {action} ON tutelar_event "
    f"BEGIN SELECT RAISE(ABORT, '{_SAID}'); END"
    for action in ("UPDATE", "DELETE")
)
_POSTGRES = (
    "CREATE OR REPLACE FUNCTION tutelar_append_only() RETURNS trigger LANGUAGE plpgsql AS "
    f"$$ BEGIN RAISE EXCEPTION '{_SAID}' USING ERRCODE = 'integrity_constraint_violation'; END $$",
    "CREATE TRIGGER event_no_update BEFORE UPDATE OR DELETE ON tutelar_event "
    "FOR EACH ROW EXECUTE FUNCTION tutelar_append_only()",
    "CREATE TRIGGER event_no_delete BEFORE TRUNCATE ON tutelar_event "
    "FOR EACH STATEMENT EXECUTE FUNCTION tutelar_append_only()",
)
_NAMES = ("event_no_update", "event_no_delete")


def guard(connection: Any) -> None:
    """Let the log take nothing but new lines, on a connection to its database."""
    with connection.cursor() as cursor:
        for statement in _SQLITE if connection.vendor == "sqlite" else _POSTGRES:
            cursor.execute(statement)


def unguard(connection: Any) -> None:
    """Take the guard away: for a migration that makes the table anew, and for tests that empty it."""
    of_table = "" if connection.vendor == "sqlite" else " ON tutelar_event"
    with connection.cursor() as cursor:
        for name in _NAMES:
            cursor.execute(f"DROP TRIGGER IF EXISTS {name}{of_table}")


def guarded(_apps: Any, editor: BaseDatabaseSchemaEditor) -> None:
    """Guard the log in a migration, in place of what guarded it before."""
    unguard(editor.connection)
    guard(editor.connection)


def unguarded(_apps: Any, editor: BaseDatabaseSchemaEditor) -> None:
    """Undo `guarded`."""
    unguard(editor.connection)
