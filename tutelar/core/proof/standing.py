"""What readings say of today: fresh, stale, proven. A reading keeps the expectation it was judged by; when the site
expects something else today, the reading is stale."""

from collections.abc import Iterable, Mapping
from typing import Any, Literal

from tutelar.core.proof.checks import Expectation
from tutelar.core.site.types import Reading

State = Literal["unplanned", "planned", "set", "proven", "broken"]
ReadingState = Literal["planned", "proven", "broken", "not-measured", "stale"]
_STATES: dict[str, ReadingState] = {
    "pass": "proven", "fail": "broken", "silent": "broken", "skipped": "not-measured",
}  # fmt: skip


def is_stale(reading: Reading, wanted: Expectation | None) -> bool:
    """Return whether a reading no longer tells about what is expected today."""
    return wanted is None or reading.expected != wanted.expected


def reading_state(reading: Reading | None, wanted: Expectation | None) -> ReadingState:
    """Return what the last reading of a check says of what is expected today; "planned": it was never measured."""
    if reading is None:
        return "planned"
    return "stale" if is_stale(reading, wanted) else _STATES[reading.result]


def latest(readings: Iterable[Reading]) -> dict[tuple[str, str], Reading]:
    """Return the last reading of each (device, check) in the given order."""
    return {(reading.device, reading.check): reading for reading in readings}


def device_state(
    planned: bool, configured: bool, wanted: Iterable[Expectation], last: Mapping[tuple[str, str], Reading]
) -> State:
    """Return what may be said of a device: proven only by fresh passed readings of every check."""
    fresh = [
        reading for item in wanted
        if (reading := last.get((item.device, item.check))) is not None and not is_stale(reading, item)
    ]  # fmt: skip
    if any(reading.result in ("fail", "silent") for reading in fresh):
        return "broken"
    if fresh and len(fresh) == len(list(wanted)) and all(reading.result == "pass" for reading in fresh):
        return "proven"
    if not planned:
        return "unplanned"
    return "set" if configured else "planned"


def as_row(reading: Reading) -> dict[str, Any]:
    """Return a reading as the contract prints it."""
    names = ("device", "check", "expected", "measured", "result", "took_ms")
    return {name: getattr(reading, name) for name in names}
