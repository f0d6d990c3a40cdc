"""A stand-in that behaves: redirects, registrations, slow and mute devices, settings over its page, restarts, leases."""

import asyncio
import json
from collections.abc import Awaitable, Callable
from typing import Any, TypeVar
from unittest import TestCase
from unittest.mock import patch
from urllib.parse import urlencode, urlsplit

from tests.field.test_interface import measured
from tests.samples import device, document, read
from tutelar.core.planning import plan
from tutelar.core.site import Site, with_addresses
from tutelar.field.connect import ConnectError
from tutelar.field.doors import try_door
from tutelar.field.guard import Guard
from tutelar.field.http import HttpAnswer, Page, ProtocolError, get, get_as, identity, request
from tutelar.field.login import Account
from tutelar.field.sip import listed
from tutelar.field.tables import read_table
from tutelar.standin.device import pretend_code, pretend_password
from tutelar.standin.faults import read_faults
from tutelar.standin.loopback import loopback_port
from tutelar.standin.settings_page import change
from tutelar.standin.site import StandIn

GUARD = Guard()
FORM = "application/x-www-form-urlencoded"
Result = TypeVar("Result")


def ready(raw: dict[str, Any]) -> Site:
    site = read(raw)
    return with_addresses(site, plan(site).addresses())


def camera(services: dict[str, int], **more: Any) -> Site:
    raw = document([device(1, address="10.20.30.50", **more)])
    raw["models"][0]["services"] = services
    return ready(raw)


def inside(site: Site, work: Callable[[StandIn], Awaitable[Result]], pace: float = 1000.0) -> Result:
    async def play() -> Result:
        async with StandIn(site, yields=True, pace=pace) as pretend:
            return await work(pretend)

    return asyncio.run(play())


class Armed(TestCase):
    def test_an_armed_hub_takes_no_settings_until_it_is_disarmed_and_says_so_by_its_lamp(self) -> None:
        raw = document([device(1, "hub"), device(2, "sensor", name="Hall keypad")])
        raw["models"] = [
            {"key": "hub", "family": "alarm-hub", "services": {"web": 80}},
            {"key": "sensor", "family": "keypad", "services": {"web": 80}},
        ]
        raw["links"] = [{"kind": "reads-for", "from": "d-2", "to": "d-1", "slot": 7}]
        site = ready(raw)
        faults = read_faults(json.dumps({"faults": [{"kind": "armed", "device": "d-1"}]}), site)

        async def play() -> None:
            async with StandIn(site, faults, yields=True) as pretend:
                hub = pretend.world.devices["d-1"]
                self.assertEqual(pretend.world.state_of(hub)["lamp"], "red")
                self.assertIn("have it disarmed first", change(hub, {"name": "Other"}, pretend.world) or "")
                self.assertNotEqual(hub.name, "Other")
                self.assertIsNone(change(hub, {"armed": "no", "name": "Other"}, pretend.world))
                told = pretend.world.state_of(hub)
                self.assertEqual((hub.name, told["armed"]), ("Other", False))
                self.assertEqual(told["zones"], [{"number": 7, "device": "d-2", "state": "rest"}])

        asyncio.run(play())


class Behaviour(TestCase):
    def test_what_is_late_or_mute_fails_where_it_has_to_speak(self) -> None:
        site = camera({"web": 80, "web-tls": 443, "stream": 554, "control": 34100, "device-interface": 8000})
        spoken = {"web", "stream", "device-interface"}
        for fault, failing in (
            ({"kind": "slow", "seconds": 0.1}, set()),
            ({"kind": "slow"}, spoken),
            ({"kind": "half-open"}, spoken | {"web-tls"}),
            ({"kind": "flapping", "seconds": 60}, {"answers"}),
        ):
            with self.subTest(fault=fault):
                found = measured(site, fault | {"device": "d-1"})
                self.assertEqual({name for name, item in found.items() if item.result in ("fail", "silent")}, failing)
                if failing == spoken:
                    self.assertIn("says nothing", found["web"].measured or "")

    def test_a_flapping_device_comes_back(self) -> None:
        from tutelar.standin.faults import Fault

        site = camera({"web": 80})

        async def work() -> set[bool]:
            seen: set[bool] = set()
            fault = Fault(kind="flapping", device="d-1", seconds=0.5)
            async with StandIn(site, (fault,), yields=True) as pretend:
                for _ in range(100):
                    try:
                        await identity(GUARD, pretend.map.addresses["d-1"], loopback_port(80))
                        seen.add(True)
                    except ConnectError:
                        seen.add(False)
                    if len(seen) == 2:
                        break
                    await asyncio.sleep(0.1)
            return seen

        self.assertEqual(asyncio.run(work()), {True, False})


