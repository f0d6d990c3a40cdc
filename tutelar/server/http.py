"""What every part of the API shares: who asks, how a file is sent, how a refusal is described."""

from collections.abc import Iterator
from pathlib import Path
from typing import Annotated, BinaryIO

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from ninja import Query

from tutelar.server.actor import Actor
from tutelar.server.rights import role_of
from tutelar.server.schemas import ApiError, Conflict

_PIECE = 256 * 1024  # bytes that are read at a time of what is sent
REFUSED = {404: ApiError, 422: ApiError}


BYTES = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}}


WRITE = REFUSED | {409: Conflict | ApiError}


Words = Annotated[str, Query(max_length=200)]


def who(request: HttpRequest) -> Actor:
    """Return who asks."""
    return Actor(request.user.get_username(), role_of(request.user))


def page_of(request: HttpRequest) -> str:
    """Return which page of a browser asks, "" where it does not say."""
    return request.headers.get("X-Page", "")[:40]


def download(text: str | bytes, kind: str, name: str) -> HttpResponse:
    """Return a file for the browser to keep under a name."""
    disposition = {"Content-Disposition": f'attachment; filename="{name}"'}
    return HttpResponse(text, content_type=kind, headers=disposition)


def send_file(path: Path, kind: str, name: str, *, keep: bool = False) -> StreamingHttpResponse:
    """Return a file from its place, a piece at a time, for the browser to keep under a name; it is removed there unless
    it is to `keep`."""
    opened, size = path.open("rb"), path.stat().st_size
    if not keep:
        path.unlink()
    headers = {"Content-Disposition": f'attachment; filename="{name}"', "Content-Length": str(size)}
    return StreamingHttpResponse(_pieces(opened), content_type=kind, headers=headers)


def _pieces(opened: BinaryIO) -> Iterator[bytes]:
    with opened:
        while piece := opened.read(_PIECE):
            yield piece
