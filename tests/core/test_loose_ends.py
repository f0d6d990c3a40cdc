"""Loose ends on built sites: nothing is open where all was done, and each thing left undone is exactly its code."""

from copy import deepcopy
from datetime import date
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import device, document, read
from tutelar.core.access import AccessIndex
from tutelar.core.access.digest import Telling
from tutelar.core.loose_ends import CODES, LooseEnd, Raised, loose_ends, may_sign
from tutelar.core.planning import plan
from tutelar.core.proof import all_expectations
from tutelar.core.survey import questions

TODAY = date(2027, 5, 3)
PANEL = {"key": "ondel-door-2", "family": "panel", "services": {"web": 80}, "capacity": {"doors": 2}}
HUB = {"key": "larkmoor-hub", "family": "alarm-hub", "services": {"control": 34200}, "capacity": {"devices": 10}}
DOOR = {
    "key": "yard",
    "name": "Yard door",
    "panel": "d-3",
    "number": 1,
    "lock": "magnet",
    "relay": "nc",
    "escape": True,
}


def reading(key: str, check: str, result: str = "pass", **more: Any) -> dict[str, Any]:
    return {"device": key, "check": check, "result": result, "from": "site", "by": "Maren", **more}


def built() -> dict[str, Any]:
    """Return a real site on which everything was done, its survey apart."""
    raw = document(
        [
            device(1, address="10.20.30.60"),
            device(2, "larkmoor-rec-8", address="10.20.30.61", disks=[{"bay": 1, "tb": 8, "formatted": True}]),
            device(3, "ondel-door-2", address="10.20.30.62"),
            device(4, "larkmoor-hub", address="10.20.30.63"),
        ],
        doors=[{**DOOR, "exit_button": True}],
        alarm={"hubs": [{"hub": "d-4", "armed_as_found": "away", "armed_left": "away"}]},
        access={},
        internet={"connection": "line"},
    )
    raw["site"]["practice"] = False
    raw["models"] += [PANEL, HUB]
    raw["links"] = [{"kind": "records", "from": "d-1", "to": "d-2", "slot": 1}]
    site = read(raw)
    standing = Telling(AccessIndex(site)).standing("d-3")
    raw["access"] = {"sent": [{"panel": "d-3", "digest": standing.digest, "at": "2027-05-01T09:00:00+00:00"}]}
    wanted = all_expectations(site, plan(site).assignments)
    raw["readings"] = [
        reading(key, item.check, expected=item.expected, measured=item.expected)
        for key, items in wanted.items()
        for item in items
    ]
    raw["readings"].append(reading("d-3", "door.1.egress"))
    return raw


BUILT = built()


def ends(raw: dict[str, Any], **more: Any) -> list[LooseEnd]:
    site = read(raw)
    return loose_ends(site, plan(site), TODAY, **more)


def named(raw: dict[str, Any], **more: Any) -> set[tuple[str, str]]:
    return {(end.code, end.subject) for end in ends(raw, **more)} - {("survey-open", "site")}


def turned(**parts: Any) -> dict[str, Any]:
    return {**deepcopy(BUILT), **parts}


def devices(key: str, **more: Any) -> list[dict[str, Any]]:
    return [item | more if item["key"] == key else item for item in BUILT["devices"]]


def readings(key: str, check: str, **more: Any) -> list[dict[str, Any]]:
    return [item | more if (item["device"], item["check"]) == (key, check) else item for item in BUILT["readings"]]


PRETEND = {"from": "pretend"}
CASES: list[tuple[set[tuple[str, str]], dict[str, Any]]] = [
    ({("door-not-normal", "yard")}, {"readings": [*BUILT["readings"], reading("d-3", "door.1.normal", "fail")]}),
    ({("egress-missing", "yard")}, {"readings": BUILT["readings"][:-1]}),
    ({("egress-missing", "yard")}, {"readings": readings("d-3", "door.1.egress", by="")}),
    ({("station-on-test", "d-4")}, {"alarm": {"hubs": [{"hub": "d-4", "on_test": {"until": "2027-05-02T12:00"}}]}}),
    ({("alarm-not-as-found", "d-4")}, {"alarm": {"hubs": [{"hub": "d-4", "armed_as_found": "home"}]}}),
    ({("access-not-sent", "d-3")}, {"access": {}}),
    ({("password-factory", "d-1")}, {"readings": [*BUILT["readings"], reading("d-1", "factory-login", "fail")]}),
    ({("account-installer", "d-1")}, {"ownership": [{"device": "d-1", "state": "ours", "account": "installer"}]}),
    ({("relay-bound", "d-1")}, {"ownership": [{"device": "d-1", "state": "bound"}]}),
    ({("used-not-released", "d-2")}, {"devices": devices("d-2", used=True)}),
    ({("exception-unsigned", "d-1")}, {"exceptions": [{"device": "d-1", "check": "cable", "reason": "later"}]}),
    ({("proof-missing", "d-2")}, {"readings": [item for item in BUILT["readings"] if item["device"] != "d-2"]}),
    ({("proof-failed", "d-1")}, {"readings": readings("d-1", "name", result="fail")}),
    ({("proof-stale", "d-1")}, {"readings": readings("d-1", "name", expected="another name")}),
    ({("practice-only", "d-4")}, {"readings": [x | PRETEND if x["device"] == "d-4" else x for x in BUILT["readings"]]}),
    ({("disk-not-formatted", "d-2")}, {"devices": devices("d-2", disks=[{"bay": 1, "tb": 8, "formatted": False}])}),
    ({("checklist-open", "d-1")}, {"checklist": [{"subject": "d-1", "item": "rain-hood", "state": "open"}]}),
    ({("laptop-fixed", "site")}, {"checklist": [{"subject": "site", "item": "laptop-fixed", "state": "open"}]}),
    (set(), {"checklist": [{"subject": "d-1", "item": "debug-log-on", "state": "done"}]}),
    (set(), {"ownership": [{"device": "d-1", "state": "ours", "account": "customer"}]}),
]  # fmt: skip


