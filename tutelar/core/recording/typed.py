"""What is typed into a recorder about recordings: its disks, the pattern of each channel by weekday, files, full disks,
sound and motion."""

from collections.abc import Iterator, Sequence

from tutelar.core.line import Line
from tutelar.core.recording.channels import Channel, channels_of, recording_of, usual_kbps
from tutelar.core.recording.mends import day_range, weekdays_alike
from tutelar.core.recording.problems import says_something
from tutelar.core.recording.week import day_of, gaps
from tutelar.core.site.recording import Pattern, Period
from tutelar.core.site.types import Device, Site, first_by_key
from tutelar.core.wording import count

TIB = 2**40
MODE_WORDS = {"continuous": "continuous", "motion": "motion", "alarm": "alarm contact"}
SOUND_LAW = "Recording sound is forbidden in many places without consent. Ask who decides it here, and put up signs."
MOTION_LAST = "Draw the zones last, when the picture has its final angle; walk through each and look at the recording."
_ALL_DAY = "00:00–24:00 continuous"


def numbers_said(numbers: Sequence[int]) -> str:
    """Return numbers with runs joined: "1–12, 15"."""
    runs: list[list[int]] = []
    for number in sorted(numbers):
        if runs and number == runs[-1][-1] + 1:
            runs[-1].append(number)
        else:
            runs.append([number])
    return ", ".join(f"{run[0]}–{run[-1]}" if len(run) > 1 else str(run[0]) for run in runs)


def periods_said(periods: Sequence[Period]) -> str:
    """Return the periods of a day as they are typed: "00:00–07:30 motion, 07:30–24:00 continuous"."""
    return ", ".join(f"{item.from_}–{item.to} {MODE_WORDS[item.mode]}" for item in periods) or "nothing"


def disk_said(tb: float) -> str:
    """Return a disk as sold, and as the device shows it: "16 TB, shows as 14.55 TiB"."""
    return f"{tb:g} TB, shows as {tb * 1e12 / TIB:.2f} TiB"


def file_advice(minutes: float) -> str:
    """Return why files are of this length, and when another one is better."""
    if minutes < 45:
        return "Short files: quick to fetch, many to look through. Right where footage is fetched often."
    if minutes <= 75:
        return "Usual. Shorter, 15 to 30 min, where footage is fetched often; longer where it hardly ever is."
    return "Long files: few to look through, slow to fetch. Right where footage is hardly ever fetched."


def full_advice(rule: str) -> str:
    """Return what happens when the disk is full."""
    if rule == "stop":
        return "Nothing is recorded any more once it is full: only for evidence disks that somebody swaps."
    return "The oldest goes when there is no room; what is needed longer has to be exported before."


def recording_lines(site: Site, device: Device) -> Iterator[Line]:
    """Yield what is typed into a recorder about recordings; nothing where the site says nothing about them yet."""
    if not says_something(site):
        return
    slots = {link.slot for link in site.links_of(device.key) if link.kind == "records" and link.to == device.key}
    mine = [item for item in channels_of(site) if item.recorder == device.key] if slots else []
    yield from _disks(device)
    if not mine:
        return
    whole = recording_of(site)
    patterns: dict[str, Pattern] = first_by_key(whole.patterns)
    by_pattern: dict[str | None, list[Channel]] = {}
    for channel in mine:
        by_pattern.setdefault(channel.pattern, []).append(channel)
    for key, channels in by_pattern.items():
        yield from _pattern(key, patterns.get(key or ""), channels)
    yield from _rates(site, mine)
    yield Line("file-length", "File length", f"{whole.file_min:g} min", file_advice(whole.file_min))
    rule = "Stop" if whole.disk_full == "stop" else "Overwrite the oldest"
    yield Line("disk-full", "When the disk is full", rule, full_advice(whole.disk_full))
    yield from _sound(site, mine)
    modes = {item.mode for key in by_pattern if key in patterns for item in _all_periods(patterns[key])}
    if "motion" in modes:
        yield Line("motion-zones", "Motion zones", "Last, with the phone at the camera", MOTION_LAST)


def _all_periods(pattern: Pattern) -> Iterator[Period]:
    for said in pattern.week.values():
        if not isinstance(said, str):
            yield from said


def _disks(device: Device) -> Iterator[Line]:
    for at, disk in enumerate(device.disks or (), 1):
        bay = at if disk.bay is None else disk.bay
        serial = f" Serial {disk.serial}." if disk.serial else ""
        done = "It is formatted." if disk.formatted else "Format it: an unformatted disk records nothing."
        yield Line(f"disk-{bay}", f"Disk in bay {bay}", disk_said(disk.tb), f"{done}{serial}")
    if device.disks and device.raid != "none":
        why = "Before the disks are formatted: another level later loses all recordings."
        yield Line("raid", "RAID level", device.raid, why)


def _pattern(key: str | None, pattern: Pattern | None, channels: Sequence[Channel]) -> Iterator[Line]:
    slots = [channel.slot for channel in channels]
    who = f"{'Channel' if len(slots) == 1 else 'Channels'} {numbers_said(slots)}"
    if key is None:
        yield Line("record-always", who, _ALL_DAY, "Every day alike: type one and copy it to all days and channels.")
        return
    if pattern is None:
        yield Line(f"record-{key}", who, "not known", f"The pattern '{key}' is not among the patterns.")
        return
    name = pattern.name or pattern.key
    for days in weekdays_alike(pattern):
        periods = day_of(pattern, days[0]) or ()
        label = f"{who}, {day_range(days)}"
        alike = f"{name}: type {day_range(days[:1])}, copy it to {day_range(days[1:])}" if len(days) > 1 else name
        gap = f" {count(len(gaps(periods)), 'gap')} in which nothing is recorded." if periods and gaps(periods) else ""
        yield Line(f"record-{key}-{days[0]}", label, periods_said(periods), f"{alike}.{gap}")


def _rates(site: Site, channels: Sequence[Channel]) -> Iterator[Line]:
    """Yield the rate of channels for which one is set that their models do not have."""
    usual = usual_kbps(site)
    said = {(item.recorder, item.slot): item for item in recording_of(site).channels}
    by_rate: dict[float, list[int]] = {}
    for channel in channels:
        own = said.get((channel.recorder, channel.slot))
        device = site.device_by_key.get(channel.device)
        if own is not None and own.kbps is not None and (device is None or usual.get(device.model) != own.kbps):
            by_rate.setdefault(own.kbps, []).append(channel.slot)
    for kbps, slots in by_rate.items():
        who = f"{'Channel' if len(slots) == 1 else 'Channels'} {numbers_said(slots)}, bit rate"
        why = "Set or measured for this site; the disks are worked out with it."
        yield Line(f"rate-{min(slots)}", who, f"{kbps:g} kbit/s", why)


def _sound(site: Site, channels: Sequence[Channel]) -> Iterator[Line]:
    loud = [channel.slot for channel in channels if channel.audio]
    said = {"allowed": "It may be recorded here.", "forbidden": "It may not be recorded here."}
    why = said.get(site.survey.audio or "", "Whether it may be recorded here is not known: ask in the survey.")
    value = f"On at {numbers_said(loud)}, else off" if loud else "Off"
    yield Line("sound-recorded", "Sound in recordings", value, why)
