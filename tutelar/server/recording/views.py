"""What is recorded when, as the page of the stage shows it."""

from collections import Counter
from collections.abc import Mapping, Sequence
from typing import Any

from tutelar.core.problems import Problem, in_order
from tutelar.core.recording import Channel, Storage, channels_of, recording_problems, storage_of
from tutelar.core.recording.channels import added_by, recording_of, said_of_channels
from tutelar.core.recording.levers import levers_of
from tutelar.core.recording.mends import Mend, as_days, mends_of
from tutelar.core.recording.problems import says_something
from tutelar.core.recording.ready import ready_patterns
from tutelar.core.recording.typed import MOTION_LAST, SOUND_LAW, disk_said, file_advice, full_advice
from tutelar.core.recording.week import day_of, is_sound, written_share
from tutelar.core.site.recording import ChannelRecording, Pattern, Recording
from tutelar.core.site.types import Device, Site, first_by_key
from tutelar.core.site.weeks import DAY_MIN, DAY_WORDS, DAYS, minutes_of
from tutelar.core.site.writing import as_document
from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.recording import schemas as shapes
from tutelar.server.sheet import problem_rows, shaped
from tutelar.server.store import documents, drafts


def recording_sheet(row: models.Site, site: Site | None = None) -> shapes.RecordingSheet:
    """Return the page of recordings; of `site` where it is a trial of something else than what is stored."""
    stored = documents.document(row)
    site = stored if site is None else site
    whole = recording_of(site)
    channels = channels_of(site)
    storage = storage_of(site, channels)
    says = says_something(site)
    problems: tuple[Problem, ...] = tuple(in_order(recording_problems(site, channels, storage))) if says else ()
    return shapes.RecordingSheet(
        revision=row.revision,
        recording=as_document(site.recording) if site.recording is not None else None,
        whole=_defaults(whole),
        was=drafts.touchable(stored),
        patterns=[_pattern(site, pattern, channels) for pattern in first_by_key(whole.patterns).values()],
        ready=[
            shapes.ReadyRow(key=item.key, name=item.name, why=item.why, week=_week(item.pattern))
            for item in ready_patterns()
        ],
        recorders=_recorders(site, channels, storage),
        retention_days=site.survey.retention_days,
        sound=site.survey.audio,
        file_advice=file_advice(whole.file_min),
        full_advice=full_advice(whole.disk_full),
        sound_caution=SOUND_LAW,
        motion_advice=MOTION_LAST,
        problems=problem_rows(problems),
    )


def _defaults(whole: Recording) -> dict[str, Any]:
    return whole.model_dump(mode="json", by_alias=True, exclude={"patterns", "channels"})


def _week(pattern: Pattern) -> dict[str, Any]:
    week: dict[str, Any] = as_document(pattern)["week"]
    return week


def _pattern(site: Site, pattern: Pattern, channels: Sequence[Channel]) -> shapes.PatternRow:
    mine = [channel for channel in channels if channel.pattern == pattern.key]
    most = min(_periods_taken(site, mine), default=None)
    sound = is_sound(pattern)
    whole = recording_of(site)
    usual = {"continuous": 1.0, "motion": whole.motion_share, "alarm": whole.alarm_share}
    days = [_day(pattern, day) for day in DAYS]
    return shapes.PatternRow(
        key=pattern.key,
        name=pattern.name or pattern.key,
        days=days,
        mends=[_mend(site, item, pattern, mine) for item in mends_of(pattern, most)],
        channels=len(mine),
        longest=max(len(day.periods) for day in days),
        written_share=written_share(pattern, usual) / DAY_MIN if sound else None,
    )


def _periods_taken(site: Site, channels: Sequence[Channel]) -> list[int]:
    found = []
    for key in dict.fromkeys(channel.recorder for channel in channels):
        model = site.model_of(site.device_by_key[key])
        if model is not None and model.capacity is not None and model.capacity.periods_a_day is not None:
            found.append(model.capacity.periods_a_day)
    return found


