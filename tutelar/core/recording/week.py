"""A pattern's week, day by day: which periods hold on it, what none covers, and what cannot be."""

from collections.abc import Iterator, Mapping
from math import ceil

from tutelar.core.site.recording import Pattern, Period
from tutelar.core.site.weeks import DAY_MIN, DAYS, WEEKDAYS, day_in, minutes_of

Duty = Mapping[str, float]  # the share of a period in which is written, by mode


def day_of(pattern: Pattern, day: str) -> tuple[Period, ...] | None:
    """Return the periods of a day, None where it leads to a day that does not exist, or days name each other in a
    circle. A day that is absent is as Monday, an absent holiday as Sunday."""
    return day_in(pattern.week, day)


def wrong_periods(periods: tuple[Period, ...]) -> Iterator[tuple[str, Period, Period | None]]:
    """Yield (what is wrong, the period, the one it meets): past-midnight, backwards, overlap."""
    good = []
    for period in periods:
        begin, end = minutes_of(period.from_), minutes_of(period.to)
        if end < begin:
            yield "past-midnight", period, None
        elif end == begin:
            yield "backwards", period, None
        else:
            good.append(period)
    good.sort(key=lambda period: (minutes_of(period.from_), minutes_of(period.to)))
    reach: Period | None = None
    for period in good:
        if reach is not None and minutes_of(period.from_) < minutes_of(reach.to):
            yield "overlap", period, reach
        if reach is None or minutes_of(period.to) > minutes_of(reach.to):
            reach = period


def gaps(periods: tuple[Period, ...]) -> list[tuple[int, int]]:
    """Return (from, to) in minutes of what no period covers, for a day that has periods."""
    found, at = [], 0
    for begin, end in sorted((minutes_of(period.from_), minutes_of(period.to)) for period in periods):
        if begin > at:
            found.append((at, begin))
        at = max(at, end)
    if at < DAY_MIN:
        found.append((at, DAY_MIN))
    return found


def is_sound(pattern: Pattern) -> bool:
    """Return whether every day of the pattern can be worked out: no period is wrong, no day leads nowhere."""
    days = [day_of(pattern, day) for day in DAYS]
    unknown = any(day not in DAYS for day in pattern.week)
    return not unknown and all(day is not None and next(wrong_periods(day), None) is None for day in days)


def written_share(pattern: Pattern | None, duty: Duty) -> float:
    """Return minutes a day in which is written, the mean over the seven weekdays; None = continuous all day."""
    if pattern is None:
        return DAY_MIN * duty["continuous"]
    total = 0.0
    for day in WEEKDAYS:
        for period in day_of(pattern, day) or ():
            total += (minutes_of(period.to) - minutes_of(period.from_)) * duty[period.mode]
    return total / len(WEEKDAYS)


def files_a_day(pattern: Pattern | None, file_min: float) -> float:
    """Return how many files a day a channel makes: one after the other where every weekday is recorded throughout,
    else the mean over the weekdays of those that each period needs."""
    if pattern is None or all(not gaps(day_of(pattern, day) or ()) for day in WEEKDAYS):
        return ceil(DAY_MIN / file_min)
    total = 0
    for day in WEEKDAYS:
        for period in day_of(pattern, day) or ():
            total += ceil((minutes_of(period.to) - minutes_of(period.from_)) / file_min)
    return total / len(WEEKDAYS)
