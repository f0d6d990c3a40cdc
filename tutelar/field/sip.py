"""Does a station signal? SIP OPTIONS over TCP, and over UDP where nobody takes the connection (RFC 3261)."""

import asyncio
import re
import secrets
from dataclasses import dataclass

from tutelar.field.connect import BrokenOff, Late, NoAnswer, connect
from tutelar.field.datagram import exchange
from tutelar.field.guard import Guard
from tutelar.field.http import StrangeAnswer

_STATUS = re.compile(rb"SIP/2\.0 (\d{3}) ")
_MOST = 65536


@dataclass(frozen=True)
class SignalAnswer:
    """How a station answers OPTIONS: the transport, its status, milliseconds to the answer."""

    transport: str
    status: int
    took_ms: float


def request(address: str, port: int, transport: str, call: str) -> bytes:
    """Return an OPTIONS request; `call` tells its answer from others."""
    lines = [
        f"OPTIONS sip:{address}:{port} SIP/2.0",
        f"Via: SIP/2.0/{transport} tutelar.invalid;branch=z9hG4bK{call};rport",
        "Max-Forwards: 70",
        f"From: <sip:tutelar@tutelar.invalid>;tag={call[:8]}",
        f"To: <sip:{address}:{port}>",
        f"Call-ID: {call}",
        "CSeq: 1 OPTIONS",
        "Accept: application/sdp",
        "Content-Length: 0",
    ]
    return ("\r\n".join(lines) + "\r\n\r\n").encode("ascii")


async def options(guard: Guard, address: str, port: int, *, timeout_s: float = 2.0) -> SignalAnswer:
    """Return the answer to OPTIONS. Raises Refused, Late, NoAnswer, BrokenOff, or StrangeAnswer for what is no SIP."""
    try:
        return await over_tcp(guard, address, port, timeout_s=timeout_s)
    except (Late, BrokenOff):
        raise
    except NoAnswer:
        return await over_udp(guard, address, port, timeout_s=timeout_s)


async def over_udp(guard: Guard, address: str, port: int, *, timeout_s: float = 2.0) -> SignalAnswer:
    """Return the answer to OPTIONS as a datagram; answers to other calls are passed over."""
    call = secrets.token_hex(12)
    data, took = await exchange(
        guard, address, port, request(address, port, "UDP", call), lambda came: call.encode() in came,
        timeout_s=timeout_s,
    )  # fmt: skip
    return SignalAnswer("UDP", _status(data), took)


async def over_tcp(guard: Guard, address: str, port: int, *, timeout_s: float = 2.0) -> SignalAnswer:
    """Return the answer to OPTIONS over a connection."""
    connection = await connect(guard, address, port, timeout_s=timeout_s)
    loop = asyncio.get_running_loop()
    start = loop.time()
    try:
        connection.writer.write(request(address, port, "TCP", secrets.token_hex(12)))
        async with asyncio.timeout(timeout_s):
            head = await connection.reader.readuntil(b"\r\n\r\n")
    except TimeoutError:
        raise Late(f"connected, but no answer within {timeout_s:g} s") from None
    except asyncio.IncompleteReadError as error:
        if not error.partial:
            raise BrokenOff("the connection broke off") from None
        raise StrangeAnswer("open, but does not speak SIP") from None
    except asyncio.LimitOverrunError:
        raise StrangeAnswer("open, but does not speak SIP") from None
    except OSError:
        raise BrokenOff("the connection broke off") from None
    finally:
        connection.close()
    return SignalAnswer("TCP", _status(head[:_MOST]), (loop.time() - start) * 1000)


def _status(data: bytes) -> int:
    found = _STATUS.match(data)
    if found is None:
        raise StrangeAnswer("open, but does not speak SIP")
    return int(found[1])
