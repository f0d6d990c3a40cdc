"""Is a recording link ready, and if not, what is missing for it?"""

from collections.abc import Mapping
from typing import Literal

from tutelar.core.links.rules import why_apart
from tutelar.core.proof import State
from tutelar.core.site.types import Device, Site

Readiness = Literal["planned", "proven", "not-ready", "broken"]


def readiness(
    site: Site, start: Device, end: Device, slot: int | None, states: Mapping[str, State]
) -> tuple[Readiness, str | None]:
    """Return the state of a link between two devices and the reason where something is missing or broken.

    Proven means here that both ends are; that pictures are recorded is a reading of its own.
    """
    reason = why_apart(site, start, end)
    if reason is None and slot is None:
        reason = "no channel yet"
    if reason is None and start.address is None and start.addressing != "leased":
        reason = "its address is not planned yet"
    if reason is not None:
        return "not-ready", reason
    for device in (start, end):
        if states[device.key] == "broken":
            return "broken", f"{device.label} failed its proof"
    return ("proven" if states[start.key] == states[end.key] == "proven" else "planned"), None
