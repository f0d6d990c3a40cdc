"""The JSON API under /api: its parts, and one shape for everything that is refused."""

import json
import re
from collections.abc import Callable, Iterator
from contextlib import suppress
from functools import wraps
from importlib import import_module
from typing import Any

from django.db import DataError, InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, UnreadablePostError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError, ValidationErrorContext
from ninja.operation import Operation

from tutelar.core.site.reading import sentences
from tutelar.server.rights import NOBODY
from tutelar.server.stages import PLACES
from tutelar.server.store.reads import reads_one_state
from tutelar.server.store.writes import Stale, WriteRejected


class _Quoting(NinjaAPI):
    """Keeps what was sent with what is wrong with it, so that a sentence can quote it; secrets are never kept."""

    def validation_error_from_error_contexts(
        self, error_contexts: list[ValidationErrorContext[Any]]
    ) -> ValidationError:
        told = super().validation_error_from_error_contexts(error_contexts)
        found = [item for context in error_contexts for item in context.pydantic_validation_error.errors()]
        for detail, raw in zip(told.errors, found, strict=True):
            if not _SECRET & {str(step) for step in detail["loc"]} and not isinstance(raw["input"], dict | list):
                detail["input"] = raw["input"]
        return told


_SECRET = frozenset({"secret", "password"})
_ANSWERS: dict[Any, Any] = {}
_own_answer = Operation._create_response_model


def _answer_once(operation: Operation, model: Any) -> Any:
    """Return how answers of a model are written: made once, not for each operation and status that has it, which took
    a third of the start."""
    if model not in _ANSWERS:
        _ANSWERS[model] = _own_answer(operation, model)
    return _ANSWERS[model]


def _or_said(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """Answer in a sentence where the database is gone before an operation begins: while one looks who asks."""

    @wraps(view)
    def asked(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        try:
            return view(request, *args, **kwargs)
        except (OperationalError, InterfaceError) as error:
            return not_written(request, error)

    return asked


_NUL = re.compile(rb"(?<!\\)(?:\\\\)*\\u0000")

_FILES = re.compile(r"^/api/(sites|catalogue)$")


def _without_nul(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """Refuse a request that holds the character NUL, which no text has and not every database takes. Site files and
    catalogues are read as they are: their reader takes it out of names."""

    @wraps(view)
    def asked(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        given = {**{name: str(value) for name, value in kwargs.items()}, **request.GET.dict()}
        places = [name for name, value in given.items() if "\x00" in value]
        of_ours = "json" in (request.content_type or "") and not _FILES.search(request.path)
        with suppress(ValueError):  # what cannot be read is refused where it is read
            try:
                if of_ours and _NUL.search(request.body):
                    places += _with_nul(json.loads(request.body), ())
            except UnreadablePostError as error:
                return broken_off(request, error)
        if not places:
            return view(request, *args, **kwargs)
        said = "holds the character NUL, which no text has; take it out."
        return _refuse(request, 422, f"'{places[0]}' {said}", [(place, f"It {said}") for place in places])

    return asked


def _with_nul(value: Any, path: tuple[str, ...]) -> Iterator[str]:
    """Yield where in a JSON document a text holds it."""
    if isinstance(value, str) and "\x00" in value:
        yield ".".join(path) or "the text"
    elif isinstance(value, dict):
        for name, inner in value.items():
            yield from _with_nul(inner, (*path, name.replace("\x00", "")))
    elif isinstance(value, list):
        for at, inner in enumerate(value):
            yield from _with_nul(inner, (*path, str(at)))


Operation._create_response_model = _answer_once  # type: ignore[assignment,method-assign]
api = _Quoting(title="Tutelar", version="1", auth=NOBODY, urls_namespace="api", docs_url=None, openapi_url=None)
api.add_decorator(reads_one_state, mode="view")
api.add_decorator(_without_nul, mode="view")
api.add_decorator(_or_said, mode="view")
for place, stages in PLACES.items():
    for stage in stages:
        api.add_router(place, import_module(f"tutelar.server.{stage}.api").router)


def _refuse(
    request: HttpRequest, status: int, message: str, faults: list[tuple[str, str]] | None = None
) -> HttpResponse:
    rows = [{"path": path, "message": reason} for path, reason in faults or []]
    return api.create_response(request, {"message": message, "faults": rows}, status=status)


@api.exception_handler(WriteRejected)
def rejected(request: HttpRequest, error: Any) -> HttpResponse:
    """Answer a write that cannot be done as asked: one sentence, and what is wrong where."""
    return _refuse(request, error.status, error.message, error.faults)


@api.exception_handler(Stale)
def stale(request: HttpRequest, error: Any) -> HttpResponse:
    """Answer a write based on an old revision: 409 with both versions."""
    body = {"message": error.message, "yours": error.yours, "current": error.current, "revision": error.revision}
    return api.create_response(request, body, status=409)


@api.exception_handler(AuthenticationError)
def unknown_user(request: HttpRequest, _error: Any) -> HttpResponse:
    """Answer who has not signed in: 401."""
    return _refuse(request, 401, "Sign in first.")


@api.exception_handler(Http404)
def not_found(request: HttpRequest, error: Any) -> HttpResponse:
    """Answer 404 with a sentence that names what is not there."""
    return _refuse(request, 404, str(error) or "There is nothing at this address.")


@api.exception_handler(OperationalError)
@api.exception_handler(InterfaceError)
def not_written(request: HttpRequest, error: Any) -> HttpResponse:
    """Answer that the database cannot be written or read now, and why: 507 where its disk is full, else 503."""
    said = str(error)
    if "full" in said:
        return _refuse(request, 507, "The disk of the server is full: make room, then do it again. Nothing was stored.")
    if "readonly" in said:
        return _refuse(request, 503, "The data folder of the server cannot be written. Nothing was stored.")
    if "malformed" in said or "disk I/O" in said or "not a database" in said:
        return _refuse(
            request, 503, "The database of the server is damaged; stop it and start it again to see how far."
        )
    if "lock" in said:
        return _refuse(request, 503, "The server is busy with other writes; do it again. Nothing was stored.")
    return _refuse(request, 503, "The database of the server does not answer; try again later. Nothing was stored.")


@api.exception_handler(DataError)
def not_kept(request: HttpRequest, error: Any) -> HttpResponse:
    """Answer that the database does not take a value, which SQLite would: a text that is too long, or is none."""
    most = re.search(r"character varying\((\d+)\)", str(error))
    said = f"A text in it is longer than the {most[1]} signs" if most else "A value in it is not of the kind"
    return _refuse(request, 422, f"{said} that can be kept. Nothing was stored.")


@api.exception_handler(UnreadablePostError)
def broken_off(request: HttpRequest, _error: Any) -> HttpResponse:
    """Answer a request whose sender went before all of it came: nothing of it counts."""
    return _refuse(request, 400, "The request broke off before all of it came. Nothing was stored.")


@api.exception_handler(HttpError)
def http_error(request: HttpRequest, error: Any) -> HttpResponse:
    """Answer what the framework refuses, in the shape of every refusal."""
    return _refuse(request, error.status_code, f"{error.message}.".replace("..", "."))


@api.exception_handler(ValidationError)
def invalid(request: HttpRequest, error: Any) -> HttpResponse:
    """Answer a request of the wrong shape: 422 with a sentence for each fault at its path."""
    details = [detail | {"loc": detail["loc"][2:] or detail["loc"]} for detail in error.errors]
    faults = sentences(details)
    return _refuse(request, 422, faults[0][1] if faults else "The request cannot be read.", faults)
