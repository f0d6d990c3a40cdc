"""What every part of the API shares: refusals, revisions, problems, the laptop."""

from datetime import datetime
from typing import Any, Literal

from ninja import Schema


class Fault(Schema):
    """What is wrong, and where."""

    path: str
    message: str


class ApiError(Schema):
    """Why something was not done: one sentence, and a sentence a fault with its path."""

    message: str
    faults: list[Fault] = []


class Conflict(Schema):
    """A write based on an old revision: both versions, and the revision that stands now."""

    message: str
    yours: Any = None
    current: Any = None
    revision: int


class Revised(Schema):
    """The revision of what was written."""

    revision: int


class Commands(Schema):
    """What is typed on one kind of laptop."""

    laptop: Literal["windows", "macos", "linux"]
    lines: list[str]


class Laptop(Schema):
    """The adapter of this laptop; `back` sets it back to automatic."""

    fixed: bool
    address: str | None = None
    prefix: int | None = None
    back: list[Commands]


class Move(Schema):
    """The address that mends a problem."""

    device: str
    address: str


class ProblemRow(Schema):
    """A problem with its sentence, its fix and what it concerns."""

    code: str
    level: Literal["error", "warning", "note"]
    subjects: list[str]
    message: str
    fix: str | None
    move: Move | None = None


class EventRow(Schema):
    """A line of the log."""

    id: int
    at: datetime
    by: str
    kind: str
    subject: str
    sentence: str
