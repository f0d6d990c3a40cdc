"""Shapes of links to one paper."""

from dataclasses import dataclass
from datetime import datetime

from ninja import Schema
from pydantic import ConfigDict, Field


@dataclass(frozen=True, slots=True, kw_only=True)
class GuestRow:
    """A link to a paper: for whom, until when, how often it was opened; `ended` by itself or by somebody."""

    number: int
    title: str
    ending: str
    for_whom: str
    until: datetime
    made_by: str
    opened: int
    last_opened_at: datetime | None
    ended: bool


class GuestAsked(Schema):
    """Which paper in which form, for whom, and for how many days."""

    model_config = ConfigDict(extra="forbid")

    paper: str = Field(max_length=60)
    ending: str = Field(max_length=8)
    for_whom: str = Field(max_length=150)
    days: int = Field(default=14, ge=1, le=180)


@dataclass(frozen=True, slots=True, kw_only=True)
class GuestMade:
    """The address of the link, shown this once."""

    link: str
    until: datetime
