"""What every part of the API shares: refusals, revisions, problems, the laptop."""

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field


@dataclass(frozen=True, slots=True, kw_only=True)
class Fault:
    """What is wrong, and where."""

    path: str
    message: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ApiError:
    """Why something was not done: one sentence, and a sentence a fault with its path."""

    message: str
    faults: list[Fault] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class Conflict:
    """A write based on an old revision: both versions, and the revision that stands now."""

    message: str
    yours: Any = None
    current: Any = None
    revision: int


class Revised(Schema):
    """The revision of what was written."""

    revision: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Commands:
    """What is typed on one kind of laptop."""

    laptop: Literal["windows", "macos", "linux"]
    lines: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class Laptop:
    """The adapter of this laptop; `back` sets it back to automatic."""

    fixed: bool
    address: str | None = None
    prefix: int | None = None
    back: list[Commands]


@dataclass(frozen=True, slots=True, kw_only=True)
class Move:
    """The address that mends a problem."""

    device: str
    address: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ProblemRow:
    """A problem with its sentence, its fix and what it concerns."""

    code: str
    level: Literal["error", "warning", "note"]
    subjects: list[str]
    message: str
    fix: str | None
    move: Move | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Option:
    """A choice of an answer."""

    value: str
    word: str


@dataclass(frozen=True, slots=True, kw_only=True)
class EventRow:
    """A line of the log."""

    id: int
    at: datetime
    by: str
    kind: str
    subject: str
    sentence: str


class Draft(Schema):
    """What is tried out: parts of the document that would stand instead; what is not given stays."""

    model_config = ConfigDict(extra="forbid")

    recording: dict[str, Any] | None = None
    supplies: list[dict[str, Any]] | None = Field(default=None, max_length=1_000)
    devices: dict[str, dict[str, Any]] | None = Field(default=None, max_length=5_000)
    retention_days: int | None = None
