"""Shapes of fault finding."""

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from tutelar.server.schemas import Option

Word = Annotated[str, Field(min_length=1, max_length=80)]
Level = Literal["easy", "hard", "double"]


class SeenIn(Schema):
    """A check at a device and its answer; `result` None: the server looks."""

    check: Word
    at: Word
    result: Word | None = None


class NewCase(Schema):
    """A complaint: what is not as it should be; or a drill, whose faults are hidden, or a written case."""

    seen: list[SeenIn] = Field(default=[], max_length=1000)
    drill: Level | None = None
    written: Word | None = None


class FaultName(Schema):
    """A fault and its place."""

    fault: Word
    at: Word


class Conclusion(Schema):
    """What it was: no fault where it is none of the known ones; what was found in words."""

    faults: list[FaultName] = Field(default=[], max_length=2)
    note: str = Field(default="", max_length=2000)


class Mending(Schema):
    """What was done."""

    note: str = Field(default="", max_length=2000)


@dataclass(frozen=True, slots=True, kw_only=True)
class CheckAnswer:
    """An answer to a check, as a button says it, and what it would mean."""

    result: str
    word: str
    means: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class CaseCheck:
    """A check at a device: where, its minutes, what has to be minded, its answers; `by_server`: it can look itself."""

    check: str
    at: str
    short: str
    asks: str
    where: str
    place: str | None
    minutes: float
    caution: str
    by_server: bool
    answers: list[CheckAnswer]
    takes_address: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class NamedFault:
    """A fault and its place, in words."""

    fault: str
    at: str
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FaultChoice:
    """A fault that may be named; `scope`: where it may be (device: at any of the case's places)."""

    value: str
    word: str
    scope: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CauseRow:
    """A likely cause: its faults (none: nothing is wrong), how likely as a share and in words, what no check tells from
    it, what it explains, and what speaks against it."""

    faults: list[NamedFault]
    says: str
    likelihood: float
    chances: str
    alike: list[str]
    explains: list[str]
    against: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class CaseSeen:
    """What was looked at, by whom and when, and what it meant then."""

    check: str
    at: str
    name: str
    short: str
    answer: str
    result: str
    strange: bool
    by: str
    when: datetime
    by_server: bool
    minutes: float
    means: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WayPlace:
    """A place on the way to what is silent."""

    key: str
    name: str
    address: str | None
    state: Literal["answers", "silent", "unknown"]
    port: int | None
    cable_m: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class DrillScore:
    """How a drill went: minutes against the best way and the usual order, and where the best way was left."""

    right: bool
    truth: list[str]
    minutes: float
    best: float
    usual: float
    left: str | None
    best_way: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class CaseSheet:
    """One case: what was seen, the causes, the one next check, the way, and what to write down for the supplier.

    In a drill causes and the next check are kept back until it is over.
    """

    number: int
    title: str
    state: str
    drill: str
    opened_at: datetime
    opened_by: str
    minutes: float
    can_measure: bool
    seen: list[CaseSeen]
    complaint: int
    causes: list[CauseRow]
    fits: bool
    next: CaseCheck | None
    checks: list[CaseCheck]
    places: list[Option]
    faults: list[FaultChoice]
    fault_places: dict[str, list[Option]]
    way: list[WayPlace]
    stops: int | None
    hides: bool
    cause: list[NamedFault] | None
    note: str
    capture: list[str]
    story: str
    teaches: str
    caution: str
    score: DrillScore | None


@dataclass(frozen=True, slots=True, kw_only=True)
class CaseRow:
    """A case in the list."""

    number: int
    title: str
    state: str
    drill: str
    opened_at: datetime
    opened_by: str
    minutes: float
    says: str
    right: bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class DrillsOf:
    """The drills of one person that are over: how many, named right, minutes against the best and the usual way."""

    name: str
    drills: int
    right: int
    minutes: float
    best: float
    usual: float


@dataclass(frozen=True, slots=True, kw_only=True)
class FaultsSheet:
    """The cases of a site, open ones first, what can be complained of, and whether drills can be made here."""

    cases: list[CaseRow]
    devices: list[Option]
    ends: list[Option]
    complaints: list[CaseCheck]
    practice: bool
    can_measure: bool
    written: list[Option]
    people: list[DrillsOf]


@dataclass(frozen=True, slots=True, kw_only=True)
class HopRow:
    """A place on a way, by its name, and why it is passed."""

    at: str
    name: str
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ReachRow:
    """Whether one end reaches another on a port: the way, and where and why it stops."""

    reaches: bool
    said: str
    path: list[HopRow]
    code: str | None
    stops_at: str | None
    mend: str | None
