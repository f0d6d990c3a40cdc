"""A device is replaced, brought in, moved to Wi-Fi, retired, reset, or a site is taken over: what is done, in an order
that cuts nothing off (handbook 3.13, docs/sources.md, later).

The steps are data (changes.json) with the words of the job cards. A step waits for others: an address is told to a
partner after the device has it, a reservation is changed before the new unit asks for an address, an end that points at
a device lets go of it before the device goes.
"""

import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from graphlib import TopologicalSorter
from importlib.resources import files
from typing import Any, NamedTuple

from tutelar.core.addressing.assignment import Plan
from tutelar.core.cards.facts import device_facts, site_facts
from tutelar.core.cards.item import holds_for
from tutelar.core.credentials.slots import slots_of
from tutelar.core.kit.used import used_steps
from tutelar.core.links.holding import holder_and_held
from tutelar.core.proof import all_expectations
from tutelar.core.setting import DeviceSettings
from tutelar.core.site.base import RECORDERS
from tutelar.core.site.types import Device, Link, Site
from tutelar.core.wording import count, listed

KINDS: dict[str, str] = {
    "replace": "Replace it: another unit in the same place",
    "wifi": "Move it to Wi-Fi",
    "reset": "Reset it and set it up again",
    "retire": "Retire it: it goes for good",
    "add": "Bring it in: it is new here",
    "take-over": "Take the site over from others",
}
OF_SITE = frozenset({"take-over"})
_EACH_PARTNER = "partner-*"


@dataclass(frozen=True, slots=True)
class ChangeStep:
    """A step: what is done, why, where ("" on site, "IT", or the key of the device it is done at), which steps come
    before it, and what has to be minded."""

    key: str
    title: str
    why: str
    at: str = ""
    after: tuple[str, ...] = ()
    caution: str = ""


class _Written(NamedTuple):
    """A step as the data has it; `each`: it is there once for each partner, or for each step of a used unit."""

    key: str
    title: str
    why: str
    at: str
    after: tuple[str, ...] = ()
    when: tuple[str, ...] = ()
    caution: str = ""
    each: str = ""


def change_steps(site: Site, planned: Plan, kind: str, device: Device | None) -> list[ChangeStep]:
    """Return the steps of a change in a safe order: each after those that it waits for, else as they are written.

    `device` is the one that changes, as it stands in the document (None: a site is taken over). Raises KeyError for a
    kind that is not known, ValueError where it is about a device and has none.
    """
    written = _data()[kind]
    if device is None:
        if kind not in OF_SITE:
            raise ValueError(f"'{kind}' is about a device; say which one")
        return _ordered([ChangeStep(item.key, item.title, item.why, "", item.after, item.caution) for item in written])
    facts, words, partners = _facts(site, device), _words(site, planned, device), _partners(site, device)
    found: list[ChangeStep] = []
    for item in written:
        if not holds_for(item.when, facts):
            continue
        if item.each == "partner":
            found += [_filled(item, {**words, **_of_partner(*partner)}) for partner in partners]
        elif item.each == "used":
            found += [
                _filled(item._replace(key=f"used-{number}"), {**words, "used": step})
                for number, step in enumerate(used_steps(site, device))
            ]
        else:
            found.append(_filled(item, words))
    return _ordered(found)


@cache
def _data() -> Mapping[str, tuple[_Written, ...]]:
    raw: dict[str, list[dict[str, Any]]] = json.loads((files("tutelar.core.later") / "changes.json").read_text("utf-8"))
    return {kind: tuple(map(_written, steps)) for kind, steps in raw.items()}


def _written(step: Mapping[str, Any]) -> _Written:
    lists: dict[str, Any] = {name: tuple(step.get(name, ())) for name in ("after", "when")}
    return _Written(**{**step, **lists})


def _filled(item: _Written, words: Mapping[str, str]) -> ChangeStep:
    def fill(text: str) -> str:
        for name, value in words.items():
            text = text.replace(f"{{{name}}}", value)
        return text

    return ChangeStep(fill(item.key), fill(item.title), item.why, fill(item.at), item.after, item.caution)


