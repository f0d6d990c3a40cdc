"""Judging what devices show, and knowing when a reading no longer tells."""

from dataclasses import replace
from datetime import UTC, datetime
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import demo, device, document, read
from tutelar.core.planning import plan
from tutelar.core.proof import (
    CertificateSeen,
    Identity,
    Observation,
    PortAnswer,
    PortFault,
    ReportedState,
    StreamSeen,
    all_expectations,
    device_state,
    expectations,
    is_stale,
    judge,
    latest,
    spoken_offset,
    stranger,
)
from tutelar.core.site import Reading

OPEN = PortAnswer(True, 3.0)
SITE = read(document([device(1, address="10.20.30.50")]))
DEVICE = SITE.devices[0]
WANTED = expectations(SITE, DEVICE, plan(SITE).assignments[0])
RIGHT = Identity("Device 1", "02:1a:4b:00:00:01", "S1", "DMY")


WEB = {"web": OPEN, "stream": OPEN}
TOLD = ReportedState(prefix=24, gateway="10.20.30.1", dns=("10.20.30.1",))
MAIN = StreamSeen("h265", 2688, 1520, 20.0)


def look(
    ports: dict[str, PortAnswer] = WEB, who: Identity | None = RIGHT, offset: float | None = 0.0, **more: Any
) -> Observation:
    """Return what is seen of a device that is as planned, but for what is given."""
    return Observation(ports, who, offset, **({"login": "taken", "told": TOLD, "stream": MAIN, "tries": 5} | more))


def results(seen: Observation | None) -> dict[str, str]:
    return {item.check: item.result for item in judge(SITE, DEVICE, WANTED, seen)}


class Clocks(TestCase):
    @given(st.floats(-20, 20), st.floats(0, 6), st.floats(0, 1), st.sampled_from([0.5, 2.0, 2.5, 10.0]))
    def test_how_long_an_answer_takes_never_makes_a_clock_right_or_wrong(
        self, off: float, took: float, when: float, within: float
    ) -> None:
        """`when`: how far into the exchange the device read its clock."""
        asked = off + took * (when - 0.5)
        seen = replace(look(offset=asked), clock_give_s=took / 2)
        site = read(document([device(1)], policy={"proof": {"clock_s": within}}))
        wanted = [item for item in expectations(site, site.devices[0], None) if item.check == "clock"]
        result = judge(site, site.devices[0], wanted, seen)[0].result
        if result == "fail":
            self.assertGreater(abs(off), within - 1e-6)
        if result == "pass":
            self.assertLessEqual(abs(off), within + min(took / 2, within) + 1e-6)
        if took == 0:
            self.assertEqual(result, "pass" if abs(off) <= within else "fail")


