"""The bench."""

from typing import Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from tutelar.server.sites.schemas.base import Commands, Laptop, ProblemRow
from tutelar.server.sites.schemas.values import GroupRow


class StepRow(Schema):
    id: str
    device: str | None
    kind: str
    title: str
    start_s: float
    end_s: float
    hands: bool
    state: Literal["open", "done", "skipped"]
    reason: str
    by: str | None
    revision: int


class ContactRow(Schema):
    """How the device in hand is reached: the way, the steps in words, what is typed on the laptop for it."""

    way: str
    steps: list[str]
    commands: list[Commands]


class CurrentAdvice(Schema):
    step: str
    open: str | None
    expect: str | None
    keep_off: list[str]
    caution: str | None
    name: str | None
    place: str | None
    serial: str | None
    mac: str | None
    contact: ContactRow | None
    subject: str
    groups: list[GroupRow]


class BenchSheet(Schema):
    revision: int
    steps: list[StepRow]
    current: CurrentAdvice | None
    left_s: float
    total_s: float
    lower_bound_s: float
    laptop: Laptop
    problems: list[ProblemRow]


class StepChange(Schema):
    """What became of a step, based on the revision of its record (0 where there is none yet)."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    state: Literal["open", "done", "skipped"]
    reason: str = Field(default="", max_length=500)
