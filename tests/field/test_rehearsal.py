"""The rehearsal passes where the run would, and fails where it would not."""

from dataclasses import replace
from typing import Any
from unittest import TestCase

from tests.core.test_run import any_site
from tests.run_rules import breaches
from tests.samples import demo, device, document, read
from tutelar.core.planning import plan
from tutelar.core.run import Run, run
from tutelar.core.site import Site
from tutelar.standin.rehearsal import rehearse


def faults(site: Site, planned: Run, seed: int = 1) -> list[str]:
    return [f"{item.step.id}: {item.fault}" for item in rehearse(site, plan(site), planned, seed) if item.fault]


class Rehearsals(TestCase):
    def test_a_run_that_keeps_the_rules_goes_without_a_fault(self) -> None:
        for number in range(80):
            raw = any_site(number)
            raw["policy"]["bench"] |= {"connect_s": 20, "confirm_s": 30}
            for model in raw["models"]:
                model["timings"] = {name: value or 30 for name, value in model["timings"].items()}
            site = read(raw)
            self.assertEqual(faults(site, run(site, 1 + number % 3, effort=2000)), [], f"site {number}")
        self.assertEqual(faults(read(demo()), run(read(demo()), 2, effort=20_000)), [])

    def test_a_run_of_another_bench_fails_where_it_would(self) -> None:
        rows = [device(1), device(2), device(3, "larkmoor-rec-8")]

        def at(**bench: Any) -> Site:
            return read(document(rows, policy={"bench": bench}))

        roomy = run(at(ports=8), effort=2000)
        crowded = faults(at(ports=1), roomy)
        self.assertIn("All 1 ports of the bench are taken", crowded[0])
        nowhere = faults(at(), run(at(several_addresses=True), effort=2000))
        self.assertTrue(any("The laptop stands in the site network" in item for item in nowhere))

    def test_twins_answer_for_each_other(self) -> None:
        site = read(document([device(1), device(2)]))
        planned = run(site, effort=2000)
        early = [
            replace(step, start_s=20, end_s=40, hand=2) if step.id == "d-2:connect" else step for step in planned.steps
        ]
        swapped = replace(planned, steps=tuple(early))
        said = {item for seed in range(6) for item in faults(site, swapped, seed)}
        self.assertTrue(any("Device 2 answered at 192.168.64.20 instead of Device 1" in item for item in said))

    def test_a_hurried_technician_meets_devices_that_are_not_ready(self) -> None:
        raw = document([device(1, "larkmoor-rec-8")])
        site = read(raw)
        planned = run(site, effort=2000)
        hurried = replace(
            planned,
            steps=tuple(
                replace(step, start_s=step.start_s - 60, end_s=step.end_s - 60) if step.kind == "activate" else step
                for step in planned.steps
            ),
        )
        self.assertIn("is busy by itself for another 60 s", faults(site, hurried)[0])
        self.assertNotEqual(breaches(raw, hurried.as_dict(), 1), [])
