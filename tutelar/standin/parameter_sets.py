"""Parameter sets of pretend streams: just enough of H.264 and H.265 to tell size and rate (ITU-T H.264, H.265)."""

import base64

_CLOCK = 90_000


class _Bits:
    def __init__(self) -> None:
        self.text = ""

    def u(self, width: int, number: int) -> "_Bits":
        self.text += format(number, f"0{width}b") if width else ""
        return self

    def ue(self, *numbers: int) -> "_Bits":
        for number in numbers:
            code = format(number + 1, "b")
            self.text += "0" * (len(code) - 1) + code
        return self

    def unit(self, head: bytes) -> str:
        """Return the unit as text of base 64, ended with its stop bit and guarded against start codes."""
        bits = self.text + "1"
        bits += "0" * (-len(bits) % 8)
        data, zeros = bytearray(head), 0
        for byte in int(bits, 2).to_bytes(len(bits) // 8, "big"):
            if zeros == 2 and byte <= 3:
                data.append(3)
                zeros = 0
            data.append(byte)
            zeros = zeros + 1 if byte == 0 else 0
        return base64.b64encode(bytes(data)).decode()


def described(codec: str, width: int, height: int, fps: float) -> str:
    """Return the parameters of a format line of SDP for a stream, without its number."""
    tick = round(_CLOCK / fps) if fps else _CLOCK
    if codec == "h264":
        return f"packetization-mode=1;sprop-parameter-sets={_h264(width, height, tick)}"
    if codec == "h265":
        return ";".join(f"sprop-{name}={text}" for name, text in _h265(width, height, tick).items())
    return ""


def _h264(width: int, height: int, tick: int) -> str:
    across, down = -(-width // 16), -(-height // 16)
    right, bottom = (across * 16 - width) // 2, (down * 16 - height) // 2
    bits = (
        _Bits().u(8, 100).u(8, 0).u(8, 51).ue(0, 1, 0, 0).u(1, 0).u(1, 0).ue(0, 2, 1).u(1, 0).ue(across - 1, down - 1)
    )
    bits.u(1, 1).u(1, 1)
    if right or bottom:
        bits.u(1, 1).ue(0, right, 0, bottom)
    else:
        bits.u(1, 0)
    bits.u(1, 1).u(4, 0).u(1, 1).u(32, tick).u(32, 2 * _CLOCK).u(1, 1).u(4, 0)
    return bits.unit(b"\x67")


def _tier(bits: _Bits) -> _Bits:
    return bits.u(8, 1).u(32, 0x60000000).u(4, 9).u(44, 0).u(8, 153)


def _h265(width: int, height: int, tick: int) -> dict[str, str]:
    vps = _tier(_Bits().u(4, 0).u(2, 3).u(6, 0).u(3, 0).u(1, 1).u(16, 0xFFFF)).u(1, 1).ue(4, 2, 4).u(6, 0).ue(0)
    vps.u(1, 1).u(32, tick).u(32, _CLOCK).u(1, 0).ue(0).u(1, 0)
    across, down = width + width % 8, height + height % 8
    sps = _tier(_Bits().u(4, 0).u(3, 0).u(1, 1)).ue(0, 1, across, down)
    if (across, down) != (width, height):
        sps.u(1, 1).ue(0, (across - width) // 2, 0, (down - height) // 2)
    else:
        sps.u(1, 0)
    sps.ue(0, 0, 4).u(1, 1).ue(4, 2, 4)
    return {"vps": vps.unit(b"\x40\x01"), "sps": sps.unit(b"\x42\x01")}
