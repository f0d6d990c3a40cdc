"""What was seen of a device: plain values that the field brings and the rules judge."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

LoginAnswer = Literal["taken", "refused", "locked"]


@dataclass(frozen=True, slots=True)
class Identity:
    """What a device says of itself to anybody."""

    name: str | None = None
    mac: str | None = None
    serial: str | None = None
    date_order: str | None = None


@dataclass(frozen=True, slots=True)
class PortAnswer:
    """What a port did: `open` whether it took the connection, `fault` what its protocol did wrong, if anything."""

    open: bool
    took_ms: float
    fault: str | None = None


@dataclass(frozen=True, slots=True)
class StreamSeen:
    """A stream's own description: codec ("h265"), picture size and rate; None for what it does not say."""

    codec: str | None = None
    width: int | None = None
    height: int | None = None
    fps: float | None = None


@dataclass(frozen=True, slots=True)
class ChannelSeen:
    """A channel as a recorder tells it: whom it asks, whether a picture comes, whether it writes."""

    number: int
    source: str
    state: str  # "live", or why not
    recording: bool


@dataclass(frozen=True, slots=True)
class Told:
    """What a device says to whoever logs in; None: it does not say.

    `relay` is its remote access ("online", or why not), `registered` the (number, state) at its main station, `disk`
    "ok" or what is wrong.
    """

    prefix: int | None = None
    gateway: str | None = None
    dns: tuple[str, ...] | None = None
    relay: str | None = None
    registered: tuple[int | None, str] | None = None
    disk: str | None = None
    channels: tuple[ChannelSeen, ...] | None = None


@dataclass(frozen=True, slots=True)
class Observation:
    """Everything seen of one device: port answers by service, its identity, its clock minus ours in seconds, what
    the planned account got, what it then told, its stream; `tries` and `lost` count exchanges that broke off and
    went well when they were tried again."""

    ports: Mapping[str, PortAnswer] = field(default_factory=dict)
    identity: Identity | None = None
    clock_offset_s: float | None = None
    login: LoginAnswer | None = None
    told: Told | None = None
    stream: StreamSeen | None = None
    tries: int = 0
    lost: int = 0
