"""The pretend devices: their pages and logins, where they stand on loopback, and what faults do to them."""

import asyncio
import json
from datetime import UTC, datetime
from ipaddress import IPv4Address, IPv4Network
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import demo, device, document, read
from tutelar.core.planning import plan
from tutelar.core.site import Site, UnreadableSite, with_addresses
from tutelar.standin.device import pretend_password
from tutelar.standin.faults import read_faults
from tutelar.standin.loopback import NoRoomError, loopback_map, loopback_port
from tutelar.standin.site import StandIn

NOON = datetime(2026, 6, 8, 12, 0, tzinfo=UTC)


def planned(raw: dict[str, Any]) -> Site:
    site = read(raw)
    return with_addresses(site, plan(site).addresses())


def spoken_to(site: Site, port: int, request: bytes) -> str:
    """Return what a port of the first device of the stand-in answers to raw bytes."""

    async def work() -> bytes:
        async with StandIn(site, now=lambda: NOON, yields=True) as pretend:
            reader, writer = await asyncio.open_connection(pretend.map.addresses["d-1"], port)
            writer.write(request)
            answer = await asyncio.wait_for(reader.read(65536), 5)
            writer.close()
            return answer

    return asyncio.run(work()).decode()


def form(user: str, password: str) -> bytes:
    body = f"user={user}&password={password}".encode()
    return (
        b"POST /login HTTP/1.1\r\nHost: d\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: %d\r\n\r\n%s"
        % (len(body), body)
    )


class Pages(TestCase):
    SITE = planned(document([device(1, name="<Gate> & yard", address="10.20.30.50")]))

    def test_the_login_takes_the_right_user_and_no_empty_password(self) -> None:
        for user, password, status in (
            ("admin", pretend_password(self.SITE, "d-1"), "200"),
            ("admin", "", "401"),
            ("root", pretend_password(self.SITE, "d-1"), "401"),
        ):
            answer = spoken_to(self.SITE, 20080, form(user, password))
            self.assertTrue(answer.startswith(f"HTTP/1.1 {status}"), answer[:60])
            self.assertEqual("Set-Cookie" in answer, status == "200")

    def test_names_are_shown_as_text(self) -> None:
        page = spoken_to(self.SITE, 20080, b"GET / HTTP/1.1\r\nHost: d\r\n\r\n")
        self.assertIn("&lt;Gate&gt; &amp; yard", page)
        self.assertIn("Date: Mon, 08 Jun 2026 12:00:00 GMT", page)

    def test_the_identity_is_machine_readable(self) -> None:
        answer = spoken_to(self.SITE, 20080, b"GET /identity HTTP/1.1\r\nHost: d\r\n\r\n")
        told = json.loads(answer.split("\r\n\r\n", 1)[1])
        self.assertEqual(told["hardware_address"], "02:1a:4b:00:00:01")
        self.assertEqual(told["clock"], "2026-06-08T12:00:00.000+00:00")
        self.assertEqual((told["serial"], told["model"], told["date_order"]), ("S1", "Larkmoor Dome 4", "DMY"))

    def test_what_is_no_request_ends_the_connection(self) -> None:
        self.assertEqual(spoken_to(self.SITE, 20080, b"\x00\x01\r\n\r\n"), "")
        self.assertIn("400", spoken_to(self.SITE, 20554, b"HELLO\r\n\r\n"))
        self.assertIn("501", spoken_to(self.SITE, 20554, b"ANNOUNCE rtsp://d/ RTSP/1.0\r\nCSeq: 9\r\n\r\n"))


