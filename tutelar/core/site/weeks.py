"""Weeks of the document: days that hold something of their own, or are as another day."""

import re
from collections.abc import Mapping
from typing import Annotated, TypeVar

from pydantic import AfterValidator, Field

WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
DAYS = (*WEEKDAYS, "holiday")
DAY_MIN = 1440
DAY_WORDS = {
    "mon": "Monday",
    "tue": "Tuesday",
    "wed": "Wednesday",
    "thu": "Thursday",
    "fri": "Friday",
    "sat": "Saturday",
    "sun": "Sunday",
    "holiday": "Holidays",
}
PERIODS, ANOTHER_DAY = "list of periods", "name of a day"  # what a day says; neither stands in a path
_TIME = re.compile(r"(?:[01][0-9]|2[0-3]):[0-5][0-9]|24:00")
_Own = TypeVar("_Own")


def _is_time(value: str) -> str:
    if not _TIME.fullmatch(value):
        raise ValueError(f"'{value[:40]}' is no time of a day; one from 00:00 to 24:00 is expected, like 07:30")
    return value


TimeOfDay = Annotated[str, AfterValidator(_is_time), Field(examples=["07:30"])]


def which_said(value: object) -> str:
    """Return the tag of what a day says: another day's name, or spans of its own."""
    return ANOTHER_DAY if isinstance(value, str) else PERIODS


def day_in(week: Mapping[str, _Own | str], day: str) -> _Own | None:
    """Return what holds on a day, None where it leads to a day that does not exist, or days name each other in a
    circle. A day that is absent is as Monday, an absent holiday as Sunday."""
    seen: set[str] = set()
    while day not in seen:
        seen.add(day)
        if day not in DAYS:
            return None
        said = week.get(day, "sun" if day == "holiday" else "mon")
        if not isinstance(said, str):
            return said
        day = said
    return None


def wants_monday(week: dict[str, _Own | str]) -> dict[str, _Own | str]:
    """Return a week that has a Monday. Raises ValueError for one without."""
    if "mon" not in week:
        raise ValueError("The week has no 'mon'; every other day falls back on it")
    return week


def lost_days(week: Mapping[str, object]) -> list[str]:
    """Return what a week says that leads to no day, as it is quoted: a strange day, a day named that is none, and days
    that name each other in a circle."""
    found = []
    for day, said in week.items():
        if day not in DAYS:
            found.append(f"'{day}'")
        elif isinstance(said, str) and day_in(week, day) is None:
            found.append(f"'{said}' for {day}")
    return found


NO_DAY = f"Use {', '.join(DAYS)}, and let no two days name each other."


def minutes_of(time: str) -> int:
    """Return minutes since midnight; "24:00" is 1440."""
    return int(time[:2]) * 60 + int(time[3:])


def clock_of(minutes: int) -> str:
    """Return minutes since midnight as "HH:MM"."""
    return f"{minutes // 60:02}:{minutes % 60:02}"
