"""What pretend devices speak besides connections: signalling (SIP OPTIONS, RFC 3261) and time (SNTP, RFC 4330)."""

import asyncio
import re
import struct
from datetime import datetime

from tutelar.standin.device import PretendDevice
from tutelar.standin.protocols import Clock, Headed, utc_now

_PACKET = struct.Struct("!BBbb11I")
_TO_UNIX = 2_208_988_800
_COPIED = re.compile(rb"^(Via|From|To|Call-ID|CSeq):[^\r\n]*", re.MULTILINE | re.IGNORECASE)
STRATUM = 3


def sip_answer(request: bytes) -> bytes | None:
    """Return the answer of a station to a SIP request, None for what is none."""
    first = request.split(b"\r\n", 1)[0]
    if not first.endswith(b" SIP/2.0"):
        return None
    method = first.split(b" ", 1)[0]
    status = b"200 OK" if method == b"OPTIONS" else b"405 Method Not Allowed"
    copied = [found.group(0) for found in _COPIED.finditer(request)]
    lines = [b"SIP/2.0 " + status, *copied, b"Allow: INVITE, ACK, BYE, CANCEL, OPTIONS", b"Content-Length: 0"]
    return b"\r\n".join(lines) + b"\r\n\r\n"


class Signalling(Headed):
    """A station's signalling port for connections; it hangs up on what is no request."""

    def heard(self, head: bytes) -> None:
        answer = sip_answer(head + b"\r\n\r\n")
        if answer is None:
            self.close()
        else:
            self.send(answer)


class Datagrams(asyncio.DatagramProtocol):
    """The datagram port of a service: signalling or time."""

    def __init__(self, service: str, device: PretendDevice, now: Clock = utc_now) -> None:
        self.service, self.device, self.now = service, device, now
        self.transport: asyncio.DatagramTransport | None = None

    def connection_made(self, transport: asyncio.DatagramTransport) -> None:  # type: ignore[override]
        self.transport = transport

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        answer = sip_answer(data) if self.service == "signalling" else time_answer(data, self.device.clock(self.now()))
        if answer is not None and self.transport is not None:
            self.transport.sendto(answer, addr)


def time_answer(request: bytes, now: datetime) -> bytes | None:
    """Return the answer of a time server whose clock shows `now`, None for what is no question."""
    if len(request) < _PACKET.size or request[0] & 7 != 3:
        return None
    words = _PACKET.unpack(request[: _PACKET.size])
    stamp = now.timestamp()
    whole = int(stamp // 1)
    fixed = ((whole + _TO_UNIX) & 0xFFFFFFFF, int((stamp - whole) * 2**32) & 0xFFFFFFFF)
    head = (request[0] >> 3 & 7) << 3 | 4
    return _PACKET.pack(head, STRATUM, 6, -20, 0, 0, 0x7F000001, *fixed, *words[13:15], *fixed, *fixed)
