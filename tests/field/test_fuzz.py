"""Answers that are cut, bent and made up, on every protocol: a typed outcome each time, never more, never endless."""

import asyncio
import random
import ssl
from collections.abc import Awaitable, Callable
from contextlib import ExitStack
from typing import Any
from unittest import TestCase
from unittest.mock import patch

from hypothesis import given
from hypothesis import strategies as st

from tests import so_many
from tests.samples import device, document, read
from tutelar.core.planning import plan
from tutelar.core.proof import expectations, judge
from tutelar.field.connect import ConnectError, Connection, ConnectTimeout, unverified
from tutelar.field.connect import connect as real_connect
from tutelar.field.guard import Guard
from tutelar.field.http import Page, ProtocolError, get, identity
from tutelar.field.interface import interface, matches
from tutelar.field.login import Account, answer
from tutelar.field.look import Target, certificate_of
from tutelar.field.prove import Prover
from tutelar.field.rtsp import ask, described
from tutelar.field.sip import listed, over_tcp, over_udp
from tutelar.field.sntp import ask_time
from tutelar.field.state import state
from tutelar.standin.certificates import server_context
from tutelar.standin.datagrams import sip_answer, time_answer
from tutelar.standin.interface import fault, message
from tutelar.standin.parameter_sets import described as sets

GUARD, AT, ACCOUNT = Guard(), "127.0.0.1", Account("admin", "grey heron")
ASKED = b'WWW-Authenticate: Digest realm="device", nonce="abc", qop="auth", algorithm=SHA-256\r\n'
SDP = b"v=0\r\nm=video 0 RTP/AVP 96\r\na=rtpmap:96 H265/90000\r\na=framesize:96 2688-1520\r\na=framerate:20\r\n"
SETS = SDP.replace(b"H265", b"H264") + b"a=fmtp:96 " + sets("h264", 1920, 1080, 25).encode() + b"\r\n"
SOAP = message(
    "<tds:GetDNSResponse token='p1'><tt:UTCDateTime><tt:Year>2026</tt:Year><tt:Month>6</tt:Month><tt:Day>8</tt:Day>"
    "<tt:Hour>9</tt:Hour><tt:Minute>0</tt:Minute><tt:Second>1</tt:Second></tt:UTCDateTime><trt:Profiles token='main'/>"
    "<tt:HwAddress>02:1a:4b:00:00:01</tt:HwAddress><tt:PrefixLength>24</tt:PrefixLength><tt:Uri>rtsp://a/b</tt:Uri>"
    "<tt:IPv4Address>10.0.0.1</tt:IPv4Address></tds:GetDNSResponse>"
)
FAULT = fault("Sender", "NotAuthorized")
MATCH = message(
    "<d:ProbeMatch><d:Scopes>onvif://www.onvif.org/name/Gate</d:Scopes><d:XAddrs>http://10.0.0.9:80/x</d:XAddrs>"
    "</d:ProbeMatch>"
)
STATE = (
    b'{"network": {"prefix": 24, "gateway": "10.0.0.1", "dns": ["10.0.0.1"]}, "relay": "online", "disk": "ok", '
    b'"registered": {"number": 1, "state": "registered"}, '
    b'"channels": [{"number": 1, "source": "c:1", "state": "live", "recording": true}]}'
)


def http(body: bytes, status: bytes = b"200 OK", fields: bytes = b"") -> bytes:
    return b"HTTP/1.1 %s\r\n%sContent-Length: %d\r\n\r\n%s" % (status, fields, len(body), body)


def rtsp(body: bytes, status: bytes = b"200 OK", fields: bytes = b"") -> bytes:
    return b"RTSP/1.0 %s\r\nCSeq: 1\r\n%sContent-Length: %d\r\n\r\n%s" % (status, fields, len(body), body)


class Counting(asyncio.StreamReader):
    """A stream that counts what is taken out of it."""

    taken = 0

    async def read(self, n: int = -1) -> bytes:
        data = await super().read(n)
        self.taken += len(data)
        return data

    async def readuntil(self, separator: bytes = b"\n") -> bytes:
        data = await super().readuntil(separator)
        self.taken += len(data)
        return data

    async def readexactly(self, n: int) -> bytes:
        data = await super().readexactly(n)
        self.taken += len(data)
        return data


class Silent:
    """A writer that keeps nothing."""

    transport: Any = None

    def __init__(self) -> None:
        self.transport = self

    def write(self, _data: bytes) -> None: ...

    def abort(self) -> None: ...


