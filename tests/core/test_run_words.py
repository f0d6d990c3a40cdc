"""Whatever is said of a run, in any order: who is out is out, who leaves goes home, the first comes before the second."""

import random
from dataclasses import replace
from itertools import pairwise
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from tests import so_many
from tests.core.test_run import any_site
from tests.samples import device, document, read
from tutelar.core.run import Run, run
from tutelar.core.run.chain import KINDS
from tutelar.core.run.live import RunState, as_it_stands, planned_again, with_started_steps
from tutelar.core.run.order import waits_for
from tutelar.core.run.transitions import ReportRejected, StepReport, apply_report, with_technicians
from tutelar.core.site import Site

PANEL = {
    "key": "panel",
    "family": "panel",
    "factory": {"mode": "fixed", "address": "192.168.80.5", "prefix": 24},
    "services": {"web": 80},
    "timings": {"boot_s": 20, "activate_s": 30, "configure_s": 60},
}


class Words(TestCase):
    @settings(max_examples=so_many(15, 600))
    @given(st.integers(0, 10_000))
    def test_after_any_words_the_run_tells_the_truth_and_can_be_ended(self, seed: int) -> None:
        dice, site = random.Random(seed), read(any_site(seed % 40))
        technicians = dice.randint(1, 2)
        live, now = RunState(technicians, run(site, technicians, effort=500).order), 0.0
        for _ in range(dice.randint(5, 40)):
            now += dice.uniform(0, 90)
            live = with_started_steps(site, live, now)
            stands = as_it_stands(site, live, now)
            live = self.word(dice, site, live, stands, now)
            self.truth(site, live, as_it_stands(site, live, now))
        self.assertEqual(self.ended(site, live, now), [])

    def word(self, dice: random.Random, site: Site, live: RunState, stands: Run, now: float) -> RunState:
        """Return the run after a random word; what is refused changes nothing."""
        if dice.random() < 0.15:
            return with_technicians(live, dice.randint(1, 2), now)
        typed = [fact.device for fact in live.facts if (fact.kind, fact.state) == ("configure", "done")]
        if dice.random() < 0.15 and typed:
            key = dice.choice(typed) or ""
            after = {f"{key}:{kind}" for kind in KINDS[KINDS.index("configure") :]}
            facts = tuple(fact for fact in live.facts if fact.step not in after)
            return replace(live, facts=facts, anew={**live.anew, key: "Its address changed."})
        if not stands.steps:
            return live
        step = dice.choice(stands.steps)
        state = dice.choice(["done", "done", "done", "skipped", "failed", "ready", "longer", "open"])
        report = StepReport(state, "a reason", dice.choice(["aside", "retry", "reset"]), 30, step.hand or 1)
        try:
            told = apply_report(site, live, stands, step, report, now).live
        except ReportRejected:
            return live
        return planned_again(site, told, now, 200)

    def truth(self, site: Site, live: RunState, stands: Run) -> None:
        said = {fact.step: fact for fact in live.facts}
        coming = [step for step in stands.steps if step.id not in said]
        by_hand = {step.id for step in stands.steps if step.manual}
        for step in stands.steps:
            if step.id in said and said[step.id].state == "done" and not step.manual:
                early = [need for need in step.needs if need in by_hand and need not in said]
                self.assertEqual(early, [], f"{step.id} is over, and what it waits for was not done")
        self.assertEqual({step.device for step in coming} & set(live.set_aside), set())
        self.assertLessEqual({step.hand for step in coming if step.manual}, set(range(1, live.technicians + 1)))
        where = {
            fact.hand: fact for fact in sorted(live.facts, key=lambda item: item.start_s) if fact.kind == "adapter"
        }
        for hand, fact in where.items():
            if (hand or 0) > live.technicians:
                self.assertIsNone(fact.adapter, "who left still stands in a factory subnet")
        ends = {(step.device, step.kind): step.end_s for step in stands.steps}
        starts = {(step.device, step.kind): step.start_s for step in coming}
        for key, pairs in waits_for(site).items():
            for kind, other in pairs:
                if (key, kind) in starts and (other, "confirm") in ends and key != other:
                    self.assertGreaterEqual(starts[key, kind] + 1e-6, ends[other, "confirm"])

    def ended(self, site: Site, live: RunState, now: float) -> list[str]:
        """Do all that is left, and return the hand steps that could not be done."""
        for _ in range(400):
            live = with_started_steps(site, live, now)
            stands = as_it_stands(site, live, now)
            if any(item.code in ("run.stuck", "run.circle") for item in stands.problems):
                return []
            done = {fact.step for fact in live.facts if fact.state != "doing"}
            left = [step for step in stands.steps if step.manual and step.id not in done]
            if not left:
                return []
            step = min(left, key=lambda item: (item.start_s, item.end_s))
            now = max(now, step.end_s)
            live = apply_report(site, live, stands, step, StepReport("done", hand=step.hand or 1), now).live
        return [step.id for step in left]


class Panels(TestCase):
    @given(st.permutations(range(1, 5)), st.integers(1, 2))
    def test_a_secondary_panel_is_set_after_its_primary(self, order: list[int], technicians: int) -> None:
        links = [{"kind": "manages", "from": f"d-{one}", "to": f"d-{other}"} for one, other in pairwise(order)]
        raw = document([device(at, "panel") for at in range(1, 5)], links=links)
        raw["models"] = [PANEL]
        steps = {step.id: step for step in run(read(raw), technicians, effort=2000).steps}
        for link in links:
            primary, secondary = steps[f"{link['to']}:confirm"], steps[f"{link['from']}:configure"]
            self.assertLessEqual(primary.end_s, secondary.start_s + 1e-6)
