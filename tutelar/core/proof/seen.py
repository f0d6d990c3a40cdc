"""What was seen of a device: plain values that the field brings and the rules judge."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal, NamedTuple

LoginAnswer = Literal["taken", "refused", "locked"]


@dataclass(frozen=True, slots=True)
class Identity:
    """What a device says of itself to anybody."""

    name: str | None = None
    mac: str | None = None
    serial: str | None = None
    date_order: str | None = None


FaultCode = Literal["no-answer", "no-connection", "says-nothing", "broken-off", "wrong-protocol"]


class PortFault(NamedTuple):
    """What went wrong at a port: what kind of fault it is, and a sentence about it."""

    code: FaultCode
    sentence: str


@dataclass(frozen=True, slots=True)
class PortAnswer:
    """What a port did: `open` whether it took the connection, `fault` what its protocol did wrong, if anything."""

    open: bool
    took_ms: float
    fault: PortFault | None = None


@dataclass(frozen=True, slots=True)
class CertificateSeen:
    """The certificate of a secure page: SHA-256 fingerprint in capitals with colons, first and last moment."""

    fingerprint: str
    since: datetime
    until: datetime


@dataclass(frozen=True, slots=True)
class StreamSeen:
    """A stream's own description: codec ("h265"), picture size and rate; None for what it does not say. `no_path`: the
    path that was asked, where there is no stream."""

    codec: str | None = None
    width: int | None = None
    height: int | None = None
    fps: float | None = None
    no_path: str | None = None


@dataclass(frozen=True, slots=True)
class ChannelSeen:
    """A channel as a recorder tells it: whom it asks, whether a picture comes, whether its red dot is on; how many
    seconds ago the newest piece on its time line ended (-1: there is none), what is recorded just now ("continuous",
    "motion", "alarm", "nothing"), and the week that it is set to. None: it does not tell."""

    number: int
    source: str
    state: str  # "live", or why not
    recording: bool
    newest_s: float | None = None
    mode: str | None = None
    week: str | None = None


@dataclass(frozen=True, slots=True)
class DiskSeen:
    """A disk as a recorder tells it: its bay, TB as sold, "ok" or what is wrong with it."""

    bay: int
    tb: float
    state: str


@dataclass(frozen=True, slots=True)
class ReportedState:
    """What a device says to whoever logs in; None: it does not say.

    `disks` are those that it finds in its bays, `disk` "ok" or what is wrong with room for recordings; `relay` is its
    remote access ("online", or why not), `registered` the (number, state) at its main station; `paths` the state of
    each way to the monitoring station ("up", or why not), `inputs` that of each contact ("rest", or what it shows).
    """

    prefix: int | None = None
    time_source: str | None = None
    gateway: str | None = None
    dns: tuple[str, ...] | None = None
    relay: str | None = None
    registered: tuple[int | None, str] | None = None
    disk: str | None = None
    channels: tuple[ChannelSeen, ...] | None = None
    disks: tuple[DiskSeen, ...] | None = None
    paths: Mapping[str, str] | None = None
    inputs: Mapping[int, str] | None = None


@dataclass(frozen=True, slots=True)
class Observation:
    """Everything seen of one device: port answers by service, its identity, its clock minus ours in seconds (give or
    take `clock_give_s`), what the planned account got, what it then told, its stream; `tries` and `lost` count
    exchanges that broke off and
    went well when they were tried again. `factory` is what the factory login got, `neighbour` the hardware address
    that the laptop's own table has for it, `listed` the addresses under which a station has its number, by that
    station's key (absent: not asked), `evidence` what came over the wire by where it was asked."""

    ports: Mapping[str, PortAnswer] = field(default_factory=dict)
    identity: Identity | None = None
    clock_offset_s: float | None = None
    login: LoginAnswer | None = None
    told: ReportedState | None = None
    stream: StreamSeen | None = None
    tries: int = 0
    lost: int = 0
    certificate: CertificateSeen | None = None
    factory: LoginAnswer | None = None
    neighbour: str | None = None
    listed: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    evidence: Mapping[str, str] = field(default_factory=dict)
    clock_give_s: float = (
        0.0  # by how much the clock's difference may be off either way: half of what the exchange took
    )
