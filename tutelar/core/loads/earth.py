"""The earth conductor of a unit against what the unit's own sheet asks for: typed facts, compared, never a permission.

A device keeps them under `x-earth`: area in mm² and metres as they were found, and what the sheet asks for.
"""

from typing import NamedTuple

from tutelar.core.site.types import Device, Site

KEY = "x-earth"
DEFER = "An electrician who may work on it here decides; local rules come before the sheet."


class Earth(NamedTuple):
    """An earth conductor as it was found and as the unit's sheet asks for it; None where nobody wrote it down."""

    device: str
    mm2: float | None
    m: float | None
    least_mm2: float | None
    most_m: float | None

    @property
    def findings(self) -> list[str]:
        """What does not agree with the sheet, in words; [] where nothing does not, or nothing can be compared."""
        found = []
        if self.mm2 is not None and self.least_mm2 is not None and self.mm2 < self.least_mm2:
            found.append(f"{self.mm2:g} mm² is less than the {self.least_mm2:g} mm² that its sheet asks for")
        if self.m is not None and self.most_m is not None and self.m > self.most_m:
            found.append(f"{self.m:g} m is more than the {self.most_m:g} m that its sheet allows")
        return found

    @property
    def compared(self) -> bool:
        """Whether both facts of either kind are known, so that something can be said at all."""
        return None not in (self.mm2, self.least_mm2) or None not in (self.m, self.most_m)


def earths(site: Site) -> list[Earth]:
    """Return what is known of earth conductors, in the order of the document."""
    return [item for device in site.devices if (item := _earth(device)) is not None]


def _earth(device: Device) -> Earth | None:
    said = (device.model_extra or {}).get(KEY)
    if not isinstance(said, dict):
        return None
    figures = [_figure(said.get(name)) for name in ("mm2", "m", "least_mm2", "most_m")]
    return Earth(device.key, *figures) if any(item is not None for item in figures) else None


def _figure(value: object) -> float | None:
    known = isinstance(value, int | float) and not isinstance(value, bool) and value >= 0
    return float(value) if known else None  # type: ignore[arg-type]
