"""Shapes of questions to others."""

from dataclasses import dataclass
from datetime import date

from ninja import Schema
from pydantic import Field

from tutelar.core.site.closing import Whom
from tutelar.server.schemas import Option


class AskedWords(Schema):
    """A question: to whom, what, what it holds up, who there, since when and until when it is asked, the answer (null:
    there is none yet)."""

    of: Whom
    question: str = Field(min_length=1, max_length=500)
    holds: str = Field(default="", max_length=200)
    person: str = Field(default="", max_length=200)
    asked: date | None = None
    due: date | None = None
    answer: str | None = Field(default=None, max_length=2000)


@dataclass(frozen=True, slots=True, kw_only=True)
class AskedRow:
    """A question as it stands; `state`: not asked, asked, overdue or answered."""

    key: str
    of: Whom
    question: str
    holds: str
    person: str
    asked: date | None
    due: date | None
    answer: str | None
    answered: date | None
    by: str
    state: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SuggestedRow:
    """A usual question that nobody wrote down yet."""

    key: str
    of: Whom
    question: str
    holds: str


@dataclass(frozen=True, slots=True, kw_only=True)
class AskedSheet:
    """The questions of a site by whom they are for, the key of the one whose turn it is, those that are usual, and how
    many wait."""

    questions: list[AskedRow]
    next: str | None
    suggested: list[SuggestedRow]
    whom: list[Option]
    waiting: int
