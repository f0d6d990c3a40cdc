"""Measuring the stand-in over real sockets: all right, each fault at its device, and nothing outside loopback."""

import asyncio
import json
from typing import Any
from unittest import TestCase
from unittest.mock import patch

from bench.sites import site_text
from tests.field.steady import undisturbed
from tests.samples import demo, device, document, read
from tutelar.core.links.measured import link_readings
from tutelar.core.links.registry import link_index
from tutelar.core.planning import plan
from tutelar.core.proof import StreamSeen, all_expectations, measured_of
from tutelar.core.proof.exceptions import exception_problems
from tutelar.core.site import Reading, Site, UnreadableSite, read_site, with_addresses
from tutelar.field.connect import ConnectError, connect
from tutelar.field.guard import Forbidden, Guard
from tutelar.field.http import Page, ProtocolError, get, identity
from tutelar.field.login import Account
from tutelar.field.prove import Prover, targets_of
from tutelar.field.rtsp import ask, described
from tutelar.field.state import state
from tutelar.standin.device import pretend_password
from tutelar.standin.faults import read_faults
from tutelar.standin.loopback import loopback_map, loopback_port
from tutelar.standin.site import CannotListen, StandIn


def ready(raw: dict[str, Any]) -> Site:
    site = read(raw)
    return with_addresses(site, plan(site).addresses())


def measured(site: Site, faults: list[dict[str, Any]] | None = None, timeout_s: float = 2.0) -> list[Reading]:
    async def work() -> list[Reading]:
        async with StandIn(site, read_faults(json.dumps({"faults": faults or []}), site), yields=True) as pretend:
            targets = targets_of(pretend.targets(), loopback_port, site)
            wanted = all_expectations(site, plan(site).assignments)
            prover = Prover(Guard(), timeout_s=timeout_s)
            return [item async for batch in prover.readings(site, wanted, targets) for item in batch]

    return asyncio.run(undisturbed(work, timeout_s))


def bad(readings: list[Reading]) -> dict[str, set[str]]:
    """Return failed and silent checks by device."""
    found: dict[str, set[str]] = {}
    for item in readings:
        if item.result in ("fail", "silent"):
            found.setdefault(item.device, set()).add(item.check)
    return found


