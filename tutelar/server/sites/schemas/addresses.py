"""The address sheets."""

from typing import Literal

from ninja import Schema

from tutelar.core.proof import State
from tutelar.server.sites.schemas.base import ProblemRow


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
