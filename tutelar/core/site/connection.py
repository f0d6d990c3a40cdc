"""How a device hangs on the rest: by which medium, fed by what, under which numbers; and its firmware."""

from typing import Annotated, Literal

from pydantic import Field

from tutelar.core.site.base import Count, Line, Part, Slug

Medium = Literal["cable", "wifi", "mains-borne", "mobile"]


class PoweredBy(Part):
    """The port of a switch or recorder that feeds a device."""

    device: Slug
    port: Count | None = None


class Numbers(Part):
    """What a device is called by in numbers: where it stands in the house."""

    building: Count | None = None
    floor: Annotated[int, Field(ge=-99, le=999)] | None = None
    unit: Count | None = None


class Wifi(Part):
    """The radio network that a device joins; `signal_dbm` as the device itself shows it."""

    network: Line | None = None
    key_held_by: Line | None = None
    guest: bool | None = None
    signal_dbm: Annotated[float, Field(ge=-200, le=50)] | None = None


class Firmware(Part):
    """The firmware that a device came with, and the one that it was left with."""

    found: Line | None = None
    left: Line | None = None