class StandInSite(TestCase):
    def test_everything_as_planned_passes(self) -> None:
        readings = measured(ready(demo()))
        self.assertEqual({item.result for item in readings}, {"pass"})
        self.assertEqual({item.device for item in readings}, {part["key"] for part in demo()["devices"]})

    def test_a_factory_login_is_tried_where_the_planned_one_is_refused(self) -> None:
        raw = document([device(1), device(2)])
        raw["models"][0]["factory"] |= {"user": "admin", "login": "heron5"}
        site = ready(raw)
        faults = [{"kind": "wrong-password", "device": "d-1"}, {"kind": "factory-login", "device": "d-1"}]
        found = {(item.device, item.check): item.result for item in measured(site, faults)}
        self.assertEqual((found["d-1", "login"], found["d-1", "factory-login"]), ("fail", "fail"))
        self.assertEqual(found["d-2", "factory-login"], "pass")
        raw["exceptions"] = [{"device": "d-1", "check": "factory-login", "reason": "later"}]
        self.assertEqual([item.code for item in exception_problems(read(raw))], ["exception.factory-login"])

    def test_a_page_that_takes_long_makes_no_right_clock_wrong(self) -> None:
        raw = document([device(1), device(2)], policy={"proof": {"clock_s": 0.5}})
        raw["models"][0]["services"] = {"web": 80}
        found = measured(ready(raw), [{"kind": "slow", "device": "d-1", "seconds": 0.7}])
        clocks = {item.device: item for item in found if item.check == "clock"}
        self.assertEqual([item.result for item in clocks.values()], ["pass", "pass"])
        self.assertRegex(clocks["d-1"].measured or "", r", give or take 0\.\d s$")
        self.assertNotIn("give", clocks["d-2"].measured or "")

    def test_every_registration_is_asked_for_where_it_should_be(self) -> None:
        services = {"web": 80, "signalling": 5060}
        raw = document([device(1, "gate"), device(2, "gate"), device(3, "view"), device(4, "exchange")])
        raw["models"] = [
            {"key": key, "family": family, "services": services, "factory": {"mode": "leased"}}
            for key, family in (("gate", "door-station"), ("view", "indoor-monitor"), ("exchange", "call-server"))
        ]
        raw["links"] = [
            {"kind": "registers-at", "from": "d-3", "to": "d-1", "slot": 1},
            {"kind": "registers-at", "from": "d-3", "to": "d-2", "slot": 4},
            {"kind": "calls", "from": "d-1", "to": "d-4", "slot": 201},
        ]
        site = ready(raw)

        def registered(*faults: dict[str, Any]) -> dict[str, tuple[str, str]]:
            found = [item for item in measured(site, list(faults)) if item.check == "registered"]
            return {item.device: (item.result, measured_of(site, item)) for item in found}

        self.assertEqual(
            registered(),
            {
                "d-1": ("pass", "registered as number 201"),
                "d-3": ("pass", "registered as number 1, and at Device 2 as number 4"),
            },
        )
        found = registered({"kind": "power-off", "device": "d-2"}, {"kind": "power-off", "device": "d-4"})
        self.assertEqual(found["d-3"], ("skipped", "not told by Device 2"))
        self.assertEqual(found["d-1"], ("fail", "the main station does not answer"))
        known = link_index(site, plan(site).addresses())
        proofs = link_readings(known, [item for item in measured(site) if item.check == "registered"])
        self.assertEqual([(item.device, item.check) for item in proofs], [("d-1", "calls.d-4.registered")])

    def test_a_stranger_is_offered_no_password(self) -> None:
        site = ready(demo())

        async def work() -> list[int]:
            faults = read_faults(json.dumps({"faults": [{"kind": "duplicate-address", "device": "cam-04"}]}), site)
            async with StandIn(site, faults, yields=True) as pretend:
                targets = targets_of(pretend.targets(), loopback_port, site)
                seen = await Prover(Guard()).observe(site, site.device_by_key["cam-04"], targets["cam-04"])
                self.assertEqual((seen.identity.serial if seen.identity else None, seen.login), ("unknown", None))
                return [other.refused for other in pretend.strangers]

        self.assertEqual(asyncio.run(work()), [0])

    def test_exactly_the_faulty_devices_fail(self) -> None:
        site = ready(demo())
        cases: list[tuple[dict[str, Any], dict[str, set[str]]]] = [
            ({"kind": "power-off", "device": "cam-13"}, {"cam-13": {"answers", "linked"}}),
            ({"kind": "wrong-name", "device": "cam-02"}, {"cam-02": {"name"}}),
            ({"kind": "wrong-name", "device": "hub-1", "name": "Hub"}, {"hub-1": {"name"}}),
            ({"kind": "clock-offset", "device": "gate-1"}, {"gate-1": {"clock"}}),
            ({"kind": "clock-offset", "device": "gate-1", "seconds": -3}, {"gate-1": {"clock"}}),
            ({"kind": "port-changed", "device": "cam-03", "service": "stream"}, {"cam-03": {"stream", "linked"}}),
            ({"kind": "port-changed", "device": "cam-03"}, {"cam-03": {"web"}}),
            ({"kind": "wrong-date-order", "device": "rec-1"}, {"rec-1": {"date-order"}}),
            ({"kind": "wrong-address", "device": "rec-1"}, {"rec-1": {"answers"}}),
            ({"kind": "duplicate-address", "device": "cam-04"}, {"cam-04": {"right-device", "linked"}}),
            (
                {"kind": "duplicate-address", "device": "cam-04", "with": "cam-05"},
                {"cam-04": {"answers", "linked"}, "cam-05": {"right-device", "linked"}},
            ),
            ({"kind": "power-off", "network": "office"}, {"hub-1": {"answers"}}),
        ]
        for fault, expected in cases:
            with self.subTest(fault=fault):
                self.assertEqual(bad(measured(site, [fault])), expected)

    def test_faults_that_cannot_be_are_refused_in_words(self) -> None:
        site = ready(demo())
        for fault, said in (
            ({"kind": "power-off", "device": "cam-99"}, "cam-99"),
            ({"kind": "no-such"}, "no-such"),
            ({"kind": "power-off"}, "device or a network"),
            ({"kind": "port-changed", "device": "cam-01", "service": "signalling"}, "signalling"),
            ({"kind": "duplicate-address", "device": "cam-01", "with": "cam-01"}, "itself"),
        ):
            with self.subTest(fault=fault), self.assertRaises(UnreadableSite) as caught:
                read_faults(json.dumps({"faults": [fault]}), site)
            self.assertIn(said, str(caught.exception))

    def test_a_second_stand_in_of_one_site_says_why_it_cannot_start(self) -> None:
        network = {"cidr": "10.250.31.0/24", "gateway": None, "pools": [], "reserved": [], "dns": []}
        site = ready(document([device(1)], network=network))  # a range that no other test plays at this moment

        async def twice() -> None:
            async with StandIn(site, yields=True), StandIn(site):
                self.fail("both listen on one port")

        with self.assertRaisesRegex(CannotListen, "running already"):
            asyncio.run(twice())

    def test_a_stand_in_that_yields_moves_out_of_the_way_and_is_measured_there(self) -> None:
        raw = document(
            [device(1, network="n", address="10.250.30.50")], networks=[{"key": "n", "cidr": "10.250.30.0/24"}]
        )
        site = ready(raw)

        async def beside() -> tuple[list[str], list[Reading]]:
            async with StandIn(site) as first, StandIn(site, yields=True) as second:
                readings = await asyncio.to_thread(measured, site)
                return [pretend.map.addresses["d-1"] for pretend in (first, second)], readings

        places, readings = asyncio.run(beside())
        self.assertEqual(places[0], "127.250.30.50")
        self.assertRegex(places[1], r"^127\.(?!250\.)\d+\.30\.50$")  # the first that no other test holds
        self.assertEqual({item.result for item in readings}, {"pass"})

    def test_a_site_is_never_measured_at_another_ones_devices(self) -> None:
        """The other one's addresses lie in a wider range and have other ports, so that nothing collides."""
        one = [device(1, network="n", address="10.251.30.50")]
        wanted = document(one, networks=[{"key": "n", "cidr": "10.251.30.0/24"}])
        other = document(one, networks=[{"key": "n", "cidr": "10.251.0.0/16"}])
        wanted["models"][0]["services"], other["models"][0]["services"] = {"web": 8181, "stream": 554}, {"stream": 554}
        closed = [{"kind": "port-changed", "device": "d-1", "service": "stream", "port": 5554}]

        async def beside() -> list[Reading]:
            async with StandIn(ready(other)):
                return await asyncio.to_thread(measured, ready(wanted), closed)

        found = {item.check: item.result for item in asyncio.run(beside())}
        self.assertEqual((found["web"], found["stream"]), ("pass", "fail"))

    def test_three_hundred_devices_in_one_process(self) -> None:
        raw = read_site(site_text(300, 3))
        site = with_addresses(raw, plan(raw).addresses())
        readings = measured(site, timeout_s=15)  # all of them and who asks share what a busy machine has left
        self.assertEqual({item.result for item in readings}, {"pass"})
        self.assertEqual(len({item.device for item in readings}), 300)

    def test_networks_that_collide_on_loopback_are_moved(self) -> None:
        raw = document([device(1), device(2, network="twin", addressing="fixed")])
        raw["networks"].append({"key": "twin", "cidr": "172.20.30.0/24"})
        where = loopback_map(ready(raw))
        self.assertTrue(where.addresses["d-1"].startswith("127.20.30."))
        self.assertEqual(len(set(where.addresses.values())), 2)
        self.assertEqual(len(where.moved), 1)
        self.assertIn("172.20.30.0/24", where.moved[0])


