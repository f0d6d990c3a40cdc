"""The request to the IT person: flows that cross a firewall and nothing else, addresses wanted, open questions."""

from typing import Any
from unittest import TestCase

from hypothesis import given

from tests.samples import demo, device, document, documents, read
from tutelar.core.handover.flows import flows
from tutelar.core.handover.request import Request, request
from tutelar.core.planning import plan

OFFICE = {"key": "office", "name": "Office", "cidr": "10.20.40.0/24", "gateway": "10.20.40.1", "pools": []}


def of(raw: dict[str, Any]) -> Request:
    site = read(raw)
    return request(site, plan(site))


def two_networks(rows: list[dict[str, Any]], links: list[dict[str, Any]]) -> dict[str, Any]:
    raw = document(rows, links=links)
    raw["networks"].append(OFFICE)
    raw["models"][0]["services"] = {"web": 80, "stream": 554, "control": 34100}
    return raw


def records(camera: int, recorder: int, slot: int) -> dict[str, Any]:
    return {"kind": "records", "from": f"d-{camera}", "to": f"d-{recorder}", "slot": slot}


class Flows(TestCase):
    def test_equal_flows_of_many_devices_are_one_line(self) -> None:
        rows = [device(1, "larkmoor-rec-8", network="office"), *(device(n) for n in (2, 3, 4))]
        asked = of(two_networks(rows, [records(n, 1, n) for n in (2, 3, 4)]))
        self.assertEqual(len(asked.flows), 1)
        flow = asked.flows[0]
        self.assertEqual((flow.source.name, flow.destination.name), ("Device 1", "3 cameras"))
        self.assertEqual((flow.protocol, flow.ports, flow.why), ("tcp", "554, 34100", "records"))
        self.assertEqual(flow.destination.addresses, "10.20.30.11-10.20.30.13")

    def test_what_stays_inside_a_network_or_a_recorder_is_not_asked_for(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(2), device(3, network=None, behind="d-1")]
        self.assertEqual(of(two_networks(rows, [records(2, 1, 1), records(3, 1, 2)])).flows, ())

    def test_a_hidden_camera_is_steered_and_relayed_through_its_recorder(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(2, network=None, behind="d-1"), device(3, network="office")]
        links = [
            {"kind": "steers", "from": "d-3", "to": "d-2", "slot": 1},
            {"kind": "relays", "from": "d-2", "to": "relay"},
        ]
        found = of(two_networks(rows, links)).flows
        self.assertEqual(
            [(flow.source.name, flow.destination.name, flow.ports) for flow in found],
            [("Device 3", "Device 1", "80"), ("Device 1", "the makers' relay on the internet", "443")],
        )

    def test_names_and_time_that_are_served_elsewhere(self) -> None:
        raw = two_networks([device(1), device(2)], [])
        raw["networks"][0] |= {"dns": ["10.20.40.1"], "time_source": "time.example.net"}
        found = {(flow.protocol, flow.ports, flow.destination.name) for flow in of(raw).flows}
        self.assertEqual(
            found, {("udp", "53", "10.20.40.1"), ("tcp", "53", "10.20.40.1"), ("udp", "123", "time.example.net")}
        )

    def test_a_port_that_nobody_knows_stays_open(self) -> None:
        asked = of(document([device(1)], links=[{"kind": "reports-to", "from": "d-1", "to": "monitoring-station"}]))
        self.assertEqual(asked.flows[0].ports, "?")
        self.assertTrue(any("alarm reports" in item for item in asked.open))

    def test_an_outside_end_is_asked_at_its_own_address_and_port_or_is_a_question(self) -> None:
        for at, shown, open_ in (
            ("203.0.113.9:34310", ("203.0.113.9", "34310"), ""),
            ("station.example:34310", ("station.example", "34310"), ""),
            ("203.0.113.9", ("203.0.113.9", "?"), "The port of the alarm monitoring station"),
            (None, ("", "?"), "The address or name and port of the alarm monitoring station"),
        ):
            link = {"kind": "reports-to", "from": "d-1", "to": "monitoring-station", "at": at}
            asked = of(document([device(1, "larkmoor-rec-8")], links=[link]))
            flow = asked.flows[0]
            self.assertEqual((flow.destination.addresses, flow.ports), shown)
            said = [item for item in asked.open if "monitoring station" in item]
            self.assertEqual([item[: len(open_)] for item in said], [open_] if open_ else [], said)

    def test_a_management_program_on_the_site_is_no_internet(self) -> None:
        link = {"kind": "manages", "from": "d-1", "to": "management", "at": "10.20.40.9:34400"}
        asked = of(two_networks([device(1, "pellgrave-door-2")], [link]))
        flow = asked.flows[0]
        self.assertEqual((flow.destination.name, flow.destination.network), ("the management program", "Office"))
        self.assertIn("Nothing of ours has to reach the internet.", asked.outside)

    def test_a_decided_forward_stands_in_it_with_its_flow(self) -> None:
        raw = two_networks([device(1)], [])
        forward = {"outside": 9554, "device": "d-1", "service": "stream", "decided_by": "Ines", "why": "No relay here"}
        raw["internet"] = {"outside_address": "203.0.113.9", "forwards": [forward]}
        asked = of(raw)
        self.assertIn(
            "Port 9554 of the router to Device 1, port 554 (stream), decided by Ines: No relay here.", asked.outside
        )
        self.assertFalse(any(item.startswith("No port has to be opened") for item in asked.outside))
        flow = asked.flows[0]
        self.assertEqual(
            (flow.source.name, flow.destination.name, flow.ports), ("anybody on the internet", "Device 1", "554")
        )

    @given(documents(12))
    def test_every_flow_leaves_its_network_and_none_is_said_twice(self, raw: dict[str, Any]) -> None:
        raw["networks"].append(OFFICE)
        for number, item in enumerate(raw["devices"]):
            item["network"] = ("lan", "office")[number % 2]
            item["address"] = None
        keys = [item["key"] for item in raw["devices"]]
        raw["links"] = [{"kind": "shows-on", "from": one, "to": other} for one in keys for other in keys if one < other]
        site = read(raw)
        found = flows(site, plan(site))
        self.assertEqual(len(found), len(set(found)))
        self.assertTrue(all(flow.source.network != flow.destination.network for flow in found))
        self.assertEqual(found, flows(site, plan(site)))


