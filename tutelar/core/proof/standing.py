"""What readings say of today: fresh, stale, proven. A reading keeps what it was judged by and what it depended on;
when the site expects something else today, or something it hangs on has changed, the reading is stale."""

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from tutelar.core.proof.exceptions import Exceptions
from tutelar.core.proof.expectation import Expectation
from tutelar.core.proof.registry import check_of
from tutelar.core.proof.saying import said
from tutelar.core.site.types import Device, Reading, Site
from tutelar.core.wording import count, listed

State = Literal["unplanned", "planned", "set", "proven", "broken"]
ReadingState = Literal["planned", "proven", "broken", "not-measured", "stale"]
CellState = Literal["planned", "proven", "broken", "not-measured", "stale", "excepted"]
_STATES: dict[str, ReadingState] = {
    "pass": "proven",
    "fail": "broken",
    "silent": "broken",
    "skipped": "not-measured",
}


_WORDS = {
    "hardware": "another unit is there now",
    "password": "the password was changed",
    "account": "the account was changed",
    "time-zone": "the time zone was changed",
    "camera": "the camera's address or port was changed",
    "recorder": "another recorder is there now",
    "home": "the main station's address, port or unit was changed",
    "way-out": "the gateway or DNS server was changed",
    "address": "the address was changed",
    "channels": "other channels are recorded now",
    "partners": "it is linked to others now",
    "certificate": "another certificate was accepted",
    "radio": "its Wi-Fi address was changed",
    "radio-network": "it joins another Wi-Fi network",
}
FORMER = "former"  # the words of an expectation that was kept before values were
_MAY_BE_UNKNOWN = ("password", "hardware")


def changed_since(reading: Reading, wanted: Expectation) -> list[str]:
    """Return in words what makes a reading stale; [] where it still tells.

    What is compared are the values that it was judged by and what it hung on, never sentences. What nobody knows today
    (a password whose vault is not at hand) is not held against it. A reading from elsewhere that keeps no values is
    judged by the words of its expectation.
    """
    then, found = reading.basis or {}, []
    if reading.code is None:
        if reading.expected != wanted.expected:
            found.append(f"expected then: {reading.expected or 'nothing'}")
    elif any(then.get(key, "") != value for key, value in wanted.values.items()):
        before = {key: then.get(key, "") for key in wanted.values}
        words = said(wanted.site, check_of(wanted.check).says, {"device": wanted.device, **before})
        found.append(f"expected then: {then.get(FORMER, words)}")
    for key, before_ in then.items():
        now = wanted.basis.get(key)
        if key not in (*wanted.values, FORMER) and now != before_ and (now is not None or key not in _MAY_BE_UNKNOWN):
            found.append(_WORDS.get(key, f"{key} was changed"))
    if then and "password" in wanted.basis and "password" not in then:
        found.append(_WORDS["password"])  # none was kept then: whatever was taken is not surely the one kept now
    return found


def is_stale(reading: Reading, wanted: Expectation | None) -> bool:
    """Return whether a reading no longer tells about what is expected today."""
    return wanted is None or bool(changed_since(reading, wanted))


def reading_state(reading: Reading | None, wanted: Expectation | None) -> ReadingState:
    """Return what the last reading of a check says of what is expected today; "planned": it was never measured."""
    if reading is None:
        return "planned"
    return "stale" if is_stale(reading, wanted) else _STATES[reading.result]


def cell_state(reading: Reading | None, wanted: Expectation, *, excepted: bool) -> CellState:
    """Return the state of a check on the proof sheet: what is left open and is proven nevertheless counts as proven."""
    state = reading_state(reading, wanted)
    return "excepted" if excepted and state != "proven" else state


def proving_sources(site: Site) -> frozenset[str]:
    """Return where readings that prove anything on a site are from: the pretend site's do where it is for practice."""
    return frozenset({"site", "hand", *(("pretend",) if site.about.practice else ())})


