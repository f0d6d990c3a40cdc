"""Reads that see one state of the database, however many questions they ask."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import wraps
from typing import Any, TypeVar

from django.db import connection, transaction
from django.http import HttpRequest

from tutelar.server import models

_Answer = TypeVar("_Answer")


@contextmanager
def one_state() -> Iterator[None]:
    """Read within from one state of the database; what others store meanwhile is not seen. Writes do not belong here.

    Raises a DatabaseError where something is written within, so that it is found by whoever writes the code.
    """
    if connection.in_atomic_block:
        yield
        return
    connection.only_reading, connection.answered = True, (None, {})  # type: ignore[attr-defined]
    try:
        with transaction.atomic():
            yield
    finally:
        connection.only_reading, connection.answered = False, (None, {})  # type: ignore[attr-defined]


def asked_once(question: Callable[[models.Site], _Answer]) -> Callable[[models.Site], _Answer]:
    """Let a question about a site's rows be asked once while one state is read, since its answer cannot change there;
    anywhere else it is asked each time. All who ask share the answer; nobody changes it. Of a list of sites only the
    one that is looked at is remembered: a thousand devices answer at length."""

    @wraps(question)
    def asked(row: models.Site) -> _Answer:
        if not getattr(connection, "only_reading", False):
            return question(row)
        if connection.answered[0] != row.pk:  # type: ignore[attr-defined]
            connection.answered = (row.pk, {})  # type: ignore[attr-defined]
        answers = connection.answered[1]  # type: ignore[attr-defined]
        if question not in answers:
            answers[question] = question(row)
        return answers[question]  # type: ignore[no-any-return]

    return asked


def reads_one_state(view: Callable[..., Any]) -> Callable[..., Any]:
    """Let a request that only reads (GET, HEAD) see one state of the database from its first question to its last."""

    @wraps(view)
    def reading(request: HttpRequest, *args: Any, **kwargs: Any) -> Any:
        if request.method not in ("GET", "HEAD"):
            return view(request, *args, **kwargs)
        request.user.is_authenticated  # noqa: B018  a session that ran out is cleared now, which is a write
        with one_state():
            return view(request, *args, **kwargs)

    return reading
