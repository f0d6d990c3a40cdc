"""A week of recordings as one line, so that what a recorder tells can be compared with what was planned."""

from datetime import datetime

from tutelar.core.recording.channels import recording_of, said_of_channels, sound_patterns
from tutelar.core.recording.mends import day_range
from tutelar.core.recording.typed import periods_said
from tutelar.core.recording.week import day_of
from tutelar.core.site.recording import Pattern, Period
from tutelar.core.site.types import Link, Site
from tutelar.core.site.weeks import WEEKDAYS, minutes_of

ALWAYS = Pattern(
    key="always",
    name="All day",
    week={"mon": (Period.model_validate({"from": "00:00", "to": "24:00", "mode": "continuous"}),)},
)


def pattern_of(site: Site, link: Link) -> Pattern | None:
    """Return the pattern that a recording follows, `ALWAYS` where none is named; None where it is not there or
    broken."""
    own = said_of_channels(site).get((link.to, link.slot or 0))
    key = (own.pattern if own else None) or recording_of(site).usual
    return ALWAYS if key is None else sound_patterns(site).get(key)


def week_line(pattern: Pattern) -> str:
    """Return the seven weekdays of a sound pattern in one line; two that record alike give the same line."""
    days = []
    for day in WEEKDAYS:
        joined: list[Period] = []
        for item in sorted(day_of(pattern, day) or (), key=lambda one: minutes_of(one.from_)):
            if joined and (joined[-1].to, joined[-1].mode) == (item.from_, item.mode):
                joined[-1] = joined[-1].model_copy(update={"to": item.to})
            else:
                joined.append(item)
        days.append(" ".join(f"{item.from_}-{item.to}{item.mode[0]}" for item in joined))
    return "|".join(days)


def difference(planned: str, told: str) -> str:
    """Return the first days on which two lines differ, and what each says of them, in words."""
    wanted, found = planned.split("|"), told.split("|")
    if len(found) != len(WEEKDAYS) or not all(map(_is_day, found)):
        return "it tells a week that cannot be read"
    at = next((at for at, (one, two) in enumerate(zip(wanted, found, strict=True)) if one != two), None)
    if at is None:
        return "it is the same"
    days = [WEEKDAYS[n] for n in range(len(WEEKDAYS)) if (wanted[n], found[n]) == (wanted[at], found[at])]
    return f"{day_range(days)} {_day_said(found[at])}, not {_day_said(wanted[at])}"


_MODES = {"c": "continuous", "m": "motion", "a": "alarm"}


def _is_day(text: str) -> bool:
    return all(len(item) == len("00:00-24:00c") and item[-1] in _MODES for item in text.split())


def _day_said(text: str) -> str:
    periods = [
        Period.model_construct(from_=item[:5], to=item[6:11], mode=_MODES[item[11]])  # type: ignore[arg-type]
        for item in text.split()
    ]
    return periods_said(periods)


def mode_now(week: str, now: datetime) -> str:
    """Return what a week in one line records at a local moment: a mode, or "nothing"."""
    days, moment = week.split("|"), f"{now:%H:%M}"
    if len(days) != len(WEEKDAYS):
        return "continuous"
    for item in days[now.weekday()].split():
        if item[:5] <= moment < item[6:11]:
            return _MODES[item[11]]
    return "nothing"
