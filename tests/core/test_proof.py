"""Judging what devices show, and knowing when a reading no longer tells."""

from unittest import TestCase

from tests.samples import demo, device, document, read
from tutelar.core.addressing import plan
from tutelar.core.proof import (
    Identity,
    Observation,
    PortAnswer,
    all_expectations,
    device_state,
    expectations,
    is_stale,
    judge,
    latest,
    spoken_offset,
)
from tutelar.core.site import Reading

OPEN = PortAnswer(True, 3.0)
SITE = read(document([device(1, address="10.20.30.50")]))
DEVICE = SITE.devices[0]
WANTED = expectations(SITE, DEVICE, plan(SITE).assignments[0])
RIGHT = Identity("Device 1", "02:1a:4b:00:00:01", "S1", "DMY")


def results(seen: Observation | None) -> dict[str, str]:
    return {item.check: item.result for item in judge(SITE, DEVICE, WANTED, seen)}


class Judging(TestCase):
    def test_all_is_well(self) -> None:
        seen = Observation({"web": OPEN, "stream": OPEN}, RIGHT, 1.9)
        self.assertEqual(set(results(seen).values()), {"pass"})

    def test_each_fault_fails_its_own_check(self) -> None:
        web = {"web": OPEN, "stream": OPEN}
        cases: list[tuple[str, Observation]] = [
            ("name", Observation(web, Identity("Camera 01", RIGHT.mac, "S1", "DMY"), 0)),
            ("right-device", Observation(web, Identity("Device 1", "02:1a:4b:00:00:99", "S1", "DMY"), 0)),
            ("date-order", Observation(web, Identity("Device 1", RIGHT.mac, "S1", "MDY"), 0)),
            ("clock", Observation(web, RIGHT, -2.1)),
            ("stream", Observation({"web": OPEN, "stream": PortAnswer(False, 1.0)}, RIGHT, 0)),
            ("stream", Observation({"web": OPEN, "stream": PortAnswer(True, 1.0, "does not speak RTSP")}, RIGHT, 0)),
        ]
        for check, seen in cases:
            with self.subTest(check=check):
                self.assertEqual([name for name, result in results(seen).items() if result != "pass"], [check])
                self.assertEqual(results(seen)[check], "fail")

    def test_silence_is_told_from_not_asked(self) -> None:
        shut = results(Observation({"web": PortAnswer(False, 9), "stream": PortAnswer(False, 9)}))
        self.assertEqual(shut["answers"], "silent")
        self.assertEqual({result for check, result in shut.items() if check != "answers"}, {"skipped"})
        self.assertEqual(set(results(None).values()), {"skipped"})

    def test_offsets_are_spoken(self) -> None:
        self.assertEqual(spoken_offset(0.4), "right to the second")
        self.assertEqual(spoken_offset(3661), "1 h 1 min 1 s ahead")
        self.assertEqual(spoken_offset(-3600), "1 h behind")


class Staleness(TestCase):
    def test_a_changed_setting_makes_exactly_its_readings_stale(self) -> None:
        raw = document([device(1, address="10.20.30.50")])
        seen = Observation({"web": OPEN, "stream": OPEN}, RIGHT, 0)
        readings = judge(SITE, DEVICE, WANTED, seen)
        for key, value, stale in (
            ("name", "Gate", {"name"}),
            ("address", "10.20.30.51", {"answers", "right-device", "web", "stream"}),
            ("mac", "02:1a:4b:00:00:77", {"right-device"}),
            ("place", "Yard", set()),
        ):
            raw["devices"][0] = device(1, address="10.20.30.50") | {key: value}
            site = read(raw)
            wanted = {item.check: item for item in expectations(site, site.devices[0], plan(site).assignments[0])}
            self.assertEqual({item.check for item in readings if is_stale(item, wanted[item.check])}, stale, key)

    def test_proven_needs_every_check_fresh_and_passed(self) -> None:
        seen = Observation({"web": OPEN, "stream": OPEN}, RIGHT, 0)
        passed = latest(judge(SITE, DEVICE, WANTED, seen))
        self.assertEqual(device_state(True, True, WANTED, passed), "proven")
        missing = {key: reading for key, reading in passed.items() if key[1] != "clock"}
        self.assertEqual(device_state(True, True, WANTED, missing), "set")
        self.assertEqual(device_state(True, False, WANTED, {}), "planned")
        broken = passed | {("d-1", "clock"): Reading(device="d-1", check="clock", expected="within 2 s", result="fail")}
        self.assertEqual(device_state(True, True, WANTED, broken), "broken")

    def test_every_demo_device_has_something_to_measure(self) -> None:
        site = read(demo())
        wanted = all_expectations(site, plan(site).assignments)
        self.assertTrue(all(items[0].check == "answers" for items in wanted.values()))
        self.assertEqual(len(wanted), 39)
