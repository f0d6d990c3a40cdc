"""The address sheets."""

from dataclasses import dataclass
from typing import Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from tutelar.core.proof import State
from tutelar.server.schemas import ProblemRow

SpanKind = Literal["edge", "gateway", "dns", "pool", "kept"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """A range with what it is for."""

    kind: SpanKind
    first: str
    last: str
    why: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Placed:
    """A device with its address; `group` is what several of its family are called."""

    key: str
    name: str
    place: str | None
    family: str
    group: str
    address: str
    state: State | Literal["clash"]
    source: Literal["locked", "kept", "planned"]
    why: str
    locked: bool
    addressing: Literal["fixed", "reserved", "leased"]
    revision: int


@dataclass(frozen=True, slots=True, kw_only=True)
class NetworkSheet:
    """A network with its addresses and who holds them."""

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


@dataclass(frozen=True, slots=True, kw_only=True)
class Addresses:
    """Every network of the site."""

    revision: int
    networks: list[NetworkSheet]
    problems: list[ProblemRow]
    unplanned: int
    leased: int


class MoveWanted(Schema):
    """An address that a device is to have."""

    model_config = ConfigDict(extra="forbid")

    device: str
    address: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PartnerRow:
    """A setting in another device that holds the address; `after` names the devices that change first."""

    device: str
    name: str
    setting: str
    old: str
    new: str
    after: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class MovePreview:
    """What moving a device entails: one sentence, settings to change elsewhere, problems solved and caused."""

    possible: bool
    sentence: str
    partners: list[PartnerRow]
    solved: list[str]
    caused: list[str]


class KeepFree(Schema):
    """A range that is kept free, and for whom."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    first: str
    last: str
    why: str = Field(default="", max_length=500)


class RenumberWanted(Schema):
    """A new range for a network."""

    model_config = ConfigDict(extra="forbid")

    to: str = Field(max_length=50)
    gateway: str | None = Field(default=None, max_length=50)


class RenumberDo(RenumberWanted):
    """A new range, with the revision that its preview saw."""

    revision: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Renumbered:
    """One device's step: from where to where, and why there."""

    device: str
    name: str
    old: str
    new: str | None
    why: str
    kept: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class RenumberPreview:
    """What renumbering a network would change."""

    revision: int
    cidr: str
    devices: list[Renumbered]
    partners: list[PartnerRow]
    problems: list[ProblemRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class FindingRow:
    """What a line of a table means for the site."""

    kind: Literal[
        "taken", "elsewhere", "stale", "factory", "kin", "stranger", "unread", "leased", "expected", "router", "foreign"
    ]
    address: str
    mac: str
    name: str | None
    device: str | None
    revision: int | None
    network: str | None
    sentence: str
    set_address: bool
    set_mac: bool
    keep: bool
    take: bool
    leased: bool


class SeenRow(Schema):
    """A line of a table from the field, as it was read."""

    model_config = ConfigDict(extra="forbid")

    address: str = Field(max_length=15)
    mac: str = Field(max_length=40)
    name: str | None = Field(default=None, max_length=200)
    leased: bool | None = None


class TakeOver(Schema):
    """Lines of a table whose unknown devices become devices of a model."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    model: str = Field(max_length=80)
    rows: list[SeenRow] = Field(min_length=1, max_length=5_000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Sightings:
    """What a table from the field says: the kind of table, its findings, and devices that were not seen."""

    table: str
    revision: int
    rows: list[FindingRow]
    unseen: list[str]
