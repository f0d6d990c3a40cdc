"""One row of the proof, the same for the sheet, the tables and the printed page."""

from dataclasses import dataclass
from datetime import date, datetime, tzinfo

from tutelar.core.proof import CellState

HEADER = ("Place", "Device", "Check", "State", "Expected", "Measured", "Seen, or left open", "When", "By")
_STATES = {"not-measured": "not measured", "planned": "not looked at yet", "excepted": "left open"}


@dataclass(frozen=True, slots=True)
class LeftOpen:
    """A check that is left open by decision; `whole`: every check of the device is."""

    reason: str
    by: str | None
    until: date | None
    whole: bool


@dataclass(frozen=True, slots=True)
class ProofRow:
    """One check of one device: what is expected, what was seen last, and what that says today."""

    device: str
    name: str
    place: str
    check: str
    title: str
    state: CellState
    expected: str
    witnessed: bool
    changed: tuple[str, ...]
    left_open: LeftOpen | None
    measured: str | None
    result: str | None
    took_ms: float | None
    at: str | None
    by: str | None
    practice: str | None = None  # what the pretend site showed last, where that proves nothing

    @property
    def state_word(self) -> str:
        """Return the word of a state on paper."""
        return _STATES.get(self.state, self.state)

    @property
    def by_instrument(self) -> str:
        """What was measured; empty for what a person has to see."""
        return "" if self.witnessed else self.measured or ""

    @property
    def by_person(self) -> str:
        """What somebody saw, or why the check is left open."""
        if self.left_open is None or self.state != "excepted":
            return self.measured or "" if self.witnessed else ""
        until = f" until {self.left_open.until}" if self.left_open.until else ""
        return f"Left open by {self.left_open.by or 'somebody'}{until}: {self.left_open.reason}"

    def when(self, zone: tzinfo) -> str:
        """Return when it was seen in a time zone, to the minute."""
        return datetime.fromisoformat(self.at).astimezone(zone).strftime("%Y-%m-%d %H:%M") if self.at else ""

    def cells(self, zone: tzinfo) -> tuple[str, ...]:
        """Return the row of a table, as `HEADER` names it."""
        names = (self.place, self.name, self.title, self.state_word, self.expected)
        seen = (self.by_instrument, self.by_person)
        return (*names, *seen, self.when(zone), self.by or "")
