"""What is wrong with a clock, told from what it shows (docs/sources.md, clocks)."""

import contextlib
import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any, Literal
from zoneinfo import ZoneInfo

from tutelar.core.clock.zones import transitions
from tutelar.core.site.base import DateOrder
from tutelar.core.wording import DATE_ORDERS

Finding = Literal["good", "drift", "daylight-saving", "time-zone", "half-day", "date-order", "never-set"]
GOOD_S, DRIFT_S, ABOUT_S = 2, 300, 60
QUARTER_S, HALF_DAY_S, FARTHEST_S, DAY_S, YEAR_S = 900, 43_200, 14 * 3600, 86_400, 365 * 86_400
_PLAIN = re.compile(
    r"(\d{1,4})[/.\-](\d{1,2})[/.\-](\d{1,4})[ T,]+(\d{1,2}):(\d{2})(?::(\d{2})(?:\.\d+)?)?\s*(am|pm)?", re.IGNORECASE
)


@dataclass(frozen=True, slots=True)
class Difference:
    """Seconds that the clock is ahead (negative: behind), what that means, and one sentence."""

    offset_s: float
    finding: Finding
    message: str

    def as_dict(self) -> dict[str, Any]:
        """Return the difference as the contract prints it."""
        offset = int(self.offset_s) if self.offset_s == int(self.offset_s) else self.offset_s
        return {"offset_s": offset, "finding": self.finding, "message": self.message}


def read_time(text: str, order: DateOrder = "YMD") -> datetime:
    """Return the time that was typed: ISO 8601, or a date in the stated order with "/", "." or "-" and a time.

    Without an offset it is naive: a local time. Raises ValueError with one sentence.
    """
    typed = text.strip()
    match = _PLAIN.fullmatch(typed)
    if match and not (order == "YMD" or len(match[1]) == 4):
        return _plain(typed, match, order)
    try:
        return datetime.fromisoformat(typed.replace(" ", "T", 1) if match is None else _iso(match))
    except ValueError:
        pass
    if match:
        return _plain(typed, match, "YMD" if len(match[1]) == 4 else order)
    raise ValueError(f"'{text}' is no time; write it like '2026-06-08T14:03:00' or '08/06/2026 14:03:00'")


def _iso(match: "re.Match[str]") -> str:
    year, month, day = (int(match[at]) for at in (1, 2, 3))
    hour = _hour(match)
    return f"{year:04d}-{month:02d}-{day:02d}T{hour:02d}:{match[5]}:{match[6] or '00'}"


def _hour(match: "re.Match[str]") -> int:
    hour, half = int(match[4]), (match[7] or "").lower()
    return hour % 12 + (12 if half == "pm" else 0) if half else hour


def _plain(typed: str, match: "re.Match[str]", order: DateOrder) -> datetime:
    numbers = dict(zip(order, (int(match[at]) for at in (1, 2, 3)), strict=True))
    year = numbers["Y"] + (2000 if numbers["Y"] < 100 else 0)
    try:
        day = datetime.fromisoformat(f"{year:04d}-{numbers['M']:02d}-{numbers['D']:02d}")
        return day.replace(hour=_hour(match), minute=int(match[5]), second=int(match[6] or 0))
    except ValueError:
        raise ValueError(f"'{typed}' is no date in the order {DATE_ORDERS[order]}") from None


def difference(shown: datetime, reference: datetime, zone: ZoneInfo) -> Difference:
    """Return how far a clock is off and what that means. Naive times are local times of the zone.

    Of the difference by the clock on the wall and the real one the smaller counts, so that a clock that is read
    while the clocks are turned is not called wrong; a time that does not exist counts by the wall.
    """
    offset = _offset(shown, reference, zone)
    finding = _finding(offset, shown, reference, zone)
    return Difference(offset, finding, _MESSAGES[finding].format(off=spoken_offset(offset)))


def typed_difference(text: str, order: DateOrder, reference: datetime, zone: ZoneInfo) -> Difference:
    """Return the same of what a person typed from a device's page in the site's date order.

    A date that can only be read in another order is "date-order", whatever the time. Raises ValueError for no time.
    """
    try:
        return difference(read_time(text, order), reference, zone)
    except ValueError:
        for other in ("DMY", "MDY", "YMD"):
            with contextlib.suppress(ValueError):
                found = difference(read_time(text, other), reference, zone)
                if abs(found.offset_s) >= YEAR_S:
                    return Difference(found.offset_s, "never-set", found.message)
                words = f"It writes the date as {DATE_ORDERS[other]}, the site as {DATE_ORDERS[order]}. {found.message}"
                return Difference(found.offset_s, "date-order", words)
        raise


