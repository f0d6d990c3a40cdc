"""The ground under the addresses, against slow but plain second opinions."""

from ipaddress import IPv4Address, IPv4Network
from itertools import combinations
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import device, document, documents, read
from tutelar.core.addressing.blocks import FAMILY_RANK, ORDER, lay_blocks
from tutelar.core.addressing.ranges import size, without
from tutelar.core.addressing.subnet import network_ground, private_ground, subnet_members
from tutelar.core.check import check
from tutelar.core.run.chain import chain_of, laptop_address, subnet_needed
from tutelar.core.site.base import Family
from tutelar.core.site.types import Network
from tutelar.core.site.values import dotted, netmask


def plain_obstacle(network: Network, address: IPv4Address, reserved: bool) -> str | None:
    """Say which rule forbids an address, one rule after the other."""
    if address not in network.cidr:
        return "address.outside"
    if address == network.gateway:
        return "address.gateway"
    if address in network.dns:
        return "address.dns"
    if network.cidr.prefixlen < 31 and address == network.cidr.network_address:
        return "address.network"
    if network.cidr.prefixlen < 31 and address == network.cidr.broadcast_address:
        return "address.broadcast"
    if any(item.first <= address <= item.last for item in network.reserved):
        return "address.reserved"
    if not reserved and any(pool.first <= address <= pool.last for pool in network.pools):
        return "address.in-pool"
    return None


class Grounds(TestCase):
    @given(documents(most=0), st.booleans(), st.data())
    def test_every_address_is_judged_as_by_the_plain_rules(
        self, raw: dict[str, Any], reserved: bool, data: st.DataObject
    ) -> None:
        network = read(raw).networks[0]
        ground = network_ground(network)
        low, high = int(network.cidr.network_address), int(network.cidr.broadcast_address)
        for number in data.draw(st.lists(st.integers(low - 2, high + 2), min_size=5, max_size=30)):
            expected = plain_obstacle(network, IPv4Address(number), reserved)
            self.assertEqual(ground.obstacle(number, reserved=reserved), expected, dotted(number))

    def test_usable_hosts_by_prefix(self) -> None:
        for prefix, usable in ((16, 65534), (23, 510), (24, 254), (30, 2), (31, 2), (32, 0)):
            raw = document(
                network={"cidr": f"10.0.0.0/{prefix}", "gateway": None, "pools": [], "reserved": [], "dns": []}
            )
            self.assertEqual(network_ground(read(raw).networks[0]).usable_count, usable)

    def test_the_recorder_has_the_first_address_behind_its_ports(self) -> None:
        site = read(document([device(1, "larkmoor-rec-8"), device(2)]))
        ground = private_ground(site, site.devices[0])
        assert ground is not None and ground.gateway is not None
        self.assertEqual(dotted(ground.gateway), "172.27.16.1")
        self.assertEqual(ground.obstacle(ground.gateway), "address.duplicate")
        self.assertIsNone(private_ground(site, site.devices[1]))

    def test_devices_stand_where_they_are_plugged_in(self) -> None:
        rows = [
            device(1, "larkmoor-rec-8"),
            device(2, network=None, behind="d-1"),
            device(3, network="wan"),
            device(4, network=None),
        ]
        found = {item.ground.key: [d.key for _, d in item.devices] for item in subnet_members(read(document(rows)))}
        self.assertEqual(found, {"lan": ["d-1"], "d-1": ["d-2"]})

    @given(st.lists(st.tuples(st.integers(0, 40), st.integers(22, 28)), min_size=1, max_size=7))
    def test_overlapping_networks_are_all_found(self, drawn: list[tuple[int, int]]) -> None:
        cidrs = [IPv4Network(((10 << 24) + start * 64, prefix), strict=False) for start, prefix in drawn]
        raw = document() | {"networks": [{"key": f"n-{at}", "cidr": str(cidr)} for at, cidr in enumerate(cidrs)]}
        found = {frozenset(item.subjects) for item in check(read(raw)) if item.code == "network.overlap"}
        pairs = combinations(enumerate(cidrs), 2)
        self.assertEqual(
            found, {frozenset((f"n-{a}", f"n-{b}")) for (a, one), (b, other) in pairs if one.overlaps(other)}
        )

    def test_masks(self) -> None:
        self.assertEqual(
            [netmask(prefix) for prefix in (0, 8, 22, 24, 30, 32)],
            ["0.0.0.0", "255.0.0.0", "255.255.252.0", "255.255.255.0", "255.255.255.252", "255.255.255.255"],
        )


