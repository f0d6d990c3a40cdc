"""GET over HTTP or HTTPS (RFC 9110), with a login where it is asked for, and what the Date says of the clock."""

import asyncio
import json
import ssl
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from email.utils import parsedate_to_datetime
from typing import Any
from urllib.parse import quote, urlsplit

import h11

from tutelar.core.proof import Identity
from tutelar.field.connect import ConnectError, ConnectionBroken, ReadTimeout, connect, unverified
from tutelar.field.evidence import head
from tutelar.field.guard import Guard
from tutelar.field.login import Account, answer

_MOST = 65536
_MOST_HOPS = 2
_REDIRECTS = frozenset({301, 302, 303, 307, 308})
_DATE_STEP_S = 0.5  # the Date header has whole seconds; the middle of the second is the best guess


class ProtocolError(ValueError):
    """Something answered, but not in its protocol or not with what was asked for; the sentence says what."""


class NotTold(ProtocolError):
    """A page speaks HTTP well and does not say which device it is; `said` is what it answered."""

    def __init__(self, sentence: str, said: "HttpAnswer") -> None:
        super().__init__(sentence)
        self.said = said


@dataclass(frozen=True)
class HttpAnswer:
    """A response: status, header fields in lower case, at most 64 KiB of body, time to connect, when it was asked and
    when it had come;
    `asks` holds the values of WWW-Authenticate, `certificate` what a secure page showed, `end` where a redirect led."""

    status: int
    fields: Mapping[str, str]
    body: bytes
    took_ms: float
    sent: datetime
    at: datetime
    asks: tuple[str, ...] = ()
    certificate: bytes | None = None
    end: "Page | None" = None

    def shown(self) -> str:
        """Return the answer as a person reads it; what carries a login is left out."""
        return head(f"HTTP {self.status}", self.fields) + "\n\n" + self.body.decode("utf-8", "replace")

    def clock_offset_s(self) -> float | None:
        """Return device minus this machine in seconds from the Date header, None where there is none."""
        try:
            shown = parsedate_to_datetime(self.fields["date"])
        except (KeyError, ValueError, OverflowError, IndexError, TypeError):
            return None
        shown = shown if shown.tzinfo else shown.replace(tzinfo=UTC)
        return self.offset_of(shown) + _DATE_STEP_S

    def offset_of(self, shown: datetime) -> float:
        """Return a time that it tells minus this machine's in seconds, as at the middle of the exchange."""
        return (shown - self.sent).total_seconds() - self.give_s

    @property
    def give_s(self) -> float:
        """By how much a time that it tells may be off either way, in seconds: half of what the exchange took."""
        return max((self.at - self.sent).total_seconds(), 0.0) / 2

    def json(self) -> dict[str, Any] | None:
        """Return the body as a JSON object, None where it is none."""
        try:
            told = json.loads(self.body)
        except (ValueError, RecursionError):
            return None
        return told if isinstance(told, dict) else None


@dataclass(frozen=True)
class Page:
    """Where a page is: the port as reached from here, the path with its query, and whether it is secure."""

    port: int
    path: str
    secure: bool = False


def _same(port: int) -> int:
    return port


async def get(
    guard: Guard,
    address: str,
    page: Page,
    *,
    timeout_s: float = 3.0,
    authorization: str | None = None,
    reached: Callable[[int], int] = _same,
) -> HttpAnswer:
    """Return the response to a GET; a redirect is followed on the same device, twice at most. `reached` says how a
    port that the device names is reached from here.

    Raises Refused, NoAnswer, Mute, BrokenOff, or StrangeAnswer for what is not HTTP or leads elsewhere.
    """
    said = await request(guard, address, page, timeout_s=timeout_s, authorization=authorization)
    for _ in range(_MOST_HOPS):
        if said.status not in _REDIRECTS or "location" not in said.fields:
            return said
        page = _onward(said.fields["location"], address, page, reached)
        said = replace(await request(guard, address, page, timeout_s=timeout_s), end=page)
    if said.status in _REDIRECTS:
        raise ProtocolError("the web page sends one on and on")
    return said


def _onward(location: str, address: str, page: Page, reached: Callable[[int], int]) -> Page:
    """Return where a redirect leads. Raises StrangeAnswer where that is another device or no page."""
    try:
        parts = urlsplit(location.strip())
        host, port = parts.hostname, parts.port
    except ValueError:
        raise ProtocolError("the web page sends one on to no page at all") from None
    if not parts.scheme and not parts.netloc:
        path = location.strip() if location.startswith("/") else "/" + location.strip()
        return Page(page.port, _ascii(path), page.secure)
    if parts.scheme not in ("http", "https"):
        raise ProtocolError("the web page sends one on to no page at all")
    if host != address:
        raise ProtocolError(f"the web page sends one on to {(host or 'nowhere')[:100]}, another address")
    secure = parts.scheme == "https"
    path = (parts.path or "/") + (f"?{parts.query}" if parts.query else "")
    return Page(reached(port or (443 if secure else 80)), _ascii(path), secure)


def _ascii(path: str) -> str:
    return quote(path, safe="/?&=%:@!$'()*+,;~-._")[:2000]