class Places(TestCase):
    def test_ports_are_lifted_out_of_the_reserved_ones(self) -> None:
        self.assertEqual(
            [loopback_port(port) for port in (80, 554, 9999, 10000, 34100)], [20080, 20554, 29999, 10000, 34100]
        )

    @given(st.lists(st.tuples(st.integers(0, 255), st.integers(0, 200), st.integers(8, 28)), min_size=1, max_size=6))
    def test_every_device_has_a_loopback_address_of_its_own(self, drawn: list[tuple[int, int, int]]) -> None:
        networks, rows = [], []
        for at, (first, second, prefix) in enumerate(drawn):
            cidr = IPv4Network((f"{first}.{second}.64.0", prefix), strict=False)
            networks.append({"key": f"n-{at}", "cidr": str(cidr)})
            rows += [device(at * 2 + one, network=f"n-{at}", address=str(cidr[one + 1])) for one in (0, 1)]
        try:
            where = loopback_map(read(document(rows) | {"networks": networks}))
        except NoRoomError:
            self.assertTrue(any(prefix < 12 for _, _, prefix in drawn))
            return
        self.assertEqual(len(set(where.addresses.values())), len(rows))
        self.assertTrue(all(IPv4Address(address) in IPv4Network("127.0.0.0/8") for address in where.addresses.values()))
        first = read(document(rows) | {"networks": networks}).devices[0]
        self.assertEqual(where.addresses["d-0"].split(".")[1:], str(first.address).split(".")[1:])


class Faults(TestCase):
    def played(self, *faults: dict[str, Any]) -> StandIn:
        site = planned(demo())
        return StandIn(site, read_faults(json.dumps({"faults": list(faults)}), site))

    def test_each_has_a_sensible_default(self) -> None:
        right = self.played().devices["cam-01"]
        for kind, attribute, value in (
            ("power-off", "on", False),
            ("clock-offset", "clock_offset_s", 3600.0),
            ("wrong-name", "name", "Larkmoor Dome 4 01"),
            ("wrong-date-order", "date_order", "MDY"),
        ):
            wrong = self.played({"kind": kind, "device": "cam-01"}).devices["cam-01"]
            self.assertEqual(getattr(wrong, attribute), value)
            self.assertNotEqual(getattr(right, attribute), value)
        changed = self.played({"kind": "port-changed", "device": "cam-01"}).devices["cam-01"].services
        self.assertEqual(changed, right.services | {"web": 81})

    def test_they_add_up_and_a_moved_device_lands_on_nobody(self) -> None:
        pretend = self.played(
            {"kind": "wrong-address", "device": "cam-01"}, {"kind": "wrong-name", "device": "cam-01", "name": "Hall"}
        )
        moved = pretend.devices["cam-01"]
        others = {item.site_address for key, item in pretend.devices.items() if key != "cam-01"}
        self.assertEqual(moved.name, "Hall")
        self.assertNotIn(moved.site_address, others)

    def test_a_fault_names_an_input_and_a_path_that_the_device_has(self) -> None:
        raw = document([device(1, "panel")])
        raw["models"].append({"key": "panel", "family": "panel", "services": {"web": 80}, "capacity": {"inputs": 3}})
        site = read(raw)
        for fault, said in (
            ({"kind": "input-open", "input": 4}, "'d-1' has no input 4; it has 3."),
            ({"kind": "path-down", "path": "mobile"}, "'d-1' has no path 'mobile'; it has network."),
            ({"kind": "port-changed", "service": "stream"}, "'d-1' has no service 'stream'; it has web."),
        ):
            with self.assertRaises(UnreadableSite) as caught:
                read_faults(json.dumps({"faults": [fault | {"device": "d-1"}]}), site)
            self.assertEqual(caught.exception.faults[0][1], said)
        self.assertEqual(len(read_faults('{"faults": [{"kind": "input-open", "device": "d-1", "input": 3}]}', site)), 1)

    def test_a_stranger_has_the_ports_but_not_the_face(self) -> None:
        pretend = self.played({"kind": "duplicate-address", "device": "cam-01"})
        stranger = pretend.strangers[0]
        self.assertEqual(stranger.site_address, pretend.devices["cam-01"].site_address)
        self.assertNotEqual(stranger.mac, pretend.devices["cam-01"].mac)
        self.assertEqual(stranger.services, pretend.devices["cam-01"].services)
