"""Daylight saving in the form that devices ask for: nth or last weekday of a month at an hour, and a bias.

Method: of each turn of the first year every way to say it is tried; the one that holds for most years wins, "last"
before "4th" and the plain hour before 24:00 where several hold equally long (docs/sources.md, clocks).
"""

from calendar import monthrange
from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass
from datetime import UTC, datetime, timedelta
from itertools import takewhile
from typing import Any, Literal

from tutelar.core.clock.zones import Transition, offset_min, posix_rule, transitions, zone_named

Week = Literal[1, 2, 3, 4, "last"]


@dataclass(frozen=True, slots=True)
class Turn:
    """When a clock is turned: `weekday` 0 = Monday; `hour` 0–24 by the clock just before (24 = end of that day)."""

    month: int
    week: Week
    weekday: int
    hour: int
    minute: int


@dataclass(frozen=True, slots=True)
class ClockRule:
    """How a device in the zone is set: minutes ahead of UTC, start and end of the later clock (None: no such form).

    `turned` tells whether the clock is turned in the first year at all, be it in a form that devices know or not.
    `holds_until` is the last year in which the rule gives every turn, None when it does in all years asked.
    """

    zone: str
    utc_offset_min: int
    start: Turn | None
    end: Turn | None
    bias_min: int
    holds_until: int | None
    posix: str
    note: str
    turned: bool = True

    def as_dict(self) -> dict[str, Any]:
        """Return the rule as the contract prints it."""
        rule = None
        if self.start is not None and self.end is not None:
            rule = {"start": asdict(self.start), "end": asdict(self.end), "bias_min": self.bias_min}
        return {
            "zone": self.zone,
            "utc_offset_min": self.utc_offset_min,
            "rule": rule,
            "holds_until": self.holds_until,
            "posix": self.posix,
            "note": self.note,
        }


def clock_rule(name: str, first: int, years: int) -> ClockRule:
    """Return the rule that holds longest from the first year on. Raises UnknownZone."""
    zone = zone_named(name)
    turns = {year: transitions(zone, year) for year in range(first, first + years)}
    opening = turns[first]
    offset = offset_min(zone, datetime(first, 1, 1, tzinfo=UTC))

    def plain(note: str) -> ClockRule:
        return ClockRule(name, offset, None, None, 0, None, posix_rule(name), note, turned=bool(opening))

    if not opening:
        later = next((year for year in turns if turns[year]), None)
        if later is None:
            return plain("No daylight saving: switch it off on the device; a template left on makes it an hour wrong.")
        return plain(f"No daylight saving in {first}, but the clock is turned in {later}: look again before that year.")
    if not _is_pair(opening):
        return plain(_no_form(first, turns))
    begins, ends = _later_and_earlier(opening)
    base, bias = begins.before, begins.after - begins.before
    fitting = [year for year in turns if _same_pair(turns[year], base, bias)]
    run = _unbroken(first, fitting)
    starts = _held(begins, [_later_and_earlier(turns[year])[0] for year in run])
    over = _held(ends, [_later_and_earlier(turns[year])[1] for year in run])
    holds = min(max(starts.values()), max(over.values()))  # beyond that the other turn is wrong
    start, end = (next(way for way, years in ways.items() if years >= holds) for ways in (starts, over))
    last = first + holds - 1
    until = None if last == first + years - 1 else last
    note = _said(start, end, bias)
    if until is not None:
        note += f" After {until} it gives wrong days: set it again by then."
    return ClockRule(name, base, start, end, bias, until, posix_rule(name), note)


def _is_pair(turns: Sequence[Transition]) -> bool:
    """Whether the year has one turn forward and one back by the same amount."""
    if len(turns) != 2:
        return False
    one, other = turns
    return one.before == other.after and one.after == other.before


def _same_pair(turns: Sequence[Transition], base: int, bias: int) -> bool:
    return _is_pair(turns) and {turns[0].before, turns[0].after} == {base, base + bias}


def _later_and_earlier(turns: Sequence[Transition]) -> tuple[Transition, Transition]:
    """Return (the turn that begins the later clock, the one that ends it)."""
    one, other = turns
    return (one, other) if one.after > one.before else (other, one)


def _unbroken(first: int, years: Sequence[int]) -> list[int]:
    found: list[int] = []
    for year in years:
        if year != first + len(found):
            break
        found.append(year)
    return found


def _ways(turn: Transition) -> Iterator[Turn]:
    """Yield every way to say a turn, the preferred ones first."""
    wall = (turn.at + timedelta(minutes=turn.before)).replace(tzinfo=None)
    moments = [(wall, wall.hour)]
    if (wall.hour, wall.minute) == (0, 0):
        moments.append((wall - timedelta(days=1), 24))
    for day, hour in moments:
        in_month = monthrange(day.year, day.month)[1]
        weeks: list[Week] = ["last"] if day.day + 7 > in_month else []
        number = (day.day - 1) // 7 + 1
        if number <= 4:
            weeks.append(number)  # type: ignore[arg-type]
        for week in weeks:
            yield Turn(day.month, week, day.weekday(), hour, wall.minute)


def _held(first: Transition, all_years: Sequence[Transition]) -> dict[Turn, int]:
    """Return the ways to say the first turn, the preferred ones first, and for how many years on end each holds."""
    said = [set(_ways(turn)) for turn in all_years]
    return {way: len(list(takewhile(lambda ways, way=way: way in ways, said))) for way in _ways(first)}  # type: ignore[misc]


_MONTHS = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)
_DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
_WEEKS = {1: "first", 2: "second", 3: "third", 4: "fourth", "last": "last"}


def spoken_turn(turn: Turn) -> str:
    """Return "last Sunday of March at 01:00"."""
    when = f"{turn.hour:02d}:{turn.minute:02d}"
    return f"{_WEEKS[turn.week]} {_DAYS[turn.weekday]} of {_MONTHS[turn.month - 1]} at {when}"


def _said(start: Turn, end: Turn, bias: int) -> str:
    return f"{bias} minutes later from the {spoken_turn(start)} until the {spoken_turn(end)}."


def _no_form(first: int, turns: dict[int, tuple[Transition, ...]]) -> str:
    count = len(turns[first])
    stopped = [year for year in turns if not turns[year]]
    if count == 1 and first + 1 in stopped:
        after = turns[first][0].after
        hours = f"{after // 60:+d} h {abs(after) % 60:02d} min" if after % 60 else f"{after // 60:+d} h"
        return f"The clock is turned once more in {first} and then stays at UTC {hours}: no rule form fits until then."
    years = [str(year) for year in turns if turns[year] and not _is_pair(turns[year])]
    return (
        f"The clock is turned {count} times in {first}: no rule form fits in {', '.join(years[:6])}"
        f"{' and later years' if len(years) > 6 else ''}. Set the device by network time, or by hand each time."
    )
