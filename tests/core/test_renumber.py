"""Renumbering: host parts stay where they fit, ranges move along, and every partner is told in a safe order."""

from ipaddress import IPv4Address, IPv4Network
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import demo, device, document, documents, read
from tutelar.core.planning import plan
from tutelar.core.planning.renumber import Renumbering, renumber
from tutelar.core.site import Site, with_addresses


def moved(site: Site, to: str, gateway: str | None = None) -> Renumbering:
    return renumber(site, site.networks[0], IPv4Network(to), IPv4Address(gateway) if gateway else None)


def planned(raw: dict[str, Any]) -> Site:
    site = read(raw)
    return with_addresses(site, plan(site).addresses())


def codes(result: Renumbering) -> list[str]:
    return [item.code for item in result.plan.problems]


class Renumber(TestCase):
    def test_the_demo_moves_whole(self) -> None:
        result = moved(planned(demo()), "172.20.5.0/24", "172.20.5.1")
        addresses = result.plan.addresses()
        self.assertEqual((addresses["cam-01"], addresses["rec-1"]), ("172.20.5.101", "172.20.5.21"))
        self.assertEqual((addresses["hub-1"], addresses["cam-19"]), ("10.62.4.31", "172.27.16.11"))
        network = result.site.networks[0]
        self.assertEqual(str(network.pools[0].first), "172.20.5.150")
        self.assertEqual((str(network.dns[0]), network.time_source), ("172.20.5.1", "172.20.5.1"))
        self.assertEqual(codes(result), [])
        self.assertIn(
            "10.62.8.101 becomes 172.20.5.101", next(i.why for i in result.plan.assignments if i.device == "cam-01")
        )

    def test_every_holder_of_a_moved_address_is_told_once_it_is_true(self) -> None:
        site = planned(demo())
        result = moved(site, "172.20.5.0/24", "172.20.5.1")
        addresses = result.plan.addresses()
        told = {(item.device, item.new) for item in result.partners}
        self.assertIn(("rec-1", addresses["cam-01"]), told)
        self.assertIn(("view-1", addresses["gate-1"]), told)
        self.assertIn(("gate-2", addresses["gate-1"]), told)
        self.assertIn(("desk-1", addresses["cam-12"]), told)
        self.assertNotIn("hub-1", {item.device for item in result.partners})
        self.assertFalse(any(item.new.startswith("172.27.") for item in result.partners))
        for item in result.partners:
            self.assertNotEqual(item.old, item.new)
            self.assertIn(item.device, item.after)
        self.assertEqual(list(result.as_dict()["partners"][0]), ["device", "setting", "old", "new", "after"])

    def test_locked_devices_move_with_their_host_part(self) -> None:
        site = read(document([device(1, address="10.20.30.50", locked=True)]))
        result = moved(site, "10.99.0.0/22", "10.99.0.1")
        self.assertEqual(result.plan.assignments[0].address, "10.99.0.50")
        self.assertEqual(result.plan.assignments[0].source, "locked")

    def test_what_no_longer_fits_is_dropped_or_moves_to_the_next_legal_address(self) -> None:
        rows = [device(1, address="10.20.30.50"), device(2, address="10.20.30.200", locked=True)]
        result = moved(read(document(rows)), "10.99.0.0/25", "10.99.0.126")
        self.assertEqual(result.plan.addresses()["d-1"], "10.99.0.50")
        self.assertEqual(result.plan.addresses()["d-2"], "10.99.0.51")
        self.assertIn("not free", result.plan.assignments[1].why)
        self.assertIn("renumber.dropped", codes(result))
        self.assertEqual(str(result.site.networks[0].pools[0].last), "10.99.0.127")
        self.assertIn("renumber.dns-was-gateway", codes(result))

    def test_servers_elsewhere_stay_and_other_networks_hear_of_moved_ones(self) -> None:
        raw = document(
            [device(1, address="10.20.30.50"), device(2, network="second", address="10.20.40.9")],
            network={"dns": ["9.9.9.9"], "time_source": "10.20.30.1"},
        )
        raw["networks"].append(
            {"key": "second", "cidr": "10.20.40.0/24", "gateway": "10.20.40.1", "time_source": "10.20.30.1"}
        )
        result = moved(read(raw), "10.99.0.0/24", None)
        self.assertEqual(str(result.site.networks[0].dns[0]), "9.9.9.9")
        self.assertEqual(str(result.site.networks[0].gateway), "10.99.0.1")
        self.assertEqual([(p.device, p.setting, p.new) for p in result.partners], [("d-2", "time server", "10.99.0.1")])

    @given(documents(most=15), st.integers(22, 30), st.integers(0, 40))
    def test_moving_is_legal_and_moving_back_restores_what_fitted(
        self, raw: dict[str, Any], prefix: int, block: int
    ) -> None:
        site = planned(raw)
        to = IPv4Network(((172 << 24) + (16 << 16) + block * 1024, prefix))
        result = moved(site, str(to))
        before = {item.key: item for item in site.devices if item.address and item.addressing != "leased"}
        ground = result.site.networks[0]
        for item in result.plan.assignments:
            address = IPv4Address(item.address)
            kept = (
                ground.cidr.network_address
                + (int(before[item.device].address or 0) & int(site.networks[0].cidr.hostmask))
                if item.device in before
                else None
            )
            if item.source != "planned" and item.device in before:
                self.assertEqual(address, kept)
        if prefix <= site.networks[0].cidr.prefixlen:
            home = renumber(result.site, ground, site.networks[0].cidr, site.networks[0].gateway)
            back = {item.key: item.address for item in home.site.devices}
            for item in result.plan.assignments:
                if item.source != "planned" and item.device in before and back[item.device] is not None:
                    self.assertEqual(back[item.device], before[item.device].address)
