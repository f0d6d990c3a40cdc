"""What is recorded when: patterns of a week, and the channels that follow them."""

from typing import Annotated, Literal

from pydantic import Discriminator, Field, Tag, field_validator

from tutelar.core.site.base import Amount, Count, Name, Part, Slug, Text
from tutelar.core.site.weeks import ANOTHER_DAY, PERIODS, TimeOfDay, wants_monday, which_said

Mode = Literal["continuous", "motion", "alarm"]
StreamUse = Literal["main", "sub", "both"]


Share = Annotated[float, Field(ge=0, le=1)]


class Period(Part):
    """A stretch of a day in which is recorded: from inclusive, to exclusive; "24:00" is the end of a day."""

    from_: TimeOfDay = Field(alias="from")
    to: TimeOfDay
    mode: Mode


SaidOfDay = Annotated[
    Annotated[tuple[Period, ...], Tag(PERIODS)] | Annotated[Text, Tag(ANOTHER_DAY)], Discriminator(which_said)
]


class Pattern(Part):
    """A week of periods. A day may name another day; one that is absent is as Monday, an absent holiday as Sunday."""

    key: Slug
    name: Name | None = None
    week: dict[Text, SaidOfDay]

    @field_validator("week")
    @classmethod
    def _has_monday(cls, week: dict[str, tuple[Period, ...] | str]) -> dict[str, tuple[Period, ...] | str]:
        return wants_monday(week)


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