def _day(pattern: Pattern, day: str) -> shapes.DayRow:
    periods, other = day_of(pattern, day), as_days(pattern, day)
    return shapes.DayRow(
        day=day,
        word=DAY_WORDS[day],
        as_day=other,
        as_word=DAY_WORDS.get(other, other) if other is not None else None,
        periods=[
            shapes.PeriodRow(from_min=minutes_of(item.from_), to_min=minutes_of(item.to), mode=item.mode)
            for item in periods or ()
        ],
        known=periods is not None,
    )


def _mend(site: Site, mend: Mend, before: Pattern, channels: Sequence[Channel]) -> shapes.MendRow:
    return shapes.MendRow(
        code=mend.code,
        days=list(mend.days),
        from_min=mend.from_min,
        to_min=mend.to_min,
        said=mend.said,
        press=mend.press,
        adds_bytes_per_day=added_by(site, before, mend.after, channels),
        week=_week(mend.after),
    )


def _recorders(site: Site, channels: Sequence[Channel], storage: Sequence[Storage]) -> list[shapes.RecorderRow]:
    by_recorder: dict[str, list[Channel]] = {}
    for channel in channels:
        by_recorder.setdefault(channel.recorder, []).append(channel)
    said = said_of_channels(site)
    return [_recorder(site, item, by_recorder.get(item.device, []), said) for item in storage]


def _recorder(
    site: Site, storage: Storage, channels: Sequence[Channel], said: Mapping[tuple[str, int], ChannelRecording]
) -> shapes.RecorderRow:
    device = site.device_by_key[storage.device]
    model = site.model_of(device)
    capacity = model.capacity if model else None
    best = storage.propose
    return shaped(
        shapes.RecorderRow,
        storage,
        key=device.key,
        name=device.label,
        place=device.place,
        seats=capacity.channels if capacity else None,
        periods_a_day=capacity.periods_a_day if capacity else None,
        bays=capacity.bays if capacity else None,
        raid=device.raid,
        disks=[shaped(shapes.DiskRow, item, shown=disk_said(item.tb)) for item in device.disks or ()],
        propose=None if best is None else shaped(shapes.ProposalRow, best, disks=list(best.disks)),
        sums=_sums(site, channels),
        levers=[shaped(shapes.LeverRow, item) for item in levers_of(site, device.key)],
        channels=[
            _channel(site, item, said.get((item.recorder, item.slot)))
            for item in sorted(channels, key=lambda one: one.slot)
        ],
    )


def _channel(site: Site, channel: Channel, own: ChannelRecording | None) -> shapes.ChannelRow:
    device: Device | None = site.device_by_key.get(channel.device)
    return shaped(
        shapes.ChannelRow,
        channel,
        name=site.label_of(channel.device),
        place=device.place if device else None,
        own_pattern=own.pattern if own else None,
        own_stream=own.stream if own else None,
        own_kbps=own.kbps if own else None,
        own_audio=own.audio if own else None,
        own_motion_share=own.motion_share if own else None,
    )


def _sums(site: Site, channels: Sequence[Channel]) -> list[shapes.SumRow]:
    """Return the channels of a recorder that write alike together, what writes most first."""
    names = {item.key: item.name or item.key for item in recording_of(site).patterns}
    several = len({channel.pattern for channel in channels}) > 1
    alike: Counter[tuple[float, float, str | None, bool]] = Counter()
    for channel in channels:
        if channel.bytes_per_day is not None and channel.kbps is not None:
            alike[channel.bytes_per_day, channel.kbps, channel.pattern, channel.audio] += 1
    found = []
    for (each, kbps, pattern, audio), number in alike.items():
        where = f", {names.get(pattern, pattern) if pattern else 'all day'}" if several else ""
        said = f"{count(number, 'channel')} at {kbps / 1000:g} Mbit/s{' with sound' if audio else ''}{where}"
        found.append(shapes.SumRow(said=said, channels=number, each=each, together=each * number))
    return sorted(found, key=lambda item: -item.together)
