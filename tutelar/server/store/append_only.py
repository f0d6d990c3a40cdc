"""The statements that make the log append-only in the database itself."""

CREATE = tuple(
    f"CREATE TRIGGER event_no_{action.lower()} BEFORE {action} ON tutelar_event "
    "BEGIN SELECT RAISE(ABORT, 'the log is append-only'); END"
    for action in ("UPDATE", "DELETE")
)
DROP = ("DROP TRIGGER IF EXISTS event_no_update", "DROP TRIGGER IF EXISTS event_no_delete")
