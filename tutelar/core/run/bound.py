"""How short no run of this bench work can be, proved, so that the distance to the best is always known.

Four arguments, each a relaxation of the run model; the largest counts:
- a chain, with what it waits for before it and what waits for it behind it, cannot be shortened;
- a twin group, a bench port and a hand do one thing at a time: the least head, all the work and the least tail of
  any part of the work must fit in a row (the one-machine bound of Carlier 1982, shared out over several hands or
  ports as in Carlier 1987);
- laptops must be set at least as often as full benches of devices need it, which is hand work as well;
- one technician who leaves a twin group's subnet to work elsewhere can hide at most one wait of the group in each
  absence.
"""

from collections import defaultdict
from dataclasses import dataclass
from math import ceil, floor

from tutelar.core.run.task import ANYWHERE, IN_SITE, Task, by_precedence


@dataclass(frozen=True, slots=True)
class Bound:
    """Seconds that no run can beat, and the reason in words."""

    seconds: float
    why: str


def lower_bound(task: Task) -> Bound:
    """Return the proved bound of a task of which nothing has begun; 0 seconds where there is nothing to do."""
    if task.count == 0:
        return Bound(0, "there is nothing to do")
    heads, tails = _heads(task), _tails(task)
    found = [_chain(task, heads, tails), _hands(task, heads, tails), _changes(task), _ports(task, heads, tails)]
    groups = sorted({group for group in task.twin if group >= 0})
    for group in groups:
        found.append(_twins(task, group, heads, tails))
        if task.technicians == 1:
            found.append(_absences(task, group))
    best = max(found, key=lambda item: item.seconds)
    return Bound(floor(best.seconds * 1000 + 1e-6) / 1000, best.why)


def _heads(task: Task) -> list[float]:
    """Return how soon each piece could start if everything else were out of the way."""
    heads = [0.0] * (4 * task.count)
    for device in by_precedence(task):
        ready = 0.0
        for piece in range(4 * device, 4 * device + 4):
            ready = max([ready, *(heads[4 * other + 3] + task.seconds[4 * other + 3] for other in task.waits[piece])])
            heads[piece] = max(ready, task.adapter_s) if task.need[piece] > IN_SITE else ready
            ready = heads[piece] + task.seconds[piece] + task.lag[piece]
    return heads


def _tails(task: Task) -> list[float]:
    """Return how long it takes at least from the end of each piece to the end of all that hangs on it."""
    followers: dict[int, list[int]] = defaultdict(list)
    for piece, others in enumerate(task.waits):
        for other in others:
            followers[other].append(piece)
    tails = [0.0] * (4 * task.count)
    for device in reversed(by_precedence(task)):
        for piece in range(4 * device + 3, 4 * device - 1, -1):
            after = task.lag[piece]
            if piece % 4 < 3:
                after += task.seconds[piece + 1] + tails[piece + 1]
            else:
                after = max([after, *(task.seconds[item] + tails[item] for item in followers[device])])
            if task.need[piece] > IN_SITE:
                after = max(after, task.adapter_s)  # somebody sets that laptop back
            tails[piece] = after
    return tails


def _chain(task: Task, heads: list[float], tails: list[float]) -> Bound:
    longest, piece = max((heads[at] + task.seconds[at] + tails[at], at) for at in range(4 * task.count))
    return Bound(longest, f"{task.devices[piece // 4].label} alone takes that long, with what it waits for")


def _packed(jobs: list[tuple[float, float, float]], machines: int) -> float:
    """Return the bound for (head, seconds, tail) jobs on so many machines, over sets of late heads and long tails."""
    sums: dict[tuple[float, float], list[float]] = {}
    for head, seconds, tail in jobs:
        entry = sums.setdefault((head, tail), [0, 0.0])
        entry[0] += 1
        entry[1] += seconds
    best = 0.0
    all_heads, all_tails = sorted({head for head, _ in sums}), sorted({tail for _, tail in sums})
    for least_head in all_heads:
        late = [(key, entry) for key, entry in sums.items() if key[0] >= least_head]
        for least_tail in all_tails:
            part = [(key, entry) for key, entry in late if key[1] >= least_tail]
            many = int(sum(entry[0] for _, entry in part))
            if many < machines:
                continue
            work = sum(entry[1] for _, entry in part)
            heads = _smallest([(key[0], int(entry[0])) for key, entry in part], machines)
            tails = _smallest([(key[1], int(entry[0])) for key, entry in part], machines)
            best = max(best, (heads + work + tails) / machines)
    return best


