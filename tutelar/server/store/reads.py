"""Reads that see one state of the database, however many questions they ask."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import wraps
from typing import Any

from django.db import connection, transaction
from django.http import HttpRequest


@contextmanager
def one_state() -> Iterator[None]:
    """Read within from one state of the database; what others store meanwhile is not seen. Writes do not belong here.

    Raises a DatabaseError where something is written within, so that it is found by whoever writes the code.
    """
    if connection.in_atomic_block:
        yield
        return
    connection.only_reading = True  # type: ignore[attr-defined]
    try:
        with transaction.atomic():
            yield
    finally:
        connection.only_reading = False  # type: ignore[attr-defined]


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
