"""Columns of our own."""

from typing import Any

from django.db import models
from django.db.backends.base.base import BaseDatabaseWrapper
from django.db.models.fields.json import KT
from django.db.models.functions import Cast


class DocumentField(models.JSONField):
    """A document as it was written: the same keys in the same order, the same numbers.

    PostgreSQL's `jsonb` puts keys into an order of its own and writes numbers anew, so it is `json` there, which is
    compared with nothing: see `text_in`.
    """

    def db_type(self, connection: BaseDatabaseWrapper) -> str | None:
        """Return the column's type in the database."""
        return "json" if connection.vendor == "postgresql" else super().db_type(connection)

    def get_db_prep_value(self, value: Any, connection: BaseDatabaseWrapper, prepared: bool = False) -> Any:
        """Return what is sent to the database."""
        found = super().get_db_prep_value(value, connection, prepared)
        if connection.vendor != "postgresql" or found is None or hasattr(found, "as_sql"):
            return found
        from psycopg.types.json import Json  # noqa: PLC0415 - only there where PostgreSQL is used

        return Json(found.obj, dumps=found.dumps)


def text_in(path: str) -> Cast:
    """Return a value in a document as text, to compare: `.alias(found=text_in("after__photo")).filter(found=name)`."""
    return Cast(KT(path), models.TextField())
