"""The search and its bound against every order there is, on benches small enough to try them all."""

from collections.abc import Iterator
from typing import Any
from unittest import TestCase

from tests.core.test_run import any_site
from tests.samples import device, document, read
from tutelar.core.run.bound import Bound, lower_bound
from tutelar.core.run.dispatch import Stuck, Weights, dispatch
from tutelar.core.run.order import waits_that_can_be_met
from tutelar.core.run.schedule import total
from tutelar.core.run.search import SeededRandom, search
from tutelar.core.run.task import NEVER, Task, task_of


def task(raw: dict[str, Any], technicians: int = 1) -> Task:
    site = read(raw)
    return task_of(site, list(site.devices), technicians, waits_that_can_be_met(site)[0])


def every_order(left: list[int], so_far: list[int]) -> Iterator[list[int]]:
    """Yield every order of pieces, `left` counting those of each device."""
    if not any(left):
        yield so_far
    for at, many in enumerate(left):
        if many:
            left[at] -= 1
            yield from every_order(left, [*so_far, at])
            left[at] += 1


def small(number: int, most: int) -> dict[str, Any]:
    """Return a drawn site with at most so many devices."""
    raw = any_site(number)
    raw["devices"] = raw["devices"][:most]
    kept = {row["key"] for row in raw["devices"]}
    raw["links"] = [link for link in raw["links"] if {link["from"], link["to"]} <= kept]
    return raw


class Exhaustive(TestCase):
    def test_the_search_finds_the_shortest_of_all_orders_and_the_bound_is_below_it(self) -> None:
        reached = 0
        for number in range(24):
            work = task(small(number, 2 if number % 6 else 3))
            if not work.count:
                continue
            best = min(total(work, order) for order in every_order([4] * work.count, []))
            bound = lower_bound(work)
            found = total(work, search(work, 30_000, SeededRandom(1), bound.seconds))
            self.assertLessEqual(bound.seconds, best + 1e-6, f"site {number}: {bound.why}")
            self.assertAlmostEqual(found, best, 6, f"site {number}")
            reached += bound.seconds > best - 1e-6
        self.assertGreaterEqual(reached, 8)  # and it is often reached, so it is worth showing

    def test_for_two_hands_the_bound_is_below_every_order(self) -> None:
        for number in range(16):
            work = task(small(number, 2), 2)
            if work.count:
                best = min(total(work, order) for order in every_order([4] * work.count, []))
                self.assertLessEqual(lower_bound(work).seconds, best + 1e-6, f"site {number}")


class Bounds(TestCase):
    def bound(self, rows: list[dict[str, Any]], technicians: int = 1, links: Any = (), **policy: Any) -> Bound:
        return lower_bound(task(document(rows, links=list(links), policy=policy), technicians))

    def test_each_argument_decides_where_it_should(self) -> None:
        recorders = [device(number, "larkmoor-rec-8") for number in range(1, 5)]
        alone = 20 + 110 + 120 + 360 + 100 + 30 + 300
        self.assertEqual(self.bound(recorders[:1]).seconds, alone)
        self.assertIn("that much to do by hand", self.bound(recorders).why)
        crowded = self.bound(recorders, technicians=4, bench={"ports": 1})
        self.assertEqual((crowded.seconds, "too few ports" in crowded.why), (4 * (alone - 300) + 300, True))
        twins = self.bound([device(number) for number in range(1, 9)], technicians=3)
        self.assertEqual((twins.seconds, "8 devices start at one address" in twins.why), (8 * 285 + 60 + 30, True))
        leaving = self.bound([device(number) for number in range(1, 10)])
        self.assertIn("the laptop must leave it", leaving.why)
        self.assertGreater(leaving.seconds, 9 * 285 + 9 * 30)

    def test_what_waits_for_a_recorder_lengthens_its_line(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(2)]
        links = [{"kind": "records", "from": "d-2", "to": "d-1", "slot": 1}]
        found = self.bound(rows, 2, links, passwords="family")
        self.assertEqual(found.seconds, 20 + 110 + 120 + 360 + 100 + 30 + max(300, 45 + 150 + 60 + 30))

    def test_nothing_to_do_takes_no_time(self) -> None:
        self.assertEqual(self.bound([]).seconds, 0)


class Orders(TestCase):
    def test_interchangeable_devices_are_taken_in_walking_order(self) -> None:
        work = task(document([device(number) for number in range(1, 7)]))
        order = search(work, 20_000, SeededRandom(3))
        self.assertEqual(list(dict.fromkeys(order)), list(range(6)))

    def test_a_device_is_not_plugged_in_before_the_one_it_waits_for(self) -> None:
        rows = [device(1), device(2), device(3, "larkmoor-rec-8")]
        links = [{"kind": "records", "from": key, "to": "d-3", "slot": at} for at, key in enumerate(("d-1", "d-2"), 1)]
        work = task(document(rows, links=links, policy={"passwords": "family", "bench": {"ports": 2}}))
        self.assertEqual(dispatch(work, Weights())[0], 2)
        self.assertEqual(
            total(work, [0, 1, 2, 0, 1, 2, 0, 1, 2, 0, 1, 2]), NEVER
        )  # twins, and no port for the recorder

    def test_an_order_that_cannot_be_is_not_laid_and_a_stuck_bench_is_told(self) -> None:
        work = task(document([device(1), device(2)]))
        self.assertEqual(total(work, [0, 1, 0, 0, 0, 1, 1, 1]), NEVER)
        self.assertLess(total(work, [0, 0, 0, 1, 0, 1, 1, 1]), NEVER)
        circle = [
            {"kind": "extends", "from": "d-1", "to": "d-2", "slot": 1},
            {"kind": "extends", "from": "d-2", "to": "d-1", "slot": 1},
        ]
        site = read(document([device(1, "pellgrave-gate-1"), device(2, "pellgrave-gate-1")], links=circle))
        waits = {"d-1": [("configure", "d-2")], "d-2": [("configure", "d-1")]}
        with self.assertRaises(Stuck):
            dispatch(task_of(site, list(site.devices), 1, waits), Weights())
        self.assertEqual(waits_that_can_be_met(site)[0], {"d-1": [], "d-2": []})

    def test_chance_is_repeatable_and_spread_out(self) -> None:
        dice, again = SeededRandom(5), SeededRandom(5)
        drawn = [dice.below(6) for _ in range(6000)]
        self.assertEqual(drawn, [again.below(6) for _ in range(6000)])
        self.assertTrue(all(900 < drawn.count(side) < 1100 for side in range(6)))
        self.assertTrue(all(0 < SeededRandom(seed).share() < 1 for seed in range(200)))
