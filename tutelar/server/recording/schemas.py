"""Shapes of recordings: patterns of a week, channels that follow them, what recorders hold."""

from dataclasses import dataclass
from typing import Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from tutelar.server.schemas import Draft, ProblemRow

Mode = Literal["continuous", "motion", "alarm"]


@dataclass(frozen=True, slots=True, kw_only=True)
class PeriodRow:
    """A stretch of a day in minutes since midnight, as it is written down: `to_min` may lie before `from_min`."""

    from_min: int
    to_min: int
    mode: Mode


@dataclass(frozen=True, slots=True, kw_only=True)
class DayRow:
    """A day of a pattern; `as_day`: the day that it is as, None where its periods are its own."""

    day: str
    word: str
    as_day: str | None
    as_word: str | None
    periods: list[PeriodRow]
    known: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class MendRow:
    """One press that puts something right: what is wrong, what the press does, what it adds a day on all disks, the
    week afterwards as in the document, and the stretch of the day it is about."""

    code: str
    days: list[str]
    from_min: int
    to_min: int
    said: str
    press: str
    adds_bytes_per_day: float | None
    week: dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True)
class PatternRow:
    """A pattern with its days, what is wrong with them, how many channels follow it, and the share of a day in which
    is written (None: it cannot be worked out)."""

    key: str
    name: str
    days: list[DayRow]
    mends: list[MendRow]
    channels: int
    longest: int
    written_share: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadyRow:
    """A pattern to begin with."""

    key: str
    name: str
    why: str
    week: dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True)
class ChannelRow:
    """One channel: `own_*` is what is said of it alone, the rest what comes of that."""

    slot: int
    device: str
    name: str
    place: str | None
    pattern: str | None
    own_pattern: str | None
    stream: str
    own_stream: str | None
    kbps: float | None
    own_kbps: float | None
    audio: bool
    own_audio: bool | None
    own_motion_share: float | None
    bytes_per_day: float | None
    file_bytes: float | None
    files_per_day: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class SumRow:
    """Channels that write alike: how many, bytes a day of each and together."""

    said: str
    channels: int
    each: float
    together: float


@dataclass(frozen=True, slots=True, kw_only=True)
class DiskRow:
    """A disk as sold and as the device shows it."""

    bay: int | None
    tb: float
    shown: str
    model: str | None
    serial: str | None
    formatted: bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ProposalRow:
    """Disks that hold what is promised."""

    disks: list[int]
    raid: str
    days: float


@dataclass(frozen=True, slots=True, kw_only=True)
class LeverRow:
    """One change and the days that it gives."""

    key: str
    said: str
    detail: str
    days: float | None
    wanted_days: int | None
    keeps: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class RecorderRow:
    """A recorder: its channels, disks, what it writes and holds against what is promised."""

    key: str
    name: str
    place: str | None
    seats: int | None
    periods_a_day: int | None
    bays: int | None
    raid: str
    disks: list[DiskRow]
    bytes_per_day: float
    label_bytes: float
    usable_bytes: float
    days: float | None
    wanted_days: int | None
    wanted_label_bytes_with_reserve: float | None
    propose: ProposalRow | None
    sums: list[SumRow]
    levers: list[LeverRow]
    channels: list[ChannelRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class RecordingSheet:
    """What is recorded when and how long it is kept; `recording` is the part of the document (None: nothing is said
    yet), `whole` the same with what is usual where it says nothing, `advice` what each rule means."""

    revision: int
    recording: dict[str, Any] | None
    whole: dict[str, Any]
    was: dict[str, Any]
    patterns: list[PatternRow]
    ready: list[ReadyRow]
    recorders: list[RecorderRow]
    retention_days: int | None
    sound: Literal["allowed", "forbidden"] | None
    file_advice: str
    full_advice: str
    sound_caution: str
    motion_advice: str
    problems: list[ProblemRow]


class Kept(Schema):
    """A draft to keep, and what stood in its place when it was begun."""

    model_config = ConfigDict(extra="forbid")

    draft: Draft
    was: Draft


class LeverPress(Schema):
    """A change to take into a draft."""

    model_config = ConfigDict(extra="forbid")

    draft: Draft
    recorder: str
    lever: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Pulled:
    """The draft with a lever taken in, and the page as it then is."""

    draft: dict[str, Any]
    sheet: RecordingSheet


class SpaceReading(Schema):
    """Used space of a recorder as it showed it: when (ISO), how much, in which unit."""

    model_config = ConfigDict(extra="forbid")

    at: str = Field(max_length=40)
    used: float = Field(gt=0, le=1e9)
    unit: Literal["GB", "TB", "GiB", "TiB"]


class Measuring(Schema):
    """Two readings of the used space of a recorder."""

    model_config = ConfigDict(extra="forbid")

    draft: Draft
    recorder: str
    first: SpaceReading
    second: SpaceReading


@dataclass(frozen=True, slots=True, kw_only=True)
class Measured:
    """What two readings tell, and the draft with the rates that were measured."""

    bytes_per_day: float
    days: float
    full_at: str | None
    of_estimate: float | None
    draft: dict[str, Any]


class Picture(Schema):
    """A stream whose rate nobody knows."""

    model_config = ConfigDict(extra="forbid")

    width: int = Field(ge=1, le=20_000)
    height: int = Field(ge=1, le=20_000)
    fps: float = Field(gt=0, le=240)
    codec: Literal["h264", "h265", "mjpeg"]
    scene: Literal["calm", "usual", "busy"]


@dataclass(frozen=True, slots=True, kw_only=True)
class EstimateRow:
    """An estimated rate with its range in kbit/s, and where it comes from."""

    kbps: float
    low_kbps: float
    high_kbps: float
    source: str
