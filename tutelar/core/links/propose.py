"""What could be tied to what: channels in walking order, balanced over the recorders; numbers without collisions.

A proposal never moves a proven or typed link. Others stay where they are unless a recorder is beyond its limits and
moving them is what makes room. Where not everything fits, it says what is short.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from math import ceil, floor
from typing import Literal

from tutelar.core.links.index import RECORDERS, LinkIndex
from tutelar.core.links.needs import gap_of_route
from tutelar.core.links.numbering import numbers
from tutelar.core.links.packing import Bin, Item, keep_home, pack
from tutelar.core.links.registry import KINDS, link_index
from tutelar.core.site.types import Device, Link, Site
from tutelar.core.wording import count

_RECORDED = frozenset({"camera", "encoder"})


@dataclass(frozen=True, slots=True)
class Change:
    """One proposed change: a link to add, or one at a position of the document that gets a number or another target."""

    action: Literal["add", "number", "move"]
    link: Link
    why: str
    position: int | None = None


@dataclass(frozen=True)
class Proposal:
    """What to change, what cannot be tied and why, and whether it is proved that no more fits."""

    changes: tuple[Change, ...]
    shortfall: tuple[str, ...]
    left: tuple[str, ...]
    proved: bool


def untied(site: Site) -> list[str]:
    """Return the keys of devices that are not finished without a link, and have none, in the order of the file."""
    wanted = {family for kind in KINDS for family in kind.expected}
    recorded = {link.from_ for link in site.links if link.kind == "records"}
    tied = {link.from_ for link in site.links if link.kind not in ("relays", "pages")}
    families = site.family_by_model
    return [
        device.key
        for device in site.devices
        if (family := families.get(device.model, "other")) in wanted
        and device.key not in (recorded if family in _RECORDED else tied)
    ]


def has_target(site: Site, key: str) -> bool:
    """Return whether the kit holds any device that an untied one could be tied to."""
    family = site.family_of(site.device_by_key[key])
    wanted = [kind for kind in KINDS if family in kind.expected]
    present = {site.family_of(device) for device in site.devices if device.key != key}
    return any(kind.ends is None or kind.ends & present for kind in wanted)


def propose(known: LinkIndex, fixed: Iterable[int] = ()) -> Proposal:
    """Return what could be tied; `fixed` holds the positions of links that may not move (proven or typed)."""
    site, held = known.site, frozenset(fixed)
    changes, shortfall, left, proved = _recording(known, held)
    others, more_left = _others(known)
    tied = [*changes, *others]
    links = list(site.links)
    for change in tied:
        if change.position is None:
            links.append(change.link)
        else:
            links[change.position] = change.link
    after = site.model_copy(update={"links": tuple(links)})
    added = {id(change.link): at for at, change in enumerate(tied)}
    for row in numbers(link_index(after, known.addresses)):
        if row.source == "missing":
            shortfall.append(f"{row.device}: {row.why}")
        if row.source != "planned":
            continue
        link = links[row.position]
        fresh = link.model_copy(update={"slot": row.number})
        at = added.get(id(link))
        if at is None:
            tied.append(Change("number", fresh, f"{row.word.capitalize()} {row.number}. {row.why}", row.position))
        else:
            tied[at] = Change(tied[at].action, fresh, tied[at].why, tied[at].position)
    return Proposal(tuple(tied), tuple(dict.fromkeys(shortfall)), (*left, *more_left), proved)


def applied(site: Site, changes: Iterable[Change]) -> Site:
    """Return the site with proposed changes made."""
    links = list(site.links)
    for change in changes:
        if change.position is None:
            links.append(change.link)
        else:
            links[change.position] = change.link
    return site.model_copy(update={"links": tuple(links)})


# --- recording -----------------------------------------------------------------------------------------------


@dataclass(slots=True)
class _Wish:
    """A channel of a device that wants a recorder; `position` of its link where it has one already."""

    device: Device
    channel: int | None
    position: int | None = None


def _wishes(known: LinkIndex) -> list[_Wish]:
    site, open_ = known.site, set(untied(known.site))
    found = []
    for device in site.walking_order(list(site.devices)):
        if device.key not in open_ or site.family_of(device) not in _RECORDED:
            continue
        model = site.model_of(device)
        own = model.capacity.channels if model and model.capacity else None
        many = own if site.family_of(device) == "encoder" and own else 0
        found += [_Wish(device, number) for number in range(1, many + 1)] or [_Wish(device, None)]
    return found


def _recording(known: LinkIndex, fixed: frozenset[int]) -> tuple[list[Change], list[str], list[str], bool]:
    site = known.site
    recorders = [device for device in site.devices if site.family_of(device) in RECORDERS]
    wishes = _wishes(known)
    over = any(load.beyond for load in known.loads.values())
    if not recorders:
        return [], (["There is no recorder."] if wishes else []), [wish.device.key for wish in wishes], True
    items = [_item(known, wish, recorders) for wish in wishes]
    packing = pack(items, _bins(known, recorders, ()))
    if over or packing.left:
        movable = _movable(known, fixed, recorders)
        if movable:
            wishes = [*movable, *wishes]
            items = [_item(known, wish, recorders) for wish in wishes]
            gone = {wish.position for wish in movable if wish.position is not None}
            packing = keep_home(items, _bins(known, recorders, gone))
    changes = []
    for wish, place in zip(wishes, packing.bins, strict=True):
        if place is not None:
            changes += _tie(known, wish, recorders[place])
    left = [wish.device.key for wish, place in zip(wishes, packing.bins, strict=True) if place is None]
    return changes, _short(known, wishes, items, packing.left, recorders), list(dict.fromkeys(left)), packing.proved


def _item(known: LinkIndex, wish: _Wish, recorders: list[Device]) -> Item:
    allowed = tuple(at for at, recorder in enumerate(recorders) if _may_record(known, wish.device, recorder))
    home = None
    if wish.position is not None:
        target = known.site.links[wish.position].to
        home = next((at for at, recorder in enumerate(recorders) if recorder.key == target), None)
    return Item(ceil(known.mbps.get(wish.device.model, 0.0) * 1000 - 1e-6), allowed, home)


def _may_record(known: LinkIndex, device: Device, recorder: Device) -> bool:
    link = Link.model_construct(kind="records", from_=device.key, to=recorder.key)
    return not gap_of_route(known, link, "codec")


def _bins(known: LinkIndex, recorders: list[Device], gone: Iterable[int | None]) -> list[Bin]:
    """Return what is free at the recorders, without the links at the positions `gone`."""
    site, away = known.site, set(gone)
    used: dict[str, list[float]] = {recorder.key: [] for recorder in recorders}
    for at, link in enumerate(site.links):
        start = site.device_by_key.get(link.from_)
        if link.kind == "records" and link.to in used and start is not None and at not in away:
            used[link.to].append(known.mbps.get(start.model, 0.0))
    found = []
    for recorder in recorders:
        load, rates = known.loads[recorder.key], used[recorder.key]
        limits = [most for most in (load.most_channels, load.licences) if most is not None]
        spent = ceil(sum(rates) * 1000 - 1e-6)
        seats = max(0, min(limits) - len(rates)) if limits else None
        rate = None if load.most_mbps is None else max(0, floor(load.most_mbps * 1000 + 1e-6) - spent)
        found.append(Bin(seats, rate, len(rates), spent))
    return found


def _movable(known: LinkIndex, fixed: frozenset[int], recorders: list[Device]) -> list[_Wish]:
    keys = {recorder.key for recorder in recorders}
    found = []
    for at, link in enumerate(known.site.links):
        start = known.site.device_by_key.get(link.from_)
        if link.kind == "records" and link.to in keys and at not in fixed and start is not None and not start.behind:
            found.append(_Wish(start, link.from_channel, at))
    return found


def _tie(known: LinkIndex, wish: _Wish, recorder: Device) -> list[Change]:
    """Return the change that ties a wish to a recorder, [] where it is tied there already."""
    device, name = wish.device, recorder.label
    if wish.position is None:
        link = Link(kind="records", from_=device.key, to=recorder.key, from_channel=wish.channel)
        return [Change("add", link, f"{name} has room, and the walk leads past it.")]
    link = known.site.links[wish.position]
    if link.to == recorder.key:
        return []
    why = f"{known.site.label_of(link.to)} has no room for all; {name} has."
    return [Change("move", link.model_copy(update={"to": recorder.key, "slot": None}), why, wish.position)]


def _short(
    known: LinkIndex, wishes: list[_Wish], items: list[Item], left: list[int], recorders: list[Device]
) -> list[str]:
    """Return what is short for those left out, each limit told apart."""
    if not left:
        return []
    site = known.site
    alone = [at for at in left if not items[at].allowed]
    rest = [at for at in left if items[at].allowed]
    found = [f"No recorder can take {site.label_of(wishes[at].device.key)}." for at in alone]
    if not rest:
        return found
    rate = sum(items[at].rate for at in rest) / 1000
    wanted = len(items)
    bins = _bins(known, recorders, [wish.position for wish in wishes])
    said = [f"{count(len(rest), 'channel')} more wanted than the recorders can take"]
    seats = [item.seats for item in bins if item.seats is not None]
    if len(seats) == len(bins) and wanted - len(alone) > sum(seats):
        by_licence = sum(1 for recorder in recorders if _licences_first(known, recorder))
        word = "licence or channel" if by_licence else "channel"
        said.append(f"{count(wanted - len(alone) - sum(seats), word)} short")
    rates = [item.rate for item in bins if item.rate is not None]
    needed = sum(item.rate for item in items if item.allowed)
    if len(rates) == len(bins) and needed > sum(rates):
        said.append(f"{(needed - sum(rates)) / 1000:.1f} Mbit/s short")
    if len(said) == 1:
        said.append(f"{rate:.1f} Mbit/s do not fit in one piece")
    return [*found, f"{'; '.join(said)}."]


def _licences_first(known: LinkIndex, recorder: Device) -> bool:
    load = known.loads[recorder.key]
    return load.licences is not None and (load.most_channels is None or load.licences < load.most_channels)


# --- everything else -----------------------------------------------------------------------------------------


def _others(known: LinkIndex) -> tuple[list[Change], list[str]]:
    """Tie monitors, readers and keypads to the one target in reach: at the same place, else the one with least."""
    site, open_ = known.site, set(untied(known.site))
    carried = {(key, word): len(links) for (key, word), links in known.tied_to.items()}
    changes, left = [], []
    for device in site.walking_order(list(site.devices)):
        family = site.family_of(device)
        if device.key not in open_ or family in _RECORDED:
            continue
        kind = next(kind for kind in KINDS if family in kind.expected)
        if kind.word == "steers":  # which cameras a desk moves is somebody's wish
            left.append(device.key)
            continue
        targets = [
            item
            for item in site.devices
            if kind.takes(family, site.family_of(item), "", behind=False)
            and item.key != device.key
            and not _follows(known, item)
        ]
        reached = []
        for target in targets:
            link = Link(kind=kind.word, from_=device.key, to=target.key)
            case = known.case(link)
            if case is None or not case.fits or gap_of_route(known, link):
                continue
            most = case.kind.number.limit(case)[1] if case.kind.number else None
            if most is None or carried.get((target.key, kind.word), 0) < most:
                reached.append((target.place != device.place, carried.get((target.key, kind.word), 0), target, link))
        if not reached:
            left.append(device.key)
            continue
        elsewhere, _, target, link = min(reached, key=lambda row: row[:2])
        carried[target.key, kind.word] = carried.get((target.key, kind.word), 0) + 1
        why = "It is in reach and carries the least." if elsewhere else f"It is at the same place, {device.place}."
        changes.append(Change("add", link, why))
    return changes, left


def _follows(known: LinkIndex, device: Device) -> bool:
    """Return whether a station follows another: nobody registers at it then."""
    return (device.key, "extends") in known.tied_from