async def request(
    guard: Guard,
    address: str,
    page: Page,
    *,
    timeout_s: float = 3.0,
    authorization: str | None = None,
    body: tuple[str, bytes] | None = None,
    more: Iterable[tuple[str, str]] = (),
) -> HttpAnswer:
    """Return the response to one request with `more` header fields, a POST where there is a `body` (media type, bytes).

    Raises as `get`.
    """
    tls = unverified() if page.secure else None
    connection = await connect(guard, address, page.port, timeout_s=timeout_s, tls=tls)
    http = h11.Connection(h11.CLIENT, max_incomplete_event_size=_MOST)
    headers = [("Host", address), ("Connection", "close"), *more]
    if authorization is not None:
        headers.append(("Authorization", authorization))
    if body is not None:
        headers += [("Content-Type", body[0]), ("Content-Length", str(len(body[1])))]
    first = h11.Request(method="GET" if body is None else "POST", target=page.path, headers=headers)
    sent = datetime.now(UTC)
    try:
        whole = (http.send(first) or b"") + ((http.send(h11.Data(data=body[1])) or b"") if body is not None else b"")
        connection.writer.write(whole + (http.send(h11.EndOfMessage()) or b""))
        async with asyncio.timeout(timeout_s):
            status, fields, asks, said = await _read(connection.reader, http)
    except TimeoutError:
        raise ReadTimeout(f"takes the connection and says nothing within {timeout_s:g} s") from None
    except h11.RemoteProtocolError:
        raise ProtocolError("open, but does not speak HTTP") from None
    except (ConnectionError, ssl.SSLError, asyncio.IncompleteReadError):
        raise ConnectionBroken("the connection broke off") from None
    except OSError as error:
        raise ConnectError(error.strerror or "the connection broke off") from None
    finally:
        connection.close()
    return HttpAnswer(status, fields, said, connection.took_ms, sent, datetime.now(UTC), asks, connection.certificate)


async def get_as(
    guard: Guard,
    address: str,
    page: Page,
    account: Account,
    asks: list[str],
    *,
    timeout_s: float = 3.0,
    reached: Callable[[int], int] = _same,
) -> HttpAnswer:
    """Return the response to a GET with a login, tried once: 401 where it is refused. Raises as `get`.

    How the device asks for the login is put into `asks`; where it is there already, the first request is spared. In
    clear text the password goes over a secure page only.
    """
    if not asks:
        first = await get(guard, address, page, timeout_s=timeout_s, reached=reached)
        if first.status != 401:
            return first
        page = first.end or page
        asks += first.asks
        if not asks:
            return first
    said = answer(asks, account, "GET", page.path, plain_allowed=page.secure)
    return await get(guard, address, page, timeout_s=timeout_s, authorization=said, reached=reached)


_Read = tuple[int, dict[str, str], tuple[str, ...], bytes]


async def _read(reader: asyncio.StreamReader, http: h11.Connection) -> _Read:
    status, fields, body, total = 0, dict[str, str](), b"", 0
    asks: tuple[str, ...] = ()
    while True:
        event = http.next_event()
        if event is h11.NEED_DATA:
            data = await reader.read(_MOST)
            total += len(data)
            if not data and total == 0:
                raise ConnectionResetError
            if total > 4 * _MOST:
                raise h11.RemoteProtocolError("far more than was asked for")
            http.receive_data(data)
        elif isinstance(event, h11.InformationalResponse):
            continue
        elif isinstance(event, h11.Response):
            status = event.status_code
            pairs = [(name.decode("latin-1").lower(), value.decode("latin-1")) for name, value in event.headers]
            fields, asks = dict(pairs), tuple(value for name, value in pairs if name == "www-authenticate")
        elif isinstance(event, h11.Data):
            body += event.data
            if len(body) > _MOST:
                return status, fields, asks, body[:_MOST]
        elif isinstance(event, h11.EndOfMessage):
            return status, fields, asks, body
        elif isinstance(event, h11.ConnectionClosed):
            raise h11.RemoteProtocolError("closed early")


async def identity(
    guard: Guard,
    address: str,
    port: int,
    *,
    secure: bool = False,
    timeout_s: float = 3.0,
    reached: Callable[[int], int] = _same,
) -> tuple[Identity, float | None, HttpAnswer]:
    """Return what a device says of itself, its clock minus ours in seconds, and the answer it said it in.

    Raises Refused, NoAnswer, StrangeAnswer, or NotTold where the page is none that tells.
    """
    said = await get(guard, address, Page(port, "/identity", secure), timeout_s=timeout_s, reached=reached)
    if said.status >= 500:
        raise ProtocolError(f"the web page answers with status {said.status}")
    told = said.json() if said.status == 200 else None
    if told is None:
        raise NotTold("the web page opens, but does not say which device it is", said)
    found = Identity(
        name=text_or_none(told.get("name")),
        mac=text_or_none(told.get("hardware_address")),
        serial=text_or_none(told.get("serial")),
        date_order=text_or_none(told.get("date_order")),
    )
    return found, _offset(told.get("clock"), said), said


def text_or_none(value: object) -> str | None:
    """Return a text cut to what is shown of it, None for anything else."""
    return value[:200] if isinstance(value, str) else None


def _offset(clock: object, said: HttpAnswer) -> float | None:
    try:
        shown = datetime.fromisoformat(clock) if isinstance(clock, str) else None
    except ValueError:
        shown = None
    if shown is None or shown.tzinfo is None:
        return said.clock_offset_s()
    return said.offset_of(shown)
