"""Asking a stream port what it can do: RTSP 1.0 OPTIONS and DESCRIBE (RFC 2326) with a login; SDP (RFC 8866)."""

import asyncio
import re
from dataclasses import dataclass

from tutelar.core.proof import StreamSeen
from tutelar.field.connect import ConnectError, Connection, ConnectionBroken, ReadTimeout, connect
from tutelar.field.evidence import head
from tutelar.field.guard import Guard
from tutelar.field.http import ProtocolError
from tutelar.field.login import Account, answer
from tutelar.field.parameter_sets import from_description

_MOST = 65536
_SIZE = re.compile(r"a=(?:framesize:\d{1,3} |x-dimensions:\s*)(\d{1,5})[-,](\d{1,5})")
_MAP = re.compile(r"a=rtpmap:\d{1,3} ([A-Za-z0-9.-]{1,20})/")
_RATE = re.compile(r"a=framerate:\s*(\d{1,3}(?:\.\d{1,3})?)")


@dataclass(frozen=True)
class StreamAnswer:
    """What a stream port offers: its methods, its description (SDP text or None), milliseconds to connect; `status`
    of the last answer, `head` of the first as text, the `path` that was asked."""

    methods: tuple[str, ...]
    description: str | None
    took_ms: float
    status: int = 200
    head: str = ""
    path: str = "/"


async def ask(
    guard: Guard,
    address: str,
    port: int,
    *,
    describe: bool = False,
    timeout_s: float = 3.0,
    account: Account | None = None,
    uri: str | None = None,
) -> StreamAnswer:
    """Return what a stream port offers; `uri` is where its stream is: its address as the device itself says, or the
    path as its model has it.

    Raises Refused, NoAnswer, Mute, BrokenOff, or StrangeAnswer for what is no RTSP.
    """
    connection = await connect(guard, address, port, timeout_s=timeout_s)
    path = _path(uri)
    url = f"rtsp://{address}:{port}{path}"
    try:
        async with asyncio.timeout(timeout_s):
            status, fields, _, _ = await _exchange(connection, f"OPTIONS {url} RTSP/1.0\r\nCSeq: 1\r\n\r\n")
            text = None
            if describe:
                status, text = await _describe(connection, url, account)
    except TimeoutError:
        raise ReadTimeout(f"takes the connection and says nothing within {timeout_s:g} s") from None
    except asyncio.IncompleteReadError as error:
        if not error.partial:
            raise ConnectionBroken("the connection broke off") from None
        raise ProtocolError("open, but does not speak RTSP") from None
    except (asyncio.LimitOverrunError, ValueError):
        raise ProtocolError("open, but does not speak RTSP") from None
    except ConnectionError:
        raise ConnectionBroken("the connection broke off") from None
    except OSError as error:
        raise ConnectError(error.strerror or "the connection broke off") from None
    finally:
        connection.close()
    methods = tuple(name.strip() for name in fields.get("public", "").split(",") if name.strip())
    return StreamAnswer(methods, text, connection.took_ms, status, head("RTSP", fields), path)


def _path(uri: str | None) -> str:
    """Return path and query of a stream's address; the device is asked where it was reached, whatever host it names."""
    found = re.fullmatch(r"(?:rtsps?://[^/\s]{1,200})?(/[\x21-\x7e]{0,500})", uri or "", re.IGNORECASE)
    return found[1] if found else "/"


async def _describe(connection: Connection, url: str, account: Account | None) -> tuple[int, str | None]:
    request = f"DESCRIBE {url} RTSP/1.0\r\nCSeq: {{}}\r\nAccept: application/sdp\r\n{{}}\r\n"
    status, _, asks, text = await _exchange(connection, request.format(2, ""))
    if status == 401 and account is not None:
        said = answer(asks, account, "DESCRIBE", url)
        if said is not None:
            status, _, _, text = await _exchange(connection, request.format(3, f"Authorization: {said}\r\n"))
    return status, text


_Exchanged = tuple[int, dict[str, str], list[str], str | None]


async def _exchange(connection: Connection, request: str) -> _Exchanged:
    connection.writer.write(request.encode("utf-8"))
    top = (await connection.reader.readuntil(b"\r\n\r\n")).decode("utf-8", "replace")
    first, *lines = top.rstrip("\r\n").split("\r\n")
    version, _, rest = first.partition(" ")
    if not version.startswith("RTSP/"):
        raise ValueError(first)
    code = rest[:3]
    status = int(code) if code.isascii() and code.isdigit() else 0
    pairs = [(name.strip().lower(), value.strip()) for name, _, value in (line.partition(":") for line in lines)]
    fields = dict(pairs)
    length = fields.get("content-length", "0") or "0"
    if not (length.isascii() and length.isdigit() and len(length) < 8):
        raise ValueError(length)
    size = min(int(length), _MOST)
    body = (await connection.reader.readexactly(size)).decode("utf-8", "replace") if size else None
    return status, fields, [value for name, value in pairs if name == "www-authenticate"], body


def described(text: str | None) -> StreamSeen | None:
    """Return codec, picture size and rate of the first video of an SDP description, None where it holds none; what the
    stream's own parameter sets say counts more than what stands beside them."""
    if text is None:
        return None
    at = text.find("m=video")
    if at < 0:
        return None
    video = text[at:].split("\nm=", 1)[0][:8192]
    codec, size, rate = _MAP.search(video), _SIZE.search(video), _RATE.search(video)
    width, height = (int(size[1]), int(size[2])) if size else (None, None)
    fps = float(rate[1]) if rate else None
    if (own := from_description(video)) is not None:
        width, height, fps = own[0], own[1], own[2] if own[2] is not None else fps
    return StreamSeen(codec[1].lower() if codec else None, width, height, fps)
