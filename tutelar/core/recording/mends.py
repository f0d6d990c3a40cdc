"""What one press would put right in a pattern: gaps, overlaps, periods past midnight or without length, too many of
them on a day.

A mend touches one thing and leaves the rest of the week as it is; pressing it takes exactly the problem that it names.
"""

from collections.abc import Iterable, Iterator, Mapping
from typing import NamedTuple

from tutelar.core.recording.week import day_of, gaps, wrong_periods
from tutelar.core.site.recording import Pattern, Period
from tutelar.core.site.weeks import DAY_MIN, DAY_WORDS, DAYS, WEEKDAYS, clock_of, minutes_of
from tutelar.core.wording import count, listed


class Mend(NamedTuple):
    """One press: what is wrong in words, what the press does, on which days of the pattern it tells, and the pattern
    afterwards. `code` is that of the problem, `from_min` and `to_min` the stretch of the day that it is about."""

    code: str
    pattern: str
    days: tuple[str, ...]
    from_min: int
    to_min: int
    said: str
    press: str
    after: Pattern


def day_range(days: Iterable[str]) -> str:
    """Return days as people say them: "Monday to Thursday", "Monday and Saturday"; runs of three or more are joined."""
    order = [day for day in DAYS if day in set(days)]
    runs: list[list[str]] = []
    for day in order:
        if runs and day != "holiday" and DAYS.index(day) == DAYS.index(runs[-1][-1]) + 1:
            runs[-1].append(day)
        else:
            runs.append([day])
    said = []
    for run in runs:
        words = [DAY_WORDS[day] for day in run]
        said += [f"{words[0]} to {words[-1]}"] if len(run) > 2 else words
    return listed(said)


def as_days(pattern: Pattern, day: str) -> str | None:
    """Return the day that this one names, or falls back on, directly; None where it has periods of its own."""
    said = pattern.week.get(day, "sun" if day == "holiday" else "mon")
    return said if isinstance(said, str) else None


def alike(pattern: Pattern, day: str) -> tuple[str, ...]:
    """Return the days that come out at this day's own periods, the day itself among them."""
    found = []
    for name in DAYS:
        at, seen = name, set[str]()
        while at not in seen and at in DAYS and (other := as_days(pattern, at)) is not None:
            seen.add(at)
            at = other
        if at == day:
            found.append(name)
    return tuple(found)


def own_periods(pattern: Pattern, day: str) -> tuple[Period, ...]:
    """Return the periods that are written down for a day itself, () where it is empty or as another."""
    said = pattern.week.get(day, ())
    return () if isinstance(said, str) else said


def with_day(pattern: Pattern, day: str, periods: Iterable[Period]) -> Pattern:
    """Return the pattern with other periods on one day, sorted by their beginning."""
    return pattern.model_copy(update={"week": {**pattern.week, day: _sorted(periods)}})


def period(begin: int, end: int, mode: str) -> Period:
    """Return a period from minutes since midnight."""
    return Period.model_validate({"from": clock_of(begin), "to": clock_of(end), "mode": mode})


def mends_of(pattern: Pattern, most: int | None = None) -> Iterator[Mend]:
    """Yield a mend for everything that is wrong with the days of a pattern, in the order of the week; `most` periods
    are taken on a day (None: not known). A day that has gaps only because it is broken otherwise gets no mend for them
    until that is mended."""
    for day in DAYS:
        own = own_periods(pattern, day)
        if not own:
            continue
        days = alike(pattern, day)
        broken = False
        for what, item, other in wrong_periods(own):
            broken = True
            yield _broken(pattern, day, days, what, item, other)
        if broken:
            continue
        for begin, end in gaps(own):
            yield _gap(pattern, day, days, begin, end)
        if most is not None and len(own) > most and (joined := _joined(own)) is not None:
            left, mode = joined
            yield Mend(
                "recording.too-many-periods", pattern.key, days, 0, DAY_MIN,
                f"{day_range(days)}: {len(own)} periods, the recorder takes {most}",
                f"Join two that follow each other, {mode}", with_day(pattern, day, left),
            )  # fmt: skip


def _broken(pattern: Pattern, day: str, days: tuple[str, ...], what: str, item: Period, other: Period | None) -> Mend:
    own = own_periods(pattern, day)
    rest = [one for one in own if one is not item]
    begin, end = minutes_of(item.from_), minutes_of(item.to)
    at = f"{day_range(days)}, {item.from_} to {item.to}"
    if what == "past-midnight":
        today = with_day(pattern, day, [*rest, period(begin, DAY_MIN, item.mode)])
        return Mend(
            "recording.past-midnight", pattern.key, days, begin, DAY_MIN, f"{at} goes past midnight",
            "Split it at midnight" if end else "End it at 24:00",
            _into_next_days(today, days, end, item.mode) if end else today,
        )  # fmt: skip
    if what == "backwards" or other is None:
        return Mend(
            "recording.backwards", pattern.key, days, begin, end, f"{at} ends where it begins",
            "Take it out", with_day(pattern, day, rest),
        )  # fmt: skip
    reach = minutes_of(other.to)
    cut = [*rest, period(reach, end, item.mode)] if end > reach else rest
    does = f"Let it begin at {other.to}" if end > reach else f"Take it out: {other.from_} to {other.to} covers it"
    said = f"{at} overlaps {other.from_} to {other.to}"
    return Mend("recording.overlap", pattern.key, days, begin, min(end, reach), said, does, with_day(pattern, day, cut))


