"""What several looks at one clock say: how fast it drifts, and when the next look is due."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from tutelar.core.clock.difference import GOOD_S, drift_per_day, next_due, spoken_offset
from tutelar.core.wording import capital

NEAR_S = 90.0  # that near to a whole hour it is no drift
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


def drift(readings: Sequence[tuple[datetime, float]]) -> Drift | None:
    """Return what readings (when, seconds ahead) say of a clock, None where there are none."""
    if not readings:
        return None
    _, offset = max(readings)
    rate, first = drift_per_day(list(readings)), _look_first(offset)
    if rate is None:
        said = f"{capital(spoken_offset(offset))}; a second look tells how it drifts."
        return Drift(offset, None, None, said + first)
    if abs(rate) < 0.05:
        return Drift(offset, rate, None, f"{capital(spoken_offset(offset))}, and it keeps time.{first}")
    due = next_due(list(readings), DUE_AT_S)
    way = "gains" if rate > 0 else "loses"
    when = f"; look again by {due.date().isoformat()}" if due else ""
    return Drift(offset, rate, due, f"{capital(spoken_offset(offset))}; it {way} {abs(rate):.1f} s a day{when}.{first}")


def _look_first(offset: float) -> str:
    """Return where a difference of whole hours or quarters usually comes from, "" for any other."""
    size = abs(offset)
    if abs(size - 3600) <= NEAR_S:
        return " Check daylight saving on this device first."
    if size >= 900 and abs(size - 900 * round(size / 900)) <= NEAR_S:
        return " Check the time zone of this device first."
    return ""
