"""The kit."""

from ninja import Schema
from pydantic import ConfigDict

from tutelar.server.sites.schemas.base import ProblemRow


class KitDevice(Schema):
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
    addressing: str
    used: bool


class ModelRow(Schema):
    key: str
    family: str
    label: str


class Kit(Schema):
    revision: int
    devices: list[KitDevice]
    models: list[ModelRow]
    unread: list[str]
    networks: list[str]
    places: list[str]
    problems: list[ProblemRow]


class DeviceChange(Schema):
    """Keys of the device to change; what is not given stays."""

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


class NewDevice(Schema):
    model_config = ConfigDict(extra="forbid")

    key: str
    model: str
    name: str | None = None
    place: str | None = None
    network: str | None = None
    behind: str | None = None
    mac: str | None = None
    serial: str | None = None
    addressing: str = "fixed"
