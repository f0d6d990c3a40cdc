"""Which checks a device must pass: by family, links and policy; what is left open; the one figure; what proofs hang on."""

from datetime import date
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import demo, device, document, read
from tutelar.core.check import check
from tutelar.core.planning import plan
from tutelar.core.proof import (
    Coverage,
    Exceptions,
    Expectation,
    all_expectations,
    cell_state,
    device_state,
    expectations,
)
from tutelar.core.site import Reading, Site

OPEN = {"key": "view", "family": "indoor-monitor", "services": {"web": 80}}
PANEL = {
    "key": "panel",
    "family": "panel",
    "services": {"web": 80},
    "capacity": {"doors": 4, "inputs": 3},
    "factory": {"mode": "leased", "user": "admin", "login": "blank"},
}
HUB = {"key": "hub", "family": "alarm-hub", "services": {"control": 9999}, "capacity": {"paths": ["line", "mobile"]}}


def house(**more: Any) -> dict[str, Any]:
    raw = document(
        [
            device(1, "pellgrave-gate-1", name="North gate"),
            device(2, "view"),
            device(3, "panel", name="Controller"),
            device(4, "hub"),
            device(5, "larkmoor-rec-8"),
            device(6),
        ],
        links=[
            {"kind": "registers-at", "from": "d-2", "to": "d-1", "slot": 1},
            {"kind": "reports-to", "from": "d-4", "to": "monitoring-station", "from_channel": 1},
            {"kind": "records", "from": "d-6", "to": "d-5", "slot": 1},
            {"kind": "relays", "from": "d-5", "to": "relay"},
        ],
        **more,
    )
    raw["models"] += [OPEN, PANEL, HUB]
    return raw


def wanted(site: Site, *, witnessed: bool = True) -> dict[str, dict[str, Expectation]]:
    found = all_expectations(site, plan(site).assignments, witnessed=witnessed)
    return {key: {item.check: item for item in items} for key, items in found.items()}


def seen_by_eye(site: Site) -> dict[str, set[str]]:
    return {key: {name for name, item in items.items() if item.witnessed} for key, items in wanted(site).items()}


class Asked(TestCase):
    def test_family_and_links_say_what_somebody_has_to_see(self) -> None:
        site = read(house(survey={"escape_doors": ["North exit", "Cellar"]}))
        self.assertEqual(
            seen_by_eye(site),
            {
                "d-1": {"test-call", "door-opens", "door.north-exit.egress"},
                "d-2": {"test-call"},
                "d-3": {"door-opens", "door.cellar.egress"},
                "d-4": set(),
                "d-5": {"plays-back", "phone-picture"},
                "d-6": set(),
            },
        )
        found = wanted(site)
        self.assertTrue(found["d-1"]["door.north-exit.egress"].expected.startswith("North exit: opens from inside"))
        self.assertTrue(
            found["d-3"]["door.cellar.egress"].expected.startswith("Cellar: ")
        )  # nobody's by name: the panel's
        self.assertFalse(any(item.witnessed for item in wanted(site, witnessed=False)["d-1"].values()))
        bare = document([device(1, "reader")], survey={"escape_doors": ["Cellar"]})
        bare["models"].append({"key": "reader", "family": "reader", "services": {"web": 80}})
        self.assertEqual(seen_by_eye(read(bare)), {"d-1": {"door.cellar.egress"}})  # somebody holds every escape door
        without = read(house() | {"links": []})
        self.assertEqual(
            seen_by_eye(without),
            {
                "d-1": {"door-opens"},
                "d-2": set(),
                "d-3": {"door-opens"},
                "d-4": set(),
                "d-5": set(),
                "d-6": set(),
            },
        )

    def test_model_and_links_say_what_is_measured(self) -> None:
        found = wanted(read(house()), witnessed=False)
        self.assertLessEqual({"factory-login", "inputs"}, found["d-3"].keys())
        self.assertLessEqual({"paths"}, found["d-4"].keys())
        self.assertNotIn("factory-login", found["d-6"])
        self.assertEqual(found["d-6"]["clock"].expected, "within 2 s")

    def test_the_policy_leaves_checks_out_and_the_first_ones_never(self) -> None:
        rules = {
            "clock_s": 5,
            "left_out": ["dns", "answers", "test-call", "egress", "door.cellar.egress", "nose"],
            "witnessed": {"camera": ["phone-picture"], "panel": []},
        }
        site = read(house(policy={"proof": rules}, survey={"escape_doors": ["Cellar"]}))
        found = wanted(site)
        self.assertEqual(found["d-6"]["clock"].expected, "within 5 s")
        self.assertNotIn("dns", found["d-6"])
        self.assertIn("answers", found["d-6"])
        self.assertEqual(
            seen_by_eye(site),
            {
                "d-1": {"door-opens"},
                "d-2": set(),
                "d-3": {"door.cellar.egress"},
                "d-4": set(),
                "d-5": {"plays-back", "phone-picture"},
                "d-6": {"phone-picture"},
            },
        )
        said = {item.message for item in check(site) if item.code == "policy.left-out"}
        self.assertEqual(
            said,
            {
                "The policy leaves out the check 'answers', but it cannot be left out.",
                "The policy leaves out the check 'egress', but it cannot be left out.",
                "The policy leaves out the check 'door.cellar.egress', but it cannot be left out.",
                "The policy leaves out the check 'nose', but there is no such check.",
            },
        )


