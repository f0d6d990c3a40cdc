"""Before a request is read: a body that is too large, or comes from nobody, is refused while it is still on its way.

Without this the framework would write a body of any size to disk before anybody asks who sent it.
"""

import json
from collections.abc import Awaitable, Callable, Mapping
from http.cookies import CookieError, SimpleCookie
from typing import Any

Scope = dict[str, Any]
Receive = Callable[[], Awaitable[Mapping[str, Any]]]
Send = Callable[[Mapping[str, Any]], Awaitable[None]]
App = Callable[[Scope, Receive, Send], Awaitable[None]]

MOST = 32 * 1024 * 1024
MOST_OF_NOBODY = 64 * 1024  # a name and a password
_COOKIE = "sessionid"


class TooMuch(Exception):
    """A body that is larger than it may be."""


class Gate:
    """An ASGI application that lets requests through whose body is no larger than it may be for whoever sends it."""

    def __init__(self, app: App) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or answer that its body is too large."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = {name.lower(): value for name, value in scope["headers"]}
        known = _has_session(headers.get(b"cookie", b""))
        most = MOST if known else MOST_OF_NOBODY
        told = headers.get(b"content-length", b"")
        if told.isdigit() and int(told) > most:
            await _refuse(send, most, known=known)
            return
        came = 0

        async def counted() -> Mapping[str, Any]:
            nonlocal came
            message = await receive()
            came += len(message.get("body", b""))
            if came > most:
                raise TooMuch
            return message

        try:
            await self.app(scope, counted, send)
        except TooMuch:
            await _refuse(send, most, known=known)


def _has_session(cookies: bytes) -> bool:
    try:
        return _COOKIE in SimpleCookie(cookies.decode("latin-1"))
    except CookieError:
        return False


async def _refuse(send: Send, most: int, *, known: bool) -> None:
    size = f"{most // (1024 * 1024)} MB are" if known else f"{most // 1024} kB are"
    who = "" if known else " from whoever has not signed in"
    body = json.dumps({"message": f"At most {size} taken at once{who}.", "faults": []}).encode()
    headers = [
        (b"content-type", b"application/json"),
        (b"content-length", str(len(body)).encode()),
        (b"connection", b"close"),
    ]
    await send({"type": "http.response.start", "status": 413, "headers": headers})
    await send({"type": "http.response.body", "body": body})
