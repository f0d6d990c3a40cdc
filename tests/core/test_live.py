"""The run under way: it takes in what happens, never moves what is in hand, and stays legal to its end."""

import random
from dataclasses import replace
from typing import Any
from unittest import TestCase

from tests import so_many
from tests.core.test_run import any_site
from tests.run_rules import breaches
from tests.samples import demo, device, document, read
from tutelar.core.run import Step, run
from tutelar.core.run.durations import usual, with_usual_times
from tutelar.core.run.live import RunState, StepOutcome, live_run, planned_again, with_started_steps
from tutelar.core.site import Site


def started(site: Site, technicians: int) -> RunState:
    planned = run(site, technicians, effort=20_000)
    return RunState(technicians, planned.order, bound=planned.bound, one_by_one_s=planned.one_by_one_s)


def told(live: RunState, step: Step, start: float, end: float | None, state: Any = "done") -> RunState:
    fact = StepOutcome(step.id, step.device, step.kind, state, step.hand, start, end, step.adapter, step.port)
    return replace(live, facts=(*(item for item in live.facts if item.step != step.id), fact))


class Bench:
    """A bench whose steps take other times than planned: plays a live run from event to event."""

    def __init__(self, test: TestCase, raw: dict[str, Any], technicians: int, seed: int) -> None:
        self.test, self.raw, self.technicians = test, raw, technicians
        self.site, self.dice, self.now = read(raw), random.Random(seed), 0.0
        self.live = started(self.site, technicians)
        self.takes: dict[str, float] = {}

    def play(self, most: int = 2000) -> None:
        """Do every step, each when it is really over, until nothing is left."""
        for _ in range(most):
            self.live = with_started_steps(self.site, self.live, self.now)
            stands = {step.id: step for step in live_run(self.site, self.live, self.now).steps}
            doing = [fact for fact in self.live.facts if fact.state == "doing"]
            for fact in doing:
                planned = stands[fact.step]
                self.test.assertEqual((planned.start_s, planned.hand), (fact.start_s, fact.hand))
                self.takes.setdefault(fact.step, (planned.end_s - planned.start_s) * self.dice.uniform(0.6, 1.5))
            known = {fact.step for fact in self.live.facts}
            coming = [step.start_s for step in stands.values() if step.manual and step.id not in known]
            if not doing and not coming:
                return
            ends = [(fact.start_s + self.takes[fact.step], fact.step) for fact in doing]
            if not ends or (coming and min(coming) < min(ends)[0]):
                if min(coming) > self.now:
                    self.now = min(coming)
                    continue
            end, step = min(ends)
            self.now = max(self.now, end)
            start = next(fact.start_s for fact in doing if fact.step == step)
            self.live = planned_again(self.site, told(self.live, stands[step], start, self.now), self.now, 500)
        self.test.fail("the run does not come to an end")


class LiveRuns(TestCase):
    def test_whatever_takes_longer_or_shorter_the_run_stays_legal_and_ends(self) -> None:
        for number in range(so_many(5, 14)):
            raw, technicians = any_site(number), 1 + number % 2
            bench = Bench(self, raw, technicians, number)
            bench.play()
            final = live_run(bench.site, bench.live, bench.now)
            self.assertEqual(breaches(raw, final.as_dict(), technicians, planned=False), [], f"site {number}")
            self.assertEqual(
                {step.device for step in final.steps if step.kind == "configure"},
                {step.device for step in run(bench.site, effort=2000).steps if step.kind == "configure"},
            )

    def test_the_demo_with_two_keeps_close_to_its_plan(self) -> None:
        raw = demo()
        raw["devices"], raw["links"] = raw["devices"][2:16], []
        bench = Bench(self, raw, 2, 1)
        planned = live_run(bench.site, bench.live, 0).total_s
        bench.play()
        self.assertLess(bench.now, planned * 1.15)

    def test_a_device_that_is_set_aside_gives_its_address_and_port_free(self) -> None:
        site = read(document([device(1), device(2)], policy={"bench": {"ports": 1}}))
        live = started(site, 1)
        first = live_run(site, live, 0).steps[0]
        live = told(live, first, 0, 20)
        self.assertGreater(self._start(site, live, "d-2:connect", 60), 300)
        aside = planned_again(site, replace(live, set_aside={"d-1": "dead"}, since_s=60), 60)
        self.assertEqual(self._start(site, aside, "d-2:connect", 60), 60)

    def test_who_is_quicker_is_believed_and_who_takes_longer_waited_for(self) -> None:
        site = read(document([device(1)]))
        live = told(started(site, 1), live_run(site, started(site, 1), 0).steps[0], 0, 20)
        adapter = next(step for step in live_run(site, live, 20).steps if step.kind == "adapter")
        live = told(live, adapter, 20, 60)
        self.assertEqual(self._start(site, live, "d-1:activate", 60), 90)
        boot = StepOutcome("d-1:boot", "d-1", "boot", "done", None, 20, 70)
        self.assertEqual(self._start(site, replace(live, facts=(*live.facts, boot)), "d-1:activate", 65), 70)
        longer = StepOutcome("d-1:boot", "d-1", "boot", "doing", None, 20, None, more_s=60)
        self.assertEqual(self._start(site, replace(live, facts=(*live.facts, longer)), "d-1:activate", 65), 150)

    def test_a_device_that_comes_in_the_middle_joins_the_run(self) -> None:
        live = started(read(document([device(1)])), 1)
        site = read(document([device(1), device(2)]))
        live = planned_again(site, with_started_steps(site, live, 5), 5)
        self.assertEqual([fact.step for fact in live.facts], ["d-1:connect"])
        self.assertGreater(self._start(site, live, "d-2:connect", 5), 200)

    def test_a_bench_that_cannot_go_on_says_so(self) -> None:
        links = [{"kind": "records", "from": "d-1", "to": "d-2", "slot": 1}]
        rows = [device(1), device(2, "larkmoor-rec-8")]
        policy = {"bench": {"ports": 1}, "passwords": "family"}
        site = read(document(rows, links=links, policy=policy))
        live = told(started(site, 1), Step("d-1:connect", "d-1", "connect", "", 0, 20, True, 1, port=1), 0, 20)
        result = live_run(site, live, 30)
        self.assertEqual([item.code for item in result.problems], ["run.stuck"])
        self.assertIn("Device 1 holds the 1 ports", result.problems[0].message)

    def test_times_learned_at_the_bench_replace_the_profiles(self) -> None:
        readings = [("larkmoor-dome-4", "boot", value) for value in (95.0, 80.0, 400.0)]
        self.assertEqual(usual(readings[:2]), {})
        medians = usual(readings)
        self.assertEqual(medians, {("larkmoor-dome-4", "boot"): (95.0, 3)})
        site = with_usual_times(read(document([device(1)])), medians)
        self.assertEqual(self._start(site, started(site, 1), "d-1:activate", 0), 20 + 95)

    def _start(self, site: Site, live: RunState, step: str, now: float) -> float:
        return next(item.start_s for item in live_run(site, live, now).steps if item.id == step)
