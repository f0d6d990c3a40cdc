"""Which recorder takes which camera: channels and Mbit/s of several recorders filled evenly, none beyond its limits.

First in walking order, each recorder to the same share (the smallest that holds all, found by bisection). Where that
leaves somebody out: best fit with the largest first, then up to two exchanged for two while it relieves a full one.
Last a search depth first with a bound on the steps, which either finds room for more or proves that there is none
(bin packing in two dimensions with restrictions: NP-hard in general, small here, with few models and recorders).
"""

from collections.abc import Sequence
from dataclasses import dataclass

STEPS = 20_000
_DEEPEST = 400  # items that are searched one below the other
_SLACK = 1e-9


@dataclass(frozen=True, slots=True)
class Item:
    """Something that wants a channel: its kbit/s and the bins that may take it, by number; `home` where it is now."""

    rate: int
    allowed: tuple[int, ...]
    home: int | None = None


@dataclass(frozen=True, slots=True)
class Bin:
    """What is free at a recorder: channels and kbit/s (None: no limit that is known), and what it has already."""

    seats: int | None
    rate: int | None
    used_seats: int = 0
    used_rate: int = 0


@dataclass(frozen=True, slots=True)
class Packing:
    """For each item its bin or None; `proved`: no placement leaves fewer of them out."""

    bins: tuple[int | None, ...]
    proved: bool

    @property
    def left(self) -> list[int]:
        """Positions of the items that found no bin."""
        return [at for at, place in enumerate(self.bins) if place is None]


class _Room:
    """Bins being filled."""

    def __init__(self, items: Sequence[Item], bins: Sequence[Bin]) -> None:
        self.items = items
        self.seats = [float("inf") if item.seats is None else float(item.seats) for item in bins]
        self.rates = [float("inf") if item.rate is None else item.rate for item in bins]
        self.place: list[int | None] = [None] * len(items)

    def fits(self, at: int, into: int) -> bool:
        return self.seats[into] >= 1 and self.rates[into] + _SLACK >= self.items[at].rate

    def put(self, at: int, into: int | None) -> None:
        before = self.place[at]
        if before is not None:
            self.seats[before] += 1
            self.rates[before] += self.items[at].rate
        if into is not None:
            self.seats[into] -= 1
            self.rates[into] -= self.items[at].rate
        self.place[at] = into


def pack(items: Sequence[Item], bins: Sequence[Bin], steps: int = STEPS) -> Packing:
    """Return a place for as many items as possible, evenly, in the given order; the same input gives the same."""
    even = _evenly(items, bins)
    if even is not None:
        return Packing(tuple(even), True)
    room = _best_fit(items, bins)
    _repair(room)
    placed = sum(place is not None for place in room.place)
    most = _upper_bound(items, bins)
    proved = placed == most
    while not proved:
        found, finished = _search(items, bins, placed + 1, steps)
        if found is None:
            proved = finished
            break
        room.place, placed = found, sum(place is not None for place in found)
        proved = placed == most
    return Packing(tuple(room.place), proved)


def keep_home(items: Sequence[Item], bins: Sequence[Bin]) -> Packing:
    """Return a packing in which items stay at home where that is possible, and as few as need be move."""
    room = _Room(items, bins)
    for at, item in enumerate(items):
        if item.home is not None and item.home in item.allowed and room.fits(at, item.home):
            room.put(at, item.home)
    for at in sorted(range(len(items)), key=lambda at: (-items[at].rate, at)):
        if room.place[at] is None:
            _put_best(room, at)
    _repair(room)
    if None not in room.place:
        return Packing(tuple(room.place), True)
    anew = pack(items, bins)
    return anew if len(anew.left) < room.place.count(None) else Packing(tuple(room.place), anew.proved)


def _evenly(items: Sequence[Item], bins: Sequence[Bin]) -> list[int | None] | None:
    """Return the items in order over the bins, each filled to the same smallest share, None where not all fit."""
    low, high = 0.0, 1.0
    best = _filled(items, bins, 1.0)
    if best is None:
        return None
    for _ in range(24):
        share = (low + high) / 2
        found = _filled(items, bins, share)
        if found is None:
            low = share
        else:
            best, high = found, share
    return best


