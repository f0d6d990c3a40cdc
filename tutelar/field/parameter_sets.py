"""Picture size and rate from a stream's own parameter sets, as its description carries them (RFC 6184, RFC 7798).

A sequence parameter set of H.264 is read as in ITU-T H.264, 7.3.2.1, one of H.265 as in ITU-T H.265, 7.3.2.2, with
the rate from the video parameter set (7.3.2.1). Only what comes before the size and the rate is understood.
"""

import base64
import binascii
import re

_H264 = re.compile(r"sprop-parameter-sets=([A-Za-z0-9+/=,]{4,4096})")
_H265 = re.compile(r"sprop-(vps|sps)=([A-Za-z0-9+/=]{4,4096})")
_HIGH = frozenset({100, 110, 122, 244, 44, 83, 86, 118, 128, 138, 139, 134, 135})
_MOST_SIDE = 32768
Seen = tuple[int, int, float | None]


class Short(ValueError):
    """The parameter set ends before what is asked for, or makes no sense."""


class Bits:
    """The bits of a parameter set without its emulation prevention bytes (7.4.1.1 of both standards)."""

    def __init__(self, data: bytes) -> None:
        plain = bytearray()
        zeros = 0
        for byte in data:
            if zeros >= 2 and byte == 3:
                zeros = 0
                continue
            plain.append(byte)
            zeros = zeros + 1 if byte == 0 else 0
        self.number, self.left = int.from_bytes(plain, "big"), 8 * len(plain)

    def u(self, width: int) -> int:
        """Return the next bits as an unsigned number."""
        if width > self.left:
            raise Short
        self.left -= width
        return (self.number >> self.left) & ((1 << width) - 1)

    def ue(self) -> int:
        """Return the next Exp-Golomb number (9.1 of H.264)."""
        zeros = 0
        while self.u(1) == 0:
            zeros += 1
            if zeros > 32:
                raise Short
        return (1 << zeros) - 1 + self.u(zeros)

    def se(self) -> int:
        """Return a signed Exp-Golomb number (ITU-T H.264, 9.1.1)."""
        number = self.ue()
        return (number + 1) // 2 if number % 2 else -(number // 2)


def from_description(text: str) -> Seen | None:
    """Return (width, height, pictures a second or None) from the parameter sets in an SDP text, None without any."""
    try:
        if found := _H264.search(text):
            sets = [_decoded(item) for item in found[1].split(",") if item]
            return next((h264(item) for item in sets if item and item[0] & 31 == 7), None)
        parts = {name: _decoded(data) for name, data in _H265.findall(text)}
        return h265(parts["sps"], parts.get("vps")) if parts.get("sps") else None
    except (Short, binascii.Error, IndexError):
        return None


def _decoded(text: str) -> bytes:
    return base64.b64decode(text + "=" * (-len(text) % 4))


def h264(unit: bytes) -> Seen:
    """Return what a sequence parameter set of H.264 says. Raises Short."""
    bits = Bits(unit[1:])
    profile = bits.u(8)
    bits.u(16)
    bits.ue()
    chroma, planes = 1, 0
    if profile in _HIGH:
        chroma = bits.ue()
        planes = bits.u(1) if chroma == 3 else 0
        bits.ue(), bits.ue(), bits.u(1)
        if bits.u(1):
            _scaling(bits, 8 if chroma != 3 else 12)
    bits.ue()
    order = bits.ue()
    if order == 0:
        bits.ue()
    elif order == 1:
        bits.u(1), bits.se(), bits.se()
        for _ in range(_few(bits.ue(), 255)):
            bits.se()
    bits.ue(), bits.u(1)
    width, units = (bits.ue() + 1) * 16, bits.ue() + 1
    frames_only = bits.u(1)
    height = units * 16 * (2 - frames_only)
    if not frames_only:
        bits.u(1)
    bits.u(1)
    across, down = _crop_units(0 if planes else chroma)
    if bits.u(1):
        left, right, top, bottom = (bits.ue() for _ in range(4))
        width -= (left + right) * across
        height -= (top + bottom) * down * (2 - frames_only)
    return (*_sensible(width, height), _h264_rate(bits))


def _scaling(bits: Bits, lists: int) -> None:
    for at in range(lists):
        if not bits.u(1):
            continue
        last = following = 8
        for _ in range(16 if at < 6 else 64):
            if following:
                following = (last + bits.se()) % 256
            last = following or last


def _h264_rate(bits: Bits) -> float | None:
    """Return the rate from the usability information (annex E), None where it is not told."""
    try:
        if not bits.u(1):
            return None
        if bits.u(1) and bits.u(8) == 255:
            bits.u(32)
        if bits.u(1):
            bits.u(1)
        if bits.u(1):
            bits.u(4)
            if bits.u(1):
                bits.u(24)
        if bits.u(1):
            bits.ue(), bits.ue()
        if not bits.u(1):
            return None
        tick, scale = bits.u(32), bits.u(32)
    except Short:
        return None
    return _rate(scale, 2 * tick)


def h265(sps: bytes, vps: bytes | None) -> Seen:
    """Return what the parameter sets of H.265 say. Raises Short."""
    bits = Bits(sps[2:])
    bits.u(4)
    layers = bits.u(3)
    bits.u(1)
    _tiers(bits, layers)
    bits.ue()
    chroma = bits.ue()
    planes = bits.u(1) if chroma == 3 else 0
    width, height = bits.ue(), bits.ue()
    if bits.u(1):
        across, down = _crop_units(0 if planes else chroma)
        left, right, top, bottom = (bits.ue() for _ in range(4))
        width, height = width - (left + right) * across, height - (top + bottom) * down
    return (*_sensible(width, height), None if vps is None else _h265_rate(vps))


def _tiers(bits: Bits, layers: int) -> None:
    """Pass over profile, tier and level (7.3.3)."""
    bits.u(88), bits.u(8)
    present = [(bits.u(1), bits.u(1)) for _ in range(layers)]
    if layers:
        bits.u(2 * (8 - layers))
    for profile, level in present:
        bits.u(88 * profile), bits.u(8 * level)


def _h265_rate(vps: bytes) -> float | None:
    try:
        bits = Bits(vps[2:])
        bits.u(12)
        layers = bits.u(3)
        bits.u(17)
        _tiers(bits, layers)
        for _ in range(layers + 1 if bits.u(1) else 1):
            bits.ue(), bits.ue(), bits.ue()
        highest = bits.u(6)
        for _ in range(_few(bits.ue(), 1023)):
            bits.u(highest + 1)
        if not bits.u(1):
            return None
        tick, scale = bits.u(32), bits.u(32)
    except Short:
        return None
    return _rate(scale, tick)


def _rate(scale: int, tick: int) -> float | None:
    rate = round(scale / tick, 3) if tick else 0.0
    return rate if 0 < rate <= 1000 else None


def _crop_units(chroma: int) -> tuple[int, int]:
    return (2 if chroma in (1, 2) else 1), (2 if chroma == 1 else 1)


def _sensible(width: int, height: int) -> tuple[int, int]:
    if not (0 < width <= _MOST_SIDE and 0 < height <= _MOST_SIDE):
        raise Short
    return width, height


def _few(number: int, most: int) -> int:
    if number > most:
        raise Short
    return number
