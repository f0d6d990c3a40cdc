"""Shapes of the kit: devices, delivery notes, labels."""

from dataclasses import dataclass
from typing import Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from tutelar.server.schemas import ProblemRow


@dataclass(frozen=True, slots=True, kw_only=True)
class KitDevice:
    """One row of the kit; `used_steps` says what a device bought used entails first."""

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
    addressing: str | None
    address: str | None
    feeder: str | None
    feeder_port: int | None
    cable_m: float | None
    locked: bool
    used: bool
    used_steps: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class ModelRow:
    """A model that may be chosen; `here` = the site has it already, otherwise it is taken over from the catalogue;
    `camera_ports`: cameras can hang on ports of its own; `feeds`: it can feed others over the network cable."""

    key: str
    family: str
    label: str
    here: bool
    camera_ports: bool
    feeds: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class NetworkChoice:
    """A network to choose."""

    key: str
    label: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Kit:
    """The kit with all that may be chosen in it."""

    revision: int
    devices: list[KitDevice]
    models: list[ModelRow]
    unread: list[str]
    networks: list[NetworkChoice]
    places: list[str]
    addressing: str
    next_keys: dict[str, str]
    problems: list[ProblemRow]


class DeviceChange(Schema):
    """Keys of the device to change; what is not given stays. `feeder` and `feeder_port` are what feeds it over its
    network cable, and by which port."""

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
    medium: str | None = None
    wifi_mac: str | None = None
    feeder: str | None = None
    feeder_port: int | None = Field(default=None, ge=1, le=1_000)
    cable_m: float | None = Field(default=None, ge=0, le=100_000)
    outdoors: bool | None = None


class OneChange(DeviceChange):
    """The change of one device among several."""

    device: str


class DeviceChanges(Schema):
    """Changes of several devices, all or nothing."""

    model_config = ConfigDict(extra="forbid")

    changes: list[OneChange] = Field(min_length=1, max_length=5_000)


@dataclass(frozen=True, slots=True, kw_only=True)
class DeviceRevision:
    """A device as it stood when somebody looked."""

    key: str
    revision: int


@dataclass(frozen=True, slots=True, kw_only=True)
class DeviceRevisions:
    """Devices with their new revisions."""

    devices: list[DeviceRevision]


class Removal(Schema):
    """Devices to remove, all or nothing."""

    model_config = ConfigDict(extra="forbid")

    devices: list[DeviceRevision] = Field(min_length=1, max_length=5_000)


class Removed(Schema):
    """What was removed, as in the document: enough to put it back."""

    devices: list[dict[str, Any]]
    links: list[dict[str, Any]]
    positions: dict[str, int] = {}


class NewDevice(Schema):
    """A device as in the document."""

    model_config = ConfigDict(extra="forbid")

    key: str
    model: str
    name: str | None = None
    place: str | None = None
    network: str | None = None
    behind: str | None = None
    mac: str | None = None
    serial: str | None = None
    addressing: str | None = None
    used: bool = False


class NamePattern(Schema):
    """A pattern of names for devices."""

    model_config = ConfigDict(extra="forbid")

    pattern: str = Field(max_length=200)
    devices: list[str] = Field(max_length=5_000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Names:
    """The name of each device by its key."""

    names: dict[str, str]


@dataclass(frozen=True, slots=True, kw_only=True)
class Note:
    """A delivery note as rows of text: the row of the headings (None: there are none), the field of each column.

    `digest` tells this note from others; `before` says when it was imported already.
    """

    rows: list[list[str]]
    heads: int | None
    fields: list[str | None]
    known: dict[str, str]
    encodings: list[str]
    digest: str
    before: str | None


class Defaults(Schema):
    """What rows of a note have that say nothing of it."""

    model_config = ConfigDict(extra="forbid")

    model: str = ""
    place: str = ""
    network: str = ""
    addressing: str = ""


class NoteLine(Schema):
    """A row of a note as text."""

    model_config = ConfigDict(extra="forbid")

    line: int
    cells: list[str]


class NoteRows(Schema):
    """Rows to bring in, with the field of each column and what stands in for empty cells."""

    model_config = ConfigDict(extra="forbid")

    fields: list[str | None]
    rows: list[NoteLine] = Field(max_length=5_000)
    defaults: Defaults = Defaults()


class NoteImport(NoteRows):
    """A note with the revision that its preview saw, and the digest that it was read with."""

    revision: int
    digest: str = Field(default="", max_length=64)


@dataclass(frozen=True, slots=True, kw_only=True)
class NoteRow:
    """What a row of a note would do."""

    line: int
    action: Literal["add", "change", "same", "skip", "refuse"]
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class NotePreview:
    """What bringing a note in would do."""

    rows: list[NoteRow]
    revision: int


@dataclass(frozen=True, slots=True, kw_only=True)
class NoteResult:
    """Keys of the devices that were added and changed."""

    added: list[str]
    changed: list[str]


class ScanText(Schema):
    """What a scanner read, with the device in hand."""

    model_config = ConfigDict(extra="forbid")

    text: str = Field(max_length=2_000)
    device: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class ScanResult:
    """What a scan means: values to write down, the device that has them already, whether it fits the one in hand."""

    mac: str | None
    serial: str | None
    device: str | None
    sentence: str
    fits: bool