def _smallest(values: list[tuple[float, int]], wanted: int) -> float:
    """Return the sum of so many of the smallest values, given as (value, how often)."""
    total = 0.0
    for value, times in sorted(values):
        took = min(times, wanted)
        total += value * took
        wanted -= took
        if wanted == 0:
            break
    return total


def _hands(task: Task, heads: list[float], tails: list[float]) -> Bound:
    jobs = [(heads[at], task.seconds[at], tails[at]) for at in range(4 * task.count) if task.seconds[at]]
    return Bound(_packed(jobs, task.technicians), "there is that much to do by hand")


def _ports(task: Task, heads: list[float], tails: list[float]) -> Bound:
    jobs = []
    for device in range(task.count):
        first = 4 * device
        stay = sum(task.seconds[first : first + 4]) + sum(task.lag[first : first + 3])
        jobs.append((heads[first], stay, tails[first + 3]))
    return Bound(_packed(jobs, len(task.begun.port_free)), "the bench has too few ports for less")


def _twins(task: Task, group: int, heads: list[float], tails: list[float]) -> Bound:
    members = [device for device in range(task.count) if task.twin[device] == group]
    jobs = [(heads[4 * at], task.spans[at], tails[4 * at + 2]) for at in members]
    return Bound(_packed(jobs, 1), f"{len(members)} devices start at one address and must come one after the other")


def _away(task: Task) -> tuple[int, dict[int, int]]:
    """Return how many devices need the laptop away from the site and are looked at in it, in all and by subnet."""
    where: dict[int, int] = defaultdict(int)
    for device in range(task.count):
        places = {task.need[4 * device + 1], task.need[4 * device + 2]} - {ANYWHERE, IN_SITE}
        if places and task.need[4 * device + 3] == IN_SITE:
            where[places.pop()] += 1
    return sum(where.values()), where


def _settings(task: Task) -> int:
    """Return how many laptop changes there are at least.

    A device configured in a factory subnet keeps its bench port until it is looked at in the site network. So one
    technician's stay away serves at most as many devices as there are ports, in all and in each subnet. Several
    technicians can share places: then each subnet is entered once, and somebody comes back.
    """
    everywhere, where = _away(task)
    if everywhere == 0:
        return 0
    ports = len(task.begun.port_free)
    if task.technicians > 1:
        return len(where) + 1
    return ceil(everywhere / ports) + sum(ceil(many / ports) for many in where.values())


def _changes(task: Task) -> Bound:
    changes = _settings(task)
    work = sum(task.seconds) + task.adapter_s * changes
    return Bound(
        work / task.technicians, f"there is that much to do by hand, at least {changes} laptop changes included"
    )


def _absences(task: Task, group: int) -> Bound:
    """Return the bound for one technician and a twin group in a factory subnet.

    While the laptop is elsewhere, nothing of the group is done by hand, so each absence overlaps one wait of it.
    """
    members = [device for device in range(task.count) if task.twin[device] == group]
    home = {task.need[4 * at + step] for at in members for step in (1, 2)} - {ANYWHERE}
    everywhere, where = _away(task)
    if len(home) != 1 or IN_SITE in home or not where or not _whole(task, members):
        return Bound(0, "")
    place = home.pop()
    elsewhere = sum(task.seconds[at] for at, need in enumerate(task.need) if need not in (ANYWHERE, place))
    waits = sorted(
        (task.lag[4 * at + step] for at in members for step in (0, 1) if task.lag[4 * at + step]), reverse=True
    )
    ports = len(task.begun.port_free)
    returns = ceil(everywhere / ports)
    others = sum(ceil(many / ports) for subnet, many in where.items() if subnet != place)
    least = ceil(where.get(place, 0) / ports)
    lost = min(
        task.adapter_s * max(entries + returns + others, 2 * entries) - sum(waits[:entries])
        for entries in range(least, max(least, len(waits)) + 1)
    )
    busy = sum(task.spans[at] for at in members)
    return Bound(busy + elsewhere + lost, f"{len(members)} devices start at one address, and the laptop must leave it")


def _whole(task: Task, members: list[int]) -> bool:
    """Return whether all of them are activated and configured by hand, as the arguments about waits need it."""
    return all(task.seconds[4 * at + step] for at in members for step in (1, 2))
