"""What the API takes and gives, as types; the web's types are generated from them."""

from datetime import datetime
from typing import Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from tutelar.core.proof import State


class Fault(Schema):
    path: str
    message: str


class Refusal(Schema):
    """Why something was not done: one sentence, and a sentence a fault with its path."""

    message: str
    faults: list[Fault] = []


class Conflict(Schema):
    """A write based on an old revision: both versions, and the revision that stands now."""

    message: str
    yours: Any = None
    current: Any = None
    revision: int


class Revised(Schema):
    revision: int


class SiteRow(Schema):
    key: str
    name: str
    devices: int
    proven: int
    next: str
    updated_at: datetime


class StageCount(Schema):
    stage: str
    open: int


class NextThing(Schema):
    stage: str
    sentence: str
    detail: str


class Laptop(Schema):
    fixed: bool
    address: str | None = None
    prefix: int | None = None


class Findable(Schema):
    key: str
    name: str
    place: str | None
    family: str
    address: str | None
    network: str | None


class Frame(Schema):
    """What every screen of a site shows: stages with open counts, the next thing, the laptop, what Find finds."""

    key: str
    name: str
    revision: int
    stages: list[StageCount]
    next: NextThing
    laptop: Laptop
    reserved: int
    devices: list[Findable]


class Move(Schema):
    device: str
    address: str


class ProblemRow(Schema):
    code: str
    level: Literal["error", "warning", "note"]
    subjects: list[str]
    message: str
    fix: str | None
    move: Move | None = None


class OpenQuestion(Schema):
    """A question without an answer: what it is about ("site", "internet" or a network's key), and what is asked for."""

    about: str
    words: str


class Survey(Schema):
    revision: int
    site: dict[str, Any]
    internet: dict[str, Any] | None
    networks: list[dict[str, Any]]
    policy: dict[str, Any]
    unanswered: list[OpenQuestion]
    problems: list[ProblemRow]


class SurveyChange(Schema):
    model_config = ConfigDict(extra="forbid")

    revision: int
    site: dict[str, Any] | None = None
    internet: dict[str, Any] | None = None
    networks: list[dict[str, Any]] | None = None
    policy: dict[str, Any] | None = None


class KitDevice(Schema):
    key: str
    revision: int
    name: str | None
    model: str
    family: str
    place: str | None
    network: str | None
    behind: str | None
    mac: str | None
    serial: str | None
    addressing: str
    used: bool


class ModelRow(Schema):
    key: str
    family: str
    label: str


class Kit(Schema):
    revision: int
    devices: list[KitDevice]
    models: list[ModelRow]
    unread: list[str]
    networks: list[str]
    places: list[str]
    problems: list[ProblemRow]


class DeviceChange(Schema):
    """Keys of the device to change; what is not given stays."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    name: str | None = None
    model: str | None = None
    place: str | None = None
    network: str | None = None
    behind: str | None = None
    mac: str | None = None
    serial: str | None = None
    addressing: str | None = None
    address: str | None = None
    locked: bool | None = None
    used: bool | None = None


class NewDevice(Schema):
    model_config = ConfigDict(extra="forbid")

    key: str
    model: str
    name: str | None = None
    place: str | None = None
    network: str | None = None
    behind: str | None = None
    mac: str | None = None
    serial: str | None = None
    addressing: str = "fixed"


class Span(Schema):
    kind: Literal["edge", "gateway", "dns", "pool", "kept"]
    first: str
    last: str
    why: str | None = None


class Placed(Schema):
    key: str
    name: str
    place: str | None
    family: str
    address: str
    state: State | Literal["clash"]
    source: Literal["locked", "kept", "planned"]
    why: str
    locked: bool
    revision: int


class NetworkSheet(Schema):
    key: str
    label: str
    cidr: str
    prefix: int
    mask: str
    gateway: str | None
    recorder: str | None
    usable: int
    free: int
    wanted: int
    spans: list[Span]
    devices: list[Placed]


class Addresses(Schema):
    revision: int
    networks: list[NetworkSheet]
    problems: list[ProblemRow]
    unplanned: int
    leased: int


class ValueRow(Schema):
    label: str
    value: str
    secret: bool


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
    ticked: list[str]
    values: list[ValueRow]


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
    state: Literal["open", "done", "skipped"] | None = None
    reason: str = Field(default="", max_length=500)
    ticked: list[str] | None = None


class Thread(Schema):
    id: int
    revision: int
    start: str
    start_name: str
    place: str | None
    from_channel: int | None
    slot: int | None
    mbps: float
    state: Literal["planned", "proven", "not-ready", "broken"]
    reason: str | None


class Beam(Schema):
    key: str
    name: str
    channels: int | None
    incoming_mbps: float | None
    wanted_mbps: float
    threads: list[Thread]


class OtherLink(Schema):
    kind: str
    start: str
    end: str
    slot: int | None


class Untied(Schema):
    key: str
    name: str
    place: str | None


class Links(Schema):
    revision: int
    beams: list[Beam]
    untied: list[Untied]
    others: list[OtherLink]
    places: list[str]
    problems: list[ProblemRow]


class LinkChange(Schema):
    model_config = ConfigDict(extra="forbid")

    revision: int
    to: str | None = None
    slot: int | None = Field(default=None, ge=1, le=1_000_000)


class NewLink(Schema):
    model_config = ConfigDict(extra="forbid", populate_by_name=True)

    kind: Literal["records"] = "records"
    start: str
    to: str
    slot: int | None = Field(default=None, ge=1, le=1_000_000)


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


class EventRow(Schema):
    id: int
    at: datetime
    by: str
    kind: str
    subject: str
    sentence: str


class Imported(Schema):
    key: str
    name: str


class Session(Schema):
    user: str | None


class Login(Schema):
    username: str = Field(max_length=150)
    password: str = Field(max_length=500)
