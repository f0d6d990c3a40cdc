"""Moving every row of an installation from SQLite to the database that is set, as it is: numbers, days, seals."""

from collections.abc import Iterator
from contextlib import contextmanager
from itertools import islice
from pathlib import Path

from django.apps import apps
from django.core.management.color import no_style
from django.db import connection, connections, transaction
from django.db.models import Model

FROM = "former"
_MADE_BY_ITSELF = ("contenttypes", "permission")  # by migrating, here as there
_BATCH = 500


class MoveError(ValueError):
    """Rows that cannot be moved; a sentence. Nothing was moved."""


def move(file: Path) -> dict[str, int]:
    """Bring every row of a database file into the empty database that is configured, all or nothing; return how many of
    each table. Raises MoveError where that one has rows, or cannot hold a row."""
    tables = [
        model
        for model in apps.get_models(include_auto_created=True)
        if model._meta.app_label not in _MADE_BY_ITSELF and model._meta.model_name not in _MADE_BY_ITSELF
    ]
    counts = {}
    with _opened(file), transaction.atomic():
        for model in tables:
            if model._base_manager.exists():
                raise MoveError(
                    f"The database has rows already ({model._meta.verbose_name_plural}); name an empty one."
                )
        for model in tables:
            counts[model._meta.label] = _brought(model)
        with connection.cursor() as cursor:
            for statement in connection.ops.sequence_reset_sql(no_style(), tables):
                cursor.execute(statement)
    return counts


@contextmanager
def _opened(file: Path) -> Iterator[None]:
    """Open a database file to be read, beside the one that is configured."""
    told = {"ENGINE": "django.db.backends.sqlite3", "NAME": f"file:{file}?mode=ro", "OPTIONS": {"uri": True}}
    connections.settings[FROM] = connections.configure_settings({"default": {}, FROM: told})[FROM]
    try:
        yield
    finally:
        connections[FROM].close()
        del connections[FROM], connections.settings[FROM]


def _brought(model: type[Model]) -> int:
    """Bring the rows of a table over; return how many."""
    moved = 0
    fields = model._meta.local_concrete_fields
    rows = model._base_manager.using(FROM).order_by("pk").iterator(_BATCH)
    while batch := list(islice(rows, _BATCH)):
        for row in batch:
            for name in (field.attname for field in fields):
                if isinstance(value := getattr(row, name), str) and "\x00" in value:
                    raise MoveError(
                        f"{model._meta.label} {row.pk}: its {name} holds a NUL, which PostgreSQL does not take."
                    )
        model._base_manager._insert(batch, fields=fields, using="default", raw=True)  # type: ignore[attr-defined]
        moved += len(batch)
    return moved
