"""The bench and the links practised on the stand-in from the box on: twins, first passwords, leases, channels."""

import asyncio
from ipaddress import IPv4Address
from unittest import TestCase
from urllib.parse import urlencode, urlsplit

from tests.field.test_behaviour import FORM, GUARD, ready
from tests.samples import device, document
from tutelar.core.planning import plan
from tutelar.core.proof import all_expectations
from tutelar.core.site import Site
from tutelar.field.http import HttpAnswer, Page, request
from tutelar.field.prove import Prover, targets_of
from tutelar.standin.device import pretend_password
from tutelar.standin.loopback import loopback_port
from tutelar.standin.site import StandIn
from tutelar.standin.unboxed import SimulatedStatus


def bench() -> Site:
    links = [
        {"kind": "records", "from": "d-1", "to": "d-3", "slot": 2},
        {"kind": "registers-at", "from": "d-5", "to": "d-4", "slot": 7},
        {"kind": "relays", "from": "d-3", "to": "relay"},
    ]
    rows = [
        device(1, address="10.20.30.51"),
        device(2, address="10.20.30.52"),
        device(3, "larkmoor-rec-8", address="10.20.30.50"),
        device(4, "pellgrave-gate-1", address="10.20.30.60"),
        device(5, "pellgrave-gate-1", address="10.20.30.61"),
    ]
    raw = document(rows, links=links)
    for at, login in (1, "blank"), (2, "1234"):
        raw["models"][at]["factory"]["login"] = login
    return ready(raw)


class Technician:
    """Whoever opens the pages of a pretend bench with a browser."""

    def __init__(self, pretend: StandIn) -> None:
        self.pretend = pretend
        self.cookies: dict[str, str] = {}

    async def until(self, key: str, state: str) -> SimulatedStatus:
        for _ in range(200):
            if (now := self.pretend.standing(key)).state == state:
                return now
            await asyncio.sleep(0.02)
        raise AssertionError(f"{key} is {now}, not {state}")

    async def plugs_in(self, key: str, state: str = "up") -> SimulatedStatus:
        await self.pretend.handle(key, "plug")
        return await self.until(key, state)

    async def posts(self, key: str, path: str, **form: object) -> HttpAnswer:
        at = urlsplit(self.pretend.standing(key).page or "")
        body = (FORM, urlencode(form).encode())
        headers = [("Cookie", self.cookies[key])] if key in self.cookies else []
        answer = await request(GUARD, at.hostname or "", Page(at.port or 0, path), body=body, more=headers)
        if "set-cookie" in answer.fields:
            self.cookies[key] = answer.fields["set-cookie"].partition(";")[0]
        return answer

    async def sets(self, key: str, **more: object) -> None:
        """Give a device its planned settings; it restarts."""
        site = self.pretend.site
        planned = site.device_by_key[key]
        form = {
            "name": planned.name,
            "address": planned.address,
            "prefix": 24,
            "gateway": "10.20.30.1",
            "dns": "10.20.30.1",
            "date_order": "DMY",
            "clock": "now",
        } | more
        answer = await self.posts(key, "/settings", **form)
        assert answer.status == 200, answer.body
        await self.until(key, "busy")
        await self.until(key, "up")

    async def broken(self) -> set[tuple[str, str]]:
        site = self.pretend.site
        prover = Prover(GUARD, timeout_s=2.0)
        wanted = all_expectations(site, plan(site).assignments)
        targets = targets_of(self.pretend.targets(), loopback_port, site)
        readings = [item async for batch in prover.readings(site, wanted, targets) for item in batch]
        return {(item.device, item.check) for item in readings if item.result in ("fail", "silent")}


