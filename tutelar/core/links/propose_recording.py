"""Which recorder takes which camera: proposed in walking order, balanced, with what is short where not all fit.

A link that may move and finds no room anywhere is taken out: nothing is kept where a recorder would be overfilled.
"""

from collections.abc import Callable, Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from math import ceil, floor

from tutelar.core.links.index import LinkIndex, Load, empty_load
from tutelar.core.links.needs import gap_of_route
from tutelar.core.links.packing import Bin, Item, Packing, keep_home, pack
from tutelar.core.links.wishes import RECORDED, Change, untied
from tutelar.core.site.base import RECORDERS
from tutelar.core.site.types import Device, Link
from tutelar.core.wording import count


@dataclass(frozen=True, slots=True)
class Proposed:
    """A part of a proposal (see `propose.Proposal`)."""

    changes: tuple[Change, ...]
    shortfall: tuple[str, ...]
    left: tuple[str, ...]
    proved: bool = True


_Pack = Callable[[Sequence[Item], Sequence[Bin]], Packing]


@dataclass(frozen=True, slots=True)
class _Wish:
    """A channel of a device that wants a recorder; `position` of its link where it has one already."""

    device: Device
    channel: int | None
    position: int | None = None


def propose_recording(known: LinkIndex, fixed: Collection[int]) -> Proposed:
    """Return which channels go to which recorder; links at the positions `fixed` keep their place and their room."""
    recorders = [device for device in known.site.devices if known.site.family_of(device) in RECORDERS]
    wishes = list(_wishes(known))
    if not recorders:
        keys = tuple(dict.fromkeys(wish.device.key for wish in wishes))
        return Proposed((), ("There is no recorder.",) if wishes else (), keys)
    items = [_item(known, wish, recorders) for wish in wishes]
    loads = _loads(known, recorders, ())
    packing = _packed(pack, wishes, items, loads)
    over = any(load.beyond for load in known.loads.values())
    if over or packing.left:
        movable = list(_movable(known, fixed, recorders))
        if movable:
            moving = {wish.device.key for wish in movable}  # one that is only wished elsewhere is asked for once
            wishes = [*movable, *(wish for wish in wishes if wish.device.key not in moving)]
            items = [_item(known, wish, recorders) for wish in wishes]
            loads = _loads(known, recorders, [wish.position for wish in movable if wish.position is not None])
            packing = _packed(keep_home, wishes, items, loads)
    changes = [
        change
        for wish, place in zip(wishes, packing.bins, strict=True)
        if (change := _change(known, wish, None if place is None else recorders[place])) is not None
    ]
    left = dict.fromkeys(wishes[at].device.key for at in packing.left)
    shortfall = tuple(_short(known, wishes, items, _bins(loads), packing, recorders))
    return Proposed(tuple(changes), shortfall, tuple(left), packing.proved)


def _wishes(known: LinkIndex) -> Iterator[_Wish]:
    """Yield the channels that want a recorder and have none, in walking order."""
    site, open_ = known.site, set(untied(known.site))
    for device in site.walking_order(list(site.devices)):
        if device.key not in open_ or site.family_of(device) not in RECORDED:
            continue
        model = site.model_of(device)
        own = model.capacity.channels if model and model.capacity else None
        if site.family_of(device) == "encoder" and own:
            yield from (_Wish(device, number) for number in range(1, own + 1))
        else:
            yield _Wish(device, None)


def _movable(known: LinkIndex, fixed: Collection[int], recorders: list[Device]) -> Iterator[_Wish]:
    keys = {recorder.key for recorder in recorders}
    for at, link in enumerate(known.site.links):
        start = known.site.device_by_key.get(link.from_)
        if link.kind == "records" and link.to in keys and at not in fixed and start is not None:
            yield _Wish(start, link.from_channel, at)


def _item(known: LinkIndex, wish: _Wish, recorders: list[Device]) -> Item:
    allowed = tuple(at for at, recorder in enumerate(recorders) if _may_record(known, wish.device, recorder))
    home = None
    if wish.position is not None:
        target = known.site.links[wish.position].to
        home = next((at for at, recorder in enumerate(recorders) if recorder.key == target), None)
        if not allowed and home is not None:  # it stays a wish, as somebody wrote it, while there is room for it
            allowed = (home,)
    return Item(ceil(known.mbps.get(wish.device.model, 0.0) * 1000 - 1e-6), allowed, home)


def _may_record(known: LinkIndex, device: Device, recorder: Device) -> bool:
    link = Link.model_construct(kind="records", from_=device.key, to=recorder.key)
    return not gap_of_route(known, link, "codec")


