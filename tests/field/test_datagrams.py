"""Time and signalling over real sockets of the stand-in."""

import asyncio
from datetime import UTC, datetime, timedelta
from unittest import TestCase

from tests.fault_rules import site_of
from tests.field.test_faults import failing, sweep
from tests.samples import device, document
from tutelar.field.connect import ConnectError, ConnectTimeout
from tutelar.field.guard import Forbidden, Guard
from tutelar.field.sip import options, over_udp
from tutelar.field.sntp import ask_time
from tutelar.standin.site import StandIn


class Served(TestCase):
    def setUp(self) -> None:
        raw = document(
            [device(1, "larkmoor-rec-8", address="10.20.30.20"), device(2, "pellgrave-gate-1", address="10.20.30.50")]
        )
        raw["models"][1]["services"] = {"web": 80, "time": 123}
        self.site = site_of(raw)

    def test_a_time_server_tells_how_far_off_it_is(self) -> None:
        ahead = timedelta(seconds=90)

        async def look() -> None:
            async with StandIn(self.site, now=lambda: datetime.now(UTC) + ahead, yields=True) as pretend:
                said = await ask_time(Guard(), pretend.map.addresses["d-1"], 20123)
                self.assertTrue(said.synchronised)
                self.assertAlmostEqual(said.offset_s, 90, delta=0.5)
                with self.assertRaises(ConnectError):
                    await ask_time(Guard(), pretend.map.addresses["d-2"], 20123, timeout_s=0.3)
            with self.assertRaises(Forbidden):
                await ask_time(Guard(), "10.20.30.20", 123)

        asyncio.run(look())

    def test_signalling_answers_over_both_transports(self) -> None:
        async def look() -> None:
            async with StandIn(self.site, yields=True) as pretend:
                at = pretend.map.addresses["d-2"]
                self.assertEqual((await options(Guard(), at, 25060)).transport, "TCP")
                self.assertEqual((await over_udp(Guard(), at, 25060)).status, 200)
                deaf = await asyncio.get_running_loop().create_datagram_endpoint(
                    asyncio.DatagramProtocol, local_addr=(at, 0)
                )
                port = deaf[0].get_extra_info("sockname")[1]
                with self.assertRaises(ConnectTimeout):
                    await options(Guard(), at, port, timeout_s=0.2)
                deaf[0].close()

        asyncio.run(look())

    def test_a_wrong_clock_shows_at_whoever_serves_the_time_too(self) -> None:
        readings = asyncio.run(sweep(self.site, [{"kind": "clock-offset", "device": "d-1", "seconds": -120}]))
        self.assertEqual(failing(readings), {("d-1", "clock"), ("d-1", "time")})
        said = next(item.measured for item in readings if item.check == "time")
        self.assertEqual(said, "serves a time that is 2 min behind")
        self.assertEqual(failing(asyncio.run(sweep(self.site, []))), set())
