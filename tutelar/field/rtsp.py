"""Asking a stream port what it can do: RTSP 1.0 OPTIONS and DESCRIBE (RFC 2326)."""

import asyncio
from dataclasses import dataclass

from tutelar.field.connect import Connection, NoAnswer, connect
from tutelar.field.guard import Guard
from tutelar.field.http import StrangeAnswer


@dataclass(frozen=True)
class StreamAnswer:
    """What a stream port offers: its methods, its description (SDP text or None), milliseconds to connect."""

    methods: tuple[str, ...]
    description: str | None
    took_ms: float


async def ask(guard: Guard, address: str, port: int, *, describe: bool = False, timeout_s: float = 3.0) -> StreamAnswer:
    """Return what a stream port offers. Raises Refused, NoAnswer, or StrangeAnswer for what is not RTSP."""
    connection = await connect(guard, address, port, timeout_s=timeout_s)
    url = f"rtsp://{address}:{port}/"
    try:
        async with asyncio.timeout(timeout_s):
            fields, _ = await _exchange(connection, f"OPTIONS {url} RTSP/1.0\r\nCSeq: 1\r\n\r\n")
            text = None
            if describe:
                request = f"DESCRIBE {url} RTSP/1.0\r\nCSeq: 2\r\nAccept: application/sdp\r\n\r\n"
                _, text = await _exchange(connection, request)
    except TimeoutError:
        raise NoAnswer(f"connected, but no answer within {timeout_s:g} s") from None
    except (asyncio.IncompleteReadError, asyncio.LimitOverrunError, ValueError):
        raise StrangeAnswer("open, but does not speak RTSP") from None
    except OSError as error:
        raise NoAnswer(error.strerror or "the connection broke off") from None
    finally:
        connection.close()
    methods = tuple(name.strip() for name in fields.get("public", "").split(",") if name.strip())
    return StreamAnswer(methods, text, connection.took_ms)


async def _exchange(connection: Connection, request: str) -> tuple[dict[str, str], str | None]:
    connection.writer.write(request.encode("ascii"))
    head = (await connection.reader.readuntil(b"\r\n\r\n")).decode("utf-8", "replace")
    first, *lines = head.rstrip("\r\n").split("\r\n")
    version, _, status = first.partition(" ")
    if not version.startswith("RTSP/"):
        raise ValueError(first)
    if not status.startswith("200"):
        return {}, None  # a stream that wants a login has still answered
    fields = {name.strip().lower(): value.strip() for name, _, value in (line.partition(":") for line in lines)}
    length = min(int(fields.get("content-length", "0") or 0), 65536)
    body = (await connection.reader.readexactly(length)).decode("utf-8", "replace") if length else None
    return fields, body
