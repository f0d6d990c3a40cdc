"""Which devices to plug elsewhere so that every switch has ports and watts enough, with the fewest cables moved.

A cable reaches what stands beside its switch: a device moves between switches of one place only, so that its cable
keeps its length. What nothing feeds yet may go anywhere, first to a switch where it stands itself.

Method: each move must leave a switch that is over its limit, as only that brings it under; so all sets of moves are
found by branching on the devices of one such switch, with more moves allowed step by step. Exact up to MOST_STEPS.
"""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field

from tutelar.core.loads.budget import Budget, budgets, can_feed, counted_watts, feeder_of, ports_taken, reserved_watts
from tutelar.core.site.connection import PoweredBy
from tutelar.core.site.feeding import PluggedInto
from tutelar.core.site.types import Device, Site

MOST_STEPS = 60_000
_ROUNDING = 1e-6
NOWHERE = ""  # where a device is that nothing feeds yet


@dataclass(frozen=True, slots=True)
class Move:
    """A device that is plugged elsewhere: from which switch ("" from none), to which one and its port there."""

    device: str
    from_: str
    to: str
    port: int | None


@dataclass(frozen=True, slots=True)
class Balance:
    """The moves, the devices that no powered port has room for, and the watts that each switch then counts."""

    moves: tuple[Move, ...]
    left: tuple[str, ...]
    counts_w: Mapping[str, float]


@dataclass(slots=True)
class _Rack:
    """What is plugged where: each device's switch, the watts and ports in use."""

    at: dict[str, str]
    watts: dict[str, float]
    ports: dict[str, int]


@dataclass(frozen=True)
class _Task:
    site: Site
    switches: dict[str, Budget]
    cost: dict[str, dict[str, float]]  # watts by device and switch
    may: dict[str, tuple[str, ...]]  # switches that each device may go to
    start: _Rack
    steps: list[int] = field(default_factory=lambda: [0])

    def over(self, rack: _Rack, key: str) -> bool:
        """Return whether a switch has more watts or plugs than it can."""
        row = self.switches[key]
        watts = row.budget_w is not None and rack.watts[key] > row.budget_w + _ROUNDING
        return watts or (row.ports is not None and rack.ports[key] > row.ports)

    def share(self, rack: _Rack) -> float:
        """Return how full the fullest switch is, 1 = its budget."""
        known = [(rack.watts[key], row.budget_w) for key, row in self.switches.items() if row.budget_w]
        return max((watts / budget for watts, budget in known), default=0.0)


def balance(site: Site) -> Balance:
    """Return the fewest moves after which no switch is over its budget or its ports and every device that wants power
    over its cable has it; of equally few the one that leaves the fullest switch least full. Devices that nowhere has
    room for are named, as few as possible."""
    task = _task(site)
    loose = [key for key, at in task.start.at.items() if at == NOWHERE]
    found = _placed(task, loose) if loose else None
    if found is None and not loose:
        found = _fewest(task, ())
    left: tuple[str, ...] = ()
    if found is None:
        found, left = _without_some(task, loose)
    return Balance(_moves(task, found), left, {key: found.watts[key] for key in task.switches})


def wants_power(site: Site, device: Device) -> bool:
    """Return whether a device is made to be fed over its network cable and nothing feeds it yet."""
    model = site.model_of(device)
    fed = feeder_of(site, device) is not None or device.fed is not None or device.behind is not None
    return not fed and reserved_watts(model) > 0


def _task(site: Site) -> _Task:
    rows = {
        row.device: row
        for row in budgets(site)
        if site.family_of(site.device_by_key[row.device]) == "switch" and row.budget_w is not None
    }
    places: dict[str | None, list[str]] = {}
    for key in rows:
        places.setdefault(site.device_by_key[key].place, []).append(key)
    start = _Rack(
        {}, {key: row.counts_w for key, row in rows.items()}, {key: row.ports_used for key, row in rows.items()}
    )
    cost: dict[str, dict[str, float]] = {}
    may: dict[str, tuple[str, ...]] = {}
    for device in site.devices:
        at = device.powered_by.device if device.powered_by is not None else None
        if at in rows and site.family_of(device) != "switch":
            start.at[device.key] = at
            own = site.device_by_key[at].place
            may[device.key] = tuple(key for key in places[own] if key != at) if own is not None else ()
        elif rows and wants_power(site, device):
            start.at[device.key] = NOWHERE
            may[device.key] = tuple(sorted(rows, key=lambda key: site.device_by_key[key].place != device.place))
        else:
            continue
        model = site.model_of(device)
        cost[device.key] = {
            key: counted_watts(site.model_of(site.device_by_key[key]), model)
            for key in {*rows} & {at, *may[device.key]}
        }
    return _Task(site, rows, cost, may, start)


def _moved(task: _Task, rack: _Rack, device: str, to: str) -> _Rack:
    at, watts, ports = dict(rack.at), dict(rack.watts), dict(rack.ports)
    if (old := at[device]) != NOWHERE:
        watts[old] -= task.cost[device][old]
        ports[old] -= 1
    at[device] = to
    watts[to] += task.cost[device][to]
    ports[to] += 1
    return _Rack(at, watts, ports)


