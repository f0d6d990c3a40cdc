"""Why is it offline: what checks show under faults, what is concluded, and hidden cases played to their end."""

import json
import random
from functools import cache
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from bench.diagnosis import Cases
from tests import so_many
from tests.samples import documents, read, shipped
from tutelar.core.diagnose import (
    CHECKS,
    Cause,
    Diagnoser,
    Ground,
    Seen,
    Wrong,
    diagnose,
    drill,
    read_observations,
    shown,
)
from tutelar.core.diagnose.causes import INTERNET, SORTS
from tutelar.core.diagnose.effects import Words
from tutelar.core.diagnose.observations import Cell
from tutelar.core.diagnose.suspects import Suspects
from tutelar.core.planning import plan
from tutelar.core.site import UnreadableSite, read_site


@cache
def ground() -> Ground:
    site = read_site(json.dumps(shipped()))
    return Ground(site, plan(site))


def look(at: str, checks: str, *causes: Cause) -> list[str]:
    wrong = Wrong(ground(), causes)
    return [shown(ground(), wrong, check, at) for check in checks.split()]


def saw(*rows: tuple[str, str, str]) -> list[Seen]:
    return [Seen(check=check, at=at, result=result) for check, at, result in rows]


FAULTS = [
    Cause(kind, at)
    for kind, sort in SORTS.items()
    for at in {
        "device": ("cam-15", "rec-2", "gate-1", "view-2", "cam-19", "hub-1"),
        "switch": ("switch-1", "switch-2"),
        "network": ("security", "office"),
        "internet": (INTERNET,),
        "laptop": ("laptop",),
    }[sort.scope]
]
CELLS = [
    Cell(check, at)
    for check in CHECKS
    for at in ("cam-15", "cam-16", "rec-2", "gate-1", "view-2", "switch-2", "cam-19", "hub-1")
]


class Shown(TestCase):
    def test_power_and_cables(self) -> None:
        checks = "power light answers swap-cable other-port elsewhere"
        self.assertEqual(look("cam-07", checks), ["pass", "on", "pass", "pass", "pass", "pass"])
        self.assertEqual(
            look("cam-07", checks, Cause("cable", "cam-07")), ["fail", "off", "silent", "pass", "fail", "pass"]
        )
        self.assertEqual(
            look("cam-07", checks, Cause("port-dead", "cam-07")), ["fail", "off", "silent", "fail", "pass", "pass"]
        )
        self.assertEqual(
            look("rec-1", checks, Cause("cable", "rec-1")), ["pass", "off", "silent", "pass", "fail", "pass"]
        )
        dead = look("cam-07", checks, Cause("device-dead", "cam-07"))
        self.assertEqual(dead, ["pass", "off", "silent", "fail", "fail", "fail"])

    def test_a_switch_takes_along_what_hangs_on_it_and_nothing_else(self) -> None:
        for fault, power in (("switch-off", "fail"), ("uplink-cut", "pass")):
            cause = Cause(fault, "switch-2")
            self.assertEqual(look("cam-15", "answers power", cause), ["silent", power])
            self.assertEqual(look("cam-07", "answers power", cause), ["pass", "pass"])
        hidden = look("cam-19", "answers linked", Cause("cable", "rec-1"))
        self.assertEqual(hidden, ["pass", "pass"])  # in the recorder's own port, seen from there

    def test_addresses_masks_and_gateways(self) -> None:
        checks = "answers neighbour address relay light"
        self.assertEqual(look("cam-12", "answers neighbour", Cause("wrong-address", "cam-12")), ["silent", "silent"])
        self.assertEqual(
            look("cam-12", checks, Cause("wrong-prefix", "cam-12")), ["silent", "pass", "pass", "silent", "on"]
        )
        self.assertEqual(
            look("cam-12", checks, Cause("wrong-gateway", "cam-12")), ["pass", "pass", "pass", "fail", "on"]
        )
        doubled = look("cam-12", "answers neighbour login", Cause("duplicate-address", "cam-12"))
        self.assertEqual(doubled, ["pass", "fail", "fail"])
        moved = ground().site.network_by_key["office"].pools[0]
        self.assertEqual(look("hub-1", "address", Cause("leased-moved", "hub-1")), [str(moved.first)])
        self.assertEqual(look("hub-1", "address", Cause("cable", "hub-1")), ["link-local"])

    def test_the_network_the_provider_and_the_laptop(self) -> None:
        checks = "answers gateway name outside relay"
        self.assertEqual(
            look("cam-12", checks, Cause("gateway-down", "security")), ["pass", "silent", "fail", "silent", "fail"]
        )
        self.assertEqual(
            look("cam-12", checks, Cause("dns-down", "security")), ["pass", "pass", "fail", "pass", "fail"]
        )
        self.assertEqual(
            look("cam-12", checks, Cause("provider-down", INTERNET)), ["pass", "pass", "pass", "silent", "fail"]
        )
        self.assertEqual(look("hub-1", checks, Cause("gateway-down", "security")), ["pass"] * 5)
        self.assertEqual(look("cam-12", f"{checks} light", Cause("laptop-wrong", "laptop"))[-1], "on")

    @given(st.lists(st.sampled_from(FAULTS), min_size=2, max_size=2, unique_by=lambda cause: cause.name))
    def test_two_faults_are_put_together_from_each_alone(self, pair: list[Cause]) -> None:
        words, wrong = Words(ground()), Wrong(ground(), pair)
        told = words.of((pair[0], pair[1]), CELLS)
        for cell in CELLS:
            self.assertEqual(told.get(cell, words.usual(cell)), words._word(wrong, cell), (cell, pair))


