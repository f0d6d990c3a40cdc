"""Patterns that most sites begin with, and what each is for."""

from typing import NamedTuple

from tutelar.core.site.recording import Mode, Pattern, Period


class Ready(NamedTuple):
    """A pattern to begin with: its name, what it is for, and its week."""

    key: str
    name: str
    why: str
    pattern: Pattern


_OPENS, _CLOSES = "07:30", "18:15"


def _day(mode: Mode) -> tuple[Period, ...]:
    return (Period.model_validate({"from": "00:00", "to": "24:00", "mode": mode}),)


def _hours(within: Mode, without: Mode) -> tuple[Period, ...]:
    ends = ("00:00", _OPENS, without), (_OPENS, _CLOSES, within), (_CLOSES, "24:00", without)
    return tuple(Period.model_validate({"from": begin, "to": end, "mode": mode}) for begin, end, mode in ends)


def ready_patterns() -> list[Ready]:
    """Return the ready patterns, the one that keeps most first; opening hours are to be moved to the site's own."""
    shut: dict[str, str] = {"sun": "sat", "holiday": "sun"}
    weeks: tuple[tuple[str, str, str, dict[str, tuple[Period, ...] | str]], ...] = (
        ("all-day", "All day", "Nothing is missed; it takes the most room.", {"mon": _day("continuous")}),
        ("open-hours", "Open hours, else motion", "Continuous while people are there, motion when nobody is.",
         {"mon": _hours("continuous", "motion"), "sat": _day("motion"), **shut}),
        ("motion", "Motion only", "The least room; what moves too slowly or too far away is missed.",
         {"mon": _day("motion")}),
        ("after-hours", "Open hours, else alarm contacts",
         "After hours only what an alarm contact reports: only where every way in has a contact.",
         {"mon": _hours("continuous", "alarm"), "sat": _day("alarm"), **shut}),
    )  # fmt: skip
    return [Ready(key, name, why, Pattern(key=key, name=name, week=week)) for key, name, why, week in weeks]
