"""Proof."""

from datetime import datetime
from typing import Any, Literal

from ninja import Schema
from pydantic import ConfigDict

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
    message: str
    faults: list[dict[str, Any]]
    by: str
    started_at: datetime
    finished_at: datetime | None


class ProofSheet(Schema):
    columns: list[ProofColumn]
    checks: list[CheckRow]
    cells: list[Cell]
    last: ProofRun | None
    fault_kinds: list[str]


class PracticeFault(Schema):
    model_config = ConfigDict(extra="forbid", populate_by_name=True)

    kind: str
    device: str | None = None
    network: str | None = None


class NewProof(Schema):
    model_config = ConfigDict(extra="forbid")

    faults: list[PracticeFault] = []
    only: list[str] | None = None
