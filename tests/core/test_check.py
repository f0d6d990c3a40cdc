"""Everything that can be told from the document alone: each fault gives its code, its level and both names."""

from typing import Any
from unittest import TestCase

from tests.samples import demo, device, document, read
from tutelar.core.check import check


def pool(first: str, last: str) -> dict[str, Any]:
    return {"pools": [{"first": first, "last": last}], "reserved": []}


def link(start: str, to: str, slot: int | None = None, kind: str = "records") -> dict[str, Any]:
    return {"kind": kind, "from": start, "to": to, "slot": slot}


REC = device(1, "larkmoor-rec-8")
SECOND = {"key": "second", "cidr": "10.20.40.0/24", "gateway": None}
FED = {"device": "d-1", "port": 1}

# code, level, subjects, document
FAULTS: list[tuple[str, str, set[str], dict[str, Any]]] = [
    ("address.outside", "error", {"d-2"}, document([device(2, address="10.20.31.5")])),
    ("address.network", "error", {"d-2"}, document([device(2, address="10.20.30.0")])),
    ("address.broadcast", "error", {"d-2"}, document([device(2, address="10.20.30.255")])),
    ("address.gateway", "error", {"d-2"}, document([device(2, address="10.20.30.1")])),
    ("address.dns", "error", {"d-2"}, document([device(2, address="10.20.30.60")], network={"dns": ["10.20.30.60"]})),
    ("address.reserved", "error", {"d-2"}, document([device(2, address="10.20.30.4")])),
    ("address.in-pool", "error", {"d-2"}, document([device(2, address="10.20.30.100")])),
    (
        "address.duplicate",
        "error",
        {"d-2", "d-3"},
        document([device(2, address="10.20.30.50"), device(3, address="10.20.30.50")]),
    ),
    (
        "address.factory-clash",
        "warning",
        {"d-2", "d-3"},
        document(
            [device(2, address="192.168.64.20"), device(3)],
            network={"cidr": "192.168.64.0/24", "gateway": "192.168.64.1", "dns": [], "pools": [], "reserved": []},
        ),
    ),
    ("site.time-zone", "error", set(), {**document(), "site": {**document()["site"], "time_zone": "Europe/Dubln"}}),
    ("network.gateway-outside", "error", {"lan"}, document(network={"gateway": "10.20.31.1"})),
    ("network.pool-outside", "warning", {"lan"}, document(network=pool("10.20.30.240", "10.20.31.10"))),
    (
        "network.reserved-outside",
        "warning",
        {"lan"},
        document(network={"reserved": [{"first": "10.20.29.250", "last": "10.20.30.3"}]}),
    ),
    (
        "pool.overlaps-reserved",
        "warning",
        {"lan"},
        document(network={"pools": [{"first": "10.20.30.5", "last": "10.20.30.20"}]}),
    ),
    ("range.backward", "error", {"lan"}, document(network=pool("10.20.30.60", "10.20.30.50"))),
    (
        "network.overlap",
        "error",
        {"lan", "second"},
        document([]) | {"networks": [document()["networks"][0], SECOND | {"cidr": "10.20.0.0/16"}]},
    ),
    (
        "network.overlap",
        "warning",
        {"lan", "d-1"},
        document(
            [REC], network={"cidr": "172.27.16.0/24", "gateway": "172.27.16.1", "dns": [], "pools": [], "reserved": []}
        ),
    ),
    ("range.backward", "error", set(), document(policy={"blocks": [{"families": ["camera"], "first": 9, "last": 2}]})),
    (
        "policy.block-outside",
        "note",
        set(),
        document(policy={"blocks": [{"families": ["camera"], "first": 900, "last": 920}]}),
    ),
    ("mac.duplicate", "error", {"d-2", "d-3"}, document([device(2), device(3, mac="02-1A-4B-00-00-02")])),
    ("mac.invalid", "error", {"d-2"}, document([device(2, mac="02:1a:4b:00:0O:02")])),
    ("mac.eleven-digits", "warning", {"d-2"}, document([device(2, mac="21A4B000002")])),
    ("mac.eleven-digits", "warning", {"d-2"}, document([device(2, mac="02:1a:4b:00:00:2")])),
    ("serial.duplicate", "warning", {"d-2", "d-3"}, document([device(2), device(3, serial="S2")])),
    ("name.duplicate", "warning", {"d-2", "d-3"}, document([device(2), device(3, name="Device 2")])),
    ("device.no-network", "error", {"d-2"}, document([device(2, network=None)])),
    ("device.unknown-network", "error", {"d-2"}, document([device(2, network="wan")])),
    ("device.unknown-model", "error", {"d-2"}, document([device(2, "nobody")])),
    ("device.unknown-recorder", "error", {"d-2"}, document([device(2, network=None, behind="d-9")])),
    ("device.two-homes", "error", {"d-2"}, document([REC, device(2, behind="d-1")])),
    ("device.unknown-supply", "error", {"d-2"}, document([device(2, powered_by={"device": "d-9"})])),
    ("device.unknown-place", "warning", {"d-2"}, document([device(2, place="Moon")])),
    ("key.duplicate", "error", {"d-2"}, document([device(2), device(2, mac=None, serial=None, name="Other")])),
    ("key.duplicate", "error", {"ask-1"}, document(asked=[{"key": "ask-1", "of": "it", "question": q} for q in "ab"])),
    (
        "device.leased-but-linked",
        "warning",
        {"d-2", "d-1"},
        document([REC, device(2, addressing="leased")], links=[link("d-2", "d-1", 1)]),
    ),
    ("link.unknown-device", "error", {"d-9"}, document([REC], links=[link("d-9", "d-1", 1)])),
    ("link.no-slot", "warning", {"d-2", "d-1"}, document([REC, device(2)], links=[link("d-2", "d-1")])),
    (
        "link.slot-taken",
        "error",
        {"d-1", "d-2", "d-3"},
        document([REC, device(2), device(3)], links=[link("d-2", "d-1", 4), link("d-3", "d-1", 4)]),
    ),
    ("link.wrong-family", "warning", {"d-2", "d-3"}, document([device(2), device(3)], links=[link("d-2", "d-3", 1)])),
    (
        "link.not-reachable",
        "warning",
        {"d-2", "d-1"},
        document([REC, device(2, network="second")], links=[link("d-2", "d-1", 1)])
        | {"networks": [document()["networks"][0], SECOND]},
    ),
    (
        "link.not-reachable",
        "warning",
        {"d-2", "d-3"},
        document(
            [REC, device(2, network=None, behind="d-1"), device(3, "larkmoor-rec-8")], links=[link("d-2", "d-3", 1)]
        ),
    ),
    (
        "recorder.over-capacity",
        "error",
        {"d-1"},
        document(
            [REC, *(device(at) for at in range(2, 12))], links=[link(f"d-{at}", "d-1", at - 1) for at in range(2, 12)]
        ),
    ),
    ("recorder.over-capacity", "error", {"d-2", "d-1"}, document([REC, device(2)], links=[link("d-2", "d-1", 9)])),
    (
        "recorder.over-capacity",
        "error",
        {"d-1"},
        document([REC, *(device(at, network=None, behind="d-1") for at in (2, 3, 4))]),
    ),
    (
        "switch.port-taken",
        "warning",
        {"d-2", "d-3", "d-1"},
        document([REC, device(2, powered_by=FED), device(3, powered_by=FED)]),
    ),
    (
        "reading.unknown-device",
        "error",
        {"d-9"},
        document([], readings=[{"device": "d-9", "check": "answers", "result": "pass"}]),
    ),
]


