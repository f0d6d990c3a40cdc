"""What every part of the API shares: who asks, how a file is sent, how a refusal is described."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Query

from tutelar.server.actor import Actor
from tutelar.server.schemas import ApiError, Conflict

REFUSED = {404: ApiError, 422: ApiError}


BYTES = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}}


WRITE = REFUSED | {409: Conflict | ApiError}


Words = Annotated[str, Query(max_length=200)]


def who(request: HttpRequest) -> Actor:
    """Return who asks."""
    return Actor(request.user.get_username())


def page_of(request: HttpRequest) -> str:
    """Return which page of a browser asks, "" where it does not say."""
    return request.headers.get("X-Page", "")[:40]


def download(text: str | bytes, kind: str, name: str) -> HttpResponse:
    """Return a file for the browser to keep under a name."""
    disposition = {"Content-Disposition": f'attachment; filename="{name}"'}
    return HttpResponse(text, content_type=kind, headers=disposition)
