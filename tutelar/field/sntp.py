"""Does a device serve time, and how far off is it? SNTP, one question (RFC 4330; packet as in RFC 5905)."""

import struct
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime

from tutelar.field.connect import ConnectError
from tutelar.field.datagram import exchange
from tutelar.field.guard import Guard

_PACKET = struct.Struct("!BBbb11I")
_TO_UNIX = 2_208_988_800  # seconds from 1900 to 1970
_CLIENT, _SERVER, _VERSION = 3, 4, 4


@dataclass(frozen=True)
class TimeAnswer:
    """What a time server says: its stratum (1 to 15: synchronised), its clock minus ours in seconds, milliseconds."""

    stratum: int
    offset_s: float
    took_ms: float

    @property
    def synchronised(self) -> bool:
        """Whether the server knows the time itself."""
        return 1 <= self.stratum <= 15


def _now() -> datetime:
    return datetime.now(UTC)


async def ask_time(
    guard: Guard, address: str, port: int, *, timeout_s: float = 2.0, now: Callable[[], datetime] = _now
) -> TimeAnswer:
    """Return what a time server says. Raises Refused, Late, NoAnswer; an answer to another question is passed over."""
    sent = now().timestamp()
    stamp = _fixed(sent)
    head = _VERSION << 3 | _CLIENT
    request = _PACKET.pack(head, 0, 0, 0, *([0] * 9), *stamp)
    data, took = await exchange(guard, address, port, request, lambda came: _answers(came, stamp), timeout_s=timeout_s)
    came = now().timestamp()
    words = _PACKET.unpack(data[: _PACKET.size])
    received, transmitted = _seconds(words[11], words[12]), _seconds(words[13], words[14])
    if transmitted is None:
        raise ConnectError("answers without a time")
    received = transmitted if received is None else received
    offset = ((received - sent) + (transmitted - came)) / 2
    return TimeAnswer(words[1], offset, took)


def _answers(data: bytes, stamp: tuple[int, int]) -> bool:
    """Return whether a datagram is a server's answer to the question with this time stamp."""
    if len(data) < _PACKET.size:
        return False
    words = _PACKET.unpack(data[: _PACKET.size])
    return words[0] & 7 == _SERVER and words[9:11] == stamp


def _fixed(unix: float) -> tuple[int, int]:
    whole = int(unix // 1)
    return (whole + _TO_UNIX) & 0xFFFFFFFF, int((unix - whole) * 2**32) & 0xFFFFFFFF


def _seconds(whole: int, part: int) -> float | None:
    """Return a time stamp in seconds since 1970, None for none; eras as in RFC 4330, section 3."""
    if whole == 0 and part == 0:
        return None
    era = 0 if whole & 0x80000000 else 1 << 32
    return whole + era - _TO_UNIX + part / 2**32