def _filled(items: Sequence[Item], bins: Sequence[Bin], share: float) -> list[int | None] | None:
    known = [item.seats + item.used_seats for item in bins if item.seats is not None]
    usual = max(known, default=max(16, len(items)))
    seats, rates = [], []
    for item in bins:
        whole = item.seats + item.used_seats if item.seats is not None else max(usual, len(items))
        seats.append(min(whole * share + _SLACK - item.used_seats, whole if item.seats is None else item.seats))
        rates.append(
            float("inf")
            if item.rate is None
            else min((item.rate + item.used_rate) * share - item.used_rate, item.rate) + _SLACK
        )
    found: list[int | None] = [None] * len(items)
    current = 0
    bound = [at for at, item in enumerate(items) if len(item.allowed) == 1]  # their seats are kept for them
    for at in (*bound, *(at for at, item in enumerate(items) if len(item.allowed) != 1)):
        wanted = items[at]
        order = [*(to for to in wanted.allowed if to >= current), *(to for to in wanted.allowed if to < current)]
        into = next((to for to in order if seats[to] >= 1 and rates[to] >= wanted.rate), None)
        if into is None:
            return None
        seats[into] -= 1
        rates[into] -= wanted.rate
        found[at] = into
        current = into if len(wanted.allowed) > 1 else current
    return found


def _best_fit(items: Sequence[Item], bins: Sequence[Bin]) -> _Room:
    """Fill with the largest first; where rates decide who must stay out, the largest would, so the rest goes on."""
    room = _Room(items, bins)
    for at in sorted(range(len(items)), key=lambda at: (len(items[at].allowed), -items[at].rate, at)):
        _put_best(room, at)
    small = _Room(items, bins)
    for at in sorted(range(len(items)), key=lambda at: (items[at].rate, len(items[at].allowed), at)):
        _put_best(small, at)
    return room if room.place.count(None) <= small.place.count(None) else small


def _put_best(room: _Room, at: int) -> bool:
    """Put an item where the least is left over beside it, in relation to the channels that are left."""
    item = room.items[at]
    fitting = [into for into in item.allowed if room.fits(at, into)]
    if not fitting:
        return False
    room.put(at, min(fitting, key=lambda into: (room.rates[into] / max(room.seats[into], 1), into)))
    return True


def _repair(room: _Room) -> None:
    """Make room for those left out: squeeze them in, then exchange up to two for two between bins until none is over.

    Whoever cannot be helped is taken out again.
    """
    for at in sorted((at for at, place in enumerate(room.place) if place is None), key=lambda at: room.items[at].rate):
        if _put_best(room, at):
            continue
        before = list(room.place)
        open_ = [into for into in room.items[at].allowed if room.seats[into] >= 1]
        if not open_ and not _free_a_seat(room, at):
            continue
        if open_:
            room.put(at, max(open_, key=lambda into: (room.rates[into], -into)))
        if not _relieve(room):
            for other, place in enumerate(before):
                if room.place[other] != place:
                    room.put(other, None)
            for other, place in enumerate(before):
                if room.place[other] != place:
                    room.put(other, place)


def _free_a_seat(room: _Room, at: int) -> bool:
    """Move one aside from a bin that the item may use to one with a free seat, and put the item there."""
    for other, into in enumerate(room.place):
        if into is None or into not in room.items[at].allowed:
            continue
        aside = next((to for to in room.items[other].allowed if to != into and room.seats[to] >= 1), None)
        if aside is not None:
            room.put(other, aside)
            room.put(at, into)
            return True
    return False


def _relieve(room: _Room, most: int = 60) -> bool:
    """Exchange items until no bin is over its rate; return whether that was reached."""
    for _ in range(most):
        over = [into for into, left in enumerate(room.rates) if left < -_SLACK]
        if not over:
            return True
        best = None
        for one in over:
            for other in range(len(room.rates)):
                if other != one:
                    found = _best_exchange(room, one, other)
                    if found is not None and (best is None or found[0] > best[0]):
                        best = (*found, one, other)
        if best is None:
            return False
        _, out, back, one, other = best
        for at in (*out, *back):
            room.put(at, None)
        for at in out:
            room.put(at, other)
        for at in back:
            room.put(at, one)
    return all(left >= -_SLACK for left in room.rates)


