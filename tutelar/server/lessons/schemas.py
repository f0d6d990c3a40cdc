"""Shapes of lessons."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ninja import Schema
from pydantic import Field

LessonKind = Literal["questions", "mistakes"]


class NewLesson(Schema):
    """Which kind of lesson is begun."""

    kind: LessonKind


class LessonAnswers(Schema):
    """The numbers of the chosen reasons, in the order of the questions; or the keys of the values taken for wrong."""

    chosen: list[int] = Field(default_factory=list, max_length=50)
    marked: list[str] = Field(default_factory=list, max_length=100)


@dataclass(frozen=True, slots=True, kw_only=True)
class LessonLine:
    """A question (options given) or a value of a set-up. What is right, and why, stands only once it is answered."""

    key: str
    device: str
    label: str
    value: str
    options: list[str]
    chosen: int | None
    marked: bool
    good: bool | None
    right: str | None
    why: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class LessonSheet:
    """A lesson: its lines, and once it is answered how many were right."""

    number: int
    kind: LessonKind
    title: str
    device: str | None
    by: str
    at: datetime
    done: bool
    right: int | None
    of: int
    lines: list[LessonLine]


@dataclass(frozen=True, slots=True, kw_only=True)
class LessonRow:
    """A lesson in the list."""

    number: int
    kind: LessonKind
    by: str
    at: datetime
    done: bool
    right: int | None
    of: int
