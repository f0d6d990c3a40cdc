"""The run: every plan it makes is legal by the run model of the contract."""

from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.samples import demo, device, document, documents, read
from tutelar.core.run import Run, run
from tutelar.core.run.advice import advice
from tutelar.core.run.chain import address_in_force, chain_of, subnet_needed
from tutelar.core.site import Site

CHAIN = ["connect", "boot", "activate", "update", "configure", "restart", "confirm", "format"]


def breaches(site: Site, result: Run) -> list[str]:
    """Return every rule of the run model that a run breaks."""
    found = []
    by_id = {step.id: step for step in result.steps}
    by_device: dict[str, list[Any]] = {}
    for step in result.steps:
        found += [f"{step.id} before {need}" for need in step.needs if by_id[need].end_s > step.start_s]
        by_device.setdefault(step.device or "", []).append(step)
    for hand in range(1, result.hands + 1):
        mine = [step for step in result.steps if step.hand == hand]
        found += [f"{b.id} overlaps {a.id}" for a, b in zip(mine, mine[1:], strict=False) if b.start_s < a.end_s]
        setting = None
        for step in mine:
            device_of = site.device_by_key.get(step.device or "")
            if step.kind == "adapter":
                setting = step.adapter
            elif step.kind == "confirm" and setting is not None:
                found.append(f"{step.id} away from the site network")
            elif step.kind in ("activate", "configure") and device_of:
                needed = subnet_needed(site, device_of)
                if needed != (setting.network if setting else None):
                    found.append(f"{step.id} in the wrong setting")
        if setting is not None:
            found.append(f"hand {hand} leaves its laptop away from the site network")
    taken: dict[str, list[tuple[float, float]]] = {}
    for part in site.devices:
        steps = sorted(by_device.get(part.key, []), key=lambda step: CHAIN.index(step.kind))
        wanted = [(piece.kind, piece.seconds) for piece in chain_of(site, part)]
        if [(step.kind, step.end_s - step.start_s) for step in steps] != wanted:
            found.append(f"{part.key} has another chain")
        found += [f"{b.id} before {a.id} ended" for a, b in zip(steps, steps[1:], strict=False) if b.start_s < a.end_s]
        factory = address_in_force(site.model_of(part), site.policy.bench)
        if factory and steps:
            until = next(step.end_s for step in steps if step.kind == "configure")
            taken.setdefault(str(factory.address), []).append((steps[0].start_s, until))
    for address, spans in taken.items():
        spans.sort()
        found += [f"two at {address}" for a, b in zip(spans, spans[1:], strict=False) if b[0] < a[1]]
    return found


class Runs(TestCase):
    def test_the_demo_is_legal_for_one_and_for_three(self) -> None:
        site = read(demo())
        for hands in (1, 3):
            result = run(site, hands)
            self.assertEqual(breaches(site, result), [])
            self.assertGreaterEqual(result.total_s, result.lower_bound_s)
            self.assertEqual(result.as_dict()["idle_s"], hands * result.total_s - result.hands_s)
            self.assertEqual({step.device for step in result.steps if step.device}, {d.key for d in site.devices})

    @settings(max_examples=40)
    @given(documents(most=10), st.integers(1, 4), st.booleans(), st.sampled_from(["device", "family"]))
    def test_every_run_is_legal(self, raw: dict[str, Any], hands: int, leases: bool, passwords: str) -> None:
        raw["policy"] |= {"bench": {"leases": leases, "ports": 3}, "passwords": passwords}
        kinds = {part["key"]: part["model"] for part in raw["devices"]}
        recorder = next((key for key, model in kinds.items() if model == "larkmoor-rec-8"), None)
        stations = [key for key, model in kinds.items() if model == "pellgrave-gate-1"]
        raw["links"] = [{"kind": "extends", "from": key, "to": stations[0], "slot": at + 1}
                        for at, key in enumerate(stations[1:])]  # fmt: skip
        if recorder:
            raw["links"] += [{"kind": "records", "from": key, "to": recorder, "slot": at + 1}
                             for at, (key, model) in enumerate(kinds.items()) if model == "larkmoor-dome-4"]  # fmt: skip
        site = read(raw)
        result = run(site, hands)
        self.assertEqual(breaches(site, result), [])
        starts = {step.id: step.start_s for step in result.steps}
        ends = {step.id: step.end_s for step in result.steps}
        for key in stations[1:]:
            self.assertGreaterEqual(starts[f"{key}:configure"], ends[f"{stations[0]}:confirm"])
        if recorder and passwords == "family":
            for key, model in kinds.items():
                if model == "larkmoor-dome-4":
                    self.assertGreaterEqual(starts[f"{key}:activate"], ends[f"{recorder}:confirm"])

    def test_values_to_type_are_the_planned_ones(self) -> None:
        site = read(demo())
        step = next(item for item in run(site).steps if item.id == "cam-01:configure")
        values = {item.label: item.value for item in step.values}
        self.assertEqual(values["IPv4 address"], "10.62.8.101")
        self.assertEqual(values["Subnet mask"], "255.255.255.0")
        self.assertEqual(values["Default gateway"], "10.62.8.1")
        self.assertEqual(values["Device name"], "Ticket hall east")

    def test_a_circle_of_stations_is_said_and_still_laid_out(self) -> None:
        links = [{"kind": "extends", "from": "d-1", "to": "d-2", "slot": 1},
                 {"kind": "extends", "from": "d-2", "to": "d-1", "slot": 1}]  # fmt: skip
        site = read(document([device(1, "pellgrave-gate-1"), device(2, "pellgrave-gate-1")], links=links))
        result = run(site)
        self.assertIn("run.circle", [item.code for item in result.problems])
        self.assertEqual({step.device for step in result.steps if step.device}, {"d-1", "d-2"})

    def test_what_the_bench_lacks_is_said(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(2)]
        site = read(document(rows, policy={"bench": {"leases": False, "ports": 1}}))
        found = {item.code: item for item in run(site, 3).problems}
        self.assertEqual(found["run.lease-missing"].subjects, ("d-1",))
        self.assertEqual(found["run.lease-missing"].level, "warning")
        self.assertIn("3 technicians share 1", found["run.ports"].message)
        self.assertEqual(run(read(document(rows))).problems, ())

    def test_twins_are_named_until_they_have_their_own_address(self) -> None:
        site = read(document([device(1), device(2), device(3, "larkmoor-rec-8")]))
        result = run(site)
        step = next(item for item in result.steps if item.id == "d-1:connect")
        self.assertEqual(advice(site, step, None, frozenset()).keep_off, ("d-2",))
        self.assertEqual(advice(site, step, None, frozenset({"d-2:configure"})).keep_off, ())
