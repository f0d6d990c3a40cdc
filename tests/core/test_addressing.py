"""The address plan: legal, unique, stable, readable, and honest where it cannot be had."""

import re
from collections import Counter
from ipaddress import IPv4Address, IPv4Network
from typing import Any
from unittest import TestCase

from hypothesis import assume, given
from hypothesis import strategies as st

from tests.samples import DEMO, demo, device, document, documents, read
from tutelar.core.addressing import Plan
from tutelar.core.addressing.ranges import first_of, holds, merged, size, without
from tutelar.core.planning import plan
from tutelar.core.site import Site, read_site, with_addresses
from tutelar.core.site.values import dotted

spans = st.lists(st.tuples(st.integers(0, 60), st.integers(0, 60)), max_size=6)


def planned(raw: dict[str, Any]) -> dict[str, str]:
    return plan(read(raw)).addresses()


def codes(result: Plan) -> Counter[str]:
    return Counter(item.code for item in result.problems)


def cameras(number: int, **more: Any) -> list[dict[str, Any]]:
    return [device(at, **more) for at in range(1, number + 1)]


class Spans(TestCase):
    @given(spans, spans, st.integers(0, 70))
    def test_they_behave_like_sets(self, some: list[tuple[int, int]], others: list[tuple[int, int]], most: int) -> None:
        def members(pairs: list[tuple[int, int]]) -> set[int]:
            return {number for first, last in pairs for number in range(first, last + 1)}

        union = merged(some)
        left = without(union, others)
        self.assertEqual(members(union), members(some))
        self.assertEqual(members(left), members(some) - members(others))
        self.assertEqual(size(left), len(members(left)))
        self.assertEqual(first_of(left, most), sorted(members(left))[:most])
        self.assertEqual([number for number in range(70) if holds(left, number)], sorted(members(left)))


class Rules(TestCase):
    @given(documents())
    def test_what_is_planned_is_legal_and_alone(self, raw: dict[str, Any]) -> None:
        site = read(raw)
        result = plan(site)
        network = site.networks[0]
        hosts = network.cidr
        edges = {hosts.network_address, hosts.broadcast_address} if hosts.prefixlen < 31 else set()
        taken = Counter(item.address for item in result.assignments)
        for item in result.assignments:
            made_for = site.device_by_key[item.device]
            if item.source != "planned":
                self.assertEqual(item.address, str(made_for.address))
                continue
            address = IPv4Address(item.address)
            self.assertIn(address, hosts)
            self.assertNotIn(address, edges | {network.gateway})
            self.assertEqual(taken[item.address], 1)
            self.assertFalse(any(kept.first <= address <= kept.last for kept in network.reserved))
            if made_for.addressing == "fixed":
                self.assertFalse(any(pool.first <= address <= pool.last for pool in network.pools))
            self.assertTrue(item.why.endswith("."))
        unplanned = {d.key for d in site.devices if d.addressing != "leased"} - set(result.addresses())
        self.assertEqual(bool(unplanned), bool(unplanned) and codes(result)["network.full"] == 1)

    @given(documents(most=20))
    def test_same_input_same_output_and_a_set_plan_stays(self, raw: dict[str, Any]) -> None:
        first = plan(read(raw))
        self.assertEqual(first.as_dict(), plan(read(raw)).as_dict())
        site = with_addresses(read(raw), first.addresses())
        self.assertEqual(plan(site).addresses(), first.addresses())

    @given(documents(most=20), st.sampled_from(["larkmoor-dome-4", "larkmoor-rec-8"]), st.data())
    def test_coming_and_going_moves_nobody(self, raw: dict[str, Any], model: str, data: st.DataObject) -> None:
        before = plan(read(raw)).addresses()
        for part in raw["devices"]:
            part["address"] = before.get(part["key"], part["address"])
        assume(raw["devices"])
        gone = data.draw(st.sampled_from(raw["devices"]))
        raw["devices"].remove(gone)
        raw["devices"].insert(0, device(900, model))
        after = planned(raw)
        self.assertEqual(
            {key: after[key] for key in before if key != gone["key"]},
            {key: before[key] for key in before if key != gone["key"]},
        )

    def test_locked_kept_and_planned_are_told_apart(self) -> None:
        rows = [device(1, address="10.20.30.50", locked=True), device(2, address="10.20.30.51"), device(3)]
        result = plan(read(document(rows)))
        self.assertEqual([item.source for item in result.assignments], ["locked", "kept", "planned"])
        self.assertEqual(result.assignments[2].address, "10.20.30.52")  # beside its own kind


