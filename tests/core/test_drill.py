"""Drills and what is said of a diagnosis: complaints that show their fault, scores that are fair, words for everything."""

import random
from functools import cache
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests import so_many
from tests.core.test_diagnose import ground
from tests.samples import device, document, read
from tutelar.core.diagnose import CHECKS, Cause, Diagnoser, Ground, Seen, Wrong, shown
from tutelar.core.diagnose.bank import BANK, placed
from tutelar.core.diagnose.causes import INTERNET, LAPTOP, SORTS
from tutelar.core.diagnose.checks import canonical, words_of
from tutelar.core.diagnose.drill import USUAL_ORDER, Level, complaint, hide, is_named, play, score
from tutelar.core.diagnose.telling import ANSWERS, SHORT, answered, chances, meaning, said, stop_of, titled, way_to
from tutelar.core.planning import plan

LEVELS: tuple[Level, ...] = ("easy", "hard", "double")


@cache
def diagnoser() -> Diagnoser:
    return Diagnoser(ground())


def silent(*keys: str) -> list[Seen]:
    return [Seen(check="answers", at=key, result="silent") for key in keys]


class Hidden(TestCase):
    @given(st.integers(0, 10**6), st.sampled_from(LEVELS))
    def test_what_is_hidden_shows_and_is_named_by_its_level(self, seed: int, level: Level) -> None:
        dice = random.Random(seed)
        causes = hide(ground(), dice, level)
        self.assertEqual(len(causes), 2 if level == "double" else 1)
        self.assertEqual(len({cause.name for cause in causes}), len(causes))
        for cause in causes:
            seen = complaint(ground(), Wrong(ground(), [cause]), cause, dice)
            assert seen is not None
            self.assertTrue(diagnoser().is_strange(seen), (cause, seen))
            self.assertNotEqual(SORTS[cause.fault].scope, "laptop")

    def test_the_same_chance_hides_the_same_fault(self) -> None:
        for level in LEVELS:
            self.assertEqual(*(hide(ground(), random.Random(7), level) for _ in range(2)))

    def test_a_site_on_which_nothing_would_show_hides_nothing(self) -> None:
        bare = document([device(1, "tarn-wire")], networks=[])
        bare["models"].append({"key": "tarn-wire", "family": "other", "wired": True})
        site = read(bare)
        self.assertEqual(hide(Ground(site, plan(site)), random.Random(1), "hard"), [])
        self.assertIsNone(placed(Ground(site, plan(site)), random.Random(1), "gnawed"))

    def test_every_written_case_fits_the_demo_and_has_its_words(self) -> None:
        self.assertEqual(len(BANK), 20)
        self.assertEqual(len({case.title for case in BANK.values()}), 20)
        for key, case in BANK.items():
            found = placed(ground(), random.Random(3), key)
            assert found is not None, key
            cause, seen = found
            self.assertEqual(cause.fault, case.fault)
            self.assertTrue(diagnoser().is_strange(seen))
            self.assertTrue(case.story.endswith(".") and case.teaches.endswith("."))
            self.assertEqual(case.caution, case.caution.strip())


class Scored(TestCase):
    def test_the_best_way_is_never_left_and_scores_its_own_minutes(self) -> None:
        for seed in range(so_many(4, 40)):
            dice = random.Random(seed)
            causes = hide(ground(), dice, "hard")
            wrong = Wrong(ground(), causes)
            first = complaint(ground(), wrong, causes[0], dice)
            assert first is not None
            best = play(diagnoser(), wrong, [first])
            seen = [first, *(Seen(check=c.check, at=c.at, result=shown(ground(), wrong, *c)) for c in best.asked)]
            found = score(diagnoser(), causes, seen, 1, {cause.name for cause in causes})
            self.assertTrue(found.right)
            self.assertIsNone(found.left)
            self.assertEqual((found.minutes, found.best, found.best_way), (best.minutes, best.minutes, best.asked))
            self.assertTrue(is_named(best.found, causes) or best.found.causes[0].likelihood < 0.95)

    def test_the_first_check_that_tells_far_less_is_shown_with_a_better_one(self) -> None:
        causes = [Cause("wrong-password", "cam-07")]
        wrong = Wrong(ground(), causes)
        asked = [("login", "fail"), ("elsewhere", "pass"), ("neighbour", "pass")]
        seen = [Seen(check=check, at="cam-07", result=result) for check, result in asked]
        found = score(diagnoser(), causes, seen, 1, {("wrong-password", "cam-07")})
        assert found.left is not None
        self.assertEqual((found.left.number, found.left.made.check, found.minutes), (1, "elsewhere", 31))
        self.assertLess(found.left.bits / CHECKS["elsewhere"].minutes, found.left.better_bits)
        self.assertEqual(shown(ground(), wrong, "login", "cam-07"), "fail")

    def test_what_no_check_tells_apart_is_named_right_too_and_anything_else_is_not(self) -> None:
        causes = [Cause("wrong-date-order", "cam-07")]
        seen = [Seen(check="clock", at="cam-07", result="fail")]
        for named, right in (
            ({("wrong-date-order", "cam-07")}, True),
            ({("clock-offset", "cam-07")}, True),
            ({("clock-offset", "cam-08")}, False),
            ({("wrong-date-order", "cam-07"), ("cable", "cam-07")}, False),
            (set(), False),
        ):
            self.assertEqual(score(diagnoser(), causes, seen, 1, named).right, right, named)

    def test_the_usual_order_asks_every_check_once_where_the_complaint_is(self) -> None:
        causes = [Cause("relay-off", "rec-1")]
        first = [Seen(check="relay", at="rec-1", result="fail")]
        played = play(diagnoser(), Wrong(ground(), causes), first, USUAL_ORDER)
        self.assertEqual({cell.at for cell in played.asked}, {"rec-1"})
        self.assertEqual([cell.check for cell in played.asked], list(USUAL_ORDER)[: len(played.asked)])


