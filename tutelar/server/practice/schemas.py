"""The pretend site that is kept up to practise on."""

from dataclasses import dataclass
from datetime import datetime

from ninja import Schema
from pydantic import ConfigDict

from tutelar.standin.site import Handling
from tutelar.standin.unboxed import State


class PracticeFault(Schema):
    """A fault that the pretend site plays."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)

    kind: str
    device: str | None = None
    network: str | None = None


class NewPretend(Schema):
    """How the pretend site is to begin: with faults, or with every device in its box (`fresh`)."""

    model_config = ConfigDict(extra="forbid")

    faults: list[PracticeFault] = []
    fresh: bool = False


class PretendHandling(Schema):
    """What is done to a pretend device: put back into its box, plugged in, or unplugged."""

    model_config = ConfigDict(extra="forbid")

    do: Handling


@dataclass(frozen=True, slots=True, kw_only=True)
class PretendRow:
    """How one pretend device stands: while it is busy for how many seconds more, else its address and its page on this
    machine (None: it has none now); and what it is logged in to with by plan: nobody's secret."""

    device: str
    name: str
    place: str
    state: State
    seconds: int
    address: str | None
    page: str | None
    user: str
    password: str
    code: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class PretendSheet:
    """The pretend site that is kept up: since when and by whom, from the box on or with so many faults. `relay` is
    where a phone would ask for its devices by registration code."""

    fresh: bool
    faults: int
    by: str
    at: datetime
    relay: str | None
    devices: list[PretendRow]
