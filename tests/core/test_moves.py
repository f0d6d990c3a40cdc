"""Moves that are looked at before they are done, and tables compared with random plans."""

from ipaddress import IPv4Address
from typing import Any
from unittest import TestCase

from hypothesis import assume, given
from hypothesis import strategies as st

from tests.samples import device, document, documents, read
from tutelar.core.check import check
from tutelar.core.handover.request import request
from tutelar.core.kit.delivery import delivery
from tutelar.core.planning import plan
from tutelar.core.planning.move import move
from tutelar.core.planning.renumber import partner_settings
from tutelar.core.sightings import Sighting, findings
from tutelar.core.site import with_addresses
from tutelar.core.survey.follows import follows


class Moves(TestCase):
    @given(documents(12), st.integers(0, 2**31), st.integers(0, 11))
    def test_what_is_foretold_is_what_happens(self, raw: dict[str, Any], host: int, which: int) -> None:
        assume(raw["devices"])
        site = read(raw)
        target = site.devices[which % len(site.devices)]
        cidr = site.networks[0].cidr
        address = IPv4Address(int(cidr.network_address) + host % cidr.num_addresses)
        found = move(site, plan(site), target, address)
        part = raw["devices"][which % len(site.devices)]
        part["address"], part["locked"] = str(address), False
        before, after = ({(p.code, p.message) for p in check(one)} for one in (site, read(raw)))
        self.assertEqual({(p.code, p.message) for p in found.caused}, after - before)
        self.assertEqual({(p.code, p.message) for p in found.solved}, before - after)

    def test_an_address_that_was_only_planned_for_another_is_said(self) -> None:
        site = read(document([device(1), device(2)]))
        planned = plan(site)
        taken = planned.addresses()["d-1"]
        found = move(site, planned, site.devices[1], IPv4Address(taken))
        self.assertIn("was only planned for Device 1", found.sentence)
        self.assertEqual(found.caused, ())

    def test_everybody_who_holds_the_address_is_told_in_a_safe_order(self) -> None:
        rows = [device(1, "pellgrave-gate-1"), device(2, "pellgrave-gate-1"), device(3, "larkmoor-rec-8"), device(4)]
        links = [
            {"kind": "registers-at", "from": "d-2", "to": "d-1", "slot": 2},
            {"kind": "records", "from": "d-1", "to": "d-3", "slot": 1},
            {"kind": "steers", "from": "d-4", "to": "d-1", "slot": 7},
            {"kind": "relays", "from": "d-3", "to": "relay"},
        ]
        site = read(document(rows, links=links))
        found = partner_settings(site, {"d-1": ("10.20.30.20", "10.20.30.90")})
        self.assertEqual(
            {(item.device, item.setting) for item in found},
            {
                ("d-2", "address of the main station"),
                ("d-3", "address of the camera on channel 1"),
                ("d-4", "address of the target with the short number 7"),
            },
        )
        self.assertTrue(all(item.after == ("d-1",) for item in found))


class Tables(TestCase):
    @given(documents(15))
    def test_a_site_that_stands_as_planned_is_as_expected(self, raw: dict[str, Any]) -> None:
        for item in raw["devices"]:
            item["address"], item["addressing"], item["locked"] = None, "fixed", False
        raw["networks"][0] |= {"reserved": [], "pools": [], "dns": []}
        for model in raw["models"]:
            model["factory"] = {"mode": "leased"}
        site = read(raw)
        planned = plan(site)
        macs = {item.key: item.mac or "" for item in site.devices}
        seen = [Sighting(item.address, macs[item.device]) for item in planned.assignments]
        found = findings(site, planned, seen)
        self.assertEqual({row.kind for row in found.rows}, {"expected"} if seen else set())
        placed = {item.device for item in planned.assignments}
        self.assertEqual(set(found.unseen), {key for key in macs if key not in placed} if seen else set())

    @given(documents(10), st.lists(st.tuples(st.integers(0, 2**32 - 1), st.integers(0, 2**39)), max_size=12))
    def test_every_sighting_gets_one_finding_and_one_sentence(
        self, raw: dict[str, Any], seen: list[tuple[int, int]]
    ) -> None:
        site = read(raw)
        sightings = [
            Sighting(str(IPv4Address(number)), ":".join(f"{mac << 1:012x}"[at : at + 2] for at in range(0, 12, 2)))
            for number, mac in seen
        ]
        found = findings(site, plan(site), sightings)
        self.assertEqual(len(found.rows), len(sightings))
        for row in found.rows:
            self.assertTrue(row.sentence.endswith("."), row.sentence)
            self.assertIn(row.address, row.sentence)
            self.assertFalse(row.set_address and row.device is None)


class Whole(TestCase):
    @given(documents(10))
    def test_a_delivery_note_that_came_in_is_nothing_new(self, raw: dict[str, Any]) -> None:
        empty = read({**raw, "devices": []})
        fields = ["model", "name", "place", "mac", "serial"]
        rows = [(at, [str(item[name] or "") for name in fields]) for at, item in enumerate(raw["devices"], 1)]
        first = delivery(empty, fields, rows, {})
        self.assertTrue(all(row.action == "add" for row in first), [row.sentence for row in first])
        parts = [part for row in first for part in row.parts]
        self.assertEqual(len({part["key"] for part in parts}), len(rows))
        after = read({**raw, "devices": parts})
        self.assertTrue(all(row.action == "same" for row in delivery(after, fields, rows, {})))

    @given(documents(10))
    def test_the_survey_and_the_request_speak_about_any_site(self, raw: dict[str, Any]) -> None:
        raw["survey"] = {"powered_ports": 2, "retention_days": 14, "remote_viewing": ["Ines"], "escape_doors": ["Exit"]}
        raw["internet"] = {"connection": "none"}
        site = read(raw)
        planned = plan(site)
        for items in follows(site, planned).values():
            self.assertTrue(all(item.message.endswith(".") for item in items), items)
        asked = request(site, planned)
        self.assertEqual(len(asked.wanted), len(site.devices))
        self.assertIn("This site has no internet: nothing of ours will try to leave it.", asked.outside)
        again = request(site, plan(with_addresses(site, planned.addresses())))
        self.assertEqual([item.address for item in again.wanted], [item.address for item in asked.wanted])