def _offset(shown: datetime, reference: datetime, zone: ZoneInfo) -> float:
    return min(_offsets(shown, reference, zone), key=abs)


def _offsets(shown: datetime, reference: datetime, zone: ZoneInfo) -> Iterator[float]:
    """Yield the difference by the wall clock, then the real ones: a local time may exist twice."""
    yield (_wall(shown, zone) - _wall(reference, zone)).total_seconds()
    if not _exists(shown, zone):
        return
    for one in _instants(shown, zone):
        for other in _instants(reference, zone):
            yield (one - other).total_seconds()


def _exists(moment: datetime, zone: ZoneInfo) -> bool:
    """Return whether a local time comes in the zone at all: none does inside the gap of spring."""
    return moment.tzinfo is not None or _wall(_instants(moment, zone)[0], zone) == moment


def _wall(moment: datetime, zone: ZoneInfo) -> datetime:
    return moment if moment.tzinfo is None else moment.astimezone(zone).replace(tzinfo=None)


def _instants(moment: datetime, zone: ZoneInfo) -> tuple[datetime, ...]:
    if moment.tzinfo is not None:
        return (moment.astimezone(UTC),)
    return tuple(moment.replace(tzinfo=zone, fold=fold).astimezone(UTC) for fold in (0, 1))


def _finding(offset: float, shown: datetime, reference: datetime, zone: ZoneInfo) -> Finding:
    away = abs(offset)
    if away <= GOOD_S:
        return "good"
    if away <= DRIFT_S:
        return "drift"
    if _near(away, HALF_DAY_S):
        return "half-day"
    year = _wall(reference, zone).year
    if any(_near(away, abs(turn.after - turn.before) * 60) for turn in transitions(zone, year)):
        return "daylight-saving"
    if away <= FARTHEST_S + ABOUT_S and _near(away % QUARTER_S, 0, QUARTER_S):
        return "time-zone"
    exchanged = _exchanged(shown)
    if exchanged is not None and abs(_offset(exchanged, reference, zone)) <= DRIFT_S:
        return "date-order"
    wall = abs((_wall(shown, zone) - _wall(reference, zone)).total_seconds())
    if away > FARTHEST_S and wall < 60 * DAY_S and _near(wall % DAY_S, 0, DAY_S):
        return "date-order"
    return "never-set"


def _near(value: float, target: float, period: float | None = None) -> bool:
    gap = abs(value - target)
    return min(gap, period - gap) <= ABOUT_S if period is not None else gap <= ABOUT_S


def _exchanged(moment: datetime) -> datetime | None:
    """Return the time with day and month exchanged, None where that is no date."""
    try:
        return moment.replace(month=moment.day, day=moment.month)
    except ValueError:
        return None


_MESSAGES: dict[Finding, str] = {
    "good": "Right: {off}.",
    "drift": "{off}: network time was not reached, or is asked for too seldom.",
    "daylight-saving": "{off}: daylight saving is set wrongly, or on one side only.",
    "time-zone": "{off}: the time zone is not the site's.",
    "half-day": "{off}: morning and afternoon are exchanged.",
    "date-order": "{off}: the date is wrong, most likely day and month are exchanged.",
    "never-set": "{off}: this clock was never set.",
}


def spoken_offset(seconds: float) -> str:
    """Return "59 min 58 s behind", "2 d 3 h ahead", "to the second"."""
    rest = round(abs(seconds))
    if rest == 0:
        return "to the second"
    parts = []
    for size, unit in ((DAY_S, "d"), (3600, "h"), (60, "min"), (1, "s")):
        number, rest = divmod(rest, size)
        if number:
            parts.append(f"{number} {unit}")
    return f"{' '.join(parts[:2])} {'ahead' if seconds > 0 else 'behind'}"


def drift_per_day(readings: list[tuple[datetime, float]]) -> float | None:
    """Return the drift in seconds a day from (when, seconds ahead), least squares; None with less than two moments."""
    if len({when for when, _ in readings}) < 2:
        return None
    first = min(when for when, _ in readings)
    days = [(when - first) / timedelta(days=1) for when, _ in readings]
    mean_day, mean = sum(days) / len(days), sum(off for _, off in readings) / len(readings)
    spread = sum((day - mean_day) ** 2 for day in days)
    return sum((day - mean_day) * (off - mean) for day, (_, off) in zip(days, readings, strict=True)) / spread


def next_due(readings: list[tuple[datetime, float]], limit_s: float = 5.0) -> datetime | None:
    """Return when the clock will be more than `limit_s` off if it goes on drifting; None if it does not drift."""
    rate = drift_per_day(readings)
    if not rate:
        return None
    when, off = max(readings)
    left = (limit_s if rate > 0 else -limit_s) - off
    return when + timedelta(days=max(0.0, left / rate))
