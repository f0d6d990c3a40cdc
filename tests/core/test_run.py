"""The run: every plan it makes is legal by an independent reading of the run model, short, and said in words."""

import random
from statistics import median
from typing import Any
from unittest import TestCase

from tests import so_many
from tests.run_rules import breaches
from tests.samples import CAMERA, RECORDER, STATION, demo, device, document, read
from tutelar.core.check import check
from tutelar.core.planning import plan
from tutelar.core.proof import all_expectations
from tutelar.core.run import run
from tutelar.core.run.advice import advice
from tutelar.core.run.chain import chain_of
from tutelar.core.run.hand_times import ASSUMED, CATALOGUE
from tutelar.server.catalogue.shipped import shipped

MODES = ["leased", "fixed", "link-local", "leased-then-fixed"]


def any_site(number: int) -> dict[str, Any]:
    """Return a site drawn by its number: models with odd timings and factory settings, a small or large bench."""
    dice = random.Random(number)
    models = []
    for sample in (CAMERA, CAMERA, CAMERA, RECORDER, STATION, STATION)[: dice.randint(1, 6)]:
        mode = dice.choice(MODES)
        address = f"{dice.choice(['192.168.64', '192.168.64', '10.20.30', '172.20.1'])}.{dice.choice([20, 20, 21])}"
        timings = {
            name: dice.choice([value, value, dice.randint(1, 400), 0])
            for name, value in ((sample["timings"] | {"firmware_s": 240}).items())
        }
        factory = {"mode": mode, "address": None if mode == "leased" else address, "prefix": dice.choice([24, 24, 16])}
        models.append(sample | {"key": f"m-{len(models)}", "factory": factory, "timings": timings})
    rows = [device(at, dice.choice(models)["key"]) for at in range(dice.randint(0, 14))]
    family = {model["key"]: model["family"] for model in models}
    stations = [row["key"] for row in rows if family[row["model"]] == "door-station"]
    recorders = [row["key"] for row in rows if family[row["model"]] == "recorder"]
    links = [
        {
            "kind": dice.choice(["extends", "registers-at"]),
            "from": key,
            "to": stations[dice.randint(0, at)],
            "slot": at + 1,
        }
        for at, key in enumerate(stations[1:])
    ]
    if recorders:
        links += [
            {"kind": "records", "from": row["key"], "to": dice.choice(recorders), "slot": at + 100}
            for at, row in enumerate(rows)
            if family[row["model"]] == "camera"
        ]
    bench = {
        "ports": dice.choice([1, 2, 3, 8]),
        "leases": dice.random() < 0.5,
        "several_addresses": dice.random() < 0.2,
        "update_firmware": dice.random() < 0.3,
        "adapter_s": dice.choice([40, 40, 5, 0]),
        "connect_s": dice.choice([20, 20, 0]),
        "confirm_s": dice.choice([30, 30, 30, 0]),
    }
    policy = {"bench": bench, "passwords": dice.choice(["device", "family"])}
    return document(rows, links=links, policy=policy) | {"models": models}


class Runs(TestCase):
    def test_every_run_is_legal_and_never_shorter_than_its_bound(self) -> None:
        for number in range(so_many(150, 600)):
            raw, technicians = any_site(number), 1 + number % 3
            printed = run(read(raw), technicians, effort=4000).as_dict()
            self.assertEqual(breaches(raw, printed, technicians), [], f"site {number}")

    def test_the_demo_is_short_legal_and_the_same_again(self) -> None:
        raw = demo()
        for technicians, longest in ((1, 11_900), (2, 6_050), (3, 4_500)):
            result = run(read(raw), technicians, effort=150_000)
            self.assertEqual(breaches(raw, result.as_dict(), technicians), [])
            self.assertLess(result.total_s, longest)
            self.assertLess(result.total_s, 0.75 * result.one_by_one_s)
            self.assertEqual(result, run(read(raw), technicians, effort=150_000))

    def test_the_shortest_run_is_found_where_it_is_known(self) -> None:
        twins = read(document([device(1), device(2)], policy={"bench": {"ports": 1}}))
        self.assertEqual(run(twins).total_s, 2 * (20 + 70 + 45 + 150 + 60 + 30))  # laptop changes hide in the waits
        leased = read(document([device(at, "larkmoor-rec-8") for at in range(1, 4)]))
        result = run(leased, effort=2000)
        self.assertEqual((result.total_s, result.gap), (result.lower_bound_s, 0))

    def test_each_choice_is_explained_by_what_is_there(self) -> None:
        steps = {step.id: step for step in run(read(document([device(1), device(2)]))).steps}
        self.assertIn("Device 2 would answer at the same 192.168.64.20", steps["d-1:connect"].why)
        self.assertIn("Device 1 has just left 192.168.64.20", steps["d-2:connect"].why)
        self.assertIn("192.168.64.0/24", steps["d-1:adapter-activate"].why)
        self.assertEqual({step.id for step in steps.values() if step.manual and not step.why}, set())

    def test_values_to_type_are_the_planned_ones(self) -> None:
        site = read(demo())
        step = next(item for item in run(site, effort=2000).steps if item.id == "cam-01:configure")
        values = {item.label: item.value for item in step.values}
        self.assertEqual(values["IPv4 address"], "10.62.8.101")
        self.assertEqual(values["Subnet mask"], "255.255.255.0")
        self.assertEqual(values["Default gateway"], "10.62.8.1")
        self.assertEqual(values["Device name"], "Ticket hall east")

    def test_a_circle_of_stations_is_said_and_still_laid_out(self) -> None:
        links = [
            {"kind": "extends", "from": "d-1", "to": "d-2", "slot": 1},
            {"kind": "extends", "from": "d-2", "to": "d-1", "slot": 1},
        ]
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


