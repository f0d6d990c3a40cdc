"""Who has whom typed in? Of each link one end holds the other's address, and with it its port and its login.

A recorder holds its cameras, a monitor what it shows; every other link is held by its start (handbook, links).
"""

from dataclasses import dataclass

from tutelar.core.site.types import Device, Link, Site

_HELD_BY_TARGET = frozenset({"records", "shows-on"})

# What the holder of a link does with the other device once it has logged in there.
LOGS_IN = {"records": "records", "shows-on": "shows the picture of", "steers": "steers", "manages": "manages"}


@dataclass(frozen=True, slots=True)
class TypedIn:
    """A device that has something of another one typed in, and where or what for."""

    device: str
    why: str


def holder_and_held(link: Link) -> tuple[str, str]:
    """Return the keys of the end that has the other's address typed in, and of that other end."""
    return (link.to, link.from_) if link.kind in _HELD_BY_TARGET else (link.from_, link.to)


def held_by(site: Site, link: Link, device: Device) -> Device | None:
    """Return the device that this one has typed in for a link, None where it has none."""
    holder, held = holder_and_held(link)
    return site.device_by_key.get(held) if holder == device.key else None


def holder_of(site: Site, link: Link, device: Device) -> Device | None:
    """Return the other device that has this one typed in for a link, None where nobody has."""
    holder, held = holder_and_held(link)
    return site.device_by_key.get(holder) if held == device.key and holder != held else None
