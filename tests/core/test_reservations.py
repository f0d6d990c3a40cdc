"""Reservation files: every reserved device once, by network, in the notation of each server, and they load."""

import json
import shutil
import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase, skipUnless

from tests import LONG
from tests.samples import device, document, read
from tutelar.core.addressing.reservations import SERVERS, ReservedNetwork, by_network, reservations
from tutelar.core.planning import plan

CHECKS = {
    "dnsmasq": ("dnsmasq", "--test", "-C"),
    "isc-dhcpd": ("dhcpd", "-t", "-cf"),
    "kea": ("kea-dhcp4", "-t"),
}


def networks() -> list[ReservedNetwork]:
    rows = [
        device(1, addressing="reserved", name="Hub\nnorth"),
        device(2),
        device(3, addressing="reserved", mac=None),
        device(4, addressing="reserved", key="hub_4.b", network="office"),
        device(5, addressing="reserved", key="hub-4-b", network="office"),
    ]
    raw = document(rows)
    raw["networks"].append({"key": "office", "cidr": "10.20.40.0/25", "pools": []})
    site = read(raw)
    return by_network(site, plan(site).assignments)


class Reservations(TestCase):
    def test_each_network_has_its_own_and_says_what_is_missing(self) -> None:
        halls, office = networks()
        self.assertEqual([row.host for row in halls.rows], ["d-1"])
        self.assertEqual(halls.missing, ("Device 3 (d-3)",))
        self.assertEqual([row.host for row in office.rows], ["hub-4-b", "hub-4-b-2"], "two hosts of one name")

    def test_each_server_reads_its_own_notation(self) -> None:
        halls, office = networks()
        address = halls.rows[0].address
        said = SERVERS["dnsmasq"].write([halls, office])
        self.assertIn(f"# Hub north\ndhcp-host=02:1a:4b:00:00:01,{address},d-1\n", said)
        for name, server in SERVERS.items():
            self.assertIn("No hardware address yet: Device 3 (d-3)", server.write([halls, office]), name)
        first, second = json.loads(SERVERS["kea"].write([halls, office]))["Dhcp4"]["subnet4"]
        self.assertEqual((first["subnet"], second["subnet"]), ("10.20.30.0/24", "10.20.40.0/25"))
        self.assertEqual(first["pools"], [{"pool": "10.20.30.100 - 10.20.30.149"}])
        self.assertEqual(first["reservations"][0]["ip-address"], address)
        self.assertEqual(len(second["reservations"]), 2)

    @skipUnless(LONG, "the long run asks the servers themselves")
    def test_the_servers_load_them_as_they_are(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for name, (program, *options) in CHECKS.items():
                found = shutil.which(program, path="/usr/sbin:/usr/bin:/sbin:/bin")
                self.assertIsNotNone(found, f"{program} is not here: apt-get install {program}")
                file = Path(folder) / name
                file.write_text(SERVERS[name].write(networks()))
                done = subprocess.run([str(found), *options, str(file)], capture_output=True, text=True, check=False)
                self.assertEqual(done.returncode, 0, f"{name}: {done.stdout}{done.stderr}")

    def test_reserved_ones_alone_count(self) -> None:
        site = read(document([device(1, addressing="reserved"), device(2), device(3, addressing="reserved", mac=None)]))
        found, missing = reservations(site, plan(site).assignments)
        self.assertEqual(([row.host for row in found], missing), (["d-1"], ["d-3"]))
