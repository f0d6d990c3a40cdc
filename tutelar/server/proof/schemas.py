"""Proof."""

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from tutelar.core.proof import State
from tutelar.core.site.policy import Witness
from tutelar.paper.proof_row import ProofRow
from tutelar.server.practice.schemas import PracticeFault


@dataclass(frozen=True, slots=True, kw_only=True)
class ProofColumn:
    """A check as a column of the sheet."""

    key: str
    name: str
    place: str
    family: str
    address: str | None
    state: State


@dataclass(frozen=True, slots=True, kw_only=True)
class CheckRow:
    """A check and the protocol it is asked by; `caution` stands where it can hurt somebody, `needs_person` asks who
    tried it."""

    check: str
    title: str
    protocol: str
    witnessed: bool
    caution: str | None
    needs_person: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ProofRun:
    """How far a measuring is."""

    id: int
    state: Literal["waiting", "running", "done", "cancelled", "failed"]
    measured: int
    total: int
    live: bool
    message: str
    faults: list[dict[str, Any]]
    by: str
    started_at: datetime
    finished_at: datetime | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Authority:
    """Who answers for testing which ranges; `holds` where these are still the site's."""

    person: str
    networks: list[str]
    by: str
    at: datetime
    holds: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LiveState:
    """Whether real devices may be measured at all, in which ranges, and who answers for it."""

    on: bool
    networks: list[str]
    authority: Authority | None


@dataclass(frozen=True, slots=True, kw_only=True)
class CoverageSheet:
    """One honest figure: readings that are fresh and passed, of all that are expected; what is not, and why."""

    fresh: int
    expected: int
    failed: int
    stale: int
    never: int
    skipped: int
    excepted: int
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RanOut:
    """An exception whose last day is past."""

    device: str
    name: str
    check: str | None
    title: str
    reason: str
    by: str | None
    until: date


@dataclass(frozen=True, slots=True, kw_only=True)
class ProofChange:
    """A reading that came out otherwise at the last measuring than the time before."""

    device: str
    name: str
    check: str
    title: str
    before: str
    now: str
    measured: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FaultKind:
    """A fault that the pretend site can play, and what a device is then said to do."""

    kind: str
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ProofSheet:
    """The proof sheet."""

    columns: list[ProofColumn]
    checks: list[CheckRow]
    cells: list[ProofRow]
    last: ProofRun | None
    fault_kinds: list[FaultKind]
    live: LiveState
    coverage: CoverageSheet
    changes: list[ProofChange]
    ran_out: list[RanOut]
    practice: bool
    kept_up: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class RuleRow:
    """A check of the site: whether it is asked for, and whether that may be changed at all."""

    check: str
    title: str
    asked: bool
    fixed: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class FamilyRules:
    """What has to be seen of the devices of one family."""

    family: str
    word: str
    seen: list[RuleRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class ProofRulesSheet:
    """What this site asks for at its proof."""

    revision: int
    clock_s: float
    measured: list[RuleRow]
    families: list[FamilyRules]


class RulesChange(Schema):
    """What the site asks for: how far a clock may be off, what is left out, what has to be seen by family."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    clock_s: float | None = Field(default=None, ge=0.5, le=3600)
    left_out: list[str] | None = Field(default=None, max_length=100)
    witnessed: dict[str, list[Witness]] | None = None


class NewProof(Schema):
    """What to measure, with which faults of the pretend site."""

    model_config = ConfigDict(extra="forbid")

    faults: list[PracticeFault] = []
    only: list[str] | None = None
    checks: list[str] | None = None
    live: bool = False


class Seen(Schema):
    """What somebody saw of a device, and who, where it was not who writes it down."""

    model_config = ConfigDict(extra="forbid")

    result: Literal["pass", "fail"]
    words: str = Field(default="", max_length=500)
    person: str = Field(default="", max_length=200)


class NewException(Schema):
    """A check that is left open (None: every check of the device) until a day (None: for good)."""

    model_config = ConfigDict(extra="forbid")

    check: str | None = None
    reason: str = Field(max_length=500)
    until: date | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class EvidenceSheet:
    """What last came over the wire for a check, trimmed and free of secrets."""

    source: str
    text: str
    at: datetime
