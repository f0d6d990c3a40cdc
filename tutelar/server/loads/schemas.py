"""Shapes of loads: what is used of everything that has a limit."""

from dataclasses import dataclass
from typing import Any, Literal

from tutelar.server.schemas import Option, ProblemRow

Verdict = Literal["ok", "tight", "over", "unknown"]


@dataclass(frozen=True, slots=True, kw_only=True)
class RecorderLoad:
    """A recorder: channels, Mbit/s taken in, recordings played at once, days held against those promised."""

    key: str
    name: str
    disks: str
    channels_used: int
    channels: int | None
    incoming_mbps: float
    incoming_limit_mbps: float | None
    playback_at_once: int | None
    days: float | None
    wanted_days: int | None


@dataclass(frozen=True, slots=True, kw_only=True)
class FedRow:
    """A device that a switch feeds: its port, class, and the watts it draws, draws at most and is counted with;
    `moves`: it is one of the fewest that must be fed elsewhere; `homes`: what else could feed it, with the watts that
    are then left there."""

    device: str
    name: str
    port: int | None
    poe_class: int | None
    draw_w: float
    peak_w: float
    counts_w: float
    moves: bool
    homes: list["HomeRow"]


@dataclass(frozen=True, slots=True, kw_only=True)
class HomeRow:
    """A switch that could feed a device: its next free port and the watts left there afterwards."""

    device: str
    name: str
    port: int | None
    spare_w: float
    same_place: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class PlugRow:
    """A plug in a port; `port` None: nobody says which."""

    port: int | None
    device: str
    name: str
    role: Literal["powers", "data", "uplink"]
    family: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SwitchLoad:
    """What has powered ports: watts by class, by draw and at most, which of them it counts, and its plugs."""

    key: str
    name: str
    place: str | None
    family: str
    verdict: Verdict
    reserves: Literal["class", "draw"]
    budget_w: float | None
    by_class_w: float
    by_draw_w: float
    by_peak_w: float
    peak_with_margin_w: float
    counts_w: float
    spare_w: float | None
    ports: int | None
    ports_used: int
    uplink: str | None
    fed: list[FedRow]
    plugs: list[PlugRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class MoveRow:
    """A plug to move."""

    device: str
    name: str
    from_name: str | None
    to: str
    to_name: str
    port: int | None


@dataclass(frozen=True, slots=True, kw_only=True)
class BalanceRow:
    """The fewest plugs to move so that everything fits, the devices that nothing has room for, and the parts of the
    devices afterwards, as a draft has them."""

    moves: list[MoveRow]
    left: list[str]
    devices: dict[str, dict[str, Any]]


@dataclass(frozen=True, slots=True, kw_only=True)
class UplinkRow:
    """A switch's uplink and Mbit/s on it."""

    device: str
    name: str
    into: str
    mbps: float
    limit_mbps: float
    warn_mbps: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MixRow:
    """Viewers of main and sub streams at once."""

    main: int
    sub: int
    mbps: float
    fits: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class OutsideLine:
    """The line towards the internet: how many look at once from outside."""

    upstream_mbps: float
    usable_mbps: float
    main_mbps: float | None
    sub_mbps: float | None
    main_viewers: int | None
    sub_viewers: int | None
    mixes: list[MixRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class SizeRow:
    """What arrives through a cable of a size."""

    size: float
    volts: float | None
    ok: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class SupplyCable:
    """A low-voltage cable: what feeds it, how long and thick it is, what arrives against what is needed."""

    device: str
    name: str
    supply: str
    supply_name: str
    supply_v: float
    watts: float | None
    length_m: float
    mm2: float | None
    awg: int | None
    celsius: float
    volts: float | None
    min_v: float | None
    ok: bool | None
    smallest_ok: float | None
    sizes: list[SizeRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class DataCable:
    """A network cable that is longer than holds."""

    device: str
    name: str
    length_m: float
    limit_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class SupplyRow:
    """A supply with its load in W or VA, minutes of its batteries, and what hangs on it."""

    key: str
    name: str
    kind: Literal["dc", "transformer", "ups"]
    unit: Literal["W", "VA"]
    volts: float
    load: float
    rated: float | None
    spare: float | None
    ok: bool | None
    minutes: float | None
    wanted_min: float | None
    needed_ah: float | None
    battery_ah: float | None
    hangs: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class PanelRow:
    """A panel fed over its network cable: A left for locks, and what they take."""

    device: str
    name: str
    lock_a_free: float
    lock_a_wanted: float
    ok: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class EarthRow:
    """An earth conductor against the unit's own sheet."""

    device: str
    name: str
    mm2: float | None
    m: float | None
    least_mm2: float | None
    most_m: float | None
    findings: list[str]
    compared: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadsSheet:
    """What is used of everything that has a limit, what does not fit, and what would help."""

    revision: int
    units: Literal["metric", "imperial"]
    was: dict[str, Any]
    supplies_part: list[dict[str, Any]]
    misses: list[str]
    recorders: list[RecorderLoad]
    switches: list[SwitchLoad]
    balance: BalanceRow
    uplinks: list[UplinkRow]
    line: OutsideLine | None
    long_cables: list[DataCable]
    cables: list[SupplyCable]
    supplies: list[SupplyRow]
    panels: list[PanelRow]
    earths: list[EarthRow]
    earth_caution: str
    devices: list[Option]
    problems: list[ProblemRow]
