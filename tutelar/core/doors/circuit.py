"""What a door does: whether its lock holds, by its wiring, its supplies, and what somebody does at it.

The lock's current runs from its supply through the fire panel's contact and the break-glass unit, where it has them,
and through the panel's relay. What is written down of a door is how it ought to be; the faults are how it may be wired.
"""

from dataclasses import dataclass
from typing import Literal

from tutelar.core.site.doors import Door

Does = Literal[
    "at-rest", "unlocks", "card-granted", "card-denied", "exit-button", "contact", "network-out", "power-out",
    "lock-supply-out", "fire", "glass", "held-open",
]  # fmt: skip
DoorFault = Literal["relay-swapped", "contact-swapped", "exit-dead", "reader-dead", "not-sent", "fire-not-wired"]
HOLDS_BY_CURRENT = frozenset({"magnet", "strike-fail-safe"})


@dataclass(frozen=True, slots=True)
class Wiring:
    """How a door is really wired: the sense of relay and contact, and what is dead or was never sent."""

    relay: Literal["nc", "no"] | None
    contact: Literal["nc", "no"] | None
    fire: bool
    faults: frozenset[DoorFault] = frozenset()


@dataclass(frozen=True, slots=True)
class Seen:
    """What is seen at a door: whether the lock holds while something is done, and afterwards (None: it is not known);
    seconds that it is free; what the panel shows of the leaf ("open", "shut"), and what it says."""

    holds: bool | None
    holds_after: bool | None
    free_s: float | None = None
    shows: tuple[str, str] | None = None
    says: str | None = None

    @property
    def words(self) -> str:
        """What is seen, as people say it."""
        if self.shows is not None:
            return f"the panel says {self.shows[0]}, then {self.shows[1]}"
        if self.holds is None:
            return "not known: lock or relay is not written down"
        if self.holds == self.holds_after:
            state = "stays held" if self.holds else "free all the time"
            return f"{state}; {self.says}" if self.says else state
        if not self.holds and self.holds_after:
            return f"free {self.free_s:g} s, then held" if self.free_s is not None else "free, then held"
        return f"held {self.free_s:g} s, then free" if self.free_s is not None else "held, then free"


def wiring_of(door: Door, faults: frozenset[DoorFault] = frozenset()) -> Wiring:
    """Return how a door is wired with these faults; without any, as it is written down."""
    other = {"nc": "no", "no": "nc", None: None}
    relay = other[door.relay] if "relay-swapped" in faults else door.relay
    contact = other[door.contact] if "contact-swapped" in faults else door.contact
    fire = runs_through_fire(door) and "fire-not-wired" not in faults
    return Wiring(relay, contact, fire, faults)  # type: ignore[arg-type]


def runs_through_fire(door: Door) -> bool:
    """Return whether the lock's supply runs through a contact of the fire panel (typed as `x-fire`)."""
    return (door.model_extra or {}).get("x-fire") is True


def holds(door: Door, wiring: Wiring, *, active: bool = False, supply: bool = True, cut: bool = False) -> bool | None:
    """Return whether the lock holds: `active` while the relay is switched, without its `supply`, with the way of the
    current `cut`. None where lock or relay is not known."""
    if door.lock is None or wiring.relay is None:
        return None
    closed = active if wiring.relay == "no" else not active
    flows = supply and not cut and closed
    return flows if door.lock in HOLDS_BY_CURRENT else not flows


def seen_at(door: Door, does: Does, faults: frozenset[DoorFault] = frozenset()) -> Seen:
    """Return what is seen when something is done at a door, which is wired as written down but for the faults."""
    wired = wiring_of(door, faults)
    rest, free = holds(door, wired), holds(door, wired, active=True)
    if does == "contact":
        right = wired.contact == door.contact
        return Seen(rest, rest, shows=("open", "shut") if right else ("shut", "open"))
    if does in ("unlocks", "network-out"):
        blind = does == "network-out" and "not-sent" in faults
        return Seen(rest, rest, says="the card is refused") if blind else Seen(free, rest, _seconds(door))
    if does == "card-granted":
        refused = {"not-sent": "the card is refused", "reader-dead": "the reader does nothing"}
        said = next((words for fault, words in refused.items() if fault in faults), None)
        return Seen(rest, rest, says=said) if said else Seen(free, rest, _seconds(door))
    if does == "card-denied":
        return Seen(rest, rest, says=None if "reader-dead" not in faults else "the reader does nothing")
    if does == "exit-button":
        dead = "exit-dead" in faults
        return Seen(rest, rest, says="the button does nothing") if dead else Seen(free, rest, _seconds(door))
    if does == "power-out":
        return Seen(rest, rest, says="cards and button do nothing")
    if does == "lock-supply-out":
        out = holds(door, wired, supply=False)
        return Seen(out, out)
    if does in ("fire", "glass"):
        cut = holds(door, wired, cut=wired.fire or does == "glass")
        return Seen(cut, cut, says="until it is reset" if cut is not None and cut != rest else None)
    if does == "held-open":
        return Seen(rest, rest, says=f"the panel says “held open” after {door.held_open_s or 0:g} s")
    return Seen(rest, rest)


def _seconds(door: Door) -> float:
    return door.unlock_s if door.unlock_s is not None else 5


@dataclass(frozen=True, slots=True)
class Current:
    """The way of the lock's current while something is done: whether its supply is there, and fire contact, break-glass
    unit and relay are closed (None: the relay is not known); whether the lock then holds."""

    supply: bool
    fire: bool
    glass: bool
    relay: bool | None
    holds: bool | None


_SWITCHES = frozenset({"unlocks", "card-granted", "exit-button", "network-out"})


def current_at(door: Door, does: Does, faults: frozenset[DoorFault] = frozenset()) -> Current:
    """Return how the lock's current runs while something is done at a door."""
    wired = wiring_of(door, faults)
    idle = {"exit-button": "exit-dead", "card-granted": "not-sent", "network-out": "not-sent"}.get(does) in faults
    active = does in _SWITCHES and not idle and not ("reader-dead" in faults and does == "card-granted")
    supply, fire, glass = does != "lock-supply-out", not (does == "fire" and wired.fire), does != "glass"
    relay = None if wired.relay is None else active if wired.relay == "no" else not active
    cut = not fire or not glass
    return Current(supply, fire, glass, relay, holds(door, wired, active=active, supply=supply, cut=cut))


def sense_of(door: Door) -> tuple[str, bool]:
    """Return what is to be said of lock and relay, and whether the sense is wrong."""
    if door.lock is None or door.relay is None:
        return "Lock or relay is not written down yet.", False
    if door.lock == "gate":
        return "A gate moves on a pulse: its own control decides what the relay means.", False
    name = {
        "magnet": "a magnet",
        "strike-fail-safe": "a fail-safe strike",
        "strike-fail-secure": "a fail-secure strike",
    }
    wanted = "nc" if door.lock in HOLDS_BY_CURRENT else "no"
    does = "Current holds" if door.lock in HOLDS_BY_CURRENT else "Current opens"
    verdict = "right" if door.relay == wanted else f"wrong, it belongs on {wanted.upper()}"
    return f"{does} {name[door.lock]}, and the relay sits on {door.relay.upper()}: {verdict}.", door.relay != wanted
