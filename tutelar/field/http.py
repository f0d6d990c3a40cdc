"""One GET over HTTP or HTTPS (RFC 9110), and what its Date header says of the device's clock."""

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
from tutelar.field.connect import NoAnswer, connect
from tutelar.field.guard import Guard

_MOST = 65536
_DATE_STEP_S = 0.5  # the Date header has whole seconds; the middle of the second is the best guess


class StrangeAnswer(ValueError):
    """Something answered, but not in HTTP or not with what was asked for; the sentence says what."""


@dataclass(frozen=True)
class HttpAnswer:
    """A response: status, header fields in lower case, at most 64 KiB of body, time to connect, moment of arrival."""

    status: int
    fields: Mapping[str, str]
    body: bytes
    took_ms: float
    at: datetime

    def clock_offset_s(self) -> float | None:
        """Return device minus this machine in seconds from the Date header, None where there is none."""
        try:
            shown = parsedate_to_datetime(self.fields["date"])
        except (KeyError, ValueError):
            return None
        shown = shown if shown.tzinfo else shown.replace(tzinfo=UTC)
        return (shown - self.at).total_seconds() + _DATE_STEP_S


async def get(
    guard: Guard, address: str, port: int, path: str, *, timeout_s: float = 3.0, tls: ssl.SSLContext | None = None
) -> HttpAnswer:
    """Return the response to one GET. Raises Refused, NoAnswer, or StrangeAnswer for what is not HTTP."""
    connection = await connect(guard, address, port, timeout_s=timeout_s, tls=tls)
    http = h11.Connection(h11.CLIENT, max_incomplete_event_size=_MOST)
    head = h11.Request(method="GET", target=path, headers=[("Host", address), ("Connection", "close")])
    try:
        connection.writer.write((http.send(head) or b"") + (http.send(h11.EndOfMessage()) or b""))
        async with asyncio.timeout(timeout_s):
            status, fields, body = await _read(connection.reader, http)
    except TimeoutError:
        raise NoAnswer(f"connected, but no answer within {timeout_s:g} s") from None
    except h11.RemoteProtocolError:
        raise StrangeAnswer("open, but does not speak HTTP") from None
    except OSError as error:
        raise NoAnswer(error.strerror or "the connection broke off") from None
    finally:
        connection.close()
    return HttpAnswer(status, fields, body, connection.took_ms, datetime.now(UTC))


async def _read(reader: asyncio.StreamReader, http: h11.Connection) -> tuple[int, dict[str, str], bytes]:
    status, fields, body = 0, dict[str, str](), b""
    while True:
        event = http.next_event()
        if event is h11.NEED_DATA:
            http.receive_data(await reader.read(_MOST))
        elif isinstance(event, h11.Response):
            status = event.status_code
            fields = {name.decode("latin-1").lower(): value.decode("latin-1") for name, value in event.headers}
        elif isinstance(event, h11.Data):
            body += event.data
            if len(body) > _MOST:
                return status, fields, body[:_MOST]
        elif isinstance(event, h11.EndOfMessage):
            return status, fields, body
        elif isinstance(event, h11.ConnectionClosed):
            raise h11.RemoteProtocolError("closed early")


async def identity(
    guard: Guard, address: str, port: int, *, timeout_s: float = 3.0, tls: ssl.SSLContext | None = None
) -> tuple[Identity, float | None, float]:
    """Return what a device says of itself, its clock minus ours in seconds, and the milliseconds to connect.

    Raises Refused, NoAnswer or StrangeAnswer.
    """
    answer = await get(guard, address, port, "/identity", timeout_s=timeout_s, tls=tls)
    if answer.status != 200:
        raise StrangeAnswer(f"the web page answers with status {answer.status}")
    try:
        told: Any = json.loads(answer.body)
    except ValueError:
        told = None
    if not isinstance(told, dict):
        raise StrangeAnswer("the web page opens, but does not say which device it is")
    found = Identity(
        name=_text(told.get("name")),
        mac=_text(told.get("hardware_address")),
        serial=_text(told.get("serial")),
        date_order=_text(told.get("date_order")),
    )
    return found, _offset(told.get("clock"), answer), answer.took_ms


def _text(value: object) -> str | None:
    return value[:200] if isinstance(value, str) else None


def _offset(clock: object, answer: HttpAnswer) -> float | None:
    try:
        shown = datetime.fromisoformat(clock) if isinstance(clock, str) else None
    except ValueError:
        shown = None
    if shown is None or shown.tzinfo is None:
        return answer.clock_offset_s()
    return (shown - answer.at).total_seconds()
