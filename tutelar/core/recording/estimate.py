"""A rate that nobody set or measured yet, from the size of the picture: an estimate, with its range (docs/sources.md,
picture rates)."""

from typing import Literal, NamedTuple

Codec = Literal["h264", "h265", "mjpeg"]
Scene = Literal["calm", "usual", "busy"]
BITS_PER_PIXEL: dict[Codec, float] = {"h264": 0.07, "h265": 0.035, "mjpeg": 0.75}
MOTION: dict[Scene, int] = {"calm": 1, "usual": 2, "busy": 4}
SCENES: dict[Scene, str] = {
    "calm": "calm: a store room, a corridor at night",
    "usual": "usual: a hall, a yard with some traffic",
    "busy": "busy: a street, leaves, rain, a turning camera",
}
_APART = 2.0  # times as much or as little, between one scene and the next


class Estimate(NamedTuple):
    """kbit/s as estimated, and from where to where it may be."""

    kbps: float
    low_kbps: float
    high_kbps: float


def estimate(width: int, height: int, fps: float, codec: Codec, scene: Scene) -> Estimate:
    """Return kbit/s of a stream: pixels × pictures a second × bits per pixel of the codec × how much moves. Of MJPEG
    every picture stands for itself, so nothing that moves counts."""
    moves = 1 if codec == "mjpeg" else MOTION[scene]
    kbps = width * height * fps * BITS_PER_PIXEL[codec] * moves / 1000
    return Estimate(kbps, kbps / _APART, kbps * _APART)
