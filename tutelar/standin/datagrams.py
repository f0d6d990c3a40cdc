"""What pretend devices speak besides connections: signalling (SIP OPTIONS and REGISTER, RFC 3261),
time (SNTP, RFC 4330), and the answer to a search."""

import asyncio
import re
import struct
from datetime import datetime

from tutelar.standin.device import PretendDevice
from tutelar.standin.interface import found
from tutelar.standin.login import challenge, knows
from tutelar.standin.protocols import Clock, Headed, utc_now
from tutelar.standin.world import World

_PACKET = struct.Struct("!BBbb11I")
_TO_UNIX = 2_208_988_800
_COPIED = re.compile(rb"^(Via|From|To|Call-ID|CSeq):[^\r\n]*", re.MULTILINE | re.IGNORECASE)
_LOGIN = re.compile(rb"^Authorization:([^\r\n]*)", re.MULTILINE | re.IGNORECASE)
_NUMBER = re.compile(rb"^To:[^\r\n]*sip:([^@\s>]{1,40})@", re.MULTILINE | re.IGNORECASE)
STRATUM = 3


def sip_answer(request: bytes, device: PretendDevice | None = None, world: World | None = None) -> bytes | None:
    """Return the answer of a station to a SIP request, None for what is none. A REGISTER without a contact is told whom
    the station has listed, once it proves the password with which others register there."""
    first = request.split(b"\r\n", 1)[0]
    if not first.endswith(b" SIP/2.0"):
        return None
    method = first.split(b" ", 1)[0]
    more: list[bytes] = []
    status = b"200 OK" if method in (b"OPTIONS", b"REGISTER") else b"405 Method Not Allowed"
    if method == b"REGISTER" and device is not None and world is not None:
        said = _LOGIN.search(request)
        number = _NUMBER.search(request)
        who = knows(device, said[1].decode("latin-1").strip(), "REGISTER", device.password) if said else None
        if who is None or number is None:
            status = b"401 Unauthorized"
            more = [b"WWW-Authenticate: " + value.encode() for value in challenge(device)]
        else:
            name = number[1].decode("ascii", "replace")
            more = [f"Contact: <sip:{name}@{at}:5060>;expires=1800".encode() for at in world.listed(device, name)]
    copied = [line.group(0) for line in _COPIED.finditer(request)]
    lines = [
        b"SIP/2.0 " + status,
        *copied,
        *more,
        b"Allow: INVITE, ACK, BYE, CANCEL, OPTIONS, REGISTER",
        b"Content-Length: 0",
    ]
    return b"\r\n".join(lines) + b"\r\n\r\n"


class Signalling(Headed):
    """A station's signalling port for connections; it hangs up on what is no request."""

    def heard(self, head: bytes) -> None:
        """Take a datagram, and answer it where that is due."""
        answer = sip_answer(head + b"\r\n\r\n", self.device, self.world)
        if answer is None:
            self.close()
        else:
            self.send(answer)


class Datagrams(asyncio.DatagramProtocol):
    """The datagram port of a service: signalling or time."""

    def __init__(self, service: str, device: PretendDevice, world: World, now: Clock = utc_now) -> None:
        self.service, self.device, self.world, self.now = service, device, world, now
        self.transport: asyncio.DatagramTransport | None = None

    def connection_made(self, transport: asyncio.DatagramTransport) -> None:  # type: ignore[override]
        self.transport = transport

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        device = self.device
        if self.service == "signalling":
            answer = sip_answer(data, device, self.world)
        else:
            answer = time_answer(data, device.clock(self.now()))
        if answer is not None and not device.mute:
            asyncio.get_running_loop().call_later(device.slow_s, self._send, answer, addr)

    def _send(self, answer: bytes, addr: tuple[str, int]) -> None:
        if self.transport is not None and not self.transport.is_closing():
            self.transport.sendto(answer, addr)


class Search(asyncio.DatagramProtocol):
    """Where a search of the pretend site arrives: every device that is there answers it."""

    def __init__(self, world: World) -> None:
        self.world = world
        self.transport: asyncio.DatagramTransport | None = None

    def connection_made(self, transport: asyncio.DatagramTransport) -> None:  # type: ignore[override]
        self.transport = transport

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        for device in self.world.answering().values():
            answer = None if device.mute else found(device, data)
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
