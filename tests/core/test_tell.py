"""What is said of a run: every word has one meaning, and what cannot be is refused in a sentence."""

from dataclasses import replace
from unittest import TestCase

from tests.samples import device, document, read
from tutelar.core.progress import laptop_setting
from tutelar.core.run import Step, run
from tutelar.core.run.chain import AdapterConfig
from tutelar.core.run.live import RunState, as_it_stands, with_started_steps
from tutelar.core.run.transitions import (
    ReportRejected,
    RunTransition,
    StepReport,
    apply_report,
    rested,
    step_named,
    with_technicians,
)


class Saying(TestCase):
    def setUp(self) -> None:
        self.site = read(document([device(1), device(2), device(3, "larkmoor-rec-8"), device(4, "larkmoor-rec-8")]))
        self.live, self.now = RunState(2, run(self.site, 2, effort=20_000).order), 0.0

    def say(self, name: str, state: str = "done", later: float = 0, **more: str | float) -> RunTransition:
        """Say something of a step after so many seconds, and keep what follows from it."""
        self.now += later
        live = with_started_steps(self.site, self.live, self.now)
        stands = as_it_stands(self.site, live, self.now)
        word = StepReport(state, **more)  # type: ignore[arg-type]
        told = apply_report(self.site, live, stands, step_named(self.site, live, stands, name), word, self.now)
        self.live = told.live
        return told

    def facts(self) -> dict[str, str]:
        return {fact.step: fact.state for fact in self.live.facts}

    def connected(self) -> tuple[str, str]:
        """Connect two devices and return their keys."""
        first = [fact.device or "" for fact in with_started_steps(self.site, self.live, 1).facts]
        for key in first:
            self.say(f"{key}:connect", later=20)
        return first[0], first[1]

    def test_taking_back_one_word_leaves_what_others_said(self) -> None:
        one, two = self.connected()
        self.say(f"{one}:boot", "longer", seconds=90)
        self.say(f"{two}:boot", "ready", later=5)
        self.say(f"{two}:boot", "open")
        self.assertEqual(self.facts()[f"{one}:boot"], "doing")
        self.assertNotIn(f"{two}:boot", self.facts())

    def test_what_something_was_built_on_is_not_taken_back(self) -> None:
        one, _ = self.connected()
        self.say(f"{one}:boot", "ready")
        steps = as_it_stands(self.site, with_started_steps(self.site, self.live, self.now), self.now).steps
        for step in [item for item in steps if item.kind == "adapter" and item.id not in self.facts()][:1]:
            self.say(step.id)
        self.say(f"{one}:activate")
        with self.assertRaisesRegex(ReportRejected, "was built on already; take back the later step first"):
            self.say(f"{one}:connect", "open")
        self.say(f"{one}:activate", "open")
        self.say(f"{one}:connect", "open")
        self.assertNotIn(f"{one}:connect", self.facts())
        self.assertEqual(self.live.order[0], one)

    def test_a_reset_boots_it_again_and_touches_no_other(self) -> None:
        one, _ = self.connected()
        self.say(f"{one}:boot", "ready")
        before = {fact.step for fact in self.live.facts if fact.device != one}
        self.now += 30
        live = with_started_steps(self.site, self.live, self.now)
        stands = as_it_stands(self.site, live, self.now)
        step = step_named(self.site, live, stands, f"{one}:activate")
        self.live = apply_report(self.site, live, stands, step, StepReport("failed", "locked", "reset"), self.now).live
        self.assertEqual({fact.step for fact in self.live.facts if fact.device == one}, {f"{one}:connect"})
        self.assertLessEqual(before, set(self.facts()))
        boot = next(item for item in as_it_stands(self.site, self.live, self.now).steps if item.id == f"{one}:boot")
        self.assertEqual(boot.start_s, self.now)

    def test_words_that_do_not_fit_are_refused(self) -> None:
        one, _ = self.connected()
        for name, word, words in (
            ("d-9:connect", {"state": "done"}, "has no step 'd-9:connect'"),
            (f"{one}:configure", {"state": "done"}, "which is not done yet"),
            (f"{one}:boot", {"state": "done"}, "goes by itself: it is ready, or takes longer"),
            (f"{one}:activate", {"state": "ready"}, "is done by hand"),
            (f"{one}:activate", {"state": "skipped"}, "Say why"),
            (f"{one}:activate", {"state": "failed", "reason": "x"}, "retry, reset or aside"),
        ):
            with self.assertRaisesRegex(ReportRejected, words):
                self.say(name, **word)

    def test_an_overdue_wait_lasts_from_now_and_only_credible_times_are_learned(self) -> None:
        _, one = self.connected()
        self.assertIsNone(self.say(f"{one}:boot", "ready", later=3).took)
        self.say(f"{one}:boot", "open")
        self.say(f"{one}:boot", "longer", later=500, seconds=60)
        stands = {step.id: step for step in as_it_stands(self.site, self.live, self.now).steps}
        self.assertAlmostEqual(stands[f"{one}:boot"].end_s, self.now + 60)
        took = self.say(f"{one}:boot", "ready", later=10).took
        self.assertIsNotNone(took)
        self.assertEqual((took or ("",))[1:2], ("boot",))

    def test_a_rest_and_a_smaller_team_open_or_shift_only_what_is_in_hand(self) -> None:
        self.connected()
        self.live = with_started_steps(self.site, self.live, self.now + 100)
        doing = [fact for fact in self.live.facts if fact.state == "doing"]
        later = {fact.step: fact.start_s for fact in rested(self.live, 600).facts}
        for fact in self.live.facts:
            self.assertEqual(later[fact.step] - fact.start_s, 600 if fact in doing else 0)
        alone = with_technicians(self.live, 1, self.now)
        self.assertEqual(
            {fact.step for fact in self.live.facts} - {fact.step for fact in alone.facts},
            {fact.step for fact in doing if fact.hand == 2},
        )

    def test_any_laptop_that_is_still_fixed_keeps_the_job_open(self) -> None:
        away = AdapterConfig("192.168.64.9", 24)
        steps = [Step(f"a-{hand}", None, "adapter", "", hand, hand + 1, True, hand, adapter=away) for hand in (1, 2)]
        home = replace(steps[1], id="b-2", adapter=None, start_s=5)
        done = frozenset({"a-1", "a-2", "b-2"})
        self.assertEqual(laptop_setting([*steps, home], done), away)
        self.assertEqual([laptop_setting([*steps, home], done, hand) for hand in (1, 2)], [away, None])
