"""What several looks at one clock say: how fast it drifts, and when the next look is due."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from tutelar.core.clock.difference import GOOD_S, Finding, difference, drift_per_day, next_due, spoken_offset
from tutelar.core.wording import capital

_CHECK_FIRST: dict[Finding, str] = {
    "daylight-saving": " Check daylight saving on this device first.",
    "time-zone": " Check the time zone of this device first.",
    "half-day": " Check morning and afternoon first.",
    "date-order": " Check day and month first.",
}
_CENTURY_S = 100 * 366 * 86_400
DUE_AT_S = 5.0  # a clock that far off no longer tells two cameras' pictures of one moment


@dataclass(frozen=True, slots=True)
class Drift:
    """The last difference and drift in seconds (a day), when the next look is due, and one sentence."""

    offset_s: float
    per_day_s: float | None
    due: datetime | None
    sentence: str

    def doubtful(self, now: datetime) -> bool:
        """Whether the clock was found wrong, or is due to be looked at."""
        return abs(self.offset_s) > GOOD_S or (self.due is not None and self.due <= now)


def reckonable(at: datetime, offset_s: float) -> bool:
    """Return whether a look can be reckoned with: a moment that a watch could show, and no more than a century off."""
    return 1970 <= at.year < 2500 and abs(offset_s) <= _CENTURY_S


def drift(readings: Sequence[tuple[datetime, float]], zone: ZoneInfo | None = None) -> Drift | None:
    """Return what readings (when, seconds ahead) say of a clock, None where there are none; with the site's time zone
    also what to check first where the last difference is no drift."""
    if not readings:
        return None
    at, offset = max(readings)
    finding = difference(at + timedelta(seconds=offset), at, zone).finding if zone is not None else "good"
    rate, first = drift_per_day(list(readings)), _CHECK_FIRST.get(finding, "")
    if rate is None:
        said = f"{capital(spoken_offset(offset))}; a second look tells how it drifts."
        return Drift(offset, None, None, said + first)
    if abs(rate) < 0.05:
        return Drift(offset, rate, None, f"{capital(spoken_offset(offset))}, and it keeps time.{first}")
    due = next_due(list(readings), DUE_AT_S)
    way = "gains" if rate > 0 else "loses"
    when = f"; look again by {due.date().isoformat()}" if due else ""
    return Drift(offset, rate, due, f"{capital(spoken_offset(offset))}; it {way} {abs(rate):.1f} s a day{when}.{first}")
