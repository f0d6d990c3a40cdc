"""The field and the stand-in against programs that others keep: a stream server, a time server, telephony tools.

Only the long run has them (scripts/need-peers); everything stays on loopback.
"""

import asyncio
import shutil
import socket
import subprocess
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from unittest import TestCase, skipUnless

from tests import LONG
from tests.fault_rules import site_of
from tests.samples import device, document
from tutelar.field.guard import Guard
from tutelar.field.login import Account
from tutelar.field.rtsp import ask, described
from tutelar.field.sip import over_udp
from tutelar.field.sntp import ask_time
from tutelar.standin.device import pretend_password
from tutelar.standin.site import StandIn

HERE = "127.0.0.1"
ANSWERS_OPTIONS = """<?xml version="1.0" encoding="ISO-8859-1" ?>
<scenario name="answers OPTIONS"><recv request="OPTIONS"/><send><![CDATA[
SIP/2.0 200 OK
[last_Via:]
[last_From:]
[last_To:];tag=[call_number]
[last_Call-ID:]
[last_CSeq:]
Content-Length: 0
]]></send></scenario>
"""


def free_port(kind: socket.SocketKind = socket.SOCK_STREAM) -> int:
    """Return a port of loopback that nobody holds."""
    with socket.socket(socket.AF_INET, kind) as probe:
        probe.bind((HERE, 0))
        return int(probe.getsockname()[1])


@contextmanager
def running(*command: str) -> Iterator[subprocess.Popen[bytes]]:
    """Run a program as long as it is needed."""
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL) as process:
        try:
            yield process
        finally:
            process.kill()


@skipUnless(LONG, "the long run asks the programs themselves")
class Peers(TestCase):
    def test_a_general_stream_server_is_asked_at_its_path_with_a_digest(self) -> None:
        port = free_port()
        with running("/usr/bin/python3", str(Path(__file__).with_name("rtsp_peer.py")), str(port)) as peer:
            assert peer.stdout is not None
            self.assertEqual(peer.stdout.readline().strip(), b"ready")

            async def look() -> None:
                guard, account = Guard(), Account("viewer", "heron at 5")
                root = await ask(guard, HERE, port, describe=True, account=account)
                self.assertEqual(root.status, 404)
                wrong = Account("viewer", "heron at 6")
                refused = await ask(guard, HERE, port, describe=True, account=wrong, uri="/live/1")
                self.assertEqual(refused.status, 401)
                found = await ask(guard, HERE, port, describe=True, account=account, uri="/live/1", timeout_s=20)
                self.assertEqual(found.status, 200)
                seen = described(found.description)
                assert seen is not None
                self.assertEqual((seen.codec, seen.width, seen.height), ("h264", 640, 360))

            asyncio.run(look())

    def test_a_time_server_is_read(self) -> None:
        port = free_port(socket.SOCK_DGRAM)
        lines = (f"port {port}", "local stratum 6", "allow 127.0.0.0/8", f"bindaddress {HERE}", "cmdport 0")
        with tempfile.TemporaryDirectory() as folder:
            conf = Path(folder) / "time.conf"
            conf.write_text("\n".join((*lines, f"pidfile {folder}/pid", "")))
            program = shutil.which("chronyd", path="/usr/sbin:/usr/bin") or "chronyd"
            with running(program, "-d", "-x", "-u", "root", "-f", str(conf)):
                time.sleep(2)
                said = asyncio.run(ask_time(Guard(), HERE, port))
        self.assertTrue(said.synchronised)
        self.assertLess(abs(said.offset_s), 0.1)

    def test_a_telephony_tool_answers_us_and_is_answered(self) -> None:
        port = free_port(socket.SOCK_DGRAM)
        with tempfile.TemporaryDirectory() as folder:
            scenario = Path(folder) / "options.xml"
            scenario.write_text(ANSWERS_OPTIONS)
            with running("sipp", "-sf", str(scenario), "-i", HERE, "-p", str(port), "-m", "1", "-nostdin"):
                time.sleep(2)
                said = asyncio.run(over_udp(Guard(), HERE, port))
        self.assertEqual(said.status, 200)

        raw = document([device(1, "larkmoor-rec-8", address="10.20.30.20")])
        raw["models"][1]["services"] = {"signalling": 5060}

        async def look() -> None:
            async with StandIn(site_of(raw), yields=True) as pretend:
                where = f"sip:{pretend.map.addresses['d-1']}:25060"
                tool = await asyncio.create_subprocess_exec(
                    "sipsak", "-s", where, stdout=asyncio.subprocess.PIPE, stderr=asyncio.subprocess.STDOUT
                )
                text, _ = await asyncio.wait_for(tool.communicate(), 20)
                self.assertEqual(tool.returncode, 0, text)

        asyncio.run(look())

    def test_a_general_player_reads_a_pretend_stream(self) -> None:
        raw = document([device(1, address="10.20.30.50")])
        raw["models"][0] |= {"services": {"web": 80, "stream": 554}, "stream_paths": {"main": "/live/1"}}
        site = site_of(raw)

        async def probe(path: str) -> str:
            async with StandIn(site, yields=True) as pretend:
                login = f"admin:{pretend_password(site, 'd-1')}"
                at = f"rtsp://{login}@{pretend.map.addresses['d-1']}:20554{path}"
                fields = ("-show_entries", "stream=codec_name,width,height", "-of", "csv=p=0")
                tool = await asyncio.create_subprocess_exec(
                    *("ffprobe", "-v", "error", "-rtsp_transport", "tcp", *fields, at),
                    stdout=asyncio.subprocess.PIPE,
                    stderr=asyncio.subprocess.STDOUT,
                )
                text, _ = await asyncio.wait_for(tool.communicate(), 30)
                return text.decode()

        self.assertIn("hevc,2688,1520", asyncio.run(probe("/live/1")))
        self.assertIn("404", asyncio.run(probe("/")))