class Layout(TestCase):
    def test_the_demo_reads_like_a_sheet(self) -> None:
        addresses = planned(demo())
        self.assertEqual(len(addresses), 39)
        self.assertEqual(
            [addresses[f"cam-{number:02}"] for number in (1, 2, 7, 23)],
            ["10.62.8.101", "10.62.8.102", "10.62.8.107", "10.62.8.113"],
        )
        self.assertEqual(addresses["rec-1"], "10.62.8.21")

    def test_cameras_behind_a_recorder_live_in_its_own_range(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(2, network=None, behind="d-1")]
        item = plan(read(document(rows))).assignments[1]
        self.assertEqual((item.network, item.gateway, item.prefix), ("d-1", None, 24))
        self.assertIn(IPv4Address(item.address), IPv4Network("172.27.16.2/31").supernet(new_prefix=24))
        self.assertNotEqual(item.address, "172.27.16.1")

    def test_small_and_odd_networks(self) -> None:
        cases = [
            ({"cidr": "10.0.0.0/30", "gateway": "10.0.0.2"}, 1, {"10.0.0.1"}),
            ({"cidr": "10.0.0.0/31", "gateway": None}, 2, {"10.0.0.0", "10.0.0.1"}),
            ({"cidr": "10.0.0.0/31", "gateway": "10.0.0.0"}, 1, {"10.0.0.1"}),
            ({"cidr": "10.0.0.0/23", "gateway": "10.0.1.254"}, 509, {"10.0.0.255", "10.0.1.0", "10.0.1.253"}),
        ]
        for network, number, expected in cases:
            raw = document(cameras(number), network=network | {"dns": [], "pools": [], "reserved": []})
            addresses = planned(raw)
            self.assertEqual(len(set(addresses.values())), number, network)
            self.assertLessEqual(expected, set(addresses.values()), network)

    def test_factory_addresses_of_those_to_come_stay_free(self) -> None:
        network = {"cidr": "192.168.64.0/28", "gateway": "192.168.64.1", "dns": [], "pools": [], "reserved": []}
        raw = document(cameras(3), network=network | {"cidr": "192.168.64.16/29", "gateway": "192.168.64.17"})
        result = plan(read(raw))
        self.assertNotIn("192.168.64.20", result.addresses().values())
        crowded = plan(read(document(cameras(5), network=raw["networks"][0])))
        self.assertEqual(len(crowded.assignments), 4)  # five would fit, but one address wakes new cameras
        self.assertIn("192.168.64.20", next(i.message for i in crowded.problems if i.code == "network.full"))

    def test_own_block_rules_and_what_overflows(self) -> None:
        blocks = [{"families": ["camera"], "first": 20, "last": 22}]
        result = plan(read(document(cameras(5), policy={"blocks": blocks})))
        self.assertEqual(sorted(result.addresses().values()), [f"10.20.30.{host}" for host in (20, 21, 22, 23, 24)])
        self.assertEqual(codes(result)["plan.block-overflow"], 1)

    def test_a_block_rule_that_cannot_hold_leaves_the_family_to_the_ordinary_plan(self) -> None:
        for first, last in ((30, 20), (900, 950)):
            blocks = [{"families": ["camera"], "first": first, "last": last}]
            result = plan(read(document(cameras(3), policy={"blocks": blocks})))
            self.assertEqual(result.addresses()["d-1"], planned(document(cameras(3)))["d-1"])

    def test_addresses_follow_the_channels(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(2, "larkmoor-rec-8"), *(device(at) for at in (3, 4, 5))]
        links = [
            {"kind": "records", "from": "d-3", "to": "d-1", "slot": 7},
            {"kind": "records", "from": "d-4", "to": "d-2", "slot": 7},
        ]
        network = {"pools": [{"first": "10.20.30.100", "last": "10.20.30.149"}]}
        pooled = plan(read(document(rows, links=links, network=network, policy={"match_channel": True})))
        self.assertEqual(pooled.addresses()["d-4"], "10.20.30.207")
        self.assertEqual(codes(pooled)["plan.channel-not-matched"], 1)  # .107 lies in the pool
        free = plan(read(document(rows, links=links, network={"pools": []}, policy={"match_channel": True})))
        self.assertEqual(free.addresses()["d-3"], "10.20.30.107")