def latest(readings: Iterable[Reading], site: Site | None = None) -> dict[tuple[str, str], Reading]:
    """Return the last reading of each (device, check) in the given order, of those that count on the site."""
    sources = None if site is None else proving_sources(site)
    return {(item.device, item.check): item for item in readings if sources is None or item.from_ in sources}


def is_planned(site: Site, device: Device) -> bool:
    """Return whether a device has the address that it needs; on wires it needs none."""
    return device.address is not None or device.key in site.wired


def device_state(
    planned: bool,
    configured: bool,
    wanted: Iterable[Expectation],
    last: Mapping[tuple[str, str], Reading],
    excepted: Collection[str] = (),
) -> State:
    """Return what may be said of a device: proven only by fresh passed readings of every check that is not left open,
    and of one at least."""
    asked = [item for item in wanted if item.check not in excepted]
    fresh = [
        reading
        for item in asked
        if (reading := last.get((item.device, item.check))) is not None and not is_stale(reading, item)
    ]
    if any(reading.result in ("fail", "silent") for reading in fresh):
        return "broken"
    if fresh and len(fresh) == len(asked) and all(reading.result == "pass" for reading in fresh):
        return "proven"
    if not planned:
        return "unplanned"
    return "set" if configured else "planned"


def left_to_see(
    wanted: Mapping[str, Iterable[Expectation]], last: Mapping[tuple[str, str], Reading], left: Exceptions
) -> list[Expectation]:
    """Return what somebody still has to see where everything that is measured is proven or left open, else []."""
    found = []
    for item in (item for items in wanted.values() for item in items):
        reading, open_ = last.get((item.device, item.check)), left.of(item.device, item.check)
        state = cell_state(reading, item, excepted=open_ is not None)
        if state in ("proven", "excepted"):
            continue
        if not item.witnessed:
            return []
        found.append(item)
    return found


def door_tests_left(
    site: Site, wanted: Mapping[str, Iterable[Expectation]], last: Mapping[tuple[str, str], Reading]
) -> list[Expectation]:
    """Return the tests of doors at panels of the kit that nobody saw passed as they are today."""
    hung = {door.key for door in site.doors if door.panel in site.device_by_key}
    return [
        item
        for items in wanted.values()
        for item in items
        if item.check.startswith("door.")
        and item.values.get("door") in hung
        and reading_state(last.get((item.device, item.check)), item) != "proven"
    ]


@dataclass(frozen=True)
class Coverage:
    """How much of a site is proven, as one honest figure: `fresh` and passed of all that are `expected`; what is left
    open stands beside it and counts as neither."""

    expected: int
    fresh: int
    failed: int
    stale: int
    never: int
    skipped: int
    excepted: int

    @classmethod
    def of(cls, states: Iterable[CellState]) -> "Coverage":
        """Return the coverage of these cells."""
        found = list(states)
        number = {state: found.count(state) for state in set(found)}.get
        left = number("excepted", 0)
        return cls(
            len(found) - left,
            number("proven", 0),
            number("broken", 0),
            number("stale", 0),
            number("planned", 0),
            number("not-measured", 0),
            left,
        )

    @property
    def sentence(self) -> str:
        """The figure in words: "561 of 590 readings fresh and passed; 4 failed and 25 stale."."""
        open_ = [
            f"{number} {word}"
            for number, word in (
                (self.failed, "failed"),
                (self.stale, "stale"),
                (self.never, "not looked at yet"),
                (self.skipped, "could not be asked"),
            )
            if number
        ]
        said = f"{self.fresh} of {count(self.expected, 'reading')} fresh and passed"
        said += f"; {listed(open_, most=4)}." if open_ else "."
        return said + (f" {count(self.excepted, 'check')} left open by decision." if self.excepted else "")


def as_row(reading: Reading) -> dict[str, Any]:
    """Return a reading as the contract prints it."""
    names = ("device", "check", "expected", "measured", "result", "took_ms")
    return {name: getattr(reading, name) for name in names}
