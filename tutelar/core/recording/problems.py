"""What is wrong with recordings: the patterns, the channels that follow them, the disks, the sound."""

from collections import Counter
from collections.abc import Iterator, Sequence
from math import floor

from tutelar.core.problems import Problem, problem
from tutelar.core.recording.channels import Channel, channels_of, recording_of
from tutelar.core.recording.storage import Storage, raid_share, storage_of
from tutelar.core.recording.week import day_of, gaps, wrong_periods
from tutelar.core.site.recording import Pattern
from tutelar.core.site.types import Site, first_by_key
from tutelar.core.site.weeks import DAY_WORDS, DAYS, NO_DAY, clock_of, lost_days, minutes_of
from tutelar.core.wording import count, listed

_NEEDS = {
    "0": "at least 2",
    "1": "at least 2",
    "5": "at least 3",
    "6": "at least 4",
    "10": "an even number, at least 4",
}


def says_something(site: Site) -> bool:
    """Return whether the document has anything about recordings; one without reads as before."""
    return site.recording is not None or any(device.disks is not None for device in site.devices)


def recording_problems(
    site: Site, channels: Sequence[Channel] | None = None, storage: Sequence[Storage] | None = None
) -> Iterator[Problem]:
    """Yield what is wrong with patterns, channels, disks and sound."""
    channels = channels_of(site) if channels is None else channels
    storage = storage_of(site, channels) if storage is None else storage
    for pattern in recording_of(site).patterns:
        yield from _pattern_problems(pattern)
    yield from _unknown(site, channels)
    yield from _periods(site, channels)
    yield from _disks(site, channels, storage)
    yield from _sound(site, channels)
    rateless = list(dict.fromkeys(channel.device for channel in channels if channel.kbps is None))
    if rateless:
        yield problem(
            "recording.rate-unknown",
            rateless,
            f"The rate of {listed([site.label_of(key) for key in rateless])} is not known, so what they write is "
            "missing from the sums.",
            "Write the streams into the model's profile, or the channel's own rate.",
        )
    if channels and site.survey.retention_days is None:
        yield problem(
            "recording.no-retention",
            (),
            "How many days recordings are wanted is not known, so no disk can be judged.",
            "Ask in the survey.",
        )


def _named(pattern: Pattern) -> str:
    return f"Pattern {pattern.name or pattern.key}"


def _pattern_problems(pattern: Pattern) -> Iterator[Problem]:
    empty = []
    for lost in lost_days(pattern.week):
        said_ = f"{_named(pattern)} says {lost}, which leads to no day of the week."
        yield problem("recording.unknown", (pattern.key,), said_, NO_DAY)
    for day, said in pattern.week.items():
        if isinstance(said, str) or day not in DAYS:
            continue
        if not said:
            empty.append(day)
            continue
        yield from _day_problems(pattern, day)
    if empty:
        days = listed([DAY_WORDS[day] for day in empty])
        yield problem("recording.nothing", (pattern.key,), f"{_named(pattern)} records nothing on {days}.", None)


def _day_problems(pattern: Pattern, day: str) -> Iterator[Problem]:
    periods = day_of(pattern, day) or ()
    broken = False
    for what, period, other in wrong_periods(periods):
        broken = True
        at = f"{_named(pattern)}, {DAY_WORDS[day]}: {period.from_} to {period.to}"
        if what == "past-midnight":
            fix = f"Split it at midnight: {period.from_} to 24:00, and 00:00 to {period.to} on the next day."
            yield problem("recording.past-midnight", (pattern.key,), f"{at} goes past midnight.", fix)
        elif what == "backwards":
            yield problem("recording.backwards", (pattern.key,), f"{at} ends where it begins.", "Correct its end.")
        elif other is not None:
            yield problem(
                "recording.overlap",
                (pattern.key,),
                f"{at} overlaps {other.from_} to {other.to}.",
                f"Let it begin at {other.to}, or the other end at {period.from_}.",
            )
    if broken:
        return
    for begin, end in gaps(periods):
        before = next((item for item in periods if minutes_of(item.to) == begin), None)
        nearest = f"Let the period before it end at {clock_of(end)}" if before else "Let the next one begin"
        fix = f"{nearest}." if before else f"{nearest} at {clock_of(begin)}."
        yield problem(
            "recording.gap",
            (pattern.key,),
            f"{_named(pattern)} records nothing on {DAY_WORDS[day]} from {clock_of(begin)} to {clock_of(end)}, "
            f"{count(end - begin, 'minute')}.",
            fix,
        )


