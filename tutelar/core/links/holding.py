"""Who has whom typed in? Of each link one end holds the other's address, and with it its port and its login."""

from dataclasses import dataclass

from tutelar.core.links.registry import BY_WORD, kind_of
from tutelar.core.site.types import Device, Link, Site

_HOLDER = {word: kinds[0].holder for word, kinds in BY_WORD.items()}


@dataclass(frozen=True, slots=True)
class TypedIn:
    """A device that has something of another one typed in, and where or what for."""

    device: str
    why: str


def holder_and_held(link: Link) -> tuple[str, str]:
    """Return the keys of the end that has the other's address typed in, and of that other end."""
    return (link.to, link.from_) if _HOLDER[link.kind] == "to" else (link.from_, link.to)


def holder_of(site: Site, link: Link, device: Device) -> Device | None:
    """Return the other device that has this one typed in for a link, None where nobody has."""
    holder, held = holder_and_held(link)
    return site.device_by_key.get(holder) if held == device.key and holder != held else None


def logs_in(site: Site, link: Link) -> str | None:
    """Return what the holder of a link does with the other device once it has logged in, None where it does not."""
    return kind_of(site, link).logs_in