class Asked(TestCase):
    def test_addresses_reservations_and_open_questions(self) -> None:
        raw = document([device(1, addressing="reserved"), device(2, addressing="reserved", mac=None), device(3)])
        asked = of(raw)
        self.assertEqual([item.device for item in asked.reservations], ["d-1", "d-2"])
        self.assertIn("1 hardware address follows: Device 2.", asked.open)
        self.assertIn("Please tell us the time server of Halls.", asked.open)
        self.assertEqual(asked.networks[0].pools, ("10.20.30.100-10.20.30.149",))

    def test_what_hangs_on_a_recorder_asks_nothing_and_a_full_network_is_said(self) -> None:
        asked = of(demo())
        self.assertEqual(len(asked.wanted), 37)
        self.assertEqual({item.gateway for item in asked.wanted if item.network == "Security"}, {"10.62.8.1"})
        self.assertTrue(any("own camera ports" in item for item in asked.own_ranges))
        self.assertNotIn("gate", {item.network for item in asked.wanted})
        full = of(
            document([device(n) for n in range(9)], network={"cidr": "10.20.30.0/29", "pools": [], "reserved": []})
        )
        self.assertIn("9 fixed addresses wanted", full.trouble[0])
        self.assertEqual(full.networks[0].pools, ())
        unsaid = document()
        del unsaid["networks"][0]["pools"]
        self.assertIsNone(of(unsaid).networks[0].pools)

    def test_what_its_rules_hold_back_is_in_the_way_once(self) -> None:
        rows = [device(1), device(2), device(9, "larkmoor-rec-8", network="office")]
        links = [{"kind": "records", "from": f"d-{n}", "to": "d-9", "slot": n} for n in (1, 2)]
        raw = two_networks(rows, links)
        self.assertEqual(of(raw).trouble, ())
        raw["routing"] = {"between": "open", "rules": [{"from": "office", "to": "lan", "ports": [554], "allow": False}]}
        (said,) = of(raw).trouble
        self.assertEqual(said, "IT's rule 1 (office to lan) does not let it through. Ask IT to allow tcp 554.")
