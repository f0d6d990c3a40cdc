"""Which single change would keep the promised days on a recorder, and what each change gives.

Every figure is worked out by the same sums as the storage itself, on the site as it would be.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from math import floor

from tutelar.core.recording.channels import Channel, channels_of, recording_of
from tutelar.core.recording.ready import ready_patterns
from tutelar.core.recording.storage import Storage, propose_disks, raid_share, storage_of
from tutelar.core.site.feeding import Disk, Raid
from tutelar.core.site.recording import ChannelRecording, Pattern, Period, Recording
from tutelar.core.site.types import Site
from tutelar.core.wording import count

RATE_STEP = 250  # kbit/s in which rates are proposed
LEAST_RATE = 0.5  # of what is sent now; below that the picture is another one
_SHARE = 2 / 3  # of the motion taken now


@dataclass(frozen=True, slots=True)
class Change:
    """What is to be otherwise: how the site records, the disks and RAID level of one recorder, the days promised; None
    stays as it is."""

    recording: Recording | None = None
    disks: tuple[Disk, ...] | None = None
    raid: Raid | None = None
    days: int | None = None


@dataclass(frozen=True, slots=True)
class Lever:
    """One change: what it is, what it costs, the days that the recorder then holds against those promised."""

    key: str
    said: str
    detail: str
    days: float | None
    wanted_days: int | None
    change: Change

    @property
    def keeps(self) -> bool:
        """Whether what is promised is then held."""
        return self.days is None or (self.wanted_days is not None and self.days >= self.wanted_days)


def changed(site: Site, recorder: str, change: Change) -> Site:
    """Return the site with a change at one of its recorders."""
    update: dict[str, object] = {}
    if change.recording is not None:
        update["recording"] = change.recording
    if change.disks is not None or change.raid is not None:
        own = {}
        if change.disks is not None:
            own["disks"] = change.disks
        devices = tuple(
            device.model_copy(update={**own, "raid": change.raid or device.raid}) if device.key == recorder else device
            for device in site.devices
        )
        update["devices"] = devices
    if change.days is not None:
        update["survey"] = site.survey.model_copy(update={"retention_days": change.days})
    return site.model_copy(update=update)


def levers_of(site: Site, recorder: str) -> list[Lever]:
    """Return the changes that would help a recorder to hold what is promised, the one that helps most first and the
    lower promise last; [] where it holds it, or where nothing is promised or recorded."""
    if recorder not in site.device_by_key:
        return []
    alone = _alone(site, recorder)
    channels = channels_of(alone)
    now = _storage(alone, recorder, channels)
    if now is None or now.days is None or now.wanted_days is None or now.days >= now.wanted_days:
        return []
    found = [
        Lever(key, said, detail, after.days, after.wanted_days, change)
        for key, said, detail, change in _changes(alone, recorder, channels, now)
        if (after := _after(alone, recorder, channels, change)) is not None
    ]
    last = ("stream", "promise")  # what costs the pictures their worth, and the promise itself
    found.sort(key=lambda item: (last.index(item.key) + 1 if item.key in last else 0, -(item.days or 0.0)))
    return [item for item in found if item.key == "promise" or (item.days or 0.0) > now.days]


def _alone(site: Site, recorder: str) -> Site:
    """Return the site with this recorder and what it records only: all that its days hang on."""
    links = tuple(link for link in site.links_of(recorder) if link.kind == "records" and link.to == recorder)
    kept = {recorder, *(link.from_ for link in links)}
    devices = tuple(site.device_by_key[key] for key in kept if key in site.device_by_key)
    return site.model_copy(update={"links": links, "devices": devices})


def _storage(site: Site, recorder: str, channels: Sequence[Channel]) -> Storage | None:
    return next((row for row in storage_of(site, channels) if row.device == recorder), None)


def _after(site: Site, recorder: str, channels: Sequence[Channel], change: Change) -> Storage | None:
    then = changed(site, recorder, change)
    return _storage(then, recorder, channels if change.recording is None else channels_of(then))


Found = Iterator[tuple[str, str, str, Change]]


def _changes(site: Site, recorder: str, channels: Sequence[Channel], now: Storage) -> Found:
    yield from _disks(site, recorder, now)
    yield from _rates(site, channels, now)
    yield from _patterns(site, channels)
    yield from _streams(site, channels)
    if now.days is not None and floor(now.days) >= 1:
        detail = f"whoever was promised {now.wanted_days} must agree"
        yield "promise", f"Promise {count(floor(now.days), 'day')}", detail, Change(days=floor(now.days))


def _disks(site: Site, recorder: str, now: Storage) -> Found:
    device = site.device_by_key[recorder]
    model, own = site.model_of(device), device.disks or ()
    bays = model.capacity.bays if model and model.capacity else None
    if own and bays is not None and len(own) < bays and raid_share(device.raid, len(own) + 1) is not None:
        size = max(disk.tb for disk in own)
        taken = {disk.bay for disk in own}
        bay = next(number for number in range(1, bays + 1) if number not in taken)
        more = (*own, Disk(bay=bay, tb=size))
        yield "disk", f"One more disk of {size:g} TB", f"bay {bay} is empty", Change(disks=more)
    if (best := propose_disks(site, device, now.bytes_per_day)) is not None:
        fresh = tuple(Disk(bay=at, tb=size) for at, size in enumerate(best.disks, 1))
        raid = "" if best.raid == "none" else f", RAID {best.raid}"
        instead = "instead of those in it" if own else "with the reserve"
        yield "disks", f"{len(fresh)} × {best.disks[0]} TB{raid}", instead, Change(disks=fresh)
    if own and device.raid not in ("none", "0"):
        yield "raid", "No RAID", "a disk that fails takes its recordings with it", Change(raid="none")


def _rates(site: Site, channels: Sequence[Channel], now: Storage) -> Found:
    """Yield the rate of the place, or else of the model, that writes most, as far down as is needed or sensible."""
    groups: dict[str, list[Channel]] = {}
    for channel in channels:
        device = site.device_by_key.get(channel.device)
        if device is not None and channel.bytes_per_day and channel.kbps:
            model = site.model_of(device)
            groups.setdefault(device.place or (model.label if model else device.model), []).append(channel)
    if not groups or now.wanted_days is None:
        return
    name, mine = max(groups.items(), key=lambda item: sum(one.bytes_per_day or 0.0 for one in item[1]))
    writes = sum(one.bytes_per_day or 0.0 for one in mine)
    over = now.bytes_per_day - now.usable_bytes / now.wanted_days
    most = max(one.kbps or 0.0 for one in mine)
    share = max(1 - over / writes, LEAST_RATE)
    rate = max(floor(most * share / RATE_STEP) * RATE_STEP, RATE_STEP)
    if rate < most:
        detail = f"{count(len(mine), 'camera')}, now {most / 1000:g} Mbit/s"
        changes: dict[tuple[str, int], dict[str, object]] = {
            (one.recorder, one.slot): {"kbps": float(min(rate, one.kbps or 0.0))} for one in mine
        }
        yield "rate", f"{name} at {rate / 1000:g} Mbit/s", detail, Change(recording=_said(site, changes))


def _said(site: Site, changes: dict[tuple[str, int], dict[str, object]]) -> Recording:
    """Return how the site records with something else said of some channels."""
    whole = recording_of(site)
    left, rows = dict(changes), []
    for item in whole.channels:
        own = left.pop((item.recorder, item.slot), None)
        rows.append(item if own is None else item.model_copy(update=own))
    rows += [
        ChannelRecording.model_validate({"recorder": recorder, "slot": slot, **own})
        for (recorder, slot), own in left.items()
    ]
    return whole.model_copy(update={"channels": tuple(rows)})


def _patterns(site: Site, channels: Sequence[Channel]) -> Found:
    """Yield motion instead of continuous: after hours where all day is recorded, and throughout."""
    whole = recording_of(site)
    by_pattern: dict[str | None, float] = {}
    for channel in channels:
        by_pattern[channel.pattern] = by_pattern.get(channel.pattern, 0.0) + (channel.bytes_per_day or 0.0)
    if not by_pattern:
        return
    largest = max(by_pattern, key=lambda key: by_pattern[key])
    if largest is None and whole.usual is None:
        taken = {pattern.key for pattern in whole.patterns}
        for ready in ready_patterns():
            if ready.key in ("open-hours", "motion") and ready.key not in taken:
                update = {"patterns": (*whole.patterns, ready.pattern), "usual": ready.key}
                yield ready.key, ready.name, "now all day", Change(recording=whole.model_copy(update=update))
        return
    own = next((pattern for pattern in whole.patterns if pattern.key == largest), None)
    if own is not None and (fewer := _all_motion(own)) != own:
        patterns = tuple(fewer if pattern is own else pattern for pattern in whole.patterns)
        said, detail = f"Motion only in {own.name or own.key}", "now continuous at times"
        yield "motion", said, detail, Change(recording=whole.model_copy(update={"patterns": patterns}))
    if own is not None and whole.motion_share and any(item.mode == "motion" for item in _periods(own)):
        share = round(whole.motion_share * _SHARE, 2)
        said, detail = (
            f"Motion in {share * 100:.0f} % of the time",
            f"taken as {whole.motion_share * 100:.0f} %; see after the first days",
        )
        yield "motion-share", said, detail, Change(recording=whole.model_copy(update={"motion_share": share}))


def _periods(pattern: Pattern) -> Iterator[Period]:
    for said in pattern.week.values():
        if not isinstance(said, str):
            yield from said


def _all_motion(pattern: Pattern) -> Pattern:
    week = {
        day: said
        if isinstance(said, str)
        else tuple(_joined(item.model_copy(update=_MOTION[item.mode]) for item in said))
        for day, said in pattern.week.items()
    }
    return pattern.model_copy(update={"week": week})


_MOTION = {"continuous": {"mode": "motion"}, "motion": {}, "alarm": {}}


def _joined(periods: Iterable[Period]) -> Iterator[Period]:
    """Yield periods with those of one mode that follow each other in one."""
    last: Period | None = None
    for item in periods:
        if last is not None and (last.to, last.mode) == (item.from_, item.mode):
            last = last.model_copy(update={"to": item.to})
            continue
        if last is not None:
            yield last
        last = item
    if last is not None:
        yield last


def _streams(site: Site, channels: Sequence[Channel]) -> Found:
    whole = recording_of(site)
    said = {(item.recorder, item.slot): item for item in whole.channels}
    with_sub = {key for key, streams in site.streams_by_model.items() if "sub" in streams and "main" in streams}
    changes: dict[tuple[str, int], dict[str, object]] = {}
    for channel in channels:
        own = said.get((channel.recorder, channel.slot))
        device = site.device_by_key.get(channel.device)
        if channel.stream != "sub" and device is not None and device.model in with_sub and not (own and own.kbps):
            changes[channel.recorder, channel.slot] = {"stream": "sub"}
    if changes:
        detail = "small pictures: no face or plate can be read"
        yield "stream", "Record the sub stream", detail, Change(recording=_said(site, changes))