class Blocks(TestCase):
    def test_every_family_has_its_place_in_the_order(self) -> None:
        self.assertEqual(set(ORDER), set(Family.__args__))  # type: ignore[attr-defined]

    def test_large_families_start_at_a_round_hundred_and_leave_room(self) -> None:
        free = [(10, 254)]
        blocks = lay_blocks(free, [("switch", 2), ("recorder", 3), ("camera", 24)], 0.25, 24)
        self.assertEqual(blocks, {"switch": (11, 13), "recorder": (21, 24), "camera": (101, 130)})

    def test_when_space_is_short_they_give_up_room_then_roundness_then_blocks(self) -> None:
        self.assertEqual(
            lay_blocks([(1, 40)], [("recorder", 2), ("camera", 25)], 0.25, 24), {"recorder": (1, 2), "camera": (11, 35)}
        )
        self.assertEqual(
            lay_blocks([(1, 27)], [("recorder", 2), ("camera", 25)], 0.25, 24), {"recorder": (1, 2), "camera": (3, 27)}
        )
        self.assertEqual(lay_blocks([(1, 13), (20, 33)], [("recorder", 2), ("camera", 25)], 0.25, 24), {})

    @given(
        st.lists(st.tuples(st.sampled_from(ORDER), st.integers(1, 60)), max_size=6, unique_by=lambda item: item[0]),
        st.lists(st.tuples(st.integers(0, 500), st.integers(0, 500)), max_size=4),
        st.sampled_from([0, 0.25, 1]),
    )
    def test_blocks_are_free_apart_and_large_enough(
        self, wanted: list[tuple[str, int]], taken: list[tuple[int, int]], growth: float
    ) -> None:
        wanted.sort(key=lambda item: FAMILY_RANK[item[0]])
        free = without([(1, 510)], taken)
        blocks = lay_blocks(free, wanted, growth, 23)
        if blocks:
            self.assertEqual(size(without(free, blocks.values())), size(free) - size(blocks.values()))
            for family, number in wanted:
                self.assertGreaterEqual(size([blocks[family]]), number)


class FirstContact(TestCase):
    def test_the_laptop_takes_an_address_that_nobody_wakes_at(self) -> None:
        subnet = IPv4Network("192.168.64.0/24")
        self.assertEqual(laptop_address(subnet, set()).address, "192.168.64.9")
        self.assertEqual(laptop_address(subnet, {int(IPv4Address("192.168.64.9"))}).address, "192.168.64.10")
        self.assertEqual(laptop_address(IPv4Network("169.254.0.0/16"), set()).address, "169.254.1.9")
        tiny = IPv4Network("192.168.64.16/30")
        self.assertEqual(laptop_address(tiny, {int(IPv4Address("192.168.64.17"))}).address, "192.168.64.18")

    def test_a_factory_subnet_inside_the_site_network_needs_no_change(self) -> None:
        near = document(
            [device(1)],
            network={"cidr": "192.168.64.0/24", "gateway": "192.168.64.1", "dns": [], "pools": [], "reserved": []},
        )
        site, other = read(near), read(document([device(1)]))
        self.assertIsNone(subnet_needed(site, site.devices[0]))
        self.assertEqual(str(subnet_needed(other, other.devices[0])), "192.168.64.0/24")

    def test_steps_without_a_time_are_left_out(self) -> None:
        raw = document(
            [device(1, "larkmoor-rec-8"), device(2)], policy={"bench": {"connect_s": 0, "update_firmware": True}}
        )
        raw["models"][0]["timings"] |= {"firmware_s": 240, "restart_s": 0, "format_s": 99}
        site = read(raw)
        self.assertEqual(
            [piece.kind for piece in chain_of(site, site.devices[0])],
            ["boot", "activate", "configure", "restart", "confirm", "format"],
        )
        self.assertEqual(
            [piece.kind for piece in chain_of(site, site.devices[1])],
            ["boot", "activate", "update", "configure", "confirm"],
        )
