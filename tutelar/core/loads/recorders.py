"""What recorders take in and play back at once, beside what they hold."""

from collections.abc import Sequence
from math import floor

from tutelar.core.recording.channels import Channel, recorded_streams
from tutelar.core.recording.storage import Storage
from tutelar.core.site.types import Site


def recorder_rows(site: Site, channels: Sequence[Channel], storage: Sequence[Storage]) -> list[dict[str, object]]:
    """Return one row a recorder as the contract prints it: what it holds, its channels, Mbit/s in, playback at once."""
    rows = []
    by_recorder: dict[str, list[Channel]] = {}
    for channel in channels:
        by_recorder.setdefault(channel.recorder, []).append(channel)
    for item in storage:
        mine = by_recorder.get(item.device, [])
        model = site.model_of(site.device_by_key[item.device])
        capacity = model.capacity if model else None
        rows.append(
            item.as_dict()
            | {
                "channels_used": len(mine),
                "channels": capacity.channels if capacity else None,
                "incoming_mbps": sum(channel.kbps or 0.0 for channel in mine) / 1000,
                "incoming_limit_mbps": capacity.incoming_mbps if capacity else None,
                "playback_at_once": playback_at_once(site, item.device, mine),
            }
        )
    return rows


def playback_at_once(site: Site, recorder: str, channels: Sequence[Channel]) -> int | None:
    """Return how many recordings a recorder plays at once: its own limit, and what it decodes against the largest
    recorded stream; None where neither is known."""
    model = site.model_of(site.device_by_key[recorder])
    capacity = model.capacity if model else None
    if capacity is None:
        return None
    limits = [] if capacity.playback_channels is None else [capacity.playback_channels]
    if capacity.decode_mpx_s is not None:
        pixels = [
            stream.width * stream.height * stream.fps / 1e6
            for channel in channels
            for stream in recorded_streams(site, site.device_by_key.get(channel.device), channel.stream) or ()
        ]
        if pixels and max(pixels) > 0:
            limits.append(floor(capacity.decode_mpx_s / max(pixels) + 1e-9))
    return min(limits, default=None)