def _ordered(steps: Sequence[ChangeStep]) -> list[ChangeStep]:
    """Return the steps so that each comes after what it waits for; what is not there is not waited for."""
    by_key = {step.key: step for step in steps}
    place = {step.key: at for at, step in enumerate(steps)}
    graph: TopologicalSorter[str] = TopologicalSorter()
    for step in steps:
        graph.add(step.key, *_waits(step, by_key))
    graph.prepare()
    found: list[ChangeStep] = []
    ready: list[str] = []
    while graph.is_active():
        ready = sorted([*ready, *graph.get_ready()], key=place.__getitem__)
        step = by_key[ready.pop(0)]
        found.append(ChangeStep(step.key, step.title, step.why, step.at, _waits(step, by_key), step.caution))
        graph.done(step.key)
    return found


def _waits(step: ChangeStep, by_key: Mapping[str, ChangeStep]) -> tuple[str, ...]:
    found: dict[str, None] = {}
    for key in step.after:
        if key == _EACH_PARTNER:
            found |= dict.fromkeys(other for other in by_key if other.startswith("partner-"))
        elif key in by_key:
            found[key] = None
    return tuple(found)


def _facts(site: Site, device: Device) -> frozenset[str]:
    own = {
        "reserved": device.addressing == "reserved",
        "has-disks": site.family_of(device) in RECORDERS or bool(device.disks),
        "holds": bool(_held(site, device)),
        "holds-doors": any(door.panel == device.key for door in site.doors),
        "passwords": any(slot.kind == "password" for slot in slots_of(site, device)),
    }
    return device_facts(site, device, site_facts(site)) | {word for word, there in own.items() if there}


def _words(site: Site, planned: Plan, device: Device) -> dict[str, str]:
    checks = all_expectations(site, planned.assignments).get(device.key, ())
    lost = [group.title.lower() for group in DeviceSettings(site, planned).groups(device)]
    return {
        "key": device.key,
        "name": device.label,
        "network": _network(planned, device),
        "passwords": listed([slot.title.lower() for slot in slots_of(site, device) if slot.kind == "password"]),
        "held": listed([item.label for item in _held(site, device)], 5),
        "doors": listed([door.label for door in site.doors if door.panel == device.key], 5),
        "checks": f"{count(len(checks), 'check')} of {device.label}" if checks else device.label,
        "lost": listed([*lost, count(len(site.links_of(device.key)), "link")], 12),
    }


def _network(planned: Plan, device: Device) -> str:
    row = next((item for item in planned.assignments if item.device == device.key), None)
    if row is None or row.address is None:
        return "an address by lease" if device.addressing == "leased" else "its planned address"
    gateway = f", gateway {row.gateway}" if row.gateway else ""
    return f"{row.address}/{row.prefix}{gateway}"


def _of_partner(partner: Device, link: Link) -> dict[str, str]:
    number = f", number {link.slot}" if link.slot is not None else ""
    return {"partner": partner.key, "partner_name": partner.label, "number": number}


def _partners(site: Site, device: Device) -> list[tuple[Device, Link]]:
    """Return every device that has this one typed in, with the link, in walking order."""
    found: dict[str, Link] = {}
    for holder, held, link in _ends(site, device):
        if held == device.key:
            found.setdefault(holder, link)
    return [(item, found[item.key]) for item in site.walking_order([site.device_by_key[key] for key in found])]


def _held(site: Site, device: Device) -> list[Device]:
    """Return the devices whose addresses this one holds, in walking order."""
    keys = dict.fromkeys(held for holder, held, _ in _ends(site, device) if holder == device.key)
    return site.walking_order([site.device_by_key[key] for key in keys])


def _ends(site: Site, device: Device) -> Iterator[tuple[str, str, Link]]:
    for link in site.links_of(device.key):
        holder, held = holder_and_held(link)
        if holder != held and {holder, held} <= site.device_by_key.keys():
            yield holder, held, link