def _unknown(site: Site, channels: Sequence[Channel]) -> Iterator[Problem]:
    whole = recording_of(site)
    patterns = {pattern.key for pattern in whole.patterns}
    twice = [key for key, number in Counter(pattern.key for pattern in whole.patterns).items() if number > 1]
    for key in twice:
        yield problem("key.duplicate", (key,), f"The pattern key '{key}' is used more than once.", "Rename one.")
    if whole.usual is not None and whole.usual not in patterns:
        said = f"The usual pattern '{whole.usual}' is not among the patterns."
        yield problem("recording.unknown", (whole.usual,), said, "Add it or correct the key.")
    there = {(channel.recorder, channel.slot) for channel in channels}
    for item in whole.channels:
        name = site.label_of(item.recorder)
        if item.recorder not in site.device_by_key:
            said = f"A channel is said of '{item.recorder}', which the file does not have."
            yield problem("recording.unknown", (item.recorder,), said, "Add that recorder or correct the key.")
        elif (item.recorder, item.slot) not in there:
            said = f"{name} records nothing on channel {item.slot}, of which something is said."
            yield problem("recording.unknown", (item.recorder,), said, "Link a camera to it or correct the number.")
        if item.pattern is not None and item.pattern not in patterns:
            said = f"Channel {item.slot} of {name} follows '{item.pattern}', which is not among the patterns."
            yield problem("recording.unknown", (item.recorder, item.pattern), said, "Add it or correct the key.")
    for (recorder, slot), number in Counter((item.recorder, item.slot) for item in whole.channels).items():
        if number > 1:
            said = f"Channel {slot} of {site.label_of(recorder)} is described {number} times; the first counts."
            yield problem("key.duplicate", (recorder,), said, "Leave one of them.")


def _periods(site: Site, channels: Sequence[Channel]) -> Iterator[Problem]:
    patterns: dict[str, Pattern] = first_by_key(recording_of(site).patterns)
    said: set[tuple[str, str]] = set()
    for channel in channels:
        pattern = patterns.get(channel.pattern or "")
        device = site.device_by_key[channel.recorder]
        model = site.model_of(device)
        most = model.capacity.periods_a_day if model and model.capacity else None
        if pattern is None or most is None or (channel.recorder, pattern.key) in said:
            continue
        said.add((channel.recorder, pattern.key))
        longest = max((len(day_of(pattern, day) or ()) for day in DAYS), default=0)
        if longest > most:
            yield problem(
                "recording.too-many-periods",
                (channel.recorder, pattern.key),
                f"{_named(pattern)} has {longest} periods on a day; {device.label} takes {most}.",
                "Join periods that follow each other.",
            )


def _disks(site: Site, channels: Sequence[Channel], storage: Sequence[Storage]) -> Iterator[Problem]:
    records = {channel.recorder for channel in channels}
    for row in storage:
        device = site.device_by_key[row.device]
        disks, model = device.disks or (), site.model_of(device)
        bays = model.capacity.bays if model and model.capacity else None
        key = (device.key,)
        if bays is not None and len(disks) > bays:
            said = f"{device.label} has {count(len(disks), 'disk')} and {count(bays, 'bay')}."
            yield problem("recording.too-many-disks", key, said, f"Take {len(disks) - bays} out, or larger ones.")
        if disks and raid_share(device.raid, len(disks)) is None:
            said = f"RAID {device.raid} of {device.label} needs {_NEEDS[device.raid]} disks; it has {len(disks)}."
            yield problem("recording.raid-disks", key, said, "Add disks or choose another level.")
        if not disks and device.key in records:
            said = f"{device.label} is to record and has no disk."
            yield problem("recording.no-disk", key, said, _wanted(row))
        elif disks and row.days is not None and row.wanted_days is not None and row.days < row.wanted_days:
            said = (
                f"{device.label} holds {floor(row.days * 10) / 10:g} days; {count(row.wanted_days, 'day')} are wanted."
            )
            yield problem("recording.too-small", key, said, _wanted(row))


def _wanted(row: Storage) -> str | None:
    if row.propose is None:
        return None
    return f"{len(row.propose.disks)} × {row.propose.disks[0]} TB hold {row.propose.days:.0f} days with the reserve."


def _sound(site: Site, channels: Sequence[Channel]) -> Iterator[Problem]:
    loud = [channel for channel in channels if channel.audio]
    if not loud or site.survey.audio == "allowed":
        return
    names = listed([site.label_of(channel.device) for channel in loud])
    keys = [channel.device for channel in loud]
    if site.survey.audio == "forbidden":
        said = f"Sound may not be recorded here, and is set to be at {names}."
        yield problem("recording.audio-forbidden", keys, said, "Switch sound off in the recordings.")
    else:
        said = f"Sound is recorded at {names}, and nobody said whether that is allowed here."
        yield problem("recording.audio-undecided", keys, said, "Ask in the survey; off until it is decided.")