class Unboxed(TestCase):
    def test_a_bench_goes_from_the_box_to_the_proof(self) -> None:
        site = bench()
        word = {key: pretend_password(site, key) for key in site.device_by_key}

        async def work(pretend: StandIn) -> None:
            one = Technician(pretend)
            self.assertEqual({pretend.standing(key).state for key in word}, {"boxed"})
            self.assertEqual({check for _, check in await one.broken()}, {"answers"})

            # twins wake at one factory address: the second is not heard before the first has gone
            first = await one.plugs_in("d-1")
            self.assertEqual(first.address, "192.168.64.20")
            self.assertRegex(first.page or "", r"^http://127\.\d+\.64\.20:20080/$")
            self.assertEqual((await one.plugs_in("d-2", "shadowed")).address, "192.168.64.20")
            self.assertEqual((await one.posts("d-1", "/login", user="admin", password=word["d-1"])).status, 401)
            self.assertIn(b"at least 8 are wanted", (await one.posts("d-1", "/password", password="short")).body)
            self.assertIn(b"is saved", (await one.posts("d-1", "/password", password=word["d-1"])).body)
            self.assertEqual((await one.posts("d-1", "/password", password="somebody else")).status, 404)
            await one.sets("d-1")
            self.assertEqual(pretend.standing("d-1").address, "10.20.30.51")
            self.assertEqual((await one.until("d-2", "up")).address, "192.168.64.20")
            await one.posts("d-2", "/password", password=word["d-2"])
            await one.sets("d-2")

            # a recorder takes a lease and has no password from the factory; its channels are empty
            leased = await one.plugs_in("d-3")
            self.assertEqual(leased.address, "10.20.30.100")
            self.assertIn(" 10.20.30.100 Larkmoor-Record-8 ", pretend.world.leases())
            await one.posts("d-3", "/login", user="admin", password="")
            await one.sets("d-3", password=word["d-3"])
            self.assertEqual(pretend.world.leases(), "")
            self.assertEqual(
                await one.broken() & {("d-1", "linked"), ("d-3", "relay"), ("d-3", "login")},
                {("d-1", "linked"), ("d-3", "relay")},
            )
            typed = await one.posts("d-3", "/settings", channel=2, camera="10.20.30.5l")
            self.assertIn(b"10.20.30.5l&#x27; is not an IPv4 address", typed.body)
            typed = await one.posts("d-3", "/settings", camera="10.20.30.51")
            self.assertIn(b"The channel is missing", typed.body)
            await one.posts("d-3", "/settings", channel=2, camera="10.20.30.51", camera_password="another one")
            self.assertIn(("d-1", "linked"), await one.broken())
            await one.posts("d-3", "/settings", channel=2, camera="10.20.30.51", camera_password=word["d-1"])
            await one.posts("d-3", "/settings", remote="on", registration_code="otter-31")

            # stations: each has a password from the factory; the one registers at the other with its number
            for key in ("d-4", "d-5"):
                await one.plugs_in(key)
                tries = [(await one.posts(key, "/login", user="admin", password=text)).status for text in ("", "1234")]
                self.assertEqual(tries, [401, 200])
                await one.sets(key, password=word[key])
            self.assertEqual(await one.broken(), {("d-5", "registered")})
            await one.posts("d-5", "/settings", number=7, station="10.20.30.60", station_password=word["d-4"])
            self.assertEqual(await one.broken(), set())
            await one.sets("d-4", port_signalling=5062)
            self.assertEqual(
                pretend.world.state_of(pretend.devices["d-5"])["registered"]["state"],
                "the main station's port is closed",
            )
            await one.sets("d-4", port_signalling=5060)

            # pulled and plugged in again it is where it was; back in its box everything is gone
            await pretend.handle("d-1", "unplug")
            self.assertEqual(pretend.standing("d-1"), SimulatedStatus("unplugged"))
            self.assertEqual((await one.plugs_in("d-1")).address, "10.20.30.51")
            await pretend.handle("d-1", "box")
            self.assertEqual((await one.plugs_in("d-1")).address, "192.168.64.20")

        async def play() -> None:
            async with StandIn(site, yields=True, pace=1000.0, boxed=True) as pretend:
                await work(pretend)

        asyncio.run(play())

    def test_two_pretend_benches_keep_clear_of_each_other(self) -> None:
        async def play() -> list[str | None]:
            pages = []
            async with (
                StandIn(bench(), yields=True, pace=1000.0, boxed=True) as one,
                StandIn(bench(), yields=True, pace=1000.0, boxed=True) as other,
            ):
                for pretend in (one, other):
                    for key in ("d-1", "d-3"):
                        pages.append((await Technician(pretend).plugs_in(key)).page)
            return pages

        self.assertEqual(len(set(asyncio.run(play()))), 4)

    def test_a_factory_subnet_may_touch_the_site(self) -> None:
        for cidr, prefix, planned in (
            ("192.168.64.0/24", 24, "192.168.64.77"),  # it is the site's
            ("192.168.65.0/24", 16, "192.168.65.77"),  # it holds the site's
            ("192.168.0.0/16", 24, "192.168.1.77"),  # the site's holds it
        ):
            raw = document(
                [device(1, address=planned)],
                network={"cidr": cidr, "gateway": None, "pools": [], "reserved": [], "dns": []},
            )
            raw["models"][0]["factory"]["prefix"] = prefix
            site = ready(raw)

            async def play(site: Site = site, planned: str = planned) -> set[tuple[str, str]]:
                async with StandIn(site, yields=True, pace=1000.0, boxed=True) as pretend:
                    one = Technician(pretend)
                    self.assertEqual((await one.plugs_in("d-1")).address, "192.168.64.20")
                    await one.posts("d-1", "/password", password=pretend_password(site, "d-1"))
                    self.assertEqual((await one.posts("d-1", "/settings", address="10.9.9.9")).status, 200)
                    await one.until("d-1", "outside")
                    await pretend.handle("d-1", "box")
                    await one.plugs_in("d-1")
                    await one.posts("d-1", "/password", password=pretend_password(site, "d-1"))
                    prefix = site.networks[0].cidr.prefixlen
                    await one.sets("d-1", address=planned, prefix=prefix, gateway="", dns="")
                    return await one.broken()

            self.assertEqual(asyncio.run(play()), set(), cidr)

    def test_without_leases_a_device_wakes_at_its_own_address_or_at_none(self) -> None:
        raw = document(
            [device(1, "larkmoor-rec-8", address="10.20.30.50"), device(2, "pellgrave-gate-1", address="10.20.30.51")],
            policy={"bench": {"leases": False}},
        )
        site = ready(raw)

        async def play() -> tuple[SimulatedStatus, SimulatedStatus]:
            async with StandIn(site, yields=True, pace=1000.0, boxed=True) as pretend:
                one = Technician(pretend)
                return await one.plugs_in("d-1", "no-address"), await one.plugs_in("d-2")

        nowhere, own = asyncio.run(play())
        self.assertEqual((nowhere.address, nowhere.page), (None, None))
        self.assertEqual(own.address, str(IPv4Address("192.168.77.30")))
