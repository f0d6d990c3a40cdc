"""Reads of what comes later."""

from typing import Any

from tutelar.core.later import Look
from tutelar.core.site.types import Device
from tutelar.server import models
from tutelar.server.values.queries import clock_readings

CHANGES = "x-changes"  # of a site: changes of devices, with their steps as they were told


def looks(row: models.Site) -> dict[str, list[Look]]:
    """Return the looks at each device's clock, in order of time."""
    return {
        key: [Look(at, offset) for at, offset in sorted(found)] for key, found in clock_readings(row).items() if found
    }


def unit_names(kind: str, device: Device | None) -> list[str]:
    """Return what tells a new unit of a change apart: on Wi-Fi its address there first."""
    if kind == "wifi":
        return ["wifi_mac"]
    if kind != "replace":
        return []
    return ["wifi_mac", "mac", "serial"] if device is not None and device.medium == "wifi" else ["mac", "serial"]


def changes(row: models.Site) -> list[dict[str, Any]]:
    """Return the changes of a site, the oldest first."""
    found = row.extra.get(CHANGES)
    return [one for one in found if isinstance(one, dict)] if isinstance(found, list) else []
