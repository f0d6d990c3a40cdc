"""What each channel of a recorder writes: its rate, its pattern, its bytes a day and its files."""

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from tutelar.core.recording.week import files_a_day, is_sound, written_share
from tutelar.core.site.model import Stream
from tutelar.core.site.once import once_a_site
from tutelar.core.site.recording import ChannelRecording, Pattern, Recording
from tutelar.core.site.types import Device, Site, first_by_key

BYTES_A_MINUTE = 125 * 60  # of one kbit/s


class Channel(NamedTuple):
    """One channel of a recorder: kbit/s without sound, bytes a day, bytes of a file and files a day; None where the
    rate or the pattern is not known. `pattern` is the key of what it follows, None for continuous all day."""

    recorder: str
    slot: int
    device: str
    pattern: str | None
    stream: str
    kbps: float | None
    audio: bool
    bytes_per_day: float | None
    file_bytes: float | None
    files_per_day: float | None

    def as_dict(self) -> dict[str, object]:
        """Return the channel as the contract prints it."""
        return self._asdict()


def recording_of(site: Site) -> Recording:
    """Return how the site records, with what is usual where it says nothing."""
    return site.recording or Recording()


@once_a_site
def said_of_channels(site: Site) -> dict[tuple[str, int], ChannelRecording]:
    """Return what is said of each channel by (recorder, slot); of two entries the first."""
    found: dict[tuple[str, int], ChannelRecording] = {}
    for item in recording_of(site).channels:
        found.setdefault((item.recorder, item.slot), item)
    return found


def recorded_streams(site: Site, device: Device | None, use: str) -> list[Stream] | None:
    """Return the streams that a channel records, None where one of them is not known."""
    sent = site.streams_by_model.get(device.model, {}) if device else {}
    names = ("main", "sub") if use == "both" else (use,)
    return [sent[name] for name in names] if all(name in sent for name in names) else None


@once_a_site
def usual_kbps(site: Site) -> dict[str, float]:
    """Return kbit/s of what is recorded of each model's devices where nothing is said of the channel, by model key."""
    use = recording_of(site).stream
    names = ("main", "sub") if use == "both" else (use,)
    sent = site.streams_by_model.items()
    return {key: sum(own[name].kbps for name in names) for key, own in sent if all(name in own for name in names)}


def rate_of(site: Site, device: str, said: ChannelRecording | None) -> float | None:
    """Return kbit/s of what is recorded of a device on a channel: what is set or measured, else the model's; None where
    neither is known."""
    if said is not None and said.kbps is not None:
        return said.kbps
    found = site.device_by_key.get(device)
    if said is None or said.stream is None:
        return usual_kbps(site).get(found.model) if found else None
    streams = recorded_streams(site, found, said.stream)
    return None if streams is None else sum(stream.kbps for stream in streams)


@once_a_site
def sound_patterns(site: Site) -> dict[str, Pattern]:
    """Return the patterns whose every day can be worked out, by key."""
    patterns: dict[str, Pattern] = first_by_key(recording_of(site).patterns)
    return {key: pattern for key, pattern in patterns.items() if is_sound(pattern)}


@once_a_site
def channels_of(site: Site) -> tuple[Channel, ...]:
    """Return every recording link with a number, in the order of the document (see docs/recording.md)."""
    whole, said = recording_of(site), said_of_channels(site)
    patterns = sound_patterns(site)
    shares: dict[tuple[str | None, float, float], float] = {}
    files = {key: files_a_day(pattern, whole.file_min) for key, pattern in patterns.items()}
    found = []
    for link in site.links:
        if link.kind != "records" or link.slot is None or link.to not in site.device_by_key:
            continue
        own = said.get((link.to, link.slot))
        kbps = rate_of(site, link.from_, own)
        key = (own.pattern if own else None) or whole.usual
        audio = whole.audio if own is None or own.audio is None else own.audio
        known = key is None or key in patterns
        wire = None if kbps is None else kbps + (whole.audio_kbps if audio else 0)
        duty = _duty(whole, own)
        if known and (key, *duty) not in shares:
            shares[key, *duty] = written_share(patterns[key] if key else None, _by_mode(duty))
        counts = wire is not None and known
        found.append(
            Channel(
                recorder=link.to,
                slot=link.slot,
                device=link.from_,
                pattern=key,
                stream=(own.stream if own else None) or whole.stream,
                kbps=kbps,
                audio=audio,
                bytes_per_day=wire * BYTES_A_MINUTE * shares[key, *duty] if wire is not None and counts else None,
                file_bytes=wire * BYTES_A_MINUTE * whole.file_min if wire is not None and counts else None,
                files_per_day=None if not known else files[key] if key else files_a_day(None, whole.file_min),
            )
        )
    return tuple(found)


def added_by(site: Site, before: Pattern, after: Pattern, channels: Sequence[Channel]) -> float | None:
    """Return the bytes a day that a change of a pattern adds over the channels that follow it; None where one of both
    weeks cannot be worked out."""
    if not is_sound(before) or not is_sound(after):
        return None
    whole, said = recording_of(site), said_of_channels(site)
    added = 0.0
    for channel in channels:
        by_mode = _by_mode(_duty(whole, said.get((channel.recorder, channel.slot))))
        wire = (channel.kbps or 0.0) + (whole.audio_kbps if channel.audio else 0.0)
        added += wire * BYTES_A_MINUTE * (written_share(after, by_mode) - written_share(before, by_mode))
    return added


def _duty(whole: Recording, own: ChannelRecording | None) -> tuple[float, float]:
    """Return how much of the time motion and alarm contacts keep a channel recording, as shares."""
    return (
        whole.motion_share if own is None or own.motion_share is None else own.motion_share,
        whole.alarm_share if own is None or own.alarm_share is None else own.alarm_share,
    )


def _by_mode(duty: tuple[float, float]) -> Mapping[str, float]:
    return {"continuous": 1.0, "motion": duty[0], "alarm": duty[1]}
