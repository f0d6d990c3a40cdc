"""What feeds a device besides its network cable, where that cable ends, and the disks in it."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from tutelar.core.site.base import Amount, Count, Line, Name, Part, Slug

Raid = Literal["none", "0", "1", "5", "6", "10"]
Positive = Annotated[float, Field(gt=0, le=1_000_000)]


class Disk(Part):
    """A disk as sold, in TB of 10^12 bytes."""

    bay: Count | None = None
    tb: Positive
    model: Line | None = None
    serial: Line | None = None
    formatted: bool | None = None


class Fed(Part):
    """The low-voltage cable that feeds a device: metres one way, area in mm² or gauge (AWG), °C around it. With
    neither area nor gauge it is the lead that comes with the supply."""

    supply: Slug
    m: Amount | None = None
    mm2: Positive | None = None
    awg: Annotated[int, Field(ge=0, le=40)] | None = None
    celsius: Annotated[float, Field(ge=-80, le=200)] = 20

    @model_validator(mode="after")
    def _one_measure(self) -> "Fed":
        if self.mm2 is not None and self.awg is not None:
            raise ValueError("An area (mm2) and a gauge (awg) are given together; give the one that is on the cable")
        if (self.mm2 is not None or self.awg is not None) and self.m is None:
            raise ValueError("The cable's length 'm' is missing")
        return self


class PluggedInto(Part):
    """Where a data cable ends; of a switch its uplink."""

    device: Slug
    port: Count | None = None


class Battery(Part):
    """The batteries of a supply, in series: volts and ampere hours of each, the share that may be taken out, and what
    of it arrives."""

    volts: Positive
    ah: Positive
    count: Annotated[int, Field(ge=1, le=1000)] = 1
    depth: Annotated[float, Field(gt=0, le=1)] = 0.8
    efficiency: Annotated[float, Field(gt=0, le=1)] = 0.85


class Supply(Part):
    """A power supply: direct current and back-up rated in W, a transformer in VA; minutes that it has to last."""

    key: Slug
    name: Name | None = None
    kind: Literal["dc", "transformer", "ups"]
    volts: Positive
    rated_w: Amount | None = None
    rated_va: Amount | None = None
    wanted_min: Amount | None = None
    battery: Battery | None = None

    @property
    def label(self) -> str:
        """The name people use, else the key."""
        return self.name or self.key