class LeftOpen(TestCase):
    def test_an_exception_holds_through_its_last_day_and_covers_no_egress_test(self) -> None:
        raw = house(
            exceptions=[
                {"device": "d-1", "reason": "being rebuilt", "until": "2026-06-08"},
                {"device": "d-6", "check": "name", "reason": "the customer's own names"},
            ]
        )
        site = read(raw)
        for day, covered in ((7, True), (8, True), (9, False)):
            left = Exceptions.on(site, date(2026, 6, day))
            self.assertEqual(left.of("d-1", "web") is not None, covered)
            self.assertIsNone(left.of("d-1", "door.1.egress"))
            self.assertEqual(left.covered("d-6", ["name", "web"]), {"name"})
            self.assertEqual([item.device for item in left.over], [] if covered else ["d-1"])

    def test_what_is_wrong_with_an_exception_is_said(self) -> None:
        raw = house(
            exceptions=[
                {"device": "d-9", "reason": "x"},
                {"device": "d-1", "check": "door.1.egress", "reason": "x"},
                {"device": "d-1", "check": "nose", "reason": "x"},
                {"device": "d-1", "check": "signalling", "reason": "x"},
            ]
        )
        found = [(item.code, item.level) for item in check(read(raw)) if item.code.startswith("exception.")]
        self.assertEqual(
            found,
            [
                ("exception.unknown-device", "error"),
                ("exception.egress", "error"),
                ("exception.unknown-check", "warning"),
            ],
        )

    def test_leaving_open_proves_nothing(self) -> None:
        site = house()
        asked = expectations(read(site), read(site).devices[0], None)
        items = [item for item in asked if item.check in ("web", "name")]
        says = {item.check: item.expected for item in items}
        passed = Reading(device="d-1", check="web", expected=says["web"], result="pass")
        failed = Reading(device="d-1", check="name", expected=says["name"], result="fail")
        last = {("d-1", "web"): passed, ("d-1", "name"): failed}
        self.assertEqual(device_state(True, True, items, last), "broken")
        self.assertEqual(device_state(True, True, items, last, {"name"}), "proven")
        self.assertEqual(device_state(True, True, items, last, {"name", "web"}), "set")
        self.assertEqual(cell_state(failed, items[1], excepted=True), "excepted")
        self.assertEqual(cell_state(passed, items[0], excepted=True), "proven")

    @given(st.lists(st.sampled_from(["planned", "proven", "broken", "not-measured", "stale", "excepted"]), max_size=60))
    def test_the_figure_adds_up(self, states: list[Any]) -> None:
        found = Coverage.of(states)
        parts = found.fresh + found.failed + found.stale + found.never + found.skipped
        self.assertEqual((parts, parts + found.excepted), (found.expected, len(states)))
        self.assertTrue(found.sentence.startswith(f"{found.fresh} of {found.expected} reading"))


class HangsOn(TestCase):
    def test_another_unit_touches_itself_and_those_that_are_linked_to_it(self) -> None:
        raw = demo()
        before = wanted(read(raw))
        for key in ("cam-01", "rec-1", "gate-1", "view-2", "switch-1"):
            part = next(item for item in raw["devices"] if item["key"] == key)
            kept, part["mac"] = part["mac"], "02:1a:4b:0f:0f:0f"
            after = wanted(read(raw))
            part["mac"] = kept
            touched = {
                (device_key, name)
                for device_key, items in before.items()
                for name, item in items.items()
                if (item.expected, dict(item.basis))
                != (after[device_key][name].expected, dict(after[device_key][name].basis))
            }
            own = {(key, name) for name in before[key]}
            held = {
                (link["from"], name)
                for link in raw["links"]
                if link["to"] == key
                for name in (("linked", "records") if link["kind"] == "records" else ("registered",))
                if name in before[link["from"]]
            }
            self.assertEqual(touched, own | held, key)