class Concluded(TestCase):
    @settings(max_examples=so_many(20, 400))
    @given(
        st.lists(st.tuples(st.sampled_from(CELLS), st.sampled_from(["pass", "fail", "silent"])), max_size=8),
        st.dictionaries(st.sampled_from(list(SORTS)), st.floats(0, 50), max_size=3),
    )
    def test_whatever_was_seen_the_verdict_is_in_order(
        self, rows: list[tuple[Cell, str]], prior: dict[str, float]
    ) -> None:
        light = {"pass": "on", "fail": "off", "silent": "off"}
        seen = saw(*((c.check, c.at, light[said] if c.check == "light" else said) for c, said in rows))
        found = diagnose(ground(), seen, prior)
        shares = [cause.likelihood for cause in found.causes]
        self.assertEqual(shares, sorted(shares, reverse=True))
        self.assertLessEqual(sum(shares), 1 + 1e-9)
        self.assertTrue(len(shares) == 20 or abs(sum(shares) - 1) < 1e-6)
        self.assertEqual(len({tuple(item.name for item in cause.faults) for cause in found.causes}), len(shares))
        if found.next is not None:
            self.assertLess(shares[0], 0.95)
            self.assertNotIn(Cell(found.next.check, found.next.where), [cell for cell, _ in rows])
            self.assertEqual(found.next.minutes, CHECKS[found.next.check].minutes)
            self.assertGreaterEqual(found.next.expected_gain, 0.05)
        for cause in found.causes:
            self.assertFalse(set(cause.explains) & set(cause.contradicts))

    def test_three_cameras_of_one_switch_are_one_case(self) -> None:
        silent = saw(*(("answers", key, "silent") for key in ("cam-15", "cam-16", "cam-17")))
        found = diagnose(ground(), [*silent, *saw(("answers", "cam-07", "pass"))])
        self.assertLessEqual({item.at for cause in found.causes[:2] for item in cause.faults}, {"switch-2", "laptop"})
        dark = diagnose(ground(), [*silent, *saw(("answers", "cam-07", "pass"), ("power", "switch-2", "fail"))])
        self.assertEqual(dark.causes[0].faults[0].name, ("switch-off", "switch-2"))
        self.assertEqual(dark.causes[0].explains, (0, 1, 2, 4))

    def test_everything_silent_is_the_laptop_before_it_is_two_faults(self) -> None:
        seen = saw(
            *(("answers", key, "silent") for key in ("cam-15", "rec-1", "hub-1")), ("gateway", "cam-15", "silent")
        )
        self.assertEqual(diagnose(ground(), seen).causes[0].faults[0].fault, "laptop-wrong")

    def test_nothing_strange_is_nothing_wrong(self) -> None:
        found = diagnose(ground(), saw(*(("answers", key, "pass") for key in ground().devices if key != "desk-1")))
        self.assertEqual((found.causes[0].faults, found.as_dict()["causes"][0]["fault"]), ((), "nothing"))

    def test_one_wrong_answer_does_not_hide_the_cause(self) -> None:
        truth = Wrong(ground(), [Cause("cable", "cam-07")])
        checks = ("answers", "light", "power", "neighbour", "swap-cable", "other-port")
        rows = [(check, "cam-07", shown(ground(), truth, check, "cam-07")) for check in checks]
        rows[1] = ("light", "cam-07", "on")
        found = diagnose(ground(), saw(*rows))
        self.assertEqual((found.causes[0].faults[0].fault, found.causes[0].contradicts), ("cable", (1,)))

    def test_what_no_fault_explains_is_said(self) -> None:
        rows = saw(("answers", "cam-07", "pass"), ("page", "cam-07", "silent"), ("gateway", "cam-07", "silent"))
        more = saw(("power", "cam-07", "fail"), ("neighbour", "cam-07", "silent"), ("outside", "cam-07", "pass"))
        self.assertFalse(diagnose(ground(), [*rows, *more]).fits)

    def test_weights_of_ones_own(self) -> None:
        seen = saw(("answers", "cam-07", "silent"))
        usual, own = diagnose(ground(), seen), diagnose(ground(), seen, {"device-dead": 500})
        self.assertNotEqual(usual.causes[0].faults[0].fault, "device-dead")
        self.assertEqual(own.causes[0].faults[0].name, ("device-dead", "cam-07"))

    def test_hidden_cases_are_found_in_fewer_minutes_than_the_usual_order_takes(self) -> None:
        levels: tuple[tuple[drill.Level, float], ...] = (("hard", 0.9), ("double", 0.75))
        for level, least in levels:
            cases = Cases(ground(), 41)
            played = [case for _ in range(so_many(5, 200)) if (case := cases.play(level)) is not None]
            self.assertGreaterEqual(sum(case.named for case in played), least * len(played))
            self.assertLessEqual(sum(case.minutes for case in played), 0.6 * sum(case.usual for case in played))

    def test_a_following_answer_is_the_same_as_asked_anew(self) -> None:
        dice, one = random.Random(3), Diagnoser(ground())
        wrong = Wrong(ground(), [Cause("wrong-vlan", "cam-16")])
        seen = saw(("answers", "cam-16", "silent"))
        for _ in range(4):
            kept, anew = one.verdict(seen), diagnose(ground(), seen)
            self.assertEqual((kept.as_dict()), (anew.as_dict()))
            cell = dice.choice(CELLS)
            seen += saw((cell.check, cell.at, shown(ground(), wrong, *cell)))


