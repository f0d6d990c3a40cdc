"""The ring chain: a door station must ring longer than the monitors, the forwarding and a person's way take together.

Source: docs/sources.md, ring times: monitors 20 s, forwarding 6 s, a person 15 s make 41 s.
"""

import re
from dataclasses import dataclass

from tutelar.core.site.types import Site
from tutelar.core.wording import listed


@dataclass(frozen=True, slots=True)
class RingChain:
    """Seconds of each part, what the station must ring at least, what it rings, and one sentence."""

    monitor_s: float
    forward_s: float
    person_s: float
    station_s: float
    stations: tuple[str, ...]
    sentence: str

    @property
    def needed_s(self) -> float:
        """How long all of it rings, in seconds."""
        return self.monitor_s + self.forward_s + self.person_s

    @property
    def holds(self) -> bool:
        """Whether that is not longer than the station rings."""
        return self.station_s >= self.needed_s


def ring_chain(site: Site) -> RingChain:
    """Return the ring chain of a site; the site's own ring times by family come before the plan's."""
    ring = site.policy.numbering.ring
    station = _chosen(site, "door-station")
    monitor = _chosen(site, "indoor-monitor")
    station_s = ring.station_s if station is None else station
    monitor_s = ring.monitor_s if monitor is None else monitor
    stations = [device for device in site.devices if site.family_of(device) in ("door-station", "doorbell")]
    needed = monitor_s + ring.forward_s + ring.person_s
    who = listed([device.label for device in stations], 3) if stations else "A door station"
    parts = f"monitors {monitor_s:g} s, forwarding {ring.forward_s:g} s, a person {ring.person_s:g} s"
    verb = "ring" if len(stations) > 1 else "rings"
    outcome = "long enough" if station_s >= needed else "a forwarded call can never be answered"
    said = f"{who} must ring at least {needed:g} s ({parts}) and {verb} {station_s:g} s: {outcome}."
    return RingChain(monitor_s, ring.forward_s, ring.person_s, station_s, tuple(item.key for item in stations), said)


def _chosen(site: Site, family: str) -> float | None:
    own = site.policy.choices.get(family, {}).get("ring-time")  # type: ignore[call-overload]
    match = re.match(r"\s*(\d+(?:[.,]\d+)?)\s*(s|sec|min)?", own or "")
    if match is None:
        return None
    seconds = float(match[1].replace(",", "."))
    return seconds * 60 if match[2] == "min" else seconds