def _loads(known: LinkIndex, recorders: list[Device], away: Collection[int]) -> list[Load]:
    """Return what the recorders take in, without the links at the positions `away`."""
    site = known.site
    used = {recorder.key: empty_load(site.model_of(recorder)) for recorder in recorders}
    for at, link in enumerate(site.links):
        start = site.device_by_key.get(link.from_)
        if link.kind == "records" and link.to in used and start is not None and at not in away:
            used[link.to].add(at, start.key, known.rate(link, start))
    return list(used.values())


def _bins(loads: Iterable[Load]) -> list[Bin]:
    """Return what is free at the recorders."""
    found = []
    for load in loads:
        spent = ceil(load.mbps * 1000 - 1e-6)
        seats = None if load.seats is None else max(0, load.seats)
        rate = None if load.most_mbps is None else max(0, floor(load.most_mbps * 1000 + 1e-6) - spent)
        found.append(Bin(seats, rate, load.channels, spent))
    return found


def _packed(how: _Pack, wishes: list[_Wish], items: list[Item], loads: list[Load]) -> Packing:
    """Return a packing of the items into what is free at the recorders.

    Where a recorder counts a licence a device, the first channels of all devices are packed before the further ones,
    which then go home, or where the device has its licence already, before they take another one.
    """
    if not any(load.per_device and load.licences is not None for load in loads):
        return how(items, _bins(loads))
    first = {wish.device.key: at for at, wish in reversed(list(enumerate(wishes)))}
    order = sorted(first.values())
    packing = how([items[at] for at in order], _bins(loads))
    bins: list[int | None] = [None] * len(items)
    loads = [replace(load, devices=set(load.devices), beyond={}) for load in loads]

    def put(at: int, into: int) -> None:
        loads[into].add(at, wishes[at].device.key, items[at].rate / 1000)
        bins[at] = into

    for at, place in zip(order, packing.bins, strict=True):
        if place is not None:
            put(at, place)
    for at, item in enumerate(items):
        key = wishes[at].device.key
        there = sorted(item.allowed, key=lambda into: (into != item.home, key not in loads[into].devices))
        into = next((into for into in there if loads[into].room_for(item.rate / 1000, key)), None)
        if bins[at] is None and into is not None:
            put(at, into)
    return Packing(tuple(bins), packing.proved and None not in bins)


def _change(known: LinkIndex, wish: _Wish, recorder: Device | None) -> Change | None:
    """Return the change that ties a wish to a recorder (None: that takes it out), None where nothing changes."""
    if wish.position is None:
        if recorder is None:
            return None
        link = Link(kind="records", from_=wish.device.key, to=recorder.key, from_channel=wish.channel)
        return Change("add", link, f"{recorder.label} has room, and the walk leads past it.")
    link = known.site.links[wish.position]
    if recorder is None:
        why = f"{known.site.label_of(link.to)} has no room for it, and no other recorder that could take it has."
        return Change("remove", link, why, wish.position)
    if link.to == recorder.key:
        return None
    why = f"{known.site.label_of(link.to)} has no room for all; {recorder.label} has."
    return Change("move", link.model_copy(update={"to": recorder.key, "slot": None}), why, wish.position)


def _short(
    known: LinkIndex,
    wishes: list[_Wish],
    items: list[Item],
    bins: list[Bin],
    packing: Packing,
    recorders: list[Device],
) -> Iterator[str]:
    """Yield what is short for those left out, each limit told apart."""
    alone = [at for at in packing.left if not items[at].allowed]
    rest = [at for at in packing.left if items[at].allowed]
    yield from (f"No recorder can take {known.site.label_of(wishes[at].device.key)}." for at in alone)
    if not rest:
        return
    wanted = len(items)
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
        said.append(_why_nowhere(items, bins, packing, rest, recorders))
    yield f"{'; '.join(said)}."


def _why_nowhere(items: list[Item], bins: list[Bin], packing: Packing, rest: list[int], recorders: list[Device]) -> str:
    """Return why some fit nowhere although all recorders together have enough of everything."""
    taken = [packing.bins.count(into) for into in range(len(bins))]
    open_ = {into for into, place in enumerate(bins) if place.seats is None or place.seats > taken[into]}
    by_rate = [at for at in rest if open_.intersection(items[at].allowed)]
    if by_rate:
        most = max(items[at].rate for at in by_rate) / 1000
        return f"no recorder has {most:g} Mbit/s left in one piece"
    names = dict.fromkeys(recorders[into].label for at in rest for into in items[at].allowed)
    return f"{' and '.join(names)} {'has' if len(names) == 1 else 'have'} no channel left for them"


def _licences_first(known: LinkIndex, recorder: Device) -> bool:
    load = known.loads[recorder.key]
    return load.licences is not None and (load.most_channels is None or load.licences < load.most_channels)