class Judging(TestCase):
    def test_all_is_well(self) -> None:
        self.assertEqual(set(results(look(offset=1.9)).values()), {"pass"})

    def test_each_fault_fails_its_own_check(self) -> None:
        cases: list[tuple[str, Observation]] = [
            ("name", look(who=Identity("Camera 01", RIGHT.mac, "S1", "DMY"))),
            ("date-order", look(who=Identity("Device 1", RIGHT.mac, "S1", "MDY"))),
            ("clock", look(offset=-2.1)),
            ("stream", look({"web": OPEN, "stream": PortAnswer(False, 1.0)})),
            (
                "stream",
                look(
                    {"web": OPEN, "stream": PortAnswer(True, 1.0, PortFault("wrong-protocol", "does not speak RTSP"))}
                ),
            ),
            ("cable", look(lost=1)),
            ("mask", look(told=ReportedState(prefix=25, gateway=TOLD.gateway, dns=TOLD.dns))),
            ("gateway", look(told=ReportedState(prefix=24, gateway="10.20.30.9", dns=TOLD.dns))),
            ("dns", look(told=ReportedState(prefix=24, gateway=TOLD.gateway, dns=()))),
            ("resolution", look(stream=StreamSeen("h265", 1280, 720, 20.0))),
        ]
        for check, seen in cases:
            with self.subTest(check=check):
                self.assertEqual([name for name, result in results(seen).items() if result != "pass"], [check])
                self.assertEqual(results(seen)[check], "fail")

    def test_what_cannot_be_asked_is_skipped_and_what_is_wrong_fails_once(self) -> None:
        other = results(look(who=Identity("Device 1", "02:1a:4b:00:00:99", "S1", "DMY")))
        self.assertEqual([check for check, result in other.items() if result == "fail"], ["right-device"])
        self.assertEqual(other["name"], "skipped")
        for login in ("refused", "locked"):
            refused = results(look(login=login, told=None))
            self.assertEqual([check for check, result in refused.items() if result == "fail"], ["login"])
            self.assertEqual({refused[check] for check in ("mask", "gateway", "dns")}, {"skipped"})
        self.assertEqual(results(look(login=None, told=None))["login"], "skipped")
        self.assertEqual(results(look(stream=StreamSeen("h265", 2688, 1520)))["resolution"], "pass")  # no rate is told

    def test_silence_is_told_from_not_asked(self) -> None:
        shut = results(Observation({"web": PortAnswer(False, 9), "stream": PortAnswer(False, 9)}))
        self.assertEqual(shut["answers"], "silent")
        self.assertEqual({result for check, result in shut.items() if check != "answers"}, {"skipped"})
        self.assertEqual(set(results(None).values()), {"skipped"})

    def test_a_stranger_is_told_by_the_hardware_address_before_the_serial_number(self) -> None:
        cases: list[tuple[Observation, str | None]] = [
            (look(who=None), None),  # nobody said anything
            (look(), None),
            (look(who=replace(RIGHT, mac="021A.4B00.0001")), None),  # the same, written as another maker writes it
            (look(who=replace(RIGHT, mac="02-1A-4B-00-00-01", serial="S2")), None),  # its board tells, not the sticker
            (look(who=replace(RIGHT, mac="02:1a:4b:00:00:02")), "02:1a:4b:00:00:02"),
            (look(who=replace(RIGHT, mac="no address")), "no address"),
            (look(who=replace(RIGHT, mac=None)), None),  # the serial number is all there is, and it is right
            (look(who=replace(RIGHT, mac=None, serial=None)), None),
            (look(who=None, neighbour="02:1a:4b:00:00:07"), "02:1a:4b:00:00:07"),  # the laptop's own table tells
            (look(who=None, neighbour="02:1a:4b:00:00:01"), None),
            (look(neighbour="02:1a:4b:00:00:07"), None),  # its own word counts more than a table that may be old
        ]
        for seen, other in cases:
            self.assertEqual(stranger(DEVICE, seen), other, seen)
        known = DEVICE.model_copy(update={"mac": None, "serial": "S1"})
        self.assertIsNone(stranger(known, look()))
        self.assertEqual(stranger(known, look(who=replace(RIGHT, serial="S9"))), "S9")

    def test_a_pinned_certificate_tells_the_same_device_from_another(self) -> None:
        mark, other = ":".join(["AB"] * 32), ":".join(["CD"] * 32)
        day = datetime(2030, 5, 1, tzinfo=UTC)
        for pin, shown, who, right, own in (
            (None, mark, RIGHT, "pass", "pass"),  # first contact
            (mark, mark, RIGHT, "pass", "pass"),
            (mark.replace(":", "").lower(), mark, RIGHT, "pass", "pass"),
            (mark, other, RIGHT, "pass", "fail"),  # the same device with another certificate
            (mark, mark, None, "pass", "pass"),  # it says nothing, and its certificate tells
            (mark, other, None, "fail", "skipped"),  # it says nothing, and another certificate is there
            (mark, None, RIGHT, "pass", "skipped"),
        ):
            with self.subTest(pin=pin, shown=shown, who=who):
                raw = document([device(1, address="10.20.30.50") | ({"certificate": pin} if pin else {})])
                raw["models"][0]["services"] = {"web": 80, "web-tls": 443}
                site = read(raw)
                wanted = expectations(site, site.devices[0], plan(site).assignments[0])
                seen = look(
                    {"web": OPEN, "web-tls": OPEN}, who, certificate=CertificateSeen(shown, day, day) if shown else None
                )
                found = {item.check: item.result for item in judge(site, site.devices[0], wanted, seen)}
                self.assertEqual((found["right-device"], found["certificate"]), (right, own))

    def test_offsets_are_spoken(self) -> None:
        self.assertEqual(spoken_offset(0.4), "right to the second")
        self.assertEqual(spoken_offset(3661), "1 h 1 min 1 s ahead")
        self.assertEqual(spoken_offset(-3600), "1 h behind")


class Staleness(TestCase):
    def test_a_changed_setting_makes_exactly_its_readings_stale(self) -> None:
        raw = document([device(1, address="10.20.30.50")])
        readings = judge(SITE, DEVICE, WANTED, look())
        for key, value, stale in (
            ("name", "Gate", {"name"}),
            ("address", "10.20.30.51", {"answers", "right-device", "web", "stream"}),
            ("mac", "02:1a:4b:00:00:77", {item.check for item in WANTED}),
            ("place", "Yard", set()),
        ):
            raw["devices"][0] = device(1, address="10.20.30.50") | {key: value}
            site = read(raw)
            wanted = {item.check: item for item in expectations(site, site.devices[0], plan(site).assignments[0])}
            self.assertEqual({item.check for item in readings if is_stale(item, wanted[item.check])}, stale, key)

    def test_renaming_a_recorder_or_mending_a_word_makes_nothing_stale(self) -> None:
        raw = demo()
        site = read(raw)
        wanted = all_expectations(site, plan(site).assignments, witnessed=True)
        readings = {
            (item.device, item.check): Reading(
                device=item.device,
                check=item.check,
                expected="as it was said then",
                result="pass",
                code="seen",
                basis=dict(item.basis),
            )
            for items in wanted.values()
            for item in items
        }
        for part in raw["devices"]:
            if part["key"].startswith("rec-"):
                part["name"] = f"{part['name']} renamed"
        renamed = read(raw)
        now = all_expectations(renamed, plan(renamed).assignments, witnessed=True)
        stale = {
            (key, item.check)
            for key, items in now.items()
            for item in items
            if is_stale(readings[key, item.check], item)
        }
        recorders = {device.key for device in site.devices if site.family_of(device) == "recorder"}
        self.assertEqual(stale, {(key, "name") for key in recorders})
        linked = next(item for item in now["cam-01"] if item.check == "linked")
        self.assertIn("renamed", linked.expected)  # the sentence is made of the name of today

    def test_a_reading_without_values_is_judged_by_its_words(self) -> None:
        wanted = next(item for item in WANTED if item.check == "answers")
        said = Reading(device="d-1", check="answers", expected=wanted.expected, result="pass")
        self.assertFalse(is_stale(said, wanted))
        self.assertTrue(is_stale(said.model_copy(update={"expected": "an answer at 10.9.9.9"}), wanted))

    def test_proven_needs_every_check_fresh_and_passed(self) -> None:
        passed = latest(judge(SITE, DEVICE, WANTED, look()))
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
