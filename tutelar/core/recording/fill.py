"""What a recorder really writes, from two readings of its used space, and when it is full."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from math import isfinite

from tutelar.core.recording.channels import Channel, recording_of
from tutelar.core.site.recording import ChannelRecording, Recording
from tutelar.core.site.types import Site

UNITS = {"GB": 10**9, "TB": 10**12, "GiB": 2**30, "TiB": 2**40}
LEAST = timedelta(hours=1)
_FAR = 36_500  # days; a disk that takes longer is never full


@dataclass(frozen=True, slots=True)
class Fill:
    """What was measured: bytes a day, days that the whole disk holds, the moment at which it is full (None: it is not
    within a hundred years), and how many times what was worked out."""

    bytes_per_day: float
    days: float
    full_at: datetime | None
    of_estimate: float | None


def fill_of(
    first: tuple[datetime, float], second: tuple[datetime, float], usable_bytes: float, estimate: float
) -> Fill:
    """Return what two readings of (when, bytes used) tell. Raises ValueError where they tell nothing: less than an hour
    apart, the later one first, nothing written in between, more used than there is room."""
    (then, before), (now, after) = first, second
    if now - then < LEAST:
        raise ValueError("The second reading has to be at least an hour after the first; days apart tell more")
    if after <= before:
        raise ValueError("Nothing was written between the readings: look whether it records, or overwrites already")
    if not usable_bytes:
        raise ValueError("No disk is known in this recorder, so nothing can be said of when it is full")
    if after > usable_bytes * 1.1:
        raise ValueError("More is used than the disks have room for; look at the unit: GB, TB, GiB or TiB")
    daily = (after - before) / ((now - then) / timedelta(days=1))
    left = max(usable_bytes - after, 0.0) / daily
    full_at = now + timedelta(days=left) if isfinite(left) and left < _FAR else None
    return Fill(daily, usable_bytes / daily, full_at, daily / estimate if estimate else None)


def as_measured(site: Site, recorder: str, channels: Sequence[Channel], factor: float) -> Recording:
    """Return how the site records with the rates of a recorder's channels so that together they come to what was
    measured: each as many times its own; sound stays what it is."""
    whole = recording_of(site)
    rates = {
        channel.slot: max(0.0, (channel.kbps + sound) * factor - sound)
        for channel in channels
        if channel.recorder == recorder and channel.kbps is not None
        for sound in (whole.audio_kbps if channel.audio else 0.0,)
    }
    rows = []
    for item in whole.channels:
        mine = item.recorder == recorder and item.slot in rates
        rows.append(item.model_copy(update={"kbps": rates.pop(item.slot)}) if mine else item)
    rows += [ChannelRecording(recorder=recorder, slot=slot, kbps=rate) for slot, rate in rates.items()]
    return whole.model_copy(update={"channels": tuple(rows)})
