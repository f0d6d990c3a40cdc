"""Escape doors: each has one test at one device, which keeps to its door whatever else is changed."""

from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_proof_rules import wanted
from tests.samples import device, document, read
from tutelar.core.check import check
from tutelar.core.doors import as_told, escape_tests
from tutelar.core.doors.typed import door_lines, keypad_lines
from tutelar.core.proof import is_stale
from tutelar.core.site import Reading, Site, read_site, write_site
from tutelar.core.site.doors import Door

_NAMES = st.sampled_from(["North exit", "Cellar", "Hall door", "north  EXIT", "Ausgang Süd", "1", "é"])
_PANELS = st.sampled_from([None, "d-1", "d-2", "d-3", "gone"])
_FAMILIES = {"hall": "door-station", "p2": "panel", "p3": "panel"}


@st.composite
def sites(draw: st.DrawFn) -> Site:
    keys = draw(st.lists(st.sampled_from(["a", "b", "cellar", "1", "2"]), unique=True, max_size=5))
    doors = [
        {
            "key": key,
            "panel": draw(_PANELS),
            "number": draw(st.sampled_from([None, 1, 2])),
            "escape": draw(st.booleans()),
        }
        | ({"name": name} if (name := draw(st.none() | _NAMES)) else {})
        for key in keys
    ]
    told = draw(st.lists(_NAMES, max_size=4))
    raw = document([device(1, "hall", name="Hall gate"), device(2, "p2"), device(3, "p3")])
    raw["models"] = [{"key": key, "family": family, "services": {"web": 80}} for key, family in _FAMILIES.items()]
    return read(raw | {"doors": doors, "survey": {"escape_doors": told}})


def _expected(site: Site) -> set[str]:
    return {door.key for door in as_told(site.doors, site.survey.escape_doors or ()) if door.escape}


class EscapeDoors(TestCase):
    @given(sites())
    def test_each_has_one_test_at_one_device_and_is_asked_for(self, site: Site) -> None:
        tests = escape_tests(site)
        held = [door.key for own in tests.values() for door in own.values()]
        self.assertEqual(len(held), len(set(held)))
        self.assertEqual(set(held), _expected(site))
        told = {" ".join(name.split()).casefold() for name in site.survey.escape_doors or ()}
        labels = {" ".join(door.label.split()).casefold() for own in tests.values() for door in own.values()}
        self.assertLessEqual(told, labels)
        asked = {(key, name) for key, items in wanted(site).items() for name in items if name.endswith(".egress")}
        self.assertEqual(asked, {(key, name) for key, own in tests.items() for name in own})
        self.assertEqual(read_site(write_site(site)), site)

    @given(sites(), sites())
    def test_a_reading_never_proves_another_door(self, site: Site, later: Site) -> None:
        then, now = wanted(site), wanted(later)
        for key, items in then.items():
            for name, item in items.items():
                after = now[key].get(name)
                if not name.endswith(".egress") or after is None or item.values == after.values:
                    continue
                seen = Reading(
                    device=key, check=name, result="pass", code="seen", values={"words": "so"}, basis=dict(item.basis)
                )
                self.assertTrue(is_stale(seen, after))

    def test_the_number_names_the_test_and_a_new_name_keeps_it(self) -> None:
        raw = document([device(1, "p2")], doors=[{"key": "staff", "name": "Staff", "panel": "d-1", "number": 3}])
        raw["models"] = [{"key": "p2", "family": "panel", "services": {"web": 80}}]
        raw["doors"][0]["escape"] = True
        first = wanted(read(raw))["d-1"]["door.3.egress"]
        raw["doors"][0]["name"] = "Service entrance"
        after = wanted(read(raw))["d-1"]["door.3.egress"]
        self.assertEqual((first.values, first.basis), (after.values, after.basis))
        self.assertTrue(after.expected.startswith("Service entrance: opens from inside"))

    def test_what_the_survey_no_longer_tells_goes_only_where_nobody_said_more(self) -> None:
        doors = as_told((Door(key="yard", name="Yard", lock="magnet"),), ["Yard", "North exit"])
        self.assertEqual([(door.key, door.escape) for door in doors], [("yard", True), ("north-exit", True)])
        left = as_told(doors, [], ["Yard", "North exit"])
        self.assertEqual([(door.key, door.escape) for door in left], [("yard", True)])

    def test_a_panel_that_is_not_there_is_named(self) -> None:
        raw = document([device(1)], doors=[{"key": "yard", "panel": "panel-9"}])
        self.assertEqual([item.subjects for item in check(read(raw)) if item.code == "access.unknown"], [("yard",)])


class Typed(TestCase):
    def lines(self, site: Site, key: str) -> dict[str, tuple[str, str]]:
        """Return (value, why) of every line that is typed at a device, by its key."""
        found = site.device_by_key[key]
        return {
            line.key: (line.value, line.why)
            for lines in (door_lines(site, found), keypad_lines(site, found))
            for line in lines
        }

    @given(
        st.booleans(),
        st.sampled_from(["mains", "battery", "lid"]),
        st.one_of(
            st.none(),
            st.just("off"),
            st.just([]),
            st.just({"on": "no"}),
            st.fixed_dictionaries(
                {"on": st.booleans()}, optional={"reason": st.just("Fed otherwise."), "review": st.just("2027-05-01")}
            ),
        ),
    )
    def test_an_input_is_as_decided_and_else_as_the_panel_is_fed(self, over_cable: bool, name: str, said: Any) -> None:
        raw = document([device(1, "p"), device(2, "sw")])
        raw["models"] = [
            {"key": "p", "family": "panel", "services": {"web": 80}},
            {"key": "sw", "family": "switch"},
        ]
        if over_cable:
            raw["devices"][0]["powered_by"] = {"device": "d-2", "port": 1}
        raw["devices"][0]["x-inputs"] = {name: said}
        site = read(raw)
        lines = self.lines(site, "d-1")
        for item in ("mains", "battery", "lid"):
            usual = item == "lid" or not over_cable
            decided = isinstance(said, dict) and isinstance(said["on"], bool) and item == name
            value, why = lines[f"supervise-{item}"]
            self.assertEqual(value == "On", said["on"] if decided else usual)
            if decided:
                self.assertIn(said.get("reason", "No reason is written down."), why)
                self.assertIn(said.get("review", "No day is set"), why)
        self.assertEqual(read_site(write_site(site)), site)

    def test_a_keypad_asks_for_its_account_first_and_is_told_by_its_certificate(self) -> None:
        raw = document([device(1, "k"), device(2, "k", certificate=":".join(["ab"] * 32)), device(3, "bare")])
        raw["models"] = [
            {"key": "k", "family": "keypad", "services": {"web": 443}},
            {"key": "bare", "family": "keypad"},
        ]
        site = read(raw)
        fresh, pinned = self.lines(site, "d-1"), self.lines(site, "d-2")
        self.assertEqual(fresh["keypad-account"][0], "At the hub first")
        self.assertEqual(fresh["keypad-certificate"][0], "Write it down at first contact")
        self.assertEqual(pinned["keypad-certificate"][0], f"Compare with {':'.join(['ab'] * 8)}…")
        self.assertEqual(self.lines(site, "d-3"), {})