class AnySite(TestCase):
    @settings(max_examples=so_many(25, 400))
    @given(documents(12), st.data())
    def test_any_document_is_diagnosed_and_faults_elsewhere_change_nothing(
        self, raw: dict[str, Any], data: st.DataObject
    ) -> None:
        keys = [item["key"] for item in raw["devices"]]
        for item in raw["devices"]:
            over = data.draw(st.sampled_from([None, *keys]))
            if over is not None:  # in a circle too
                item[data.draw(st.sampled_from(["powered_by", "plugged_into"]))] = {"device": over, "port": 1}
        site = read(raw)
        found = Ground(site, plan(site))
        checks = st.tuples(st.sampled_from(list(CHECKS)), st.sampled_from(["pass", "fail", "silent"]))
        seen = [
            Seen(check=check, at=key, result={"pass": "on"}.get(word, "off") if check == "light" else word)
            for key in keys[:4]
            for check, word in data.draw(st.lists(checks, max_size=3))
        ]
        verdict = diagnose(found, seen)
        self.assertGreater(len(verdict.causes), 0)
        self.assertLessEqual(sum(cause.likelihood for cause in verdict.causes), 1 + 1e-9)
        for cause in verdict.causes:
            for fault in cause.faults:  # what is named can be written down as the cause
                self.assertIn(fault.at, found.places(SORTS[fault.fault].scope))
        suspects, sound = Suspects(found), Wrong(found)
        for key in keys[:5]:
            for other in keys[-3:]:
                wrong = Wrong(found, [Cause("power-off", other)])
                for check in CHECKS:
                    if other not in suspects.felt_by(Cell(check, key)):
                        said = shown(found, wrong, check, key)
                        self.assertEqual(said, shown(found, sound, check, key), (check, key, other))


class Read(TestCase):
    def test_what_cannot_be_read_is_named(self) -> None:
        for row, said in (
            ({"check": "smell", "at": "cam-07", "result": "pass"}, "There is no check 'smell'"),
            ({"check": "page", "at": "cam-77", "result": "pass"}, "The site has no device 'cam-77'."),
            ({"check": "light", "at": "cam-07", "result": "dim"}, "'dim' is no answer to 'light'; it is on, off."),
            ({"check": "address", "at": "cam-07", "result": "10.62.8"}, "or an address"),
        ):
            with self.assertRaises(UnreadableSite) as caught:
                read_observations(json.dumps({"observations": [row]}), ground())
            self.assertEqual(caught.exception.faults[0][0], "observations[0]")
            self.assertIn(said, caught.exception.faults[0][1])
        with self.assertRaisesRegex(UnreadableSite, "no fault 'gremlins'"):
            read_observations('{"observations": [], "prior": {"gremlins": 1}}', ground())
        with self.assertRaises(UnreadableSite):
            read_observations('{"observations": [], "prior": {"cable": -1}}', ground())
