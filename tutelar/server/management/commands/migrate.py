"""Django's migrate, which first takes over a database from when the app was called `sites`."""

from typing import Any

from django.core.management.commands import migrate
from django.db import connections, transaction

from tutelar.server.apps import TutelarConfig

FORMER = "sites"


class Command(migrate.Command):
    """Bring the database up to date, with the log open for that moment."""

    def handle(self, *args: Any, **options: Any) -> str | None:
        """Rename the tables of the former app and what is remembered of its migrations, then migrate."""
        adopt(options["database"])
        return super().handle(*args, **options)


def adopt(database: str = "default") -> bool:
    """Give the tables of the former app their present names; return whether there were any.

    SQLite lets references, indexes and triggers follow a renamed table.
    """
    connection = connections[database]
    tables = connection.introspection.table_names()
    theirs = [name for name in tables if name.startswith(f"{FORMER}_")]
    if "django_migrations" not in tables or f"{FORMER}_event" not in theirs:
        return False
    label = TutelarConfig.label
    with transaction.atomic(using=database), connection.cursor() as cursor:
        for name in theirs:
            fresh = f"{label}_{name.removeprefix(f'{FORMER}_')}"
            cursor.execute(
                f"ALTER TABLE {connection.ops.quote_name(name)} RENAME TO {connection.ops.quote_name(fresh)}"
            )
        cursor.execute("UPDATE django_migrations SET app = %s WHERE app = %s", [label, FORMER])
        if "django_content_type" in tables:
            cursor.execute("UPDATE django_content_type SET app_label = %s WHERE app_label = %s", [label, FORMER])
    return True