def _into_next_days(pattern: Pattern, days: Iterable[str], end: int, mode: str) -> Pattern:
    """Return the pattern with the hours after midnight on the day after each of these weekdays, where nothing else is
    recorded then."""
    week = {day: found for day in DAYS if (found := day_of(pattern, day)) is not None}
    for day in days:
        if day not in WEEKDAYS:
            continue  # which day comes after a holiday nobody knows
        after = WEEKDAYS[(WEEKDAYS.index(day) + 1) % len(WEEKDAYS)]
        there = week.get(after, ())
        free = [(begin, min(until, end)) for begin, until in gaps(there) if begin < end]
        week[after] = _sorted([*there, *(period(begin, until, mode) for begin, until in free)])
    return with_week(pattern, week)


def with_week(pattern: Pattern, days: Mapping[str, tuple[Period, ...]]) -> Pattern:
    """Return the pattern with these periods on these days; days alike name the first of them. A day that is not given
    stays as it is written."""
    week: dict[str, tuple[Period, ...] | str] = dict(pattern.week)
    first: dict[tuple[Period, ...], str] = {}
    for day in DAYS:
        if day in days:
            week[day] = first.get(days[day], days[day])
            first.setdefault(days[day], day)
    return pattern.model_copy(update={"week": week})


def _sorted(periods: Iterable[Period]) -> tuple[Period, ...]:
    return tuple(sorted(periods, key=lambda item: (minutes_of(item.from_), minutes_of(item.to))))


def _gap(pattern: Pattern, day: str, days: tuple[str, ...], begin: int, end: int) -> Mend:
    own = own_periods(pattern, day)
    before = next((item for item in own if minutes_of(item.to) == begin), None)
    after = next((item for item in own if minutes_of(item.from_) == end), None)
    said = f"{day_range(days)}, {clock_of(begin)} to {clock_of(end)}: nothing is recorded, "
    each = count(end - begin, "minute") if end - begin < 60 else f"{(end - begin) / 60:g} h"
    said += each if len(days) == 1 else f"{each} each day"
    if before is not None:
        fresh = [item.model_copy(update={"to": clock_of(end)}) if item is before else item for item in own]
        does = f"Run {before.mode} on to {clock_of(end)}"
    else:
        fresh = [item.model_copy(update={"from_": clock_of(begin)}) if item is after else item for item in own]
        does = f"Begin {after.mode if after else 'it'} at {clock_of(begin)}"
    return Mend("recording.gap", pattern.key, days, begin, end, said, does, with_day(pattern, day, fresh))


def _joined(periods: tuple[Period, ...]) -> tuple[list[Period], str] | None:
    """Return the periods with the two neighbours joined that change the recording least, and the mode they get; the
    mode that writes more is kept, so that nothing is lost."""
    rank: Mapping[str, int] = {"continuous": 2, "motion": 1, "alarm": 0}
    own = sorted(periods, key=lambda item: minutes_of(item.from_))
    best: tuple[int, int] | None = None
    for at in range(len(own) - 1):
        one, two = own[at], own[at + 1]
        weaker = min((one, two), key=lambda item: rank[item.mode])
        cost = 0 if one.mode == two.mode else minutes_of(weaker.to) - minutes_of(weaker.from_)
        if one.to == two.from_ and (best is None or cost < best[0]):
            best = (cost, at)
    if best is None:
        return None
    one, two = own[best[1]], own[best[1] + 1]
    mode = max(one.mode, two.mode, key=lambda item: rank[item])
    whole = period(minutes_of(one.from_), minutes_of(two.to), mode)
    return [*own[: best[1]], whole, *own[best[1] + 2 :]], mode


def weekdays_alike(pattern: Pattern) -> list[tuple[str, ...]]:
    """Return the weekdays and holidays in groups that are recorded alike, in the order of the week: how somebody who
    types the pattern copies days. Days that lead nowhere are left out."""
    groups: dict[tuple[tuple[str, str, str], ...], list[str]] = {}
    for day in DAYS:
        if (found := day_of(pattern, day)) is not None:
            groups.setdefault(tuple((item.from_, item.to, item.mode) for item in found), []).append(day)
    return [tuple(days) for days in groups.values()]