Probe = Callable[[], Awaitable[object]]
PROBES: dict[str, tuple[Probe, list[bytes]]] = {
    "identity": (
        lambda: identity(GUARD, AT, 80),
        [
            http(b'{"name": "Gate", "clock": "2026-06-08T12:00:00+00:00"}'),
            http(b"{}", fields=b"Date: Mon, 08 Jun 2026 12:00:00 GMT\r\n"),
        ],
    ),
    "state": (lambda: state(GUARD, AT, 80, ACCOUNT, []), [http(STATE), http(b"", b"401 Unauthorized", ASKED)]),
    "stream": (
        lambda: ask(GUARD, AT, 554, describe=True, account=ACCOUNT),
        [
            rtsp(b"", fields=b"Public: OPTIONS, DESCRIBE\r\n") + rtsp(SDP),
            rtsp(b"") + rtsp(SETS),
            rtsp(b"") + rtsp(b"", b"401 Unauthorized", ASKED) + rtsp(SDP),
        ],
    ),
    "redirect": (
        lambda: get(GUARD, AT, Page(80, "/")),
        [http(b"", b"302 Found", b"Location: http://127.0.0.1:80/next\r\n"), http(b"<html>")],
    ),
    "interface": (lambda: interface(GUARD, AT, 8000, ACCOUNT), [http(SOAP), http(FAULT, b"400 Bad Request")]),
    "registrar": (
        lambda: listed(GUARD, AT, 5060, "3", ACCOUNT),
        [
            b"SIP/2.0 200 OK\r\nContact: <sip:3@10.20.30.51:5060>;expires=60\r\nCall-ID: x\r\n\r\n",
            b"SIP/2.0 401 Unauthorized\r\n" + ASKED + b"\r\n",
        ],
    ),
    "signalling": (
        lambda: over_tcp(GUARD, AT, 5060),
        [sip_answer(b"OPTIONS sip:a SIP/2.0\r\nCall-ID: x\r\n\r\n") or b""],
    ),
}


async def outcome(probe: Probe, data: bytes) -> tuple[str, int]:
    """Return what became of a probe whose device says these bytes and closes, and how many bytes it took."""
    readers: list[Counting] = []

    async def connect(*_: object, **__: object) -> Connection:
        reader = Counting(limit=65536)
        reader.feed_data(data)
        reader.feed_eof()
        readers.append(reader)
        return Connection(reader, Silent(), 0.1)  # type: ignore[arg-type]

    with ExitStack() as stack:
        for module in ("http", "rtsp", "sip"):
            stack.enter_context(patch(f"tutelar.field.{module}.connect", connect))
        try:
            async with asyncio.timeout(5):
                await probe()
            said = "answer"
        except (ConnectError, ProtocolError) as error:
            said = type(error).__name__
    return said, max((reader.taken for reader in readers), default=0)


def bent(dice: random.Random, data: bytes) -> bytes:
    """Return the bytes with a few of them cut, changed, doubled, or filled in."""
    found = bytearray(data)
    for _ in range(dice.randint(1, 4)):
        at, way = dice.randrange(len(found) + 1), dice.randrange(6)
        if way == 0:
            del found[at:]
        elif way == 1 and found:
            found[at % len(found)] = dice.randrange(256)
        elif way == 2:
            found[at:at] = bytes(dice.randrange(256) for _ in range(dice.randint(1, 9)))
        elif way == 3:
            found[at:at] = found[at : at + dice.randint(1, 60)]
        elif way == 4:
            del found[at : at + dice.randint(1, 30)]
        else:
            found[at:at] = dice.choice([b"\r\n\r\n", b"\x00", b"9" * 40, b'"', b"-1", b"[" * 50, b"\xff\xfe", b": "])
    return bytes(found)


class Certificates(TestCase):
    def test_a_bent_certificate_is_known_or_none(self) -> None:
        context, dice = server_context("fuzz"), random.Random(8)
        right = ssl.PEM_cert_to_DER_cert(shown_by(context))
        seen = certificate_of(right)
        assert seen is not None
        self.assertEqual((len(seen.fingerprint), seen.until.year), (95, 2044))
        self.assertEqual(certificate_of(ssl.PEM_cert_to_DER_cert(shown_by(server_context("fuzz")))), seen)
        for _ in range(500):
            found = certificate_of(bent(dice, right))
            self.assertTrue(found is None or len(found.fingerprint) == 95)


def shown_by(context: ssl.SSLContext) -> str:
    """Return the certificate that a server with this context shows to whoever connects."""

    async def work() -> str:
        async with await asyncio.start_server(lambda _r, w: w.close(), "127.0.0.1", 0, ssl=context) as server:
            port = server.sockets[0].getsockname()[1]
            connection = await real_connect(GUARD, "127.0.0.1", port, tls=unverified())
            connection.close()
            return ssl.DER_cert_to_PEM_cert(connection.certificate or b"")

    return asyncio.run(work())


