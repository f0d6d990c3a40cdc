"""Escape doors: drawn from what the survey was told, each held by one device, where its egress test is kept.

The test is named by the door's number at its panel where that is known, else by the door's key: a door that is renamed
keeps its test, one that is moved to another number or panel wants a new one.
"""

import re
from collections import Counter
from collections.abc import Iterable, Mapping

from tutelar.core.doors.sequence import tests_of
from tutelar.core.site.doors import Door
from tutelar.core.site.types import Device, Site, first_by_key
from tutelar.core.site.values import free_key

_HOLDING = ("panel", "door-station", "reader", "keypad")  # the first there is holds a door that is nobody's by name
_COMMON = frozenset("door doors exit gate entrance escape emergency the of at to in and a".split())  # noqa: SIM905
_DRAWN = frozenset({"key", "name", "escape"})  # all that a door has which nobody but the survey told of


def as_told(doors: Iterable[Door], told: Iterable[str], before: Iterable[str] = ()) -> tuple[Door, ...]:
    """Return the doors with every escape door that the survey was told of by name among them. A door of that name is
    marked as one; one that only the survey told of `before`, and no longer does, goes."""
    names = {_same(name): name.strip() for name in told if name.strip()}
    over = {_same(name) for name in before} - names.keys()
    kept = []
    for door in doors:
        name = _same(door.label)
        if name in names and not door.escape:
            kept.append(door.model_copy(update={"escape": True}))
        elif name not in over or not door.model_fields_set <= _DRAWN:
            kept.append(door)
    taken, there = {door.key for door in kept}, {_same(door.label) for door in kept}
    for same, name in names.items():
        if same not in there:
            kept.append(Door(key=free_key(name, taken, "door"), name=name, escape=True))
            taken.add(kept[-1].key)
    return tuple(kept)


def escape_tests(site: Site) -> Mapping[str, Mapping[str, Door]]:
    """Return the escape doors by the device that holds them, and there by the check that their egress test is.

    Each door is held by one device: its panel, else the one whose name or place tells of it, else the first of those
    that hold doors at all. Without any such device nothing is returned: there is nowhere to keep a test.
    """
    return {
        device: {key: door for key, door in checks.items() if key.endswith(".egress")}
        for device, checks in door_tests(site).items()
        if any(key.endswith(".egress") for key in checks)
    }


def door_tests(site: Site) -> Mapping[str, Mapping[str, Door]]:
    """Return every door that is tested by the device that holds it, and there by each check that its tests are: of an
    escape door its egress test, of one that hangs at a panel of the kit all of its sequence."""
    known: Mapping[str, Mapping[str, Door]] | None = site.__dict__.get("door_tests")
    if known is None:  # asked of every device, worked out once
        known = site.__dict__["door_tests"] = _tests(site)
    return known


def _tests(site: Site) -> dict[str, dict[str, Door]]:
    found: dict[str, dict[str, Door]] = {}
    names: dict[str, set[str]] = {}
    doors = _all(site)
    numbers = Counter((door.panel, door.number) for door in doors)
    for door in sorted(doors, key=lambda door: door.number is None):
        at_panel = door.panel in site.device_by_key
        holder = _holder(site, door) if door.escape or at_panel else None
        if holder is None:
            continue
        numbered = door.panel == holder.key and door.number and numbers[door.panel, door.number] == 1
        name, taken = str(door.number) if numbered else door.key, names.setdefault(holder.key, set())
        while name in taken:
            name += ".0"
        taken.add(name)
        kinds = [test.key for test in tests_of(door)] if at_panel else ["egress"]
        found.setdefault(holder.key, {}).update({f"door.{name}.{kind}": door for kind in kinds})
    return found


def door_label(site: Site, key: str) -> str:
    """Return the name people use for a door key, or the key itself."""
    return next((door.label for door in _all(site) if door.key == key), key)


def _all(site: Site) -> tuple[Door, ...]:
    return as_told(first_by_key(site.doors).values(), site.survey.escape_doors or ())


def _holder(site: Site, door: Door) -> Device | None:
    if door.panel in site.device_by_key:
        return site.device_by_key[door.panel]
    rank = {family: number for number, family in enumerate(_HOLDING)}
    holders = [device for device in site.devices if site.family_of(device) in rank]
    holders.sort(key=lambda device: rank[site.family_of(device)])
    telling = _telling(f"{door.label} {door.place or ''}")
    by_name = (device for device in holders if telling & _telling(f"{device.label} {device.place or ''}"))
    return next(by_name, holders[0] if holders else None)


def _same(name: str) -> str:
    return " ".join(name.split()).casefold()


def _telling(text: str) -> set[str]:
    return {word for word in re.findall(r"\w+", text.casefold()) if word not in _COMMON}
