"""Probes against servers that misbehave: every one gives a sentence in time, none an exception of its own."""

import asyncio
import contextlib
from collections.abc import Awaitable, Callable
from typing import Any
from unittest import TestCase

from tests.samples import device, document, read
from tutelar.core.proof import expectations, judge
from tutelar.core.site import Site
from tutelar.field.connect import ConnectionBroken, ReadTimeout
from tutelar.field.guard import Guard
from tutelar.field.http import NotTold, Page, ProtocolError, get, identity
from tutelar.field.login import Account
from tutelar.field.look import Target
from tutelar.field.prove import Prover
from tutelar.field.rtsp import ask

AT = "127.9.9.9"
Handler = Callable[[asyncio.StreamReader, asyncio.StreamWriter], Awaitable[None]]


def saying(answer: bytes, *, wait: float = 0, close: bool = True) -> Handler:
    async def handle(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        await reader.read(1024)
        with contextlib.suppress(asyncio.CancelledError):  # the test has ended
            await asyncio.sleep(wait)
        writer.write(answer)
        if close:
            writer.close()

    return handle


def against(handler: Handler, probe: Callable[[int], Awaitable[Any]]) -> Any:
    """Serve the handler on a free port and return what the probe finds there."""

    async def work() -> Any:
        server = await asyncio.start_server(handler, AT, 0)
        try:
            return await probe(server.sockets[0].getsockname()[1])
        finally:
            server.close()

    return asyncio.run(work())


def http(body: bytes, status: bytes = b"200 OK", fields: bytes = b"") -> bytes:
    return b"HTTP/1.1 %s\r\n%sContent-Length: %d\r\n\r\n%s" % (status, fields, len(body), body)


class StrangeWeb(TestCase):
    def test_what_is_no_web_page_is_said_in_words(self) -> None:
        cases: list[tuple[Handler, type[Exception], str]] = [
            (saying(b"\x00\xff\x00garbage\r\n\r\n"), ProtocolError, "does not speak HTTP"),
            (saying(b""), ConnectionBroken, "broke off"),
            (saying(b"HTTP/1.1 200 OK\r\nContent-Length: 50\r\n\r\nshort"), ProtocolError, "does not speak HTTP"),
            (saying(b"", wait=5), ReadTimeout, "says nothing within 0.3 s"),
            (saying(http(b"{}", b"500 Oops")), ProtocolError, "status 500"),
            (saying(http(b"{}", b"401 Unauthorized")), NotTold, "which device"),
            (saying(http(b"<html>")), ProtocolError, "which device"),
            (saying(http(b"[1]")), ProtocolError, "which device"),
            (saying(b"X" * 200_000), ProtocolError, "does not speak HTTP"),
        ]
        for handler, kind, said in cases:
            with self.subTest(said=said), self.assertRaisesRegex(kind, said):
                against(handler, lambda port: identity(Guard(), AT, port, timeout_s=0.3))

    def test_odd_identities_are_taken_for_what_they_are_worth(self) -> None:
        odd = http(b'{"name": 5, "hardware_address": null, "clock": "yesterday", "serial": "' + b"9" * 500 + b'"}')
        who, offset, _ = against(saying(odd), lambda port: identity(Guard(), AT, port))
        self.assertEqual((who.name, who.mac, len(who.serial), offset), (None, None, 200, None))
        dated = http(b'{"clock": "2026-01-01T10:00:00"}', fields=b"Date: Mon, 01 Jan 2001 00:00:00 GMT\r\n")
        self.assertLess(against(saying(dated), lambda port: identity(Guard(), AT, port))[1], -700_000_000)
        broken = http(b"{}", fields=b"Date: never\r\n")
        self.assertIsNone(against(saying(broken), lambda port: identity(Guard(), AT, port))[1])

    def test_a_page_that_never_ends_is_cut_off(self) -> None:
        async def endless(_reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            writer.write(b"HTTP/1.1 200 OK\r\n\r\n")
            with contextlib.suppress(asyncio.CancelledError, OSError):
                while not writer.is_closing():
                    writer.write(b"z" * 50_000)
                    await writer.drain()

        answer = against(endless, lambda port: get(Guard(), AT, Page(port, "/")))
        self.assertEqual(len(answer.body), 65536)


class StrangeStreams(TestCase):
    def test_what_is_no_stream_is_said_in_words(self) -> None:
        cases: list[tuple[Handler, type[Exception], str]] = [
            (saying(b"HTTP/1.1 400 Bad\r\n\r\n"), ProtocolError, "does not speak RTSP"),
            (saying(b"RTSP/1.0 200"), ProtocolError, "does not speak RTSP"),
            (saying(b"RTSP/1.0 200 OK\r\nContent-Length: many\r\n\r\n"), ProtocolError, "does not speak RTSP"),
            (saying(b"x" * 100_000), ProtocolError, "does not speak RTSP"),
            (saying(b"", wait=5), ReadTimeout, "says nothing within"),
        ]
        for handler, kind, said in cases:
            with self.subTest(said=said), self.assertRaisesRegex(kind, said):
                against(handler, lambda port: ask(Guard(), AT, port, timeout_s=0.3))

    def test_a_stream_that_wants_a_login_has_answered(self) -> None:
        wants = saying(b"RTSP/1.0 401 Unauthorized\r\nCSeq: 1\r\n\r\n")
        self.assertEqual(against(wants, lambda port: ask(Guard(), AT, port)).methods, ())


class StrangeDevices(TestCase):
    def test_a_device_that_speaks_nonsense_fails_its_checks_and_nothing_else(self) -> None:
        site = read(document([device(1, address="10.20.30.50")]))
        wanted = expectations(site, site.devices[0], None)
        nonsense = saying(b"hello\r\n\r\n")

        async def look(port: int) -> dict[str, str]:
            seen = await Prover(Guard(), timeout_s=0.5).observe(site, site.devices[0], Target(AT, lambda _: port))
            return {item.check: item.result for item in judge(site, site.devices[0], wanted, seen)}

        self.assertEqual(
            against(nonsense, look),
            {
                "answers": "pass",
                "cable": "pass",
                "right-device": "skipped",
                "web": "fail",
                "stream": "fail",
                "login": "skipped",
                "name": "skipped",
                "clock": "skipped",
                "date-order": "skipped",
                "resolution": "skipped",
            },
        )

    def test_a_login_that_breaks_off_is_tried_no_more_often_than_the_device_allows(self) -> None:
        offered: list[bytes] = []

        async def handle(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            asked = await reader.read(4096)
            if b"Authorization:" in asked:
                offered.append(asked)
            elif b"/identity" in asked:
                writer.write(http(b'{"hardware_address": "02:1a:4b:00:00:01"}'))
            else:
                writer.write(http(b"", b"401 No", b'WWW-Authenticate: Digest realm="x", nonce="1", qop="auth"\r\n'))
            writer.close()

        for rule, most in ({"tries": 1}, 1), ({"tries": 3}, 2), ({}, 4):
            raw = document([device(1, address="10.20.30.50")])
            raw["models"][0] |= {"password_rule": rule, "services": {"web": 80, "device-interface": 8000}}
            site = read(raw)

            async def look(port: int, site: Site = site) -> None:
                target = Target(AT, lambda _: port, Account("admin", "secret"))
                await Prover(Guard(), timeout_s=0.5).observe(site, site.devices[0], target)

            offered.clear()
            against(handle, look)
            self.assertEqual(len(offered), most, rule)

    def test_silence_costs_no_more_than_the_time_out(self) -> None:
        site = read(document([device(at, address=f"10.20.30.{at + 10}") for at in range(20)]))

        async def look(port: int) -> float:
            wanted = {item.key: expectations(site, item, None) for item in site.devices}
            targets = {item.key: Target(AT, lambda _: port) for item in site.devices}
            start = asyncio.get_running_loop().time()
            async for _ in Prover(Guard(), together=64, timeout_s=0.2).readings(site, wanted, targets):
                pass
            return asyncio.get_running_loop().time() - start

        rounds = 40 / 64  # forty exchanges in one go of sixty-four
        self.assertLess(against(saying(b"", wait=9), look), 0.2 * (rounds + 1) + 2)
