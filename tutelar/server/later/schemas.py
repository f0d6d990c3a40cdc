"""Shapes of what comes later."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ninja import Schema
from pydantic import Field

from tutelar.server.schemas import Option

Kind = Literal["replace", "wifi", "reset", "retire", "add", "take-over"]


class NewChange(Schema):
    """A change to begin: what, and of which device (null: the site is taken over)."""

    kind: Kind
    device: str | None = Field(default=None, max_length=80)


class ChangeTick(Schema):
    """A step that is done, or is opened again, with a word."""

    done: bool
    note: str = Field(default="", max_length=500)


class NewUnit(Schema):
    """What tells the new unit apart."""

    mac: str = Field(default="", max_length=40)
    serial: str = Field(default="", max_length=80)
    wifi_mac: str = Field(default="", max_length=40)


class GivenUp(Schema):
    """Why a change is given up."""

    reason: str = Field(default="", max_length=500)


@dataclass(frozen=True, slots=True, kw_only=True)
class DiaryRow:
    """A day of the diary: what is due, more about it, the device it is about, and whether it is due now."""

    key: str
    at: datetime
    title: str
    about: str
    subject: str
    due: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class StepOfChange:
    """A step of a change: what is done and why, where, whether it is its turn, the first step that it waits for, and
    who did it."""

    key: str
    title: str
    why: str
    at: str
    caution: str
    state: Literal["done", "open", "waits"]
    waits_for: str | None
    by: str | None
    done: str | None
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangeRow:
    """A change of a device (or of the site): its steps, the unit that was there, the one that is, and when it was
    over."""

    id: int
    kind: Kind
    word: str
    device: str | None
    name: str
    begun: str
    by: str
    over: str | None
    given_up: str | None
    asks: list[Literal["mac", "serial", "wifi_mac"]]
    was: dict[str, str | None]
    now: dict[str, str | None]
    steps: list[StepOfChange]
    open: int


@dataclass(frozen=True, slots=True, kw_only=True)
class LaterSheet:
    """The diary of three years, the changes under way and those that are over, and what can be begun."""

    diary: list[DiaryRow]
    changes: list[ChangeRow]
    kinds: list[Option]
    devices: list[Option]
    clocks: list[Option]
    empty: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class FootageRow:
    """When a recording was made: the moments that are possible, a sentence, and whether looks on both sides agree."""

    shown: str
    made: list[str]
    certain: bool
    sentence: str
