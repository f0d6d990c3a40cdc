"""Proof."""

from datetime import datetime
from typing import Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from tutelar.core.proof import State


class Cell(Schema):
    device: str
    check: str
    state: Literal["proven", "broken", "not-measured", "planned", "stale"]
    expected: str
    measured: str | None
    result: str | None
    took_ms: float | None
    at: datetime | None
    by: str | None


class ProofColumn(Schema):
    key: str
    name: str
    place: str
    family: str
    address: str | None
    state: State


class CheckRow(Schema):
    check: str
    title: str


class ProofRun(Schema):
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


class Authority(Schema):
    """Who answers for testing which ranges; `holds` where these are still the site's."""

    person: str
    networks: list[str]
    by: str
    at: datetime
    holds: bool


class NewAuthority(Schema):
    model_config = ConfigDict(extra="forbid")

    person: str = Field(max_length=200)


class LiveState(Schema):
    """Whether real devices may be measured at all, in which ranges, and who answers for it."""

    on: bool
    networks: list[str]
    authority: Authority | None


class Coverage(Schema):
    """One honest figure: readings that are fresh and passed, of all that are expected."""

    fresh: int
    expected: int
    sentence: str


class ProofChange(Schema):
    """A reading that came out otherwise at the last measuring than the time before."""

    device: str
    name: str
    check: str
    title: str
    before: str
    now: str
    measured: str


class ProofSheet(Schema):
    columns: list[ProofColumn]
    checks: list[CheckRow]
    cells: list[Cell]
    last: ProofRun | None
    fault_kinds: list[str]
    live: LiveState
    coverage: Coverage
    changes: list[ProofChange]


class PracticeFault(Schema):
    model_config = ConfigDict(extra="forbid", populate_by_name=True)

    kind: str
    device: str | None = None
    network: str | None = None


class NewProof(Schema):
    model_config = ConfigDict(extra="forbid")

    faults: list[PracticeFault] = []
    only: list[str] | None = None
    live: bool = False