class Probes(TestCase):
    def test_web_login_and_streams_of_a_pretend_camera(self) -> None:
        raw = document([device(1, address="10.20.30.50")])
        raw["models"][0]["stream_paths"] = {"main": "live/1", "sub": "/live/2"}
        raw["models"][0]["services"] = {
            "web-tls": 443,
            "stream": 554,
            "control": 34100,
            "signalling": 5060,
            "logging": 9010,
        }
        site = ready(raw)
        guard = Guard()

        async def look() -> None:
            async with StandIn(site, yields=True) as pretend:
                at = pretend.map.addresses["d-1"]
                who, offset, _ = await identity(guard, at, 20443, secure=True)
                self.assertEqual((who.name, who.mac), ("Device 1", "02:1a:4b:00:00:01"))
                self.assertLess(abs(offset or 99), 2)
                page = await get(guard, at, Page(20443, "/", True))
                self.assertIn(b"Password", page.body)
                self.assertLess(abs(page.clock_offset_s() or 99), 2)
                self.assertEqual((await get(guard, at, Page(20443, "/no", True))).status, 404)
                refused = await ask(guard, at, 20554, describe=True)
                self.assertEqual((refused.status, "DESCRIBE" in refused.methods), (401, True))
                account = Account("admin", pretend_password(site, "d-1"))
                answer = await ask(guard, at, 20554, describe=True, account=account, uri="/live/1")
                self.assertEqual(described(answer.description), StreamSeen("h265", 2688, 1520, 20.0))
                for uri, said in ((None, 404), ("/live/3", 404), ("rtsp://10.20.30.11:554/live/2", 200)):
                    other = await ask(guard, at, 20554, describe=True, account=account, uri=uri)
                    self.assertEqual(other.status, said, uri)
                asks: list[str] = []
                self.assertEqual((await state(guard, at, 20443, account, asks, secure=True))[0], "taken")
                self.assertEqual(len(asks), 2)
                for said in ("refused", "refused", "refused", "refused", "refused", "locked"):
                    wrong = Account("admin", "a guess")
                    self.assertEqual((await state(guard, at, 20443, wrong, [], secure=True))[0], said)
                self.assertEqual((await state(guard, at, 20443, account, [], secure=True))[0], "locked")
                with self.assertRaises(ProtocolError):
                    await get(guard, at, Page(20554, "/"))
                with self.assertRaisesRegex(ConnectError, "within"):
                    await get(guard, at, Page(loopback_port(9010), "/"), timeout_s=0.2)
                with self.assertRaisesRegex(ConnectError, "broke off"):  # signalling does not take a page's request
                    await get(guard, at, Page(25060, "/"))
                with self.assertRaises(ConnectError):
                    await connect(guard, at, 20081)

        asyncio.run(look())

    def test_leaving_early_cancels_what_is_under_way(self) -> None:
        site = ready(demo())

        async def first_only() -> int:
            async with StandIn(site, yields=True) as pretend:
                targets = targets_of(pretend.targets(), loopback_port, site)
                batches = Prover(Guard()).readings(site, all_expectations(site, plan(site).assignments), targets)
                async for _ in batches:
                    break
                await batches.aclose()
                return len([task for task in asyncio.all_tasks() if task is not asyncio.current_task()])

        self.assertEqual(asyncio.run(first_only()), 0)

    def test_one_camera_alone_is_judged_with_what_its_recorder_tells(self) -> None:
        site = ready(demo())

        async def work() -> list[Reading]:
            async with StandIn(site, yields=True) as pretend:
                targets = targets_of(pretend.targets(), loopback_port, site)
                wanted = all_expectations(site, plan(site).assignments)
                batches = Prover(Guard()).readings(site, wanted, targets, ["cam-04"])
                return [item async for batch in batches for item in batch]

        readings = asyncio.run(work())
        self.assertEqual({item.device for item in readings}, {"cam-04"})
        by_check = {item.check: item for item in readings}
        self.assertEqual(by_check["linked"].result, "pass", by_check["linked"].measured)
        self.assertEqual(by_check["records"].result, "pass", by_check["records"].measured)

    def test_a_pace_keeps_two_exchanges_apart_and_loses_none(self) -> None:
        site = ready(document([device(1, address="10.20.30.50")]))
        waits: list[float] = []

        async def work() -> list[Reading]:
            async with StandIn(site, yields=True) as pretend:
                targets = targets_of(pretend.targets(), loopback_port, site)
                wanted = all_expectations(site, plan(site).assignments)
                clock = asyncio.get_running_loop()
                prover = Prover(Guard(), pace_s=0.05)
                manners = prover._manners
                turn = manners.turn

                async def noted() -> None:
                    await turn()
                    waits.append(clock.time())

                with patch.object(manners, "turn", noted):
                    return [item async for batch in prover.readings(site, wanted, targets) for item in batch]

        readings = asyncio.run(work())
        self.assertEqual({item.result for item in readings}, {"pass"})
        self.assertGreater(len(waits), 3)
        # a late one does not move the next: each is at its time or after, counted from the first
        self.assertTrue(all(at - waits[0] >= 0.05 * number - 0.03 for number, at in enumerate(waits)), waits)


class Safety(TestCase):
    def test_nothing_outside_loopback_is_ever_asked(self) -> None:
        for address in (
            "10.62.8.20",
            "192.168.64.20",
            "8.8.8.8",
            "126.255.255.255",
            "128.0.0.1",
            "0.0.0.0",
            "localhost",
            "::1",
        ):
            with self.subTest(address=address), self.assertRaises(Forbidden):
                asyncio.run(connect(Guard(), address, 80))
        Guard().check("127.255.255.254")

    def test_live_work_needs_the_switch_the_authority_and_a_declared_network(self) -> None:
        networks = [network.cidr for network in ready(demo()).networks]
        for switched_on, authorised in ((False, True), (True, False), (False, False)):
            with self.assertRaises(Forbidden):
                Guard.for_live_work(networks, switched_on=switched_on, authorised=authorised)
        guard = Guard.for_live_work(networks, switched_on=True, authorised=True)
        guard.check("10.62.8.20")
        with self.assertRaisesRegex(Forbidden, r"10\.62\.9\.20 .*declared"):
            guard.check("10.62.9.20")
