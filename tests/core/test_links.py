"""Links and supply: who can talk to whom, what a recorder takes in, what a port must give."""

from itertools import pairwise
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import demo, device, document, read
from tutelar.core.check import check
from tutelar.core.links.needs import why_apart
from tutelar.core.links.registry import link_index, slot_word
from tutelar.core.loads.budget import PORT_WATTS, reserved_watts
from tutelar.core.problems import Problem, has_errors, in_order, problem

REC, OTHER = device(1, "larkmoor-rec-8"), device(9, "larkmoor-rec-8")


def records(*slots: tuple[int, int | None]) -> list[dict[str, Any]]:
    return [{"kind": "records", "from": f"d-{start}", "to": "d-1", "slot": slot} for start, slot in slots]


def found(raw: dict[str, Any], code: str) -> list[Problem]:
    return [item for item in check(read(raw)) if item.code == code]


class Links(TestCase):
    def test_one_slot_may_be_used_once_a_kind_and_target(self) -> None:
        rows = [REC, OTHER, device(2), device(3), device(4)]
        fine = [
            *records((2, 1)),
            {"kind": "records", "from": "d-3", "to": "d-9", "slot": 1},
            {"kind": "steers", "from": "d-4", "to": "d-1", "slot": 1},
        ]
        self.assertEqual(found(document(rows, links=fine), "link.slot-taken"), [])
        taken = found(document(rows, links=records((2, 1), (3, 1), (4, 1))), "link.slot-taken")
        self.assertEqual(len(taken), 1)
        self.assertIn("are all on channel 1 of Device 1", taken[0].message)

    def test_each_kind_has_its_word(self) -> None:
        words = [slot_word(kind) for kind in ("records", "registers-at", "steers", "reads-for", "manages")]
        self.assertEqual(words, ["channel", "monitor number", "short number", "door", "panel number"])

    def test_incoming_streams_add_up(self) -> None:
        raw = document(
            [REC, device(2), device(3), device(4, "pellgrave-gate-1")], links=records((2, 1), (3, 2), (4, 3))
        )
        site = read(raw)
        self.assertAlmostEqual(link_index(site, {}).loads[site.links[0].to].mbps, 2 * 4.096)
        raw["models"][1]["capacity"]["incoming_mbps"] = 8
        message = found(raw, "recorder.over-capacity")[0].message
        self.assertIn("8.2 Mbit/s wanted", message)
        self.assertIn("takes in 8 Mbit/s", message)
        channel = {"recorder": site.links[0].to, "slot": 1, "kbps": 6000}
        both = read(
            raw | {"recording": {"channels": [channel]}}
        )  # what is said of a channel counts wherever it is asked
        self.assertAlmostEqual(link_index(both, {}).loads[site.links[0].to].mbps, 6 + 4.096)
        said = found(raw | {"recording": {"channels": [channel]}}, "recorder.over-capacity")[0].message
        self.assertIn("10.1 Mbit/s wanted", said)

    def test_channels_and_streams_are_told_apart(self) -> None:
        rows = [REC, *(device(at) for at in range(2, 12))]
        messages = [
            item.message
            for item in found(
                document(rows, links=records(*((at, at - 1) for at in range(2, 12)))), "recorder.over-capacity"
            )
        ]
        self.assertTrue(any("10 channels wanted" in text for text in messages))
        self.assertTrue(any("41.0 Mbit/s" in text for text in messages))
        self.assertTrue(any("channel 10 of Device 1" in text for text in messages))

    def test_who_can_reach_whom(self) -> None:
        rows = [
            REC,
            OTHER,
            device(2, network=None, behind="d-1"),
            device(3, network=None, behind="d-1"),
            device(4),
            device(5, network="far"),
        ]
        raw = document(rows) | {
            "networks": [document()["networks"][0], {"key": "far", "cidr": "10.20.40.0/24", "gateway": "10.20.40.1"}]
        }
        site = read(raw)
        at = site.device_by_key
        for one, other, reaches in (
            ("d-2", "d-1", True),
            ("d-2", "d-3", True),
            ("d-2", "d-9", False),
            ("d-4", "d-2", False),
            ("d-4", "d-5", True),
        ):
            self.assertEqual(why_apart(site, at[one], at[other]) is None, reaches, (one, other))
        raw["networks"][1]["gateway"] = None
        self.assertIn("far has no gateway", why_apart(read(raw), at["d-4"], at["d-5"]) or "")

    def test_relays_find_a_leased_device_and_recorders_do_not(self) -> None:
        rows = [REC, device(2, addressing="leased")]
        relayed = document(rows, links=[{"kind": "relays", "from": "d-2", "to": "relay", "slot": None}])
        self.assertEqual(found(relayed, "device.leased-but-linked"), [])
        self.assertEqual(len(found(document(rows, links=records((2, 1))), "device.leased-but-linked")), 1)


class Supply(TestCase):
    def test_watts_rise_with_the_class_and_class_0_counts_as_3(self) -> None:
        self.assertTrue(all(one < other for one, other in pairwise(PORT_WATTS[at] for at in range(1, 9))))
        self.assertEqual(PORT_WATTS[0], PORT_WATTS[3])
        site = read(demo())
        self.assertEqual(
            [
                reserved_watts(site.model_by_key[key])
                for key in ("larkmoor-dome-4", "pellgrave-rove-2", "larkmoor-rec-16p")
            ],
            [15.4, 30.0, 0.0],
        )
        self.assertEqual(reserved_watts(None), 0.0)

    def test_a_recorder_feeds_its_own_ports_within_their_budget(self) -> None:
        raw = document(
            [REC, *(device(at, network=None, behind="d-1", powered_by={"device": "d-1", "port": at}) for at in (2, 3))]
        )
        raw["models"][0]["power"] = {"poe_class": 3}
        self.assertIn("30.8 W by class for 2 devices; it has 30 W", found(raw, "switch.over-budget")[0].message)
        for item in raw["devices"]:
            item.pop("powered_by", None)  # what hangs on its own powered ports is fed by them, said or not
        self.assertIn("30.8 W by class for 2 devices; it has 30 W", found(raw, "switch.over-budget")[0].message)


class Problems(TestCase):
    @given(st.lists(st.sampled_from(["mac.invalid", "name.duplicate", "plan.block-overflow"]), max_size=12))
    def test_errors_come_first_and_each_is_said_once(self, codes: list[str]) -> None:
        problems = [problem(code, (f"d-{at % 3}",), "It is so.") for at, code in enumerate(codes)]
        ordered = in_order(problems)
        levels = [item.level for item in ordered]
        self.assertEqual(levels, sorted(levels, key=["error", "warning", "note"].index))
        self.assertEqual(set(ordered), set(problems))
        self.assertEqual(len(ordered), len(set(problems)))
        self.assertEqual(has_errors(problems), "mac.invalid" in codes)
