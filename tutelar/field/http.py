"""GET over HTTP or HTTPS (RFC 9110), with a login where it is asked for, and what the Date says of the clock."""

import asyncio
import json
import ssl
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from email.utils import parsedate_to_datetime
from typing import Any

import h11

from tutelar.core.proof import Identity
from tutelar.field.connect import BrokenOff, Late, NoAnswer, connect
from tutelar.field.guard import Guard
from tutelar.field.login import Account, answer

_MOST = 65536
_DATE_STEP_S = 0.5  # the Date header has whole seconds; the middle of the second is the best guess


class StrangeAnswer(ValueError):
    """Something answered, but not in its protocol or not with what was asked for; the sentence says what."""


@dataclass(frozen=True)
class HttpAnswer:
    """A response: status, header fields in lower case, at most 64 KiB of body, time to connect, moment of arrival;
    `asks` holds the values of WWW-Authenticate."""

    status: int
    fields: Mapping[str, str]
    body: bytes
    took_ms: float
    at: datetime
    asks: tuple[str, ...] = ()

    def clock_offset_s(self) -> float | None:
        """Return device minus this machine in seconds from the Date header, None where there is none."""
        try:
            shown = parsedate_to_datetime(self.fields["date"])
        except (KeyError, ValueError, OverflowError, IndexError, TypeError):
            return None
        shown = shown if shown.tzinfo else shown.replace(tzinfo=UTC)
        return (shown - self.at).total_seconds() + _DATE_STEP_S

    def json(self) -> dict[str, Any] | None:
        """Return the body as a JSON object, None where it is none."""
        try:
            told = json.loads(self.body)
        except (ValueError, RecursionError):
            return None
        return told if isinstance(told, dict) else None


async def get(
    guard: Guard,
    address: str,
    port: int,
    path: str,
    *,
    timeout_s: float = 3.0,
    tls: ssl.SSLContext | None = None,
    authorization: str | None = None,
) -> HttpAnswer:
    """Return the response to one GET. Raises Refused, NoAnswer, BrokenOff, or StrangeAnswer for what is not HTTP."""
    connection = await connect(guard, address, port, timeout_s=timeout_s, tls=tls)
    http = h11.Connection(h11.CLIENT, max_incomplete_event_size=_MOST)
    headers = [("Host", address), ("Connection", "close")]
    if authorization is not None:
        headers.append(("Authorization", authorization))
    head = h11.Request(method="GET", target=path, headers=headers)
    try:
        connection.writer.write((http.send(head) or b"") + (http.send(h11.EndOfMessage()) or b""))
        async with asyncio.timeout(timeout_s):
            status, fields, asks, body = await _read(connection.reader, http)
    except TimeoutError:
        raise Late(f"connected, but no answer within {timeout_s:g} s") from None
    except h11.RemoteProtocolError:
        raise StrangeAnswer("open, but does not speak HTTP") from None
    except (ConnectionError, ssl.SSLError, asyncio.IncompleteReadError):
        raise BrokenOff("the connection broke off") from None
    except OSError as error:
        raise NoAnswer(error.strerror or "the connection broke off") from None
    finally:
        connection.close()
    return HttpAnswer(status, fields, body, connection.took_ms, datetime.now(UTC), asks)


async def get_as(
    guard: Guard,
    address: str,
    port: int,
    path: str,
    account: Account,
    asks: list[str],
    *,
    timeout_s: float = 3.0,
    tls: ssl.SSLContext | None = None,
) -> HttpAnswer:
    """Return the response to a GET with a login, tried once: 401 where it is refused. Raises as `get`.

    How the device asks for the login is put into `asks`; where it is there already, the first request is spared.
    """
    if not asks:
        first = await get(guard, address, port, path, timeout_s=timeout_s, tls=tls)
        if first.status != 401:
            return first
        asks += first.asks
        if not asks:
            return first
    said = answer(asks, account, "GET", path, plain_allowed=tls is not None)
    return await get(guard, address, port, path, timeout_s=timeout_s, tls=tls, authorization=said)


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
    guard: Guard, address: str, port: int, *, timeout_s: float = 3.0, tls: ssl.SSLContext | None = None
) -> tuple[Identity, float | None, float]:
    """Return what a device says of itself, its clock minus ours in seconds, and the milliseconds to connect.

    Raises Refused, NoAnswer or StrangeAnswer.
    """
    said = await get(guard, address, port, "/identity", timeout_s=timeout_s, tls=tls)
    if said.status != 200:
        raise StrangeAnswer(f"the web page answers with status {said.status}")
    told = said.json()
    if told is None:
        raise StrangeAnswer("the web page opens, but does not say which device it is")
    found = Identity(
        name=text_or_none(told.get("name")),
        mac=text_or_none(told.get("hardware_address")),
        serial=text_or_none(told.get("serial")),
        date_order=text_or_none(told.get("date_order")),
    )
    return found, _offset(told.get("clock"), said), said.took_ms


def text_or_none(value: object) -> str | None:
    return value[:200] if isinstance(value, str) else None


def _offset(clock: object, said: HttpAnswer) -> float | None:
    try:
        shown = datetime.fromisoformat(clock) if isinstance(clock, str) else None
    except ValueError:
        shown = None
    if shown is None or shown.tzinfo is None:
        return said.clock_offset_s()
    return (shown - said.at).total_seconds()
