"""Does a station signal, and whom has it listed? SIP OPTIONS and REGISTER over TCP, and over UDP where nobody takes
the connection (RFC 3261; a REGISTER without a contact asks for what is listed, section 10.2.3)."""

import asyncio
import re
import secrets
from collections.abc import Callable
from dataclasses import dataclass

from tutelar.field.connect import ConnectError, ConnectionBroken, ConnectTimeout, ReadTimeout, connect
from tutelar.field.datagram import exchange
from tutelar.field.guard import Guard
from tutelar.field.http import ProtocolError
from tutelar.field.login import Account, answer

_STATUS = re.compile(rb"SIP/2\.0 (\d{3}) ")
_CONTACT_HOST = re.compile(r"sips?:(?:[^@>;,\s]*@)?([^:;>,\s?]+)", re.IGNORECASE)
_MOST = 65536
_MOST_CONTACTS = 64


@dataclass(frozen=True)
class SignalAnswer:
    """How a station answers: the transport, its status, milliseconds to the answer, its head as text."""

    transport: str
    status: int
    took_ms: float
    head: str = ""

    def values(self, name: str) -> list[str]:
        """Return the values of a header field, in the order of the answer."""
        pairs = (line.partition(":") for line in self.head.split("\r\n")[1:])
        return [value.strip() for field, _, value in pairs if field.strip().lower() == name]


@dataclass(frozen=True)
class Listed:
    """What a main station lists for a number: the addresses, or None where it refused the question; its answer."""

    addresses: tuple[str, ...] | None
    answer: SignalAnswer


def request(address: str, port: int, transport: str, call: str, method: str = "OPTIONS", **more: str) -> bytes:
    """Return a request; `call` tells its answer from others, `more` may hold the `number` it is about and an
    `authorization`."""
    number, said = more.get("number"), more.get("authorization")
    whom = f"sip:{number}@{address}" if number else f"sip:{address}:{port}"
    lines = [
        f"{method} sip:{address}:{port} SIP/2.0",
        f"Via: SIP/2.0/{transport} tutelar.invalid;branch=z9hG4bK{call};rport",
        "Max-Forwards: 70",
        f"From: <{whom if number else 'sip:tutelar@tutelar.invalid'}>;tag={call[:8]}",
        f"To: <{whom}>",
        f"Call-ID: {call}",
        f"CSeq: {2 if said else 1} {method}",
        *(["Accept: application/sdp"] if method == "OPTIONS" else []),
        *([f"Authorization: {said}"] if said else []),
        "Content-Length: 0",
    ]
    return ("\r\n".join(lines) + "\r\n\r\n").encode("ascii", "replace")


async def options(guard: Guard, address: str, port: int, *, timeout_s: float = 2.0) -> SignalAnswer:
    """Return the answer to OPTIONS. Raises Refused, Late, NoAnswer, BrokenOff, or StrangeAnswer for what is no SIP."""
    return await _either(guard, address, port, None, timeout_s)


async def listed(
    guard: Guard, address: str, port: int, number: str, account: Account | None, *, timeout_s: float = 2.0
) -> Listed:
    """Return what a main station lists for a number, asked with one login where it wants one. Raises as `options`."""
    said: list[str | None] = [None]

    def make(transport: str, call: str) -> bytes:
        more = {"number": number} | ({"authorization": said[0]} if said[0] else {})
        return request(address, port, transport, call, "REGISTER", **more)

    first = await _either(guard, address, port, make, timeout_s)
    if first.status == 401 and account is not None:
        said[0] = answer(first.values("www-authenticate"), account, "REGISTER", f"sip:{address}:{port}")
        if said[0] is not None:
            way = over_udp if first.transport == "UDP" else over_tcp
            first = await way(guard, address, port, make, timeout_s=timeout_s)
    if first.status != 200:
        return Listed(None, first)
    contacts = [host for value in first.values("contact") for host in _CONTACT_HOST.findall(value[:4096])]
    return Listed(tuple(item[:64] for item in contacts[:_MOST_CONTACTS]), first)


Make = Callable[[str, str], bytes]


async def _either(guard: Guard, address: str, port: int, make: Make | None, timeout_s: float) -> SignalAnswer:
    try:
        return await over_tcp(guard, address, port, make, timeout_s=timeout_s)
    except (ConnectTimeout, ConnectionBroken):
        raise
    except ConnectError:
        return await over_udp(guard, address, port, make, timeout_s=timeout_s)


async def over_udp(
    guard: Guard, address: str, port: int, make: Make | None = None, *, timeout_s: float = 2.0
) -> SignalAnswer:
    """Return the answer to a request (OPTIONS, if none is made) as a datagram; those to other calls are passed over."""
    call = secrets.token_hex(12)
    sent = make("UDP", call) if make is not None else request(address, port, "UDP", call)
    data, took = await exchange(guard, address, port, sent, lambda came: call.encode() in came, timeout_s=timeout_s)
    return _answer("UDP", data, took)


async def over_tcp(
    guard: Guard, address: str, port: int, make: Make | None = None, *, timeout_s: float = 2.0
) -> SignalAnswer:
    """Return the answer to a request (OPTIONS, if none is made) over a connection."""
    call = secrets.token_hex(12)
    connection = await connect(guard, address, port, timeout_s=timeout_s)
    loop = asyncio.get_running_loop()
    start = loop.time()
    try:
        connection.writer.write(make("TCP", call) if make is not None else request(address, port, "TCP", call))
        async with asyncio.timeout(timeout_s):
            head = await connection.reader.readuntil(b"\r\n\r\n")
    except TimeoutError:
        raise ReadTimeout(f"takes the connection and says nothing within {timeout_s:g} s") from None
    except asyncio.IncompleteReadError as error:
        if not error.partial:
            raise ConnectionBroken("the connection broke off") from None
        raise ProtocolError("open, but does not speak SIP") from None
    except asyncio.LimitOverrunError:
        raise ProtocolError("open, but does not speak SIP") from None
    except OSError:
        raise ConnectionBroken("the connection broke off") from None
    finally:
        connection.close()
    return _answer("TCP", head, (loop.time() - start) * 1000)


def _answer(transport: str, data: bytes, took_ms: float) -> SignalAnswer:
    found = _STATUS.match(data)
    if found is None:
        raise ProtocolError("open, but does not speak SIP")
    head = data[:_MOST].split(b"\r\n\r\n", 1)[0].decode("utf-8", "replace")
    return SignalAnswer(transport, int(found[1]), took_ms, head)