def _placed(task: _Task, loose: Iterable[str]) -> _Rack | None:
    """Return the rack with every loose device in a switch without moving another one, the emptiest first or the
    fullest that has room; None where neither works."""
    if any(task.over(task.start, key) for key in task.switches):
        return None
    for emptiest in (True, False):
        rack: _Rack | None = task.start
        for device in sorted(loose, key=lambda key: (-max(task.cost[key].values(), default=0.0), key)):
            options = [(key, _moved(task, rack, device, key)) for key in task.may[device]] if rack else []
            fit = [(key, then) for key, then in options if not task.over(then, key)]
            own = task.site.device_by_key[device].place
            here = [item for item in fit if task.site.device_by_key[item[0]].place == own] or fit
            ranked = sorted(here, key=lambda item: (_full(task, item[1], item[0]) * (1 if emptiest else -1), item[0]))
            rack = ranked[0][1] if ranked else None
        if rack is not None:
            return rack
    return None


def _full(task: _Task, rack: _Rack, key: str) -> float:
    budget = task.switches[key].budget_w
    return rack.watts[key] / budget if budget else 1.0


def _fewest(task: _Task, left: Iterable[str]) -> _Rack | None:
    """Return the rack after the fewest moves that bring everything under its limits and leave nothing loose but what is
    left out; None where none is found."""
    out = frozenset(left)
    most = len(task.start.at)
    for moves in range(most + 1):
        best: tuple[float, _Rack] | None = None
        for rack in _racks(task, task.start, moves, frozenset(), out):
            share = task.share(rack)
            if best is None or share < best[0] - _ROUNDING:
                best = (share, rack)
        if best is not None:
            return best[1]
        if task.steps[0] > MOST_STEPS:
            return None
    return None


def _racks(task: _Task, rack: _Rack, moves: int, moved: frozenset[str], out: frozenset[str]) -> Iterator[_Rack]:
    task.steps[0] += 1
    loose = [key for key, at in rack.at.items() if at == NOWHERE and key not in out]
    wrong = next((key for key in task.switches if task.over(rack, key)), None)
    if not loose and wrong is None:
        yield rack
        return
    if moves == 0 or len(loose) > moves or task.steps[0] > MOST_STEPS:
        return
    here = loose[:1] if loose else [key for key, at in rack.at.items() if at == wrong and key not in moved]
    seen: set[tuple[object, ...]] = set()
    for device in sorted(here, key=lambda key: (-max(task.cost[key].values(), default=0.0), key)):
        for to in task.may[device]:
            alike = (tuple(sorted(task.cost[device].items())), task.may[device], to)
            if alike in seen:  # another device of the same watts leads to the same
                continue
            seen.add(alike)
            yield from _racks(task, _moved(task, rack, device, to), moves - 1, moved | {device}, out)


def _without_some(task: _Task, loose: list[str]) -> tuple[_Rack, tuple[str, ...]]:
    """Return the rack with as many of the loose devices in it as there is room for, and those left out."""
    order = sorted(loose, key=lambda key: (max(task.cost[key].values(), default=0.0), key))
    if loose and (found := _fewest(task, ())) is not None:
        return found, ()
    for number in range(len(order) - 1, -1, -1):
        task.steps[0] = 0
        out = tuple(order[number:])  # those that want most
        if number == 0 and (mended := _fewest(task, out)) is not None:
            return mended, out
        kept = order[:number]
        if kept and (found := _placed(task, kept)) is not None:
            return found, out
        if kept and (found := _fewest(task, out)) is not None:
            return found, out
    return task.start, tuple(order)


def _moves(task: _Task, rack: _Rack) -> tuple[Move, ...]:
    taken = ports_taken(task.site)
    leave = {key for key, at in rack.at.items() if task.start.at[key] != at}
    for key in leave:
        device = task.site.device_by_key[key]
        if device.powered_by is not None and device.powered_by.port is not None:
            taken.get(device.powered_by.device, set()).discard(device.powered_by.port)
    found = []
    for key, to in rack.at.items():
        if key not in leave:
            continue
        mine = taken.setdefault(to, set())
        ports = task.switches[to].ports
        port = next((number for number in range(1, (ports or 0) + 1) if number not in mine), None)
        if port is not None:
            mine.add(port)
        found.append(Move(key, task.start.at[key], to, port))
    return tuple(found)


def after_moves(site: Site, moves: Iterable[Move]) -> Site:
    """Return the site with the devices plugged where the moves say."""
    by_device = {move.device: move for move in moves}
    devices = tuple(_plugged(item, by_device[item.key]) if item.key in by_device else item for item in site.devices)
    return site.model_copy(update={"devices": devices})


def _plugged(device: Device, move: Move) -> Device:
    update: dict[str, object] = {"powered_by": PoweredBy(device=move.to, port=move.port)}
    if device.plugged_into is not None:
        update["plugged_into"] = PluggedInto(device=move.to, port=move.port)
    return device.model_copy(update=update)


def other_homes(site: Site, rows: Iterable[Budget], device: Device) -> list[tuple[str, float]]:
    """Return the switches and powered ports that could feed a device besides its own, with the watts that each would
    have left, the most first."""
    own = feeder_of(site, device)
    found = []
    for row in rows:
        feeder = site.model_of(site.device_by_key[row.device])
        if row.device in (own, device.key) or row.spare_w is None or not can_feed(feeder):
            continue
        if site.family_of(site.device_by_key[row.device]) not in ("switch", "injector"):
            continue
        room = row.ports is None or row.ports_used < row.ports
        spare = row.spare_w - counted_watts(feeder, site.model_of(device))
        if room and spare >= -_ROUNDING:
            found.append((row.device, spare))
    return sorted(found, key=lambda item: -item[1])
