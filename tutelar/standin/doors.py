"""The doors of a pretend panel: tried one by one, with what is seen and what the panel writes into its events."""

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, get_args

from tutelar.core.doors.circuit import Does, DoorFault, holds, seen_at, wiring_of
from tutelar.core.site.doors import Door
from tutelar.core.site.types import Site

MOST_EVENTS = 200
_EVENTS: dict[str, str] = {
    "unlocks": "unlocked from the page",
    "card-granted": "card granted",
    "card-denied": "card refused",
    "exit-button": "exit button",
    "held-open": "held open",
    "fire": "fire panel tripped",
    "glass": "break-glass unit",
}
_DEAD: dict[str, DoorFault] = {"card-granted": "reader-dead", "card-denied": "reader-dead", "exit-button": "exit-dead"}


@dataclass
class PretendDoors:
    """The doors by their number at the panel, how each is wired wrongly, and the newest events first."""

    doors: dict[int, Door] = field(default_factory=dict)
    faults: dict[int, frozenset[DoorFault]] = field(default_factory=dict)
    events: list[dict[str, Any]] = field(default_factory=list)

    @classmethod
    def of(cls, site: Site, panel: str) -> "PretendDoors":
        """Return the doors of a panel, wired as they are written down."""
        return cls({door.number: door for door in site.doors if door.panel == panel and door.number is not None})

    def plant(self, kind: DoorFault, number: int | None) -> None:
        """Wire a door wrongly; without a number the first one."""
        at = number if number is not None else next(iter(self.doors), None)
        if at in self.doors:
            self.faults[at] = self.faults.get(at, frozenset()) | {kind}

    def tried(self, number: int, does: str, now: datetime) -> dict[str, Any] | None:
        """Return what is seen when something is done at a door, and write down what the panel notices of it; None for a
        door or a deed that there is not."""
        door = self.doors.get(number)
        if door is None or does not in get_args(Does):
            return None
        faults = self.faults.get(number, frozenset())
        words = seen_at(door, does, faults).words  # type: ignore[arg-type]
        noted = self._noted(does, faults)
        if noted:
            event = {"at": now.isoformat(timespec="seconds"), "door": number, "what": noted}
            self.events = [event, *self.events][:MOST_EVENTS]
        return {"door": number, "does": does, "seen": words, "event": noted}

    @staticmethod
    def _noted(does: str, faults: frozenset[DoorFault]) -> str:
        if _DEAD.get(does) in faults:
            return ""
        if does == "card-granted" and "not-sent" in faults:
            return "card refused: it was never sent here"
        return _EVENTS.get(does, "")

    def state(self) -> list[dict[str, Any]]:
        """Return how each door stands at rest, as the panel shows it."""
        found = []
        for number, door in sorted(self.doors.items()):
            wired = wiring_of(door, self.faults.get(number, frozenset()))
            held = {True: "held", False: "free", None: "not known"}[holds(door, wired)]
            shown = "shut" if wired.contact == door.contact else "open"
            found.append({"number": number, "name": door.label, "lock": held, "contact": shown})
        return found
