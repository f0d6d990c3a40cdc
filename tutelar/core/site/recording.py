"""What is recorded when: patterns of a week, and the channels that follow them."""

import re
from typing import Annotated, Literal

from pydantic import AfterValidator, Discriminator, Field, Tag, field_validator

from tutelar.core.site.base import Amount, Count, Name, Part, Slug, Text

WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
DAYS = (*WEEKDAYS, "holiday")
Mode = Literal["continuous", "motion", "alarm"]
StreamUse = Literal["main", "sub", "both"]
_TIME = re.compile(r"(?:[01][0-9]|2[0-3]):[0-5][0-9]|24:00")
PERIODS, ANOTHER_DAY = "list of periods", "name of a day"  # what a day says; neither stands in a path


def _is_time(value: str) -> str:
    if not _TIME.fullmatch(value):
        raise ValueError(f"'{value[:40]}' is no time of a day; one from 00:00 to 24:00 is expected, like 07:30")
    return value


TimeOfDay = Annotated[str, AfterValidator(_is_time), Field(examples=["07:30"])]
Share = Annotated[float, Field(ge=0, le=1)]


class Period(Part):
    """A stretch of a day in which is recorded: from inclusive, to exclusive; "24:00" is the end of a day."""

    from_: TimeOfDay = Field(alias="from")
    to: TimeOfDay
    mode: Mode


def _which(value: object) -> str:
    return ANOTHER_DAY if isinstance(value, str) else PERIODS


SaidOfDay = Annotated[
    Annotated[tuple[Period, ...], Tag(PERIODS)] | Annotated[Text, Tag(ANOTHER_DAY)], Discriminator(_which)
]


class Pattern(Part):
    """A week of periods. A day may name another day; one that is absent is as Monday, an absent holiday as Sunday."""

    key: Slug
    name: Name | None = None
    week: dict[Text, SaidOfDay]

    @field_validator("week")
    @classmethod
    def _has_monday(cls, week: dict[str, tuple[Period, ...] | str]) -> dict[str, tuple[Period, ...] | str]:
        if "mon" not in week:
            raise ValueError("The week has no 'mon'; every other day falls back on it")
        return week


class ChannelRecording(Part):
    """What one channel of a recorder does otherwise; `kbps` is the whole of what it records, set or measured."""

    recorder: Slug
    slot: Count
    pattern: Slug | None = None
    stream: StreamUse | None = None
    kbps: Amount | None = None
    motion_share: Share | None = None
    alarm_share: Share | None = None
    audio: bool | None = None


class Recording(Part):
    """How this site records; channels that say nothing are as it says here."""

    patterns: tuple[Pattern, ...] = ()
    usual: Slug | None = None
    stream: StreamUse = "main"
    motion_share: Share = 0.3
    alarm_share: Share = 0.02
    audio_kbps: Amount = 64
    audio: bool = False
    channels: tuple[ChannelRecording, ...] = ()
    file_min: Annotated[float, Field(gt=0, le=1440)] = 60
    disk_full: Literal["overwrite", "stop"] = "overwrite"
    usable_share: Annotated[float, Field(gt=0, le=1)] = 0.93
    reserve_share: Amount = 0.1