class Check(TestCase):
    def test_a_sound_site_has_no_problems(self) -> None:
        self.assertEqual(check(read(demo())), [])

    def test_each_fault_is_named(self) -> None:
        for code, level, subjects, raw in FAULTS:
            with self.subTest(code=code, subjects=subjects):
                found = [item for item in check(read(raw)) if item.code == code]
                self.assertTrue(found, [item.code for item in check(read(raw))])
                self.assertEqual(found[0].level, level)
                self.assertTrue(any(set(item.subjects) == subjects for item in found), found)
                self.assertRegex(found[0].message, r"^\S.*\.$")
                self.assertEqual(list(found[0].as_dict()), ["code", "level", "subjects", "message", "fix"])

    def test_names_must_fit_the_device(self) -> None:
        raw = document([device(2, name="Gräfin-Straße Nord-West-Tor 7")])
        raw["models"][0]["name_rule"] = {"max": 12, "charset": "ascii"}
        self.assertEqual({item.code for item in check(read(raw))}, {"name.too-long", "name.charset"})

    def test_a_switch_feeds_no_more_than_its_budget(self) -> None:
        raw = document(
            [device(1, "tarn-switch"), *(device(at, powered_by={"device": "d-1", "port": at}) for at in (2, 3))]
        )
        raw["models"].append({"key": "tarn-switch", "family": "switch", "poe_budget_w": 30})
        raw["models"][0]["power"] = {"poe_class": 3}
        message = next(item.message for item in check(read(raw)) if item.code == "switch.over-budget")
        self.assertIn("30.8 W", message)
        self.assertIn("30 W", message)