class Redirects(TestCase):
    def test_one_is_followed_to_the_secure_page_with_the_login_and_no_further_than_the_device(self) -> None:
        site = camera({"web": 80, "web-tls": 443})

        async def work(pretend: StandIn) -> HttpAnswer:
            pretend.devices["d-1"].secure_only = True
            at = pretend.map.addresses["d-1"]
            who, _, said = await identity(GUARD, at, 20080, reached=loopback_port)
            self.assertEqual(who.serial, "S1")
            self.assertIsNotNone(said.certificate)
            account = Account("admin", pretend_password(site, "d-1"))
            return await get_as(GUARD, at, Page(20080, "/state"), account, [], reached=loopback_port)

        self.assertEqual(inside(site, work).status, 200)
        self.assertEqual({item.result for item in measured(site).values()}, {"pass"})

    def test_one_that_leads_elsewhere_or_in_a_circle_is_not_followed(self) -> None:
        async def at(location: str) -> None:
            async def answer(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
                await reader.readuntil(b"\r\n\r\n")
                writer.write(f"HTTP/1.1 302 Found\r\nLocation: {location}\r\nContent-Length: 0\r\n\r\n".encode())
                await writer.drain()
                writer.close()

            server = await asyncio.start_server(answer, "127.0.0.1", 0)
            async with server:
                await get(GUARD, "127.0.0.1", Page(server.sockets[0].getsockname()[1], "/"))

        for location, said in (
            ("http://10.9.9.9/", "10.9.9.9, another address"),
            ("//elsewhere.invalid/x", "no page at all"),
            ("ftp://127.0.0.1/", "no page at all"),
            ("http://[::1/", "no page at all"),
            ("/again", "on and on"),
            ("again", "on and on"),
        ):
            with self.subTest(location=location), self.assertRaisesRegex(ProtocolError, said):
                asyncio.run(at(location))


class Registrations(TestCase):
    def test_a_main_station_tells_whom_it_lists_to_who_knows_its_password(self) -> None:
        raw = document(
            [device(1, "pellgrave-gate-1", address="10.20.30.50"), device(2, "pellgrave-view-1", address="10.20.30.51")]
        )
        raw["models"].append({"key": "pellgrave-view-1", "family": "indoor-monitor", "services": {"web": 80}})
        raw["links"] = [{"kind": "registers-at", "from": "d-2", "to": "d-1", "slot": 3}]
        site = ready(raw)

        async def work(pretend: StandIn) -> list[tuple[str, ...] | None]:
            where = (GUARD, pretend.map.addresses["d-1"], loopback_port(5060))
            right = Account("3", pretend_password(site, "d-1"))
            answers = [
                (await listed(*where, "3", right)).addresses,
                (await listed(*where, "4", right)).addresses,
                (await listed(*where, "3", Account("3", "a guess"))).addresses,
                (await listed(*where, "3", None)).addresses,
            ]
            self.assertEqual(pretend.devices["d-1"].refused, 0)
            with patch(
                "tutelar.field.sip.connect", side_effect=ConnectError("refused")
            ):  # then it is asked by datagrams
                by_datagram = await listed(*where, "3", right)
            self.assertEqual((by_datagram.addresses, by_datagram.answer.transport), (("10.20.30.51",), "UDP"))
            pretend.devices["d-2"].on = False
            return [*answers, (await listed(*where, "3", right)).addresses]

        self.assertEqual(inside(site, work), [("10.20.30.51",), (), None, None, ()])


class Settings(TestCase):
    def test_what_is_typed_into_its_page_is_taken_up_by_a_restart(self) -> None:
        site = camera({"web": 80})

        async def work(pretend: StandIn) -> None:
            at, moved = pretend.map.addresses["d-1"], pretend.map.image("lan", int(site.devices[0].address or 0) + 20)

            async def post(path: str, cookie: str = "", **form: str) -> HttpAnswer:
                page = Page(20080, path)
                headers = [("Cookie", cookie)] if cookie else []
                return await request(GUARD, at, page, body=(FORM, urlencode(form).encode()), more=headers)

            self.assertEqual((await post("/settings", name="Nobody")).status, 401)
            signed = await post("/login", user="admin", password=pretend_password(site, "d-1"))
            cookie = signed.fields["set-cookie"].partition(";")[0]
            wrong = await post("/settings", cookie, name="Yard", address="10.20.30")
            self.assertIn(b"10.20.30&#x27; is not an IPv4 address", wrong.body)
            self.assertEqual(pretend.devices["d-1"].name, "Device 1")
            self.assertIn(b"restarts", (await post("/settings", cookie, name="Yard", address="10.20.30.70")).body)
            await asyncio.sleep(0.08)
            for _ in range(60):
                try:
                    who, _, _ = await identity(GUARD, moved, 20080)
                    break
                except ConnectError:
                    await asyncio.sleep(0.05)
            self.assertEqual(who.name, "Yard")
            with self.assertRaises(ConnectError):
                await identity(GUARD, at, 20080)

        inside(site, work)

    def test_a_form_sets_all_or_nothing(self) -> None:
        async def work(pretend: StandIn) -> None:
            one = pretend.devices["d-1"]
            for form, said in (
                ({"prefix": "33"}, "'33' is not a prefix"),
                ({"port_web": "000001999999"}, "'000001999999' is not a port"),
                ({"channel": "0"}, "'0' is not a channel"),
                ({"date_order": "YDM"}, "'YDM' is not a date order"),
                ({"password": "short"}, "at least 8 are wanted"),
                ({"gateway": "10.0.0.256"}, "'10.0.0.256' is not an IPv4 address"),
            ):
                before = repr(one)
                self.assertIn(said, change(one, form | {"name": "Other"}, pretend.world) or "")
                self.assertEqual(repr(one), before)
            self.assertIsNone(
                change(
                    one, {"prefix": "23", "dns": "10.20.30.9", "clock": "now", "password": "a-new-one"}, pretend.world
                )
            )
            self.assertEqual((one.prefix, one.dns, one.password), (23, ("10.20.30.9",), "a-new-one"))

        inside(camera({"web": 80}), work)

    def test_a_router_tells_its_leases_to_who_logs_in(self) -> None:
        raw = document(
            [device(1, "tarn-way-1", address="10.20.30.10"), device(2, addressing="reserved", address="10.20.30.120")]
        )
        raw["models"].append({"key": "tarn-way-1", "family": "router", "services": {"web": 80}})
        site = ready(raw)

        async def work(pretend: StandIn) -> HttpAnswer:
            account = Account("admin", pretend_password(site, "d-1"))
            return await get_as(GUARD, pretend.map.addresses["d-1"], Page(20080, "/leases"), account, [])

        kind, found = read_table(inside(site, work).body.decode())
        self.assertEqual(kind, "a dnsmasq lease file")
        self.assertEqual([(item.address, item.mac) for item in found], [("10.20.30.120", "02:1a:4b:00:00:02")])


class Relayed(TestCase):
    def test_the_relay_says_what_a_phone_would_see_of_a_code(self) -> None:
        raw = document(
            [device(1, "larkmoor-rec-8", address="10.20.30.50"), device(2, address="10.20.30.51")],
            links=[{"kind": "relays", "from": "d-1", "to": "relay"}],
        )
        site = ready(raw)
        code = pretend_code(site, "d-1")

        async def work(pretend: StandIn) -> None:
            assert pretend.relay is not None
            at = urlsplit(pretend.relay)

            async def ask(path: str) -> tuple[int, str]:
                said = await get(GUARD, at.hostname or "", Page(at.port or 0, path))
                return said.status, (said.json() or {}).get("state", said.body.decode())

            one = pretend.devices["d-1"]
            self.assertEqual(await ask(f"/devices/{code}"), (200, "online"))
            self.assertIn("Device 1 is online", (await ask(f"/?code={code}"))[1])
            for change_, said in (
                ({"relay": "blocked on the way out"}, "blocked on the way out"),
                ({"relay": "bound to another owner"}, "bound to another owner"),
                ({"relay": "off"}, "off"),
                ({"relay": "online", "gateway": "10.20.30.9"}, "offline: no way out"),
                ({"gateway": "10.20.30.1", "on": False}, "offline: it has not been heard of"),
            ):
                for name, value in change_.items():
                    setattr(one, name, value)
                self.assertEqual(await ask(f"/devices/{code}"), (200, said))
                self.assertIn("in this order", (await ask(f"/?code={code}"))[1])
            one.code = ""
            self.assertEqual((await ask(f"/devices/{code}"))[0], 404)
            self.assertEqual((await ask("/devices/"))[0], 404)
            self.assertEqual((await ask("/?code=%3Cb%3E"))[0], 200)
            self.assertNotIn("<b>", (await ask("/?code=%3Cb%3E"))[1])

        inside(site, work)


class Doors(TestCase):
    def site(self, faults: list[dict[str, Any]]) -> tuple[Site, Any]:
        raw = document([device(1, "ondel-door-2", address="10.20.30.50")])
        raw["models"].append(
            {"key": "ondel-door-2", "family": "panel", "services": {"web": 80}, "capacity": {"doors": 2}}
        )
        lock = {"lock": "magnet", "relay": "nc", "contact": "nc", "exit_button": True, "unlock_s": 5}
        raw["doors"] = [{"key": f"door-{at}", "panel": "d-1", "number": at, **lock} for at in (1, 2)]
        site = ready(raw)
        return site, read_faults(json.dumps({"faults": faults}), site)

    def test_a_panel_plays_its_doors_their_events_and_wrong_wiring(self) -> None:
        wrong = [("relay-swapped", 1), ("not-sent", 2), ("exit-dead", 2), ("contact-swapped", 2)]
        site, faults = self.site([{"kind": kind, "device": "d-1", "door": door} for kind, door in wrong])

        async def tried() -> tuple[list[str], Any, Any]:
            async with StandIn(site, faults, yields=True) as pretend:
                address, user, password = pretend.targets()["d-1"]
                account, port = Account(user, password), loopback_port(80)
                seen = [
                    await try_door(GUARD, address, port, account, door, does, reached=loopback_port)
                    for door, does in ((1, "unlocks"), (2, "card-granted"), (2, "exit-button"), (2, "contact"))
                ]
                pages = [
                    (await get_as(GUARD, address, Page(port, path), account, [], reached=loopback_port)).json()
                    for path in ("/events", "/state")
                ]
                for path in ("/doors/9/unlocks", "/doors/1/dance", "/doors/1", "/doors/x/unlocks"):
                    said = await get_as(GUARD, address, Page(port, path), account, [], reached=loopback_port)
                    self.assertEqual(said.status, 404, path)
                with self.assertRaises(ProtocolError):
                    await try_door(GUARD, address, port, Account(user, "no"), 1, "unlocks", reached=loopback_port)
                return seen, *pages

        seen, events, state = asyncio.run(tried())
        self.assertEqual(seen[0], "held 5 s, then free")
        self.assertIn("the card is refused", seen[1])
        self.assertIn("the button does nothing", seen[2])
        self.assertEqual(seen[3], "the panel says shut, then open")
        self.assertEqual(
            [event["what"] for event in events["events"]],
            ["card refused: it was never sent here", "unlocked from the page"],
        )
        self.assertEqual(
            [(door["number"], door["lock"], door["contact"]) for door in state["doors"]],
            [(1, "free", "shut"), (2, "held", "open")],
        )

    def test_a_fault_of_a_door_names_one_that_the_panel_has(self) -> None:
        for fault in ({"door": 9}, {"door": 9, "device": "d-1"}):
            with self.assertRaises(ValueError):
                self.site([{"kind": "not-sent", "device": "d-1", **fault}])
