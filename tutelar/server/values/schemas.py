"""The settings of the whole site, and the page of one device."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from tutelar.core.credentials.tries import Tries
from tutelar.core.site.base import Family
from tutelar.server.schemas import EventRow, Option, ProblemRow
from tutelar.server.values.row_schemas import GroupRow, SecretRow, TellingRow


@dataclass(frozen=True, slots=True, kw_only=True)
class DeviceSecrets:
    """Saved passwords of one device, and how many refused logins it still takes."""

    key: str
    name: str
    place: str | None
    model: str
    kind: str
    slots: list[SecretRow]
    tries: Tries


@dataclass(frozen=True, slots=True, kw_only=True)
class RuleConflict:
    """Rules that no password can satisfy together: of which slot, and why."""

    where: str
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Secrets:
    """Saved passwords of every device, the site's policy, and who was not told of a change."""

    revision: int
    password_policy: Literal["device", "family"]
    devices: list[DeviceSecrets]
    bare: int
    conflicts: list[RuleConflict]
    tellings: list[TellingRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class ClockRow:
    """A device's clock. `said` is its last difference and drift in words; `doubtful`: it needs a look; `proven`: it was
    measured, and was right."""

    key: str
    name: str
    place: str | None
    source: str | None
    reached: bool
    why: str
    said: str | None
    due: datetime | None
    doubtful: bool
    proven: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LookRow:
    """A look at a clock that is due."""

    device: str
    name: str
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TurnRow:
    """A coming change of daylight saving."""

    at: datetime
    sentence: str
    looks: list[LookRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class Clocks:
    """The site's time and each device's clock."""

    zone: str | None
    rule: str | None
    fault: str | None
    source: str | None
    sentence: str
    date_order: str
    clock: str
    devices: list[ClockRow]
    coming: list[TurnRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class PortRow:
    """A port of a device with who has it typed in."""

    service: str
    title: str
    port: int
    usual: int | None
    changed: bool
    told: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class DevicePorts:
    """A device with its ports."""

    key: str
    name: str
    place: str | None
    model: str
    rows: list[PortRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class LoginRow:
    """How many of a device's logins at once are spoken for."""

    device: str
    sentence: str
    full: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ForwardRow:
    """A port that is forwarded from outside."""

    outside: int
    device: str
    name: str
    service: str
    decided_by: str | None
    why: str | None
    at: str | None
    risk: str
    administration: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Ports:
    """The site's ports and what is forwarded."""

    revision: int
    devices: list[DevicePorts]
    logins: list[LoginRow]
    cut_off: str | None
    forwards: list[ForwardRow]
    problems: list[ProblemRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class StreamNumbers:
    """What a site set of a stream: pixels, pictures a second, codec, kbit/s; None as each model sends it."""

    width: int | None
    height: int | None
    fps: float | None
    codec: str | None
    kbps: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ChoiceRow:
    """A setting on which schools differ; `numbers` of a stream."""

    key: str
    label: str
    usual: str
    why: str
    own: str | None
    numbers: StreamNumbers | None


@dataclass(frozen=True, slots=True, kw_only=True)
class FamilyChoices:
    """The settings of a family."""

    family: Family
    title: str
    lines: list[ChoiceRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class Choices:
    """The settings of every family."""

    revision: int
    families: list[FamilyChoices]
    codecs: list[Option]


class Choice(Schema):
    """The site's own word for a setting."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    family: Family
    setting: str
    value: str = Field(max_length=200)


class StreamWanted(Schema):
    """What the site sets of a family's stream; what is not given is as each model sends it."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    family: Family
    setting: str
    width: int | None = Field(default=None, ge=16, le=16_384)
    height: int | None = Field(default=None, ge=16, le=16_384)
    fps: float | None = Field(default=None, gt=0, le=240)
    codec: Literal["h264", "h265", "mjpeg"] | None = None
    kbps: float | None = Field(default=None, gt=0, le=200_000)


class PasswordPolicy(Schema):
    """One password a device, or one a family."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    password_policy: Literal["device", "family"]


class ClockShown(Schema):
    """What a device showed `ago_s` seconds ago, as a person typed it."""

    model_config = ConfigDict(extra="forbid")

    shown: str = Field(max_length=100)
    ago_s: float = 0
    keep: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """What is wrong with a clock."""

    offset_s: float
    finding: str
    message: str


class NewPorts(Schema):
    """New ports of a device by service."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    ports: dict[str, int] = Field(max_length=50)


class NewForward(Schema):
    """A decision to forward a port."""

    model_config = ConfigDict(extra="forbid")

    revision: int
    outside: int = Field(ge=1, le=65535)
    device: str = Field(max_length=80)
    service: str = Field(max_length=80)
    decided_by: str = Field(max_length=200)
    why: str = Field(max_length=500)


@dataclass(frozen=True, slots=True, kw_only=True)
class SlotRow:
    """A slot of a device: what a secret for it must be in words, and with how many others it is shared."""

    slot: str
    title: str
    kind: Literal["password", "code", "address"]
    why: str
    rule: str
    conflicts: list[str]
    shared: int


@dataclass(frozen=True, slots=True, kw_only=True)
class DeviceLink:
    """A link of a device, from either end."""

    kind: str
    outgoing: bool
    other: str
    name: str
    slot: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class DevicePage:
    """Everything known about one device."""

    revision: int
    key: str
    name: str
    place: str | None
    family: str
    model: str
    network: str | None
    ground: str | None
    address: str | None
    addressing: str
    mac: str | None
    medium: Literal["cable", "wifi", "mains-borne", "mobile"]
    wifi_mac: str | None
    outdoors: bool | None
    serial: str | None
    locked: bool
    used_steps: list[str]
    powered_by: str | None
    feeder: str | None
    feeder_port: int | None
    feeders: list[Option]
    cable_m: float | None
    state: str
    groups: list[GroupRow]
    slots: list[SlotRow]
    tries: Tries
    has_clock: bool
    clock: str | None
    clock_due: datetime | None
    time_zone: str | None
    date_order: str
    clock_face: str
    ports: list[PortRow]
    links: list[DeviceLink]
    tellings: list[TellingRow]
    events: list[EventRow]
