"""The tests of a door in the order in which one makes them, with what to do and what to expect."""

from dataclasses import dataclass

from tutelar.core.doors.circuit import Does, runs_through_fire, seen_at
from tutelar.core.site.doors import Door

ESCAPE = "local fire code and licensed people decide; Tutelar writes down what was seen and by whom"


@dataclass(frozen=True, slots=True)
class DoorTest:
    """One test: the last part of its check's key, what it is called, what is done, what is expected; `named`: it needs
    the name of whoever saw it. None tells anything while the door is held open for set-up."""

    key: str
    title: str
    do: str
    does: Does | None
    expect: str
    named: bool = False


def tests_of(door: Door) -> list[DoorTest]:
    """Return the tests of a door at its panel, in their order; those that cut power come last, then how it is left."""

    def one(key: str, title: str, do: str, does: Does) -> DoorTest:
        return DoorTest(key, title, do, does, seen_at(door, does).words)

    found = [
        one("unlocks", "Unlocks from its page", "Unlock it once from the panel’s page.", "unlocks"),
        one("card-granted", "Card that may", "Hold a card to the reader that may pass now.", "card-granted"),
        one("card-denied", "Card that may not", "Hold a card to the reader that nobody gave rights.", "card-denied"),
    ]
    if door.exit_button:
        found.append(one("exit-button", "Exit button", "Press it inside, without a card.", "exit-button"))
    if door.contact is not None:
        found.append(one("contact", "Contact", "Open the leaf, shut it, look at the panel each time.", "contact"))
    found.append(one("network-out", "Network cable out", "Pull the network cable, use the card again.", "network-out"))
    found.append(one("power-out", "Panel without power", "Take the panel’s power away.", "power-out"))
    found.append(one("lock-supply-out", "Lock supply out", "Take the lock’s own supply away.", "lock-supply-out"))
    if runs_through_fire(door):
        found.append(one("fire", "Fire alarm", "Have the fire panel’s contact tripped by whoever may.", "fire"))
    if door.escape:
        expect = f"opens by hand from inside, without power, card or code; {ESCAPE}"
        found.append(
            DoorTest("egress", "From inside, by hand", "Go out as somebody who flees would.", None, expect, named=True)
        )
    normal = door.normal or "locked"
    found.append(DoorTest("normal", "Left as usual", "Leave it as it is on any day.", None, f"{normal}, leaf shut"))
    return found


def test_of(door: Door, key: str) -> DoorTest | None:
    """Return a test of a door by the last part of its key, None where the door does not have it."""
    return next((item for item in tests_of(door) if item.key == key), None)


KINDS = (
    "unlocks", "card-granted", "card-denied", "exit-button", "contact", "network-out", "power-out", "lock-supply-out",
    "fire", "egress", "normal",
)  # fmt: skip
