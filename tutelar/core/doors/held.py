"""Doors that are held open for set-up: until when, and who stands there meanwhile. They stay so until somebody locks
them; that their time is over locks nothing."""

from collections.abc import Mapping
from dataclasses import dataclass

from tutelar.core.site.doors import Door
from tutelar.core.site.types import Site

UNLOCKED = "x-unlocked"  # of a site, by the door's key; no panel is told of it


@dataclass(frozen=True, slots=True)
class Held:
    """A door held open for set-up: since and until when (UTC, as written down), by whom, and who stands there."""

    door: Door
    since: str
    until: str
    by: str
    guard: str


def held_open(site: Site) -> dict[str, Held]:
    """Return the doors that are held open, by their keys, in the order of the document."""
    said = (site.model_extra or {}).get(UNLOCKED)
    if not isinstance(said, Mapping):
        return {}
    found = {}
    for door in site.doors:
        part = said.get(door.key)
        if isinstance(part, Mapping):
            words = [str(part.get(name) or "?") for name in ("since", "until", "by", "guard")]
            found[door.key] = Held(door, *words)
    return found