class Ends(TestCase):
    def test_where_all_was_done_only_the_survey_is_open(self) -> None:
        self.assertEqual(named(BUILT), set())
        (only,) = ends(BUILT)
        self.assertEqual((only.code, only.subject, only.blocks), ("survey-open", "site", True))
        none = [blank.path for question in questions(read(BUILT)) for blank in question.open]
        quiet = turned(survey={"none": none})
        self.assertTrue(may_sign(ends(quiet)) or {end.code for end in ends(quiet)} == {"survey-open"})

    def test_each_thing_left_undone_is_exactly_its_code(self) -> None:
        for codes, parts in CASES:
            self.assertEqual(named(turned(**parts)), codes, sorted(parts))

    def test_a_link_that_lacks_something_waits_at_its_start(self) -> None:
        raw = turned(links=[*BUILT["links"], {"kind": "relays", "from": "d-2", "to": "relay"}])
        raw["internet"] = {"connection": "none"}
        codes = named(raw)
        self.assertIn(("link-waiting", "d-2"), codes)
        (end,) = [end for end in ends(raw) if end.code == "link-waiting"]
        self.assertIn("no internet", end.message)

    def test_what_ended_holds_again_and_what_was_signed_does_not(self) -> None:
        missing = [item for item in BUILT["readings"] if (item["device"], item["check"]) != ("d-1", "name")]
        signed = {"device": "d-1", "check": "name", "reason": "the painter comes", "by": "Maren"}
        for until, codes in (("2027-05-03", set()), ("2027-05-02", {("proof-missing", "d-1")}), (None, set())):
            self.assertEqual(named(turned(readings=missing, exceptions=[{**signed, "until": until}])), codes)
        off = {"by": "Maren", "for": "the harbour", "open": ["proof-missing:d-1", "survey-open:site"]}
        found = ends(turned(readings=missing, sign_off=off))
        self.assertEqual({(end.code, end.blocks) for end in found}, {("proof-missing", False), ("survey-open", False)})
        self.assertTrue(may_sign(found))

    def test_a_clock_that_drifts_is_due_and_holds_nothing(self) -> None:
        looks = [
            reading("d-1", "clock", at=at, offset_s=offset, expected="within 2 s", measured="")
            for at, offset in (("2027-04-01T08:00:00+00:00", 0.0), ("2027-04-11T08:00:00+00:00", 4.0))
        ]
        found = [end for end in ends(turned(readings=[*looks, *BUILT["readings"]])) if end.code == "clock-due"]
        self.assertEqual([(end.subject, end.blocks) for end in found], [("d-1", False)])

    def test_what_only_the_server_knows_comes_besides(self) -> None:
        more = [Raised("partner-not-told", "d-2", "the password of Device 1"), Raised("laptop-fixed", "site")]
        self.assertEqual(named(BUILT, more=more), {("partner-not-told", "d-2"), ("laptop-fixed", "site")})

    @given(st.sets(st.sampled_from(range(len(CASES)))))
    def test_ends_of_several_things_left_undone_are_all_there_once(self, numbers: set[int]) -> None:
        parts: dict[str, Any] = {}
        codes: set[tuple[str, str]] = set()
        for number in sorted(numbers):
            wanted, part = CASES[number]
            if not parts.keys() & part.keys():
                parts |= part
                codes |= wanted
        found = ends(turned(**parts))
        names = [(end.code, end.subject) for end in found]
        self.assertEqual(len(names), len(set(names)))
        self.assertLessEqual(codes, set(names))
        self.assertEqual([end.code for end in found], sorted((end.code for end in found), key=list(CODES).index))
        self.assertTrue(all(end.message.endswith(".") and end.fix.endswith(".") and end.whose for end in found))
