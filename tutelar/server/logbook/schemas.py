"""The logbook."""

from dataclasses import dataclass
from datetime import datetime

from ninja import Schema
from pydantic import ConfigDict, Field


@dataclass(frozen=True, slots=True, kw_only=True)
class Correction:
    """What was said of a line later."""

    at: datetime
    by: str
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LogLine:
    """One line. `corrects` is what the line corrected said, `corrected` what was said of this one later; `parts` lines
    stand under it, and it stands under `part_of`."""

    id: int
    at: datetime
    by: str
    kind: str
    subject: str
    name: str
    sentence: str
    photo: str | None
    parts: int
    part_of: int | None
    corrects: str | None
    corrected: list[Correction]


@dataclass(frozen=True, slots=True, kw_only=True)
class LogDevice:
    """A device that lines are about."""

    key: str
    name: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Logbook:
    """The newest lines, and whether there are older ones."""

    lines: list[LogLine]
    more: bool
    devices: list[LogDevice]


class NewEntry(Schema):
    """A note, a reading with its unit, a photograph that was sent before, or the correction of a line."""

    model_config = ConfigDict(extra="forbid")

    text: str = Field(default="", max_length=4000)
    subject: str = Field(default="", max_length=80)
    value: float | None = Field(default=None, ge=-1e12, le=1e12)
    unit: str = Field(default="", max_length=20)
    photo: str = Field(default="", max_length=40)
    corrects: int | None = Field(default=None, ge=1, le=2**53)


@dataclass(frozen=True, slots=True, kw_only=True)
class Entered:
    """The number of the new line."""

    id: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Photo:
    """The name of a photograph that was kept."""

    name: str
