"""Which number does everything have: channels, monitors, stations, extensions, doors, zones, short numbers?

A number that is set stays. What has none takes the lowest one that is free at its target (a desk's short number: on
the desk as well), in walking order, so that adding something never moves what is there.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Literal

from tutelar.core.links.base import ResolvedLink
from tutelar.core.links.index import LinkIndex
from tutelar.core.links.kinds.call_server import account_of
from tutelar.core.links.registry import KINDS, kind_of
from tutelar.core.links.ring import ring_chain
from tutelar.core.links.zones import zone_address, zone_faults, zones
from tutelar.core.problems import Problem, problem
from tutelar.core.site.types import Device, Link, Site
from tutelar.core.wording import count, listed


@dataclass(frozen=True, slots=True)
class Numbered:
    """The number of one link: `position` is the link's in the document, number None where none is free."""

    position: int
    word: str
    group: str
    target: str
    device: str
    number: int | None
    source: Literal["kept", "planned", "missing"]
    why: str


@dataclass(frozen=True, slots=True)
class Zone:
    """A paging zone: its number, multicast address and port, who speaks and who listens, what is wrong with it."""

    number: int
    address: str
    port: int
    speakers: tuple[str, ...]
    listeners: tuple[str, ...]
    fault: str | None


@dataclass(frozen=True, slots=True)
class Lines:
    """What a call server carries: registrations and lines, each with its limit (None: not known)."""

    server: str
    registrations: int
    most_registrations: int | None
    lines: int
    most_lines: int | None
    sentence: str


def numbers(known: LinkIndex) -> list[Numbered]:
    """Return the number of every link that takes one, in walking order of its target's group."""
    site = known.site
    order = {device.key: at for at, device in enumerate(site.walking_order(list(site.devices)))}
    rows: list[tuple[int, ResolvedLink]] = []
    for at, link in enumerate(site.links):
        case = known.case(link)
        if case is not None and case.kind.number is not None:
            rows.append((at, case))
    taken = _taken(rows)
    found = [_kept(at, case) for at, case in rows if case.link.slot is not None]
    rows.sort(key=lambda row: (order.get(row[1].start.key, 0), row[0]))
    for at, case in rows:
        if case.link.slot is not None or case.kind.number is None or not case.kind.number.required:
            continue
        if known.never(case) is None:
            found.append(_planned(at, case, taken))
    work = {kind.group: at for at, kind in reversed(list(enumerate(KINDS)))}
    return sorted(found, key=lambda row: (work[row.group], row.target, row.word, row.number is None, row.number or 0))


Taken = dict[tuple[str, str, str], set[int]]


def _rooms(case: ResolvedLink) -> list[tuple[str, str, str]]:
    """Return where a link's number must be free: at its target, and a short number on its desk as well."""
    link = case.link
    found: list[tuple[str, str, str]] = [(link.to, link.kind, link.side or "")]
    return [*found, (link.from_, link.kind, "desk")] if link.kind == "steers" else found


def _taken(rows: Iterable[tuple[int, ResolvedLink]]) -> Taken:
    found: Taken = {}
    for _, case in rows:
        for room in _rooms(case):
            held = found.setdefault(room, set())
            if case.link.slot is not None:
                held.add(case.link.slot)
    return found


def _kept(at: int, case: ResolvedLink) -> Numbered:
    word = case.kind.number.word if case.kind.number else "number"
    return Numbered(
        at, word, case.kind.group, case.to, case.start.label, case.link.slot, "kept", "It is set; it stays."
    )


def _planned(at: int, case: ResolvedLink, taken: Taken) -> Numbered:
    assert case.kind.number is not None
    word = case.kind.number.word
    first, last = case.kind.number.limit(case)
    if case.link.kind == "calls":
        first = max(first, case.site.policy.numbering.first_extension if last is None else first)
    rooms = _rooms(case)
    if case.link.kind == "pages":  # a zone is heard at many places: whoever speaks there speaks in its first zone
        first = next((link.slot for link in case.known.tied_from[case.start.key, "pages"] if link.slot), first) or first
    number = first
    while any(number in taken.get(room, ()) for room in rooms):
        number += 1
    if last is not None and number > last:
        why = f"None of the {word}s {first} to {last} of {case.numbers_of} is free."
        return Numbered(at, word, case.kind.group, case.to, case.start.label, None, "missing", why)
    for room in rooms:
        taken.setdefault(room, set()).add(number)
    why = f"The lowest that is free at {case.numbers_of}."
    return Numbered(at, word, case.kind.group, case.to, case.start.label, number, "planned", why)


def with_numbers(site: Site, rows: Iterable[Numbered]) -> Site:
    """Return the site with the planned numbers set."""
    links = list(site.links)
    for row in rows:
        if row.source == "planned":
            links[row.position] = links[row.position].model_copy(update={"slot": row.number})
    return site.model_copy(update={"links": tuple(links)})


