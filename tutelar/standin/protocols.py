"""What the ports of a pretend device speak: silence until they are spoken to, and streams."""

import asyncio
import re
from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

from tutelar.standin.device import PretendDevice
from tutelar.standin.login import accepts, challenge
from tutelar.standin.parameter_sets import described
from tutelar.standin.world import World

Clock = Callable[[], datetime]
MOST = 65536  # bytes of one request that are read before the connection is closed


def utc_now() -> datetime:
    """Return the time in UTC."""
    return datetime.now(UTC)


class Quiet(asyncio.Protocol):
    """A port that takes connections and says nothing until it is spoken to in its own protocol; a slow device says
    everything later, a mute one nothing."""

    def __init__(self, device: PretendDevice, world: World, now: Clock = utc_now) -> None:
        self.device, self.world, self.now = device, world, now
        self.transport: asyncio.Transport | None = None

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        if isinstance(transport, asyncio.Transport):
            self.transport = transport
            port = transport.get_extra_info("sockname")[1]
            if self.device.drops and self.device.breaks_off(port):
                transport.abort()

    def send(self, data: bytes) -> None:
        """Say something, as late as the device is slow."""
        if self.device.slow_s:
            asyncio.get_running_loop().call_later(self.device.slow_s, self._write, data)
        else:
            self._write(data)

    def _write(self, data: bytes) -> None:
        if self.transport is not None and not self.transport.is_closing() and not self.device.mute:
            self.transport.write(data)

    def close(self) -> None:
        """Close the connection."""
        if self.transport is not None:
            asyncio.get_running_loop().call_later(self.device.slow_s, self.transport.close)


class Headed(Quiet):
    """A port that is spoken to in heads: lines that end with an empty one."""

    def __init__(self, device: PretendDevice, world: World, now: Clock = utc_now) -> None:
        super().__init__(device, world, now)
        self.buffer = b""

    def data_received(self, data: bytes) -> None:
        self.buffer += data
        while b"\r\n\r\n" in self.buffer:
            head, self.buffer = self.buffer.split(b"\r\n\r\n", 1)
            self.heard(head)
        if len(self.buffer) > MOST:
            self.close()

    def heard(self, head: bytes) -> None:
        """Answer one head, given without its empty line."""
        raise NotImplementedError


_STREAM_METHODS = ("OPTIONS", "DESCRIBE", "SETUP", "PLAY", "TEARDOWN")
_SESSION = "10051984"
_BYE = b"$\x01\x00\x08\x81\xcb\x00\x01\x00\x00\x00\x01"  # on the second channel: one source, and it leaves


class Stream(Headed):
    """A stream port: answers OPTIONS, and DESCRIBE to whoever logs in (RTSP 1.0, RFC 2326; SDP, RFC 8866).

    It can be set up and played over the same connection; the stream then ends at once (RTCP BYE, RFC 3550 6.6), for
    there are no pictures in it.
    """

    def heard(self, head: bytes) -> None:
        """Take what came, and answer."""
        first, *rest = head.decode("utf-8", "replace").split("\r\n")
        fields = {name.strip().lower(): value.strip() for name, _, value in (line.partition(":") for line in rest)}
        method = first.split(" ", 1)[0]
        sequence = fields.get("cseq", "0")
        if not first.endswith("RTSP/1.0"):
            self._reply("400 Bad Request", sequence)
            self.close()
        elif method == "OPTIONS":
            self._reply("200 OK", sequence, f"Public: {', '.join(_STREAM_METHODS)}\r\n")
        elif method not in _STREAM_METHODS:
            self._reply("501 Not Implemented", sequence)
        elif not accepts(self.device, fields.get("authorization", ""), method):
            ask = "".join(f"WWW-Authenticate: {value}\r\n" for value in challenge(self.device))
            self._reply("401 Unauthorized", sequence, ask)
        elif method == "DESCRIBE":
            stream = self._asked_for(first)
            body = b"" if stream is None else self._description(stream)
            kind = f"Content-Type: application/sdp\r\nContent-Length: {len(body)}\r\n"
            self._reply(*(("404 Stream Not Found", sequence) if stream is None else ("200 OK", sequence, kind, body)))
        elif method == "SETUP" and "interleaved" not in fields.get("transport", ""):
            self._reply("461 Unsupported Transport", sequence)
        elif method == "SETUP":
            way = "Transport: RTP/AVP/TCP;unicast;interleaved=0-1\r\n"
            self._reply("200 OK", sequence, f"Session: {_SESSION}\r\n{way}")
        else:
            self._reply("200 OK", sequence, f"Session: {_SESSION}\r\n")
            if method == "PLAY":
                self.send(_BYE)
                self.close()

    def _reply(self, status: str, sequence: str, fields: str = "", body: bytes = b"") -> None:
        self.send(f"RTSP/1.0 {status}\r\nCSeq: {sequence}\r\n{fields}\r\n".encode() + body)

    def _asked_for(self, request: str) -> dict[str, Any] | None:
        """Return the stream at the path that was asked, {} where the device says nothing of its stream, None for a path
        at which it has none."""
        if not self.device.streams:
            return self.device.stream or {}
        url = request.split(" ")[1] if request.count(" ") == 2 else ""
        path = re.sub(r"^rtsp://[^/]*", "", url) or "/"
        return self.device.streams.get(path)

    def _description(self, main: dict[str, Any]) -> bytes:
        codec = str(main.get("codec", "h264"))
        lines = [
            "v=0",
            "o=- 0 0 IN IP4 0.0.0.0",
            f"s={self.device.name}",
            "t=0 0",
            "m=video 0 RTP/AVP 96",
            f"a=rtpmap:96 {codec.upper()}/90000",
        ]
        if main:
            if sets := described(codec.lower(), main["width"], main["height"], main["fps"]):
                lines.append(f"a=fmtp:96 {sets}")
            lines += [f"a=framesize:96 {main['width']}-{main['height']}", f"a=framerate:{main['fps']:g}"]
        return "\r\n".join([*lines, "a=control:track1", ""]).encode()
