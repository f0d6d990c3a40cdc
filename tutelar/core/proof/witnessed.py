"""What somebody has to see with his own eyes before a device counts as proven (docs/sources.md, proof).

By family and links, as the site's policy says otherwise; the egress test of an escape door is always among them.
"""

import re
from collections.abc import Iterable, Iterator, Mapping

from tutelar.core.site.types import Device, Site

EGRESS_CAUTION = "Local fire code and licensed people decide about escape doors. Try it without power, card and code."
_HOLDING = ("panel", "door-station", "reader", "keypad")  # the first there is holds a door that is nobody's by name
_DOORS = frozenset(_HOLDING)
_USUAL: Mapping[str, tuple[str, ...]] = {
    "recorder": ("plays-back",),
    "software-recorder": ("plays-back",),
    "door-station": ("test-call", "door-opens"),
    "indoor-monitor": ("test-call",),
    "panel": ("door-opens",),
}

_MAY: Mapping[str, frozenset[str]] = {
    "plays-back": frozenset({"recorder", "software-recorder"}),
    "test-call": frozenset({"door-station", "indoor-monitor", "call-server", "doorbell"}),
    "door-opens": _DOORS,
    "phone-picture": frozenset(
        {
            "camera",
            "recorder",
            "software-recorder",
            "encoder",
            "door-station",
            "indoor-monitor",
            "doorbell",
            "alarm-hub",
        }
    ),
}


def may_be_seen(family: str) -> list[str]:
    """Return what there is to see of a family at all, in the order of the proof sheet."""
    return [check for check, families in _MAY.items() if family in families]


def asked_of(site: Site, devices: Iterable[Device], family: str) -> tuple[str, ...]:
    """Return what somebody has to see of these devices of a family, as the site's policy says or as is usual."""
    said = site.policy.proof.witnessed.get(family)  # type: ignore[call-overload]
    if said is not None:
        return tuple(said)
    relayed = any(
        link.kind == "relays" and link.from_ == device.key for device in devices for link in site.links_of(device.key)
    )
    return (*_USUAL.get(family, ()), *(("phone-picture",) if relayed else ()))


def escapes(site: Site, device: Device) -> Iterator[str]:
    """Yield the escape doors that a device holds: those that its name or place tells, and those that nobody's does."""
    if site.family_of(device) not in _DOORS:
        return
    doors = [item for item in site.survey.escape_doors or () if item.strip()]
    mine = [door for door in doors if _at(door, device)]
    holders = [item for item in site.devices if site.family_of(item) in _DOORS]
    there = {site.family_of(item) for item in holders}
    if site.family_of(device) == next(family for family in _HOLDING if family in there):
        mine += [door for door in doors if not any(_at(door, item) for item in holders)]
    yield from mine


def _at(door: str, device: Device) -> bool:
    """Return whether a door's name shares a telling word with a device's name or place."""
    words = _telling(door)
    return bool(words & _telling(device.label)) or bool(words & _telling(device.place or ""))


def _telling(text: str) -> set[str]:
    return {word for word in re.findall(r"\w+", text.casefold()) if word not in _COMMON}


_COMMON = frozenset("door doors exit gate entrance escape emergency the of at to in and a".split())  # noqa: SIM905
