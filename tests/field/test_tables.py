"""Tables as routers and laptops print them, and what they say about the plan."""

from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import device, document, read
from tutelar.core.planning import plan
from tutelar.core.sightings import Finding, findings
from tutelar.field.tables import read_table

TABLES = {
    "a dnsmasq lease file": (
        "1781000000 02:1a:4b:00:00:01 10.20.30.120 till-3 01:02:1a:4b:00:00:01\n"
        "1781000001 02:1a:4b:00:00:02 10.20.30.121 * *\nduid 00:01:00:01\n"
    ),
    "an ISC lease file": (
        "# written by a server\nlease 10.20.30.120 {\n  starts 2 2026/06/02 08:00:00;\n  binding state active;\n"
        "  next binding state free;\n  hardware ethernet 02:1a:4b:00:00:99;\n}\n"
        'lease 10.20.30.120 {\n  binding state active;\n  hardware ethernet 02:1a:4b:00:00:01;\n  client-hostname "till-3";\n}\n'
        "lease 10.20.30.121 {\n  binding state active;\n  hardware ethernet 02:1a:4b:00:00:02;\n}\n"
        "lease 10.20.30.122 {\n  binding state free;\n  hardware ethernet 02:1a:4b:00:00:03;\n}\n"
    ),
    "a Kea lease file": (
        "address,hwaddr,client_id,valid_lifetime,expire,subnet_id,fqdn_fwd,fqdn_rev,hostname,state,user_context,pool_id\n"
        "10.20.30.120,02:1a:4b:00:00:01,,3600,1781000000,1,0,0,till-3,0,,0\n"
        "10.20.30.121,02:1a:4b:00:00:02,,3600,1781000000,1,0,0,,0,,0\n"
        "10.20.30.122,02:1a:4b:00:00:03,,0,1781000000,1,0,0,,0,,0\n"
        "10.20.30.123,02:1a:4b:00:00:04,,3600,1781000000,1,0,0,,2,,0\n"
    ),
    "a neighbour table (ip neigh)": (
        "10.20.30.120 dev eth0 lladdr 02:1a:4b:00:00:01 REACHABLE\n10.20.30.121 dev eth0 lladdr 02:1a:4b:00:00:02 STALE\n"
        "10.20.30.122 dev eth0  FAILED\nfe80::1 dev eth0 lladdr 02:1a:4b:00:00:07 router STALE\n"
    ),
    "a neighbour table (arp)": (
        "\nInterface: 10.20.30.30 --- 0x5\n  Internet Address      Physical Address      Type\n"
        "  10.20.30.120          02-1a-4b-00-00-01     dynamic\n  10.20.30.121          02-1a-4b-00-00-02     dynamisch\n"
        "  10.20.30.255          ff-ff-ff-ff-ff-ff     static\n  224.0.0.22            01-00-5e-00-00-16     static\n"
    ),
}
MACOS = "? (10.20.30.120) at 2:1a:4b:0:0:1 on en0 ifscope [ethernet]\n? (10.20.30.122) at (incomplete) on en0\n"
LINUX = "till-3 (10.20.30.120) at 02:1a:4b:00:00:01 [ether] on eth0\n? (10.20.30.122) at <incomplete> on eth0\n"
ANY = 'Name;IP;"MAC"\ntill-3;10.20.30.120;021A4B000001\nprinter;10.20.30.121;021a.4b00.0002\nnobody;10.20.30.300;021a4b000003'


class Reading(TestCase):
    def test_every_kind_of_table_says_the_same(self) -> None:
        for kind, text in TABLES.items():
            name, seen = read_table(text)
            self.assertEqual(name, kind)
            self.assertEqual(
                [(item.address, item.mac) for item in seen],
                [("10.20.30.120", "02:1a:4b:00:00:01"), ("10.20.30.121", "02:1a:4b:00:00:02")],
                kind,
            )
            self.assertEqual(read_table(text.replace("\n", "\r\n"))[1], seen, kind)
        self.assertEqual([item.mac for item in read_table(MACOS)[1]], ["02:1a:4b:00:00:01"])
        self.assertEqual([(item.mac, item.name) for item in read_table(LINUX)[1]], [("02:1a:4b:00:00:01", "till-3")])
        self.assertEqual(len(read_table(ANY)[1]), 2)

    @given(st.text(max_size=400))
    def test_no_text_breaks_it(self, text: str) -> None:
        site = read(document([device(1)]))
        self.assertIsNotNone(findings(site, plan(site), read_table(text)[1]))


