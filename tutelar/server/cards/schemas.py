"""Shapes of job cards."""

from dataclasses import dataclass
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from tutelar.core.cards import Phase

ItemState = Literal["open", "done", "not-needed", "waits"]


class CardTick(Schema):
    """What somebody says of an item: its state, words, a value (of so many), the name of a photograph of the log."""

    state: Literal["done", "not-needed", "open"]
    note: str = Field(default="", max_length=500)
    value: float | Annotated[str, Field(max_length=300)] | None = None
    of: float | None = Field(default=None, ge=0, le=10_000)
    photo: str = Field(default="", max_length=40)


@dataclass(frozen=True, slots=True, kw_only=True)
class PhaseRow:
    """A part of the work: how many items there are in it, and how many are open."""

    key: Phase
    word: str
    open: int
    all: int


@dataclass(frozen=True, slots=True, kw_only=True)
class CardShort:
    """A card in a phase: whose it is, where that is, how many of its items there are, and how many are open."""

    subject: str
    name: str
    place: str | None
    model: str | None
    open: int
    all: int


@dataclass(frozen=True, slots=True, kw_only=True)
class CardsSheet:
    """The cards of a site in one phase; `turn` is the phase whose turn it is."""

    phases: list[PhaseRow]
    phase: Phase
    turn: Phase
    cards: list[CardShort]
    empty: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class SchoolRow:
    """A school, and why some follow it; the first is the usual one."""

    word: str
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ItemRow:
    """An item of a card as it stands: what is done and why, what its tick has to show, what was written down, what is
    judged of it, and what is listed below it."""

    key: str
    phase: Phase
    text: str
    reason: str
    who: str
    caution: str | None
    kind: Literal["tick", "value", "count", "photograph", "name", "choice"]
    asks: str | None
    unit: str | None
    in_words: bool
    options: list[SchoolRow]
    state: ItemState
    waits_for: str | None
    now: bool
    by: str | None
    at: str | None
    note: str | None
    value: float | str | None
    of: float | None
    photo: str | None
    right: bool | None
    said: str | None
    listed: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class CardOut:
    """One card: whose it is, its items in the order of the work; those with `now` matter now. No more than `at_once`
    open ones are shown without a press."""

    subject: str
    name: str
    place: str | None
    rows: list[ItemRow]
    open: int
    at_once: int
