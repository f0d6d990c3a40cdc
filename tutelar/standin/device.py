"""One device of the pretend site as plain state: what it is, what it shows, whether it is on."""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any

from tutelar.core.kit.shorter import shown_name
from tutelar.core.site.types import Device, Site


@dataclass
class PretendDevice:
    """What a device is like. `ground` and `site_address` say where it stands; `services` maps names to site ports."""

    key: str
    name: str
    model_name: str
    family: str
    serial: str | None
    mac: str | None
    date_order: str
    ground: str
    site_address: int
    services: dict[str, int]
    user: str = "admin"
    clock_offset_s: float = 0.0
    on: bool = True
    intrudes: bool = False

    @classmethod
    def of(cls, site: Site, device: Device, ground: str) -> "PretendDevice":
        """Return the device as it should be: everything set as planned."""
        model = site.model_of(device)
        return cls(
            key=device.key,
            name=shown_name(site, device) or device.key,
            model_name=model.label if model else device.model,
            family=model.family if model else "other",
            serial=device.serial,
            mac=device.mac,
            date_order=site.about.date_order,
            ground=ground,
            site_address=int(device.address or 0),
            services=dict(site.services_of(device)),
            user=(model.factory.user if model and model.factory else None) or "admin",
        )

    def stranger(self) -> "PretendDevice":
        """Return another maker's device that sits at this one's address with the same ports open."""
        return replace(
            self, key=f"stranger at {self.key}", name="Printer", model_name="unknown", serial="unknown",
            mac="02:5e:ee:00:00:01", services=dict(self.services), intrudes=True,
        )  # fmt: skip

    def clock(self, now: datetime) -> datetime:
        """Return the time that the device shows when it is really `now`."""
        return now + timedelta(seconds=self.clock_offset_s)

    def identity(self, now: datetime) -> dict[str, Any]:
        """Return what the device says of itself in machine-readable form."""
        return {
            "name": self.name,
            "model": self.model_name,
            "family": self.family,
            "serial": self.serial,
            "hardware_address": self.mac,
            "clock": self.clock(now).isoformat(timespec="milliseconds"),
            "date_order": self.date_order,
        }
