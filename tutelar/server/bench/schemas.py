"""The bench."""

from dataclasses import dataclass
from typing import Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from tutelar.server.practice.schemas import PretendRow
from tutelar.server.schemas import Commands, Laptop, ProblemRow
from tutelar.server.values.row_schemas import GroupRow

StepState = Literal["open", "doing", "done", "skipped"]


@dataclass(frozen=True, slots=True, kw_only=True)
class StepRow:
    """A step of the run."""

    id: str
    device: str | None
    kind: str
    title: str
    start_s: float
    end_s: float
    manual: bool
    hand: int | None
    port: int | None
    why: str
    state: StepState
    reason: str
    by: str | None
    revision: int


@dataclass(frozen=True, slots=True, kw_only=True)
class ContactRow:
    """How the device in hand is reached: the way, the steps in words, what is typed on the laptop for it."""

    way: str
    steps: list[str]
    commands: list[Commands]


@dataclass(frozen=True, slots=True, kw_only=True)
class CurrentAdvice:
    """What to do now, with the values to type."""

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
    waits_for: str | None
    practised: PretendRow | None


@dataclass(frozen=True, slots=True, kw_only=True)
class SetAside:
    """A device that was set aside, and why."""

    device: str
    reason: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RunState:
    """How the run stands: `now_s` and every step's times are seconds on its clock, which stands while it rests."""

    state: Literal["planned", "running", "paused"]
    revision: int
    hand: int
    technicians: int
    now_s: float
    started_at: str | None
    ends_at: str
    planned_s: float
    said: str
    set_aside: list[SetAside]


@dataclass(frozen=True, slots=True, kw_only=True)
class TimeRow:
    """What a step of a model takes: the median of the readings, and what its profile says."""

    model: str
    kind: str
    seconds: float
    readings: int
    profile_s: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchRules:
    """What stands at the bench: ports of the switch, whether it leases, whether the laptop holds several addresses at
    once, whether firmware is updated; seconds of hand work to plug in, to change the adapter, to confirm."""

    ports: int
    leases: bool
    several_addresses: bool
    update_firmware: bool
    connect_s: float
    adapter_s: float
    confirm_s: float


class BenchRulesChange(Schema):
    """Rules of the bench to change; what is not given stays."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    ports: int | None = Field(default=None, ge=1, le=1_000)
    leases: bool | None = None
    several_addresses: bool | None = None
    update_firmware: bool | None = None
    connect_s: float | None = Field(default=None, ge=0, le=3_600)
    adapter_s: float | None = Field(default=None, ge=0, le=3_600)
    confirm_s: float | None = Field(default=None, ge=0, le=3_600)


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchSheet:
    """The run as one technician has it."""

    revision: int
    run: RunState
    steps: list[StepRow]
    current: CurrentAdvice | None
    left_s: float
    total_s: float
    lower_bound_s: float
    laptop: Laptop
    times: list[TimeRow]
    rules: BenchRules
    problems: list[ProblemRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class PlayedFault:
    """A step that would fail, when, and why."""

    step: str
    title: str
    at_s: float
    fault: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Rehearsal:
    """The run played on the pretend bench: how many steps went, and which did not."""

    played: int
    total_s: float
    faults: list[PlayedFault]


@dataclass(frozen=True, slots=True, kw_only=True)
class PhoneWay:
    """An address of this machine under which a phone finds the run, and its QR code as SVG."""

    address: str
    svg: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PhoneWays:
    """How a phone opens the bench; `fingerprint` (SHA-256): of the certificate that the server shows it."""

    ways: list[PhoneWay]
    note: str
    fingerprint: str | None


class RunStart(Schema):
    """How many technicians work on it."""

    model_config = ConfigDict(extra="forbid")

    technicians: int = Field(default=1, ge=1, le=20)


class RunChange(Schema):
    """What becomes of the run, based on its revision; `technicians` counts only with the change of that name."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    change: Literal["pause", "resume", "technicians"]
    technicians: int = Field(default=1, ge=1, le=20)


class StepChange(Schema):
    """What became of a step, based on the revision of its record (0 where there is none yet).

    `after` says what follows a failure, `seconds` how much longer a device takes, `hand` which technician it was.
    """

    model_config = ConfigDict(extra="forbid")

    revision: int
    state: Literal["open", "done", "skipped", "failed", "ready", "longer", "back"]
    reason: str = Field(default="", max_length=500)
    after: Literal["", "retry", "reset", "aside"] = ""
    seconds: float = Field(default=0, ge=0, le=36_000)
    hand: int = Field(default=0, ge=0, le=20)