def judged(rows: list[dict[str, Any]], *lines: str, **more: Any) -> list[Finding]:
    site = read(document(rows, **more))
    return list(findings(site, plan(site), read_table("\n".join(lines))[1]).rows)


class Judging(TestCase):
    def test_what_each_sighting_means(self) -> None:
        rows = [
            device(1, address="10.20.30.50"),
            device(2, address="10.20.30.51"),
            device(3, address="10.20.30.52", mac=None),
            device(4, addressing="leased"),
            device(5, address="10.20.30.54"),
        ]
        found = judged(
            rows,
            "10.20.30.50 02:1a:4b:00:00:01",
            "10.20.30.60 02:1a:4b:00:00:02",
            "10.20.30.52 06:00:00:00:00:09",
            "10.20.30.110 02:1a:4b:00:00:04",
            "10.20.30.54 06:00:00:00:00:0a",
            "10.20.30.1 06:00:00:00:00:01",
            "10.20.30.77 06:00:00:00:00:0b",
            "10.20.30.120 06:00:00:00:00:0c",
            "10.20.30.78 02:1a:4b:77:77:77",
            "192.168.64.20 02:1a:4b:88:88:88",
            "10.99.9.9 06:00:00:00:00:0d",
        )
        by_address = {row.address: row for row in found}
        kinds = {address: row.kind for address, row in by_address.items()}
        self.assertEqual(
            kinds,
            {
                "10.20.30.54": "taken",
                "10.20.30.60": "elsewhere",
                "192.168.64.20": "factory",
                "10.20.30.52": "unread",
                "10.20.30.78": "kin",
                "10.20.30.77": "stranger",
                "10.20.30.120": "stranger",
                "10.20.30.110": "leased",
                "10.20.30.50": "expected",
                "10.20.30.1": "router",
                "10.99.9.9": "foreign",
            },
        )
        self.assertEqual([row.kind for row in found][:2], ["taken", "elsewhere"])
        self.assertTrue(by_address["10.20.30.60"].set_address)
        self.assertTrue(by_address["10.20.30.52"].set_mac)
        self.assertEqual([row.address for row in found if row.keep], ["10.20.30.54", "10.20.30.78", "10.20.30.77"])
        self.assertIn("10.20.30.51 is planned", by_address["10.20.30.60"].sentence)

    def test_what_the_table_calls_leased_is_not_called_set_by_hand_and_names_are_kept(self) -> None:
        lines = ("Hostname,IP address,MAC,Type", "yard-cam,10.20.30.7,02:55:00:00:00:07,dynamic")
        lines += ("old-nvr,10.20.30.8,02:55:00:00:00:08,static", "lamp,10.20.30.9,02:55:00:00:00:09,")
        found = {row.address: row for row in judged([device(1)], *lines)}
        self.assertEqual([found[f"10.20.30.{n}"].name for n in (7, 8, 9)], ["yard-cam", "old-nvr", "lamp"])
        self.assertEqual([found[f"10.20.30.{n}"].leased for n in (7, 8, 9)], [True, False, False])
        self.assertTrue(all(found[f"10.20.30.{n}"].take for n in (7, 8, 9)))
        self.assertIn("leased by the DHCP server", found["10.20.30.7"].sentence)
        arp = judged([device(1)], "Interface: 10.20.30.2", "  10.20.30.70  02-55-00-00-00-70  dynamic")
        self.assertEqual([row.leased for row in arp], [False], "arp's own memory of it, no lease")
        named = judged([device(1)], "Name,IP,MAC", "auto gate,10.20.30.71,02:55:00:00:00:71")
        self.assertEqual([(row.name, row.leased) for row in named], [("auto gate", False)])
        self.assertIn("set by hand", found["10.20.30.8"].sentence)

    def test_a_device_still_at_its_factory_address_and_one_that_was_not_seen(self) -> None:
        site = read(
            document(
                [device(1), device(2)],
                network={"cidr": "192.168.64.0/24", "gateway": None, "dns": [], "pools": [], "reserved": []},
            )
        )
        found = findings(site, plan(site), read_table("192.168.64.20 02:1a:4b:00:00:01")[1])
        self.assertEqual((found.rows[0].kind, found.rows[0].device), ("factory", "d-1"))
        self.assertEqual(found.unseen, ("d-2",))