class Streams(TestCase):
    def test_thousands_of_bent_answers_have_a_typed_outcome(self) -> None:
        async def play() -> None:
            dice = random.Random(11)
            seen: set[tuple[str, str]] = set()
            for name, (probe, answers) in PROBES.items():
                for _ in range(so_many(500, 1_500)):
                    data = bent(dice, dice.choice(answers))
                    try:
                        said, taken = await outcome(probe, data)
                    except Exception as error:
                        raise AssertionError(f"{name}: {error!r} on {data!r}") from error
                    self.assertLess(taken, 1_000_000)
                    seen.add((name, said))
            self.assertEqual({name for name, said in seen if said == "answer"}, set(PROBES))
            self.assertEqual({name for name, said in seen if said != "answer"}, set(PROBES))

        asyncio.run(play())

    @given(st.sampled_from(sorted(PROBES)), st.binary(max_size=400), st.integers(0, 300))
    def test_made_up_bytes_before_in_and_after_an_answer(self, name: str, noise: bytes, at: int) -> None:
        probe, answers = PROBES[name]
        for data in (noise, answers[0][:at] + noise, answers[0] + noise):
            asyncio.run(outcome(probe, data))

    def test_no_more_than_a_megabyte_is_read_of_an_answer_that_does_not_end(self) -> None:
        heads = (
            b"HTTP/1.1 200 OK\r\n\r\n",
            b"HTTP/1.1 200 OK\r\nX: ",
            b"RTSP/1.0 200 OK\r\nContent-Length: 9999999\r\n\r\n",
            b"",
        )
        for head in heads:
            for name, (probe, _) in PROBES.items():
                said, taken = asyncio.run(outcome(probe, head + b"x" * 3_000_000))
                self.assertLess(taken, 1_000_000, (name, head))
                self.assertIn(said, ("ProtocolError", "NotTold", "ConnectError", "BrokenOff", "answer"))

    @given(st.text(max_size=200), st.lists(st.text(max_size=80), max_size=3))
    def test_any_description_and_any_challenge_is_borne(self, text: str, headers: list[str]) -> None:
        described("m=video" + text)
        answer(headers, ACCOUNT, "GET", "/")


class Packets(TestCase):
    def ask(self, probe: Probe, data: bytes, module: str) -> str:
        async def exchange(*given: Any, **_: object) -> tuple[bytes, float]:
            fits = given[4]
            if not fits(data):
                raise ConnectTimeout("no answer")
            return data, 0.1

        async def work() -> str:
            with patch(f"tutelar.field.{module}.exchange", exchange):
                try:
                    await probe()
                except (ConnectError, ProtocolError) as error:
                    return type(error).__name__
            return "answer"

        return asyncio.run(work())

    def test_bent_datagrams_have_a_typed_outcome(self) -> None:
        from datetime import UTC, datetime

        noon, dice = datetime(2026, 6, 8, 12, tzinfo=UTC), random.Random(5)
        question = b"\x23" + bytes(39) + (int(noon.timestamp()) + 2_208_988_800).to_bytes(4, "big") + bytes(4)
        right = time_answer(question, noon) or b""
        self.assertEqual(self.ask(lambda: ask_time(GUARD, AT, 123, now=lambda: noon), right, "sntp"), "answer")
        said = {
            self.ask(lambda: ask_time(GUARD, AT, 123, now=lambda: noon), bent(dice, right), "sntp") for _ in range(400)
        }
        self.assertLessEqual(said, {"answer", "ConnectTimeout", "ConnectError"})
        for _ in range(200):
            data = bent(dice, sip_answer(b"OPTIONS sip:a SIP/2.0\r\nCall-ID: x\r\n\r\n") or b"")
            self.assertIn(
                self.ask(lambda: over_udp(GUARD, AT, 5060), data, "sip"), ("answer", "ConnectTimeout", "ProtocolError")
            )

    def test_bent_answers_to_a_search_name_devices_or_none(self) -> None:
        dice = random.Random(6)
        self.assertEqual([(item.address, item.name) for item in matches(MATCH)], [("10.0.0.9", "Gate")])
        for _ in range(1_000):
            for item in matches(bent(dice, MATCH)):
                self.assertLessEqual(len(item.address), 15)


class Readings(TestCase):
    def test_a_device_that_says_anything_gives_a_reading_for_every_check(self) -> None:
        raw = document([device(1, address="10.20.30.50")])
        raw["models"][0]["services"] = {"web": 80, "stream": 554, "signalling": 5060, "control": 34100}
        site = read(raw)
        wanted = expectations(site, site.devices[0], plan(site).assignments[0])
        dice = random.Random(3)
        answers = [data for _, some in PROBES.values() for data in some]

        async def play() -> None:
            async def say(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
                writer.write(bent(dice, dice.choice(answers)))
                writer.close()

            async with await asyncio.start_server(say, "127.0.0.1", 0) as server:
                port = server.sockets[0].getsockname()[1]
                target = Target("127.0.0.1", lambda _: port, ACCOUNT)
                for _ in range(60):
                    seen = await Prover(GUARD, timeout_s=0.5).observe(site, site.devices[0], target)
                    readings = judge(site, site.devices[0], wanted, seen)
                    self.assertEqual([item.check for item in readings], [item.check for item in wanted])
                    self.assertTrue(all(item.measured for item in readings))

        asyncio.run(play())
