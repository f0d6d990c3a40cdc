"""Sites as a whole, the frame of every screen, the log."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ninja import Schema
from pydantic import ConfigDict

from tutelar.server.schemas import Laptop


@dataclass(frozen=True, slots=True, kw_only=True)
class SiteRow:
    """A site of the list; `broken`: what is stored of it cannot be read."""

    key: str
    name: str
    revision: int
    devices: int
    proven: int
    next: str
    broken: bool
    updated_at: datetime


class SiteRemoval(Schema):
    """A site is removed as it stands at this revision."""

    model_config = ConfigDict(extra="forbid")

    revision: int


@dataclass(frozen=True, slots=True, kw_only=True)
class NextThing:
    """The one next thing: `act` names what a press does, `goes` the stage that it leads to."""

    stage: str
    sentence: str
    detail: str
    act: str
    goes: str | None
    subjects: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class StageRow:
    """A stage: what is open there, None where there is nothing in it yet."""

    stage: str
    open: int | None
    mark: Literal["not-begun", "open", "done", "proven"]
    next: NextThing


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """How far the job is: changes with every word at the bench and every reading."""

    stages: list[StageRow]
    next: NextThing
    laptop: Laptop


@dataclass(frozen=True, slots=True, kw_only=True)
class Findable:
    """A device as Find finds it."""

    key: str
    name: str
    place: str | None
    family: str
    address: str | None
    network: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class StationTest:
    """An alarm hub whose signals the station takes as tests, until when."""

    hub: str
    name: str
    until: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame:
    """What every screen of a site shows and only a change of the site changes."""

    key: str
    name: str
    revision: int
    practice: bool
    live: bool
    units: Literal["metric", "imperial"]
    on_test: list[StationTest]
    devices: list[Findable]


@dataclass(frozen=True, slots=True, kw_only=True)
class Imported:
    """The site that was stored."""

    key: str
    name: str
