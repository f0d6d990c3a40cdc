"""The doors of the pretend panel say what the circuit says, whatever is wired wrongly, and note what a panel notices."""

from datetime import UTC, datetime
from typing import Any, get_args
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import device, document, read
from tutelar.core.doors.circuit import Does, DoorFault, seen_at
from tutelar.standin.doors import MOST_EVENTS, PretendDoors

NOW = datetime(2027, 5, 3, 9, tzinfo=UTC)
DEEDS, FAULTS = get_args(Does), get_args(DoorFault)
LOCKS = ("magnet", "strike-fail-secure", "strike-fail-safe", "gate", None)


def doors(*rows: dict[str, Any]) -> PretendDoors:
    raw = document([device(1, "panel")])
    raw["models"].append({"key": "panel", "family": "panel", "services": {"web": 80}, "capacity": {"doors": 9}})
    raw["doors"] = [{"key": f"door-{at}", "panel": "d-1", "number": at, **row} for at, row in enumerate(rows, 1)]
    return PretendDoors.of(read(raw), "d-1")


class Doors(TestCase):
    @given(
        st.sampled_from(LOCKS),
        st.sampled_from(("nc", "no", None)),
        st.sampled_from(("nc", "no", None)),
        st.sets(st.sampled_from(FAULTS)),
        st.sampled_from(DEEDS),
    )
    def test_what_is_seen_is_what_the_circuit_says(
        self, lock: str | None, relay: str | None, contact: str | None, faults: set[Any], does: Any
    ) -> None:
        panel = doors({"lock": lock, "relay": relay, "contact": contact, "exit_button": True})
        for fault in faults:
            panel.plant(fault, 1)
        told = panel.tried(1, does, NOW)
        assert told is not None
        self.assertEqual(told["seen"], seen_at(panel.doors[1], does, frozenset(faults)).words)
        self.assertEqual(len(panel.events), 1 if told["event"] else 0)
        self.assertEqual(len(panel.state()), 1)
        if "reader-dead" in faults and does.startswith("card-"):
            self.assertEqual(told["event"], "")

    def test_a_fault_is_at_one_door_and_the_first_where_none_is_named(self) -> None:
        panel = doors({"lock": "magnet", "relay": "nc"}, {"lock": "magnet", "relay": "nc"})
        panel.plant("relay-swapped", None)
        panel.plant("exit-dead", 2)
        panel.plant("exit-dead", 7)  # there is no such door
        self.assertEqual(
            {at: set(found) for at, found in panel.faults.items()}, {1: {"relay-swapped"}, 2: {"exit-dead"}}
        )
        self.assertEqual([row["lock"] for row in panel.state()], ["free", "held"])

    def test_what_there_is_not_is_not_tried_and_only_the_newest_events_stay(self) -> None:
        panel = doors({"lock": "magnet", "relay": "nc"})
        for number, does in ((2, "unlocks"), (1, "dances"), (0, "unlocks")):
            self.assertIsNone(panel.tried(number, does, NOW))
        for _ in range(MOST_EVENTS + 5):
            panel.tried(1, "unlocks", NOW)
        panel.tried(1, "card-denied", NOW)
        self.assertEqual((len(panel.events), panel.events[0]["what"]), (MOST_EVENTS, "card refused"))
        panel.tried(1, "power-out", NOW)  # the panel is off: it notices nothing
        self.assertEqual(panel.events[0]["what"], "card refused")
        self.assertEqual(doors().state(), [])