class Shortage(TestCase):
    def test_both_numbers_and_a_way_out_are_said(self) -> None:
        network = {
            "cidr": "10.20.30.192/28",
            "gateway": "10.20.30.193",
            "dns": [],
            "pools": [{"first": "10.20.30.196", "last": "10.20.30.201"}],
            "reserved": [],
        }
        result = plan(read(document(cameras(9), network=network)))
        full = [item for item in result.problems if item.code == "network.full"]
        self.assertEqual(len(full), 1)
        self.assertIn("9 fixed addresses wanted", full[0].message)
        self.assertIn("7 free outside the pool", full[0].message)
        self.assertEqual(full[0].fix, "Shrink the pool to 10.20.30.198–10.20.30.201 or use /27.")
        self.assertEqual([item.device for item in result.assignments], [f"d-{at}" for at in range(1, 8)])
        self.assertEqual(result.networks, ({"key": "lan", "usable": 14, "fixed_free": 7, "fixed_wanted": 9},))

    def test_reserved_devices_go_into_the_pool_only_when_they_must(self) -> None:
        whole = {"pools": [{"first": "10.20.30.2", "last": "10.20.30.254"}], "reserved": []}
        result = plan(read(document(cameras(3, addressing="reserved"), network=whole)))
        self.assertEqual(codes(result), Counter())
        self.assertEqual(len(result.assignments), 3)
        half = plan(read(document(cameras(3, addressing="reserved"))))
        self.assertNotIn(IPv4Address(half.assignments[0].address), range_of("10.20.30.100", "10.20.30.149"))

    def test_a_rule_breaker_stays_and_the_fix_names_the_planned_address(self) -> None:
        result = plan(read(document([device(1, address="10.20.30.120"), device(2)])))
        self.assertEqual(result.addresses()["d-1"], "10.20.30.120")
        fault = next(item for item in result.problems if item.code == "address.in-pool")
        assert fault.move is not None
        healed: Site = with_addresses(
            read(document([device(1), device(2)])), {**result.addresses(), "d-1": fault.move[1]}
        )
        self.assertEqual(codes(plan(healed)), Counter())


def range_of(first: str, last: str) -> set[IPv4Address]:
    low, high = int(IPv4Address(first)), int(IPv4Address(last))
    return {IPv4Address(dotted(number)) for number in range(low, high + 1)}


class WrittenDown(TestCase):
    def test_the_examples_of_the_planning_page_are_what_the_plan_gives(self) -> None:
        page = (DEMO.parents[3] / "docs" / "planning.md").read_text()
        parts = page.split("## Example ")[1:]
        files = (
            DEMO,
            DEMO.parents[3] / "docs" / "examples" / "old-vault.json",
            DEMO.parents[3] / "docs" / "examples" / "long-quay.json",
        )
        for part, path in zip(parts, files, strict=True):
            result = plan(read_site(path.read_text()))
            told = dict(re.findall(r"^\| `([a-z0-9-]+)` \| ([\d.]+) \|", part, re.MULTILINE))
            self.assertGreaterEqual(len(told), 3)
            self.assertEqual({key: result.addresses()[key] for key in told}, told)
            for item in result.problems:
                if item.level == "error":
                    self.assertIn(item.message.rstrip("."), " ".join(part.split()))
                    self.assertIn((item.fix or "").rstrip("."), " ".join(part.split()))
