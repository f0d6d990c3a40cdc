"""Links."""

from typing import Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from tutelar.server.sites.schemas.base import ProblemRow


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