def _best_exchange(room: _Room, one: int, other: int) -> tuple[float, tuple[int, ...], tuple[int, ...]] | None:
    """Return the exchange from an overfull bin to another that takes away the most of what is over, None if none."""
    best: tuple[float, tuple[int, ...], tuple[int, ...]] | None = None
    leaving, coming = _handfuls(room, one, other), _handfuls(room, other, one)
    over = max(0.0, -room.rates[one]) + max(0.0, -room.rates[other])
    for gone, out in leaving.items():
        for came, back in coming.items():
            gain = gone[0] - came[0]
            seats = gone[1] - came[1]
            if gain <= 0 or room.seats[one] + seats < 0 or room.seats[other] - seats < 0:
                continue
            now = max(0.0, -room.rates[one] - gain) + max(0.0, gain - room.rates[other])
            if over - now > _SLACK and (best is None or over - now > best[0]):
                best = (over - now, out, back)
    return best


def _handfuls(room: _Room, where: int, to: int) -> dict[tuple[int, int], tuple[int, ...]]:
    """Return none, one or two items of a bin that may go to another, one example for each (rate, number)."""
    first: dict[int, list[int]] = {}
    for at, place in enumerate(room.place):
        if place == where and to in room.items[at].allowed and len(first.setdefault(room.items[at].rate, [])) < 2:
            first[room.items[at].rate].append(at)
    some = [at for group in first.values() for at in group]
    found: dict[tuple[int, int], tuple[int, ...]] = {(0, 0): ()}
    for number, at in enumerate(some):
        found.setdefault((room.items[at].rate, 1), (at,))
        for other in some[:number]:
            found.setdefault((room.items[at].rate + room.items[other].rate, 2), (other, at))
    return found


def _upper_bound(items: Sequence[Item], bins: Sequence[Bin]) -> int:
    """Return a number of items that no packing passes: by channels, and by the smallest rates against all rates."""
    seats = [item.seats for item in bins]
    total = len(items) if None in seats else sum(seat for seat in seats if seat is not None)
    rates = [item.rate for item in bins]
    by_rate = sum(1 for item in items if item.allowed)
    if None not in rates:
        left, by_rate = sum(rate for rate in rates if rate is not None) + _SLACK, 0
        for rate in sorted(item.rate for item in items if item.allowed):
            left -= rate
            if left < 0:
                break
            by_rate += 1
    return min(total, by_rate, sum(1 for item in items if item.allowed))


def _search(
    items: Sequence[Item], bins: Sequence[Bin], wanted: int, steps: int
) -> tuple[list[int | None] | None, bool]:
    """Return a packing of at least so many items or None, and whether the search came to its end."""
    if len(items) > _DEEPEST:
        return None, False
    order = sorted(range(len(items)), key=lambda at: (-items[at].rate, len(items[at].allowed), items[at].allowed, at))
    room = _Room(items, bins)
    skips = len(items) - wanted
    left, over = [steps], [False]

    def down(depth: int, may_skip: int) -> bool:
        if depth == len(order):
            return True
        left[0] -= 1
        if left[0] < 0:
            over[0] = True
            return False
        at = order[depth]
        item = items[at]
        tried: set[tuple[float, float, tuple[int, ...]]] = set()
        for into in sorted(item.allowed, key=lambda into: (room.rates[into], into)):
            like = (room.seats[into], room.rates[into], columns[into])
            if like in tried or not room.fits(at, into):
                continue
            tried.add(like)
            room.put(at, into)
            if down(depth + 1, may_skip):
                return True
            room.put(at, None)
            if over[0]:
                return False
        return may_skip > 0 and down(depth + 1, may_skip - 1)

    columns = [tuple(at for at, item in enumerate(items) if into in item.allowed) for into in range(len(bins))]
    found = down(0, skips)
    return (list(room.place), True) if found else (None, not over[0])
