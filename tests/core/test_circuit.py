"""What a door does, against its wiring followed by hand, and how many ways of a hub fail apart."""

from itertools import product
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import device, document, read
from tutelar.core.doors.circuit import current_at, seen_at, sense_of
from tutelar.core.doors.sequence import tests_of
from tutelar.core.planning import plan
from tutelar.core.setting import DeviceSettings
from tutelar.core.site.doors import Door

RIGHT = {"magnet": "nc", "strike-fail-safe": "nc", "strike-fail-secure": "no"}


def door(**more: Any) -> Door:
    return Door.model_validate({"key": "d", "unlock_s": 6, "exit_button": True, "contact": "nc", **more})


class Wiring(TestCase):
    def test_a_door_wired_right_is_held_at_rest_and_free_while_it_unlocks(self) -> None:
        for lock, relay in product(RIGHT, ("nc", "no")):
            one = door(lock=lock, relay=relay)
            right = RIGHT[lock] == relay
            self.assertEqual(current_at(one, "at-rest").holds, right, one)
            self.assertEqual(current_at(one, "unlocks").holds, not right, one)
            self.assertEqual(sense_of(one)[1], not right)
            self.assertEqual(seen_at(one, "unlocks").words, "free 6 s, then held" if right else "held 6 s, then free")

    def test_power_fire_and_hand_free_what_current_holds_and_only_that(self) -> None:
        for lock, relay in RIGHT.items():
            one = door(lock=lock, relay=relay, **{"x-fire": True})
            held = lock == "strike-fail-secure"
            for does in ("lock-supply-out", "fire", "glass"):
                self.assertEqual(current_at(one, does).holds, held, (lock, does))  # type: ignore[arg-type]
            self.assertTrue(current_at(one, "power-out").holds)
        bare = door(lock="magnet", relay="nc")
        self.assertTrue(current_at(bare, "fire").holds, "its current does not run through the fire panel")

    @given(
        st.sampled_from(sorted(RIGHT)),
        st.sampled_from(["relay-swapped", "contact-swapped", "exit-dead", "reader-dead", "not-sent", "fire-not-wired"]),
    )
    def test_every_fault_is_noticed_by_at_least_one_test(self, lock: str, fault: Any) -> None:
        one = door(lock=lock, relay=RIGHT[lock], escape=True, **{"x-fire": True})
        told = [
            test.key
            for test in tests_of(one)
            if test.does is not None and seen_at(one, test.does, frozenset({fault})).words != test.expect
        ]
        if (fault, lock) == ("fire-not-wired", "strike-fail-secure"):
            self.assertEqual(told, [], "the fire panel does not free a fail-secure strike in any case")
        else:
            self.assertTrue(told, fault)

    def test_what_is_not_known_is_said_to_be(self) -> None:
        self.assertIn("not known", seen_at(door(lock="magnet"), "unlocks").words)
        self.assertIsNone(current_at(door(relay="nc"), "at-rest").holds)


class Typed(TestCase):
    def test_a_panel_is_told_its_doors_formats_and_inputs(self) -> None:
        rows = [device(9, "panel-4", powered_by={"device": "d-1", "port": 1}), device(1, "sw")]
        access = {
            "people": [{"key": "p", "groups": ["g"], "cards": [{"format": "w26", "number": 1}]}],
            "frames": [{"key": "f", "name": "Evenings", "week": {"mon": [["17:30", "20:30"]]}}],
            "rules": [{"key": "r", "people": ["g"], "doors": ["yard"], "frame": "f"}],
        }
        yard = {
            "key": "yard",
            "name": "Yard",
            "panel": "d-9",
            "number": 2,
            "lock": "magnet",
            "relay": "nc",
            "escape": True,
        }
        raw = document(rows, doors=[yard], access=access)
        raw["models"] += [
            {"key": "panel-4", "family": "panel", "services": {"web": 80}, "power": {"poe_class": 4}},
            {"key": "sw", "family": "switch", "poe_budget_w": 90},
        ]
        site = read(raw)
        groups = {group.key: group for group in DeviceSettings(site, plan(site)).groups(site.device_by_key["d-9"])}
        lines = {line.label: line for line in groups["doors"].lines}
        self.assertEqual(lines["Door 2, relay"].value, "C and NC")
        self.assertEqual(lines["Card format"].value, "26 bits")
        self.assertEqual(lines["Weekly frames"].value, "Evenings")
        self.assertEqual(lines["People and cards"].value, "1 person, 1 card")
        self.assertEqual((lines["Mains input"].value, lines["Lid contact"].value), ("Off", "On"))
        self.assertIn("for ever", lines["Mains input"].why)
        self.assertIn("fire code", groups["doors"].caution or "")