class Wired(TestCase):
    def test_what_hangs_on_wires_has_no_address_no_step_and_its_own_check(self) -> None:
        raw = document(
            [device(1), device(2, "reader", network=None, address="10.20.30.50"), device(3, "keys", network=None)]
        )
        raw["models"] += [{"key": "reader", "family": "reader"}, {"key": "keys", "family": "keypad"}]
        site = read(raw)
        self.assertEqual(site.wired, {"d-2", "d-3"})
        self.assertEqual([(item.code, item.level) for item in check(site)], [("device.wired-address", "warning")])
        self.assertEqual([item.device for item in plan(site).assignments], ["d-1"])
        self.assertEqual({step.device for step in run(site, effort=500).steps} - {None}, {"d-1"})
        wanted = all_expectations(site, plan(site).assignments, witnessed=True)
        self.assertEqual([item.check for item in wanted["d-2"] + wanted["d-3"]], ["card-read", "zone-trips"])
        raw["models"][-1]["wired"] = False
        self.assertIn("device.no-network", {item.code for item in check(read(raw))})

    def test_a_camera_may_be_wired_and_a_reader_with_a_page_is_not(self) -> None:
        raw = document([device(1), device(2, "reader")])
        raw["models"][0]["wired"] = True
        raw["models"].append({"key": "reader", "family": "reader", "services": {"web": 80}})
        self.assertEqual(read(raw).wired, {"d-1"})


class HandTimes(TestCase):
    def test_a_missing_time_counts_as_the_familys_and_is_said(self) -> None:
        raw = document([device(1), device(2, "fast"), device(3, "bare"), device(4, "desk"), device(5, "thing")])
        raw["models"] += [
            {"key": "fast", "family": "camera", "timings": {"activate_s": 15, "configure_s": 50}},
            {"key": "bare", "family": "camera"},
            {"key": "desk", "family": "joystick-desk", "timings": {"activate_s": 0}},
            {"key": "thing", "family": "router"},
        ]
        site = read(raw)
        times = {
            key: {item.kind: item.seconds for item in chain_of(site, site.device_by_key[key])}
            for key in ("d-3", "d-4", "d-5")
        }
        self.assertEqual((times["d-3"]["activate"], times["d-3"]["configure"]), (30, 100))
        self.assertEqual((times["d-4"].get("activate"), times["d-4"]["configure"]), (None, 180))
        self.assertEqual((times["d-5"]["activate"], times["d-5"]["configure"]), (60, 180))
        notes = [item for item in run(site, effort=500).problems if item.code == "model.no-times"]
        self.assertEqual([item.subjects for item in notes], [("bare",), ("desk",), ("thing",)])
        self.assertIn("first login as 30 s and configuring as 100 s", notes[0].message)

    def test_the_medians_are_those_of_the_shipped_catalogue(self) -> None:
        found: dict[str, list[list[float]]] = {}
        for part in shipped().values():
            for at, name in enumerate(ASSUMED):
                if seconds := (part.get("timings") or {}).get(name):
                    found.setdefault(part["family"], [[], []])[at].append(seconds)
        self.assertEqual({family: tuple(map(median, both)) for family, both in found.items()}, dict(CATALOGUE))