class Words(TestCase):
    def test_every_check_has_its_question_its_answers_and_a_name(self) -> None:
        self.assertEqual(set(SHORT), set(CHECKS))
        self.assertEqual(set(ANSWERS), set(CHECKS))
        for key, check in CHECKS.items():
            self.assertIn("{at}" if key != "outside" else "network", check.asks)
            self.assertTrue(check.asks.endswith("?"), key)
            known = {canonical(key, word) for word in words_of(key)}
            self.assertLessEqual(set(ANSWERS[key]), known | {"fail"}, key)
            self.assertGreaterEqual(len(ANSWERS[key]), 2)

    def test_every_fault_is_said_with_the_name_of_its_place(self) -> None:
        places = {"device": "cam-07", "switch": "switch-1", "network": "security", "internet": INTERNET}
        for fault, sort in SORTS.items():
            at = places.get(sort.scope, LAPTOP)
            (words,) = said(ground(), (Cause(fault, at),))
            self.assertTrue(words[0].isupper() and not words.endswith("."), words)
            self.assertNotIn("{", words)
            if sort.scope in ("device", "switch", "network"):
                self.assertIn(ground().names[at], words)

    @given(st.floats(0, 1))
    def test_chances_grow_with_the_share(self, share: float) -> None:
        words = chances(share)
        if share >= 0.95:
            self.assertEqual(words, "nearly sure")
        elif words.endswith("in 10"):
            self.assertAlmostEqual(int(words.split()[0]) / 10, share, delta=0.051)
        elif words.startswith("1 in"):
            self.assertAlmostEqual(1 / int(words.split()[2]), share, delta=0.03)
        else:
            self.assertLess(share, 0.02)

    def test_a_complaint_is_titled_by_its_devices(self) -> None:
        self.assertEqual(titled(ground(), silent("cam-07")), "Pier gangway, answers: nothing answers")
        self.assertRegex(titled(ground(), silent("cam-15", "cam-16", "cam-17", "cam-18")), r"^4 devices: .*2 more$")
        self.assertEqual(titled(ground(), []), "Something is offline")
        self.assertEqual(answered(Seen(check="address", at="hub-1", result="10.62.4.77")), "10.62.4.77")
        self.assertEqual(answered(Seen(check="gateway", at="hub-1", result="silent")), "No")

    def test_a_verdict_is_said_in_one_sentence(self) -> None:
        found = diagnoser().verdict([*silent("cam-07"), Seen(check="swap-cable", at="cam-07", result="pass")])
        self.assertRegex(meaning(ground(), found), r"^The cable of Pier gangway .*: (\d in 10|nearly sure)\.$")


class Ways(TestCase):
    def test_the_way_stops_behind_what_answers(self) -> None:
        good = [Seen(check="page", at="switch-1", result="pass")]
        way = way_to(ground(), "cam-16", [*silent("cam-16"), *good])
        self.assertEqual([place.key for place in way], ["laptop", "switch-1", "switch-2", "cam-16"])
        self.assertEqual([place.state for place in way], ["answers", "answers", "unknown", "silent"])
        self.assertEqual(stop_of(way), 2)
        self.assertEqual((way[3].port, way[3].cable_m), (4, 68))

    def test_what_answers_shows_that_all_before_it_is_passed(self) -> None:
        way = way_to(ground(), "cam-16", [Seen(check="login", at="cam-15", result="fail")])
        self.assertEqual([place.state for place in way], ["answers", "answers", "answers", "unknown"])
        whole = way_to(ground(), "cam-16", [Seen(check="answers", at="cam-16", result="pass")])
        self.assertIsNone(stop_of(whole))

    def test_lamps_say_nothing_of_the_way(self) -> None:
        way = way_to(ground(), "cam-16", [Seen(check="light", at="cam-16", result="on")])
        self.assertEqual([place.state for place in way][1:], ["unknown"] * 3)