def paging_zones(site: Site) -> list[Zone]:
    """Return the paging zones by their numbers."""
    faults = zone_faults(site)
    found = []
    for number, grounds in sorted(zones(site).items()):
        links = [link for group in grounds.values() for link in group]
        address, port = zone_address(site, links[0])
        speakers = dict.fromkeys(site.label_of(link.from_) for link in links)
        listeners = dict.fromkeys(site.label_of(link.to) for link in links)
        found.append(Zone(number, str(address), port, tuple(speakers), tuple(listeners), faults.get(number)))
    return found


def call_lines(site: Site) -> list[Lines]:
    """Return what each call server carries."""
    found = []
    for device in site.devices:
        if site.family_of(device) != "call-server":
            continue
        model = site.model_of(device)
        capacity = model.capacity if model else None
        links = [
            link
            for link in site.links_of(device.key)
            if link.kind in ("calls", "registers-at") and link.to == device.key
        ]
        lines = len({account_of(link.account, link.slot) or link.from_ for link in links})
        most, most_lines = (capacity.stations, capacity.lines) if capacity else (None, None)
        of = f" of {most}" if most is not None else ""
        of_lines = f" of {most_lines}" if most_lines is not None else ""
        said = f"{device.label}: {len(links)}{of} registrations on {lines}{of_lines} lines."
        found.append(Lines(device.key, len(links), most, lines, most_lines, said))
    return found


def own_numbers(site: Site, device: Device) -> list[str]:
    """Return the numbers that a device bears, as they stand on its label: "channel 7, Recorder quay"."""
    found = []
    for link in site.links_of(device.key):
        if link.from_ == device.key and link.slot is not None:
            found.append(f"{_word(site, link).removesuffix(' number')} {link.slot}, {site.label_of(link.to)}")
    for name in ("building", "floor", "unit"):
        value = getattr(device.numbers, name) if device.numbers else None
        if value is not None:
            found.append(f"{name} {value}")
    return found


def _word(site: Site, link: Link) -> str:
    number = kind_of(site, link).number
    return number.word if number else "number"


def number_problems(site: Site) -> Iterator[Problem]:
    """Yield numbers that mean two things: short numbers, paging zones, flats; and a ring chain that is too short."""
    words = {link.kind for link in site.links}
    if "steers" in words:
        yield from _shorts(site)
    if "pages" in words:
        for number, said in zone_faults(site).items():
            keys = {link.from_: None for link in site.links if link.kind == "pages" and link.slot == number}
            yield problem(
                "paging.zone",
                tuple(keys),
                f"{said[0].upper()}{said[1:]}.",
                "Give each zone one multicast address and port of its own.",
            )
    if "registers-at" in words:
        yield from _flats(site)
        chain = ring_chain(site)
        if chain.stations and not chain.holds:
            yield problem(
                "ring.too-short",
                chain.stations,
                chain.sentence,
                f"Let the stations ring {chain.needed_s:g} s or longer.",
            )


def _shorts(site: Site) -> Iterator[Problem]:
    held: dict[tuple[str, int], list[Link]] = {}
    for link in site.links:
        if link.kind == "steers" and link.slot is not None:
            held.setdefault((link.from_, link.slot), []).append(link)
    for (desk, slot), links in held.items():
        if len(links) > 1:
            names = listed([site.label_of(link.to) for link in links])
            yield problem(
                "number.taken",
                (desk, *(link.to for link in links)),
                f"Short number {slot} of {site.label_of(desk)} stands for {names}.",
                "Give each target a short number of its own.",
            )


def _flats(site: Site) -> Iterator[Problem]:
    """Two master monitors of one station in one flat would both ring, and neither is told of it."""
    held: dict[tuple[str, tuple[int | None, ...]], list[str]] = {}
    for link in site.links:
        device = site.device_by_key.get(link.from_)
        if link.kind != "registers-at" or device is None or device.numbers is None or device.numbers.unit is None:
            continue
        flat = (device.numbers.building, device.numbers.floor, device.numbers.unit)
        held.setdefault((link.to, flat), []).append(device.key)
    for (station, (building, floor, unit)), keys in held.items():
        if len(keys) > 1:
            parts = [
                f"building {building}" if building is not None else "",
                f"floor {floor}" if floor is not None else "",
            ]
            where = ", ".join([*filter(None, parts), f"unit {unit}"])
            names = listed([site.label_of(key) for key in keys])
            yield problem(
                "number.taken",
                (*keys, station),
                f"{names} are {count(len(keys), 'master monitor')} of {where} at {site.label_of(station)}.",
                "Keep one as the master, and make the others its extensions.",
            )
