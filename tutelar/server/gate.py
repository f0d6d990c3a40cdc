"""Before a request is read: a body that is too large, or comes from nobody, is refused while it is still on its way.

Without this the framework would write a body of any size to disk before anybody asks who sent it.
"""

import json
from collections.abc import Awaitable, Callable, Mapping
from contextlib import suppress
from http.cookies import CookieError, SimpleCookie
from typing import Any

Scope = dict[str, Any]
Receive = Callable[[], Awaitable[Mapping[str, Any]]]
Send = Callable[[Mapping[str, Any]], Awaitable[None]]
App = Callable[[Scope, Receive, Send], Awaitable[None]]

MOST = 32 * 1024 * 1024
MOST_OF_NOBODY = 64 * 1024  # a name and a password
_COOKIE = "sessionid"


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
        whole = _whole_or_nothing(receive)
        with suppress(ConnectionAbortedError):  # nobody is left to be answered
            if b"content-length" in headers or b"transfer-encoding" not in headers:
                await self.app(scope, whole, send)
                return
            body = await _together(whole, most)
            if body is None:
                await _refuse(send, most, known=known)
                return
            await self.app(*_at_once(scope, whole, body), send)


def _whole_or_nothing(receive: Receive) -> Receive:
    """Return what receives a request: raises ConnectionAbortedError where its sender goes before all of it came, since
    half of a file may look like a whole one."""
    done = False

    async def unbroken() -> Mapping[str, Any]:
        nonlocal done
        message = await receive()
        if not done and message["type"] == "http.disconnect":
            raise ConnectionAbortedError("its sender went before all of it came")
        done = done or not message.get("more_body")
        return message

    return unbroken


async def _together(receive: Receive, most: int) -> bytes | None:
    """Return a body that comes in pieces, None where it is larger than it may be. Raises ConnectionAbortedError."""
    body = b""
    while True:
        message = await receive()
        body += bytes(message.get("body", b""))
        if len(body) > most:
            return None
        if not message.get("more_body"):
            return body


def _at_once(scope: Scope, receive: Receive, body: bytes) -> tuple[Scope, Receive]:
    """Return a request with its whole body, and how long that is."""
    headers = [item for item in scope["headers"] if item[0].lower() != b"transfer-encoding"]
    waiting = [body]

    async def whole() -> Mapping[str, Any]:
        if waiting:
            return {"type": "http.request", "body": waiting.pop(), "more_body": False}
        return await receive()

    return {**scope, "headers": [*headers, (b"content-length", str(len(body)).encode())]}, whole


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
