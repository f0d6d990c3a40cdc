"""Reservation files: every reserved device once, in the notation of each server."""

import json
from unittest import TestCase

from tests.samples import device, document, read
from tutelar.core.addressing.reservations import WRITERS, reservations
from tutelar.core.planning import plan


class Reservations(TestCase):
    def setUp(self) -> None:
        rows = [
            device(1, addressing="reserved", name="Hub\nnorth"),
            device(2),
            device(3, addressing="reserved", mac=None),
            device(4, addressing="reserved", key="hub_4.b"),
        ]
        site = read(document(rows))
        self.rows, self.missing = reservations(site, plan(site).assignments)

    def test_only_reserved_devices_with_a_hardware_address(self) -> None:
        self.assertEqual([row.host for row in self.rows], ["d-1", "hub-4-b"])
        self.assertEqual(self.missing, ["d-3"])

    def test_each_server_reads_its_own_notation(self) -> None:
        address = self.rows[0].address
        self.assertIn(f"# Hub north\ndhcp-host=02:1a:4b:00:00:01,{address},d-1\n", WRITERS["dnsmasq"](self.rows))
        self.assertIn(
            f"host d-1 {{\n  hardware ethernet 02:1a:4b:00:00:01;\n  fixed-address {address};\n}}",
            WRITERS["isc-dhcpd"](self.rows),
        )
        kea = json.loads(WRITERS["kea"](self.rows))
        self.assertEqual(
            kea["reservations"][0], {"hw-address": "02:1a:4b:00:00:01", "ip-address": address, "hostname": "d-1"}
        )
        self.assertEqual(len(kea["reservations"]), 2)
