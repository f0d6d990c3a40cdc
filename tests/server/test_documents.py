"""Any document that rows can hold comes out as it went in; restarting the server closes what it left open."""

import fcntl
import json
import socket
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase as PlainTestCase

from hypothesis import assume, given, settings
from hypothesis.extra.django import TestCase

from tests.places import empty_place
from tests.samples import documents as drawn_documents
from tests.samples import read
from tutelar.core.check import UNSTORABLE, check
from tutelar.core.site import read_site
from tutelar.server.actor import Actor
from tutelar.server.site import services as site_services
from tutelar.server.store import documents


class Documents(TestCase):
    @settings(max_examples=25)
    @given(drawn_documents(most=12))
    def test_rows_hold_the_whole_document(self, raw: dict[str, Any]) -> None:
        hours = [{"from": "07:00", "to": "19:00", "mode": "continuous"}]
        raw["recording"] = {"patterns": [{"key": "hours", "week": {"mon": hours, "sat": []}}], "usual": "hours"}
        raw["supplies"] = [{"key": "psu", "kind": "dc", "volts": 24, "rated_w": 60}]
        for part in raw["devices"][:1]:
            part |= {"disks": [{"bay": 1, "tb": 8}], "raid": "none", "fed": {"supply": "psu", "m": 5, "awg": 16}}
        assume(not any(item.code in UNSTORABLE for item in check(read(raw))))
        row = site_services.import_site(json.dumps(raw).encode(), Actor("ines"))
        out = documents.export(row)
        again = site_services.import_site(json.dumps(out).encode(), Actor("ines"), key="again")
        self.assertEqual(documents.export(again) | {"site": out["site"]}, out)
        first, second = read(raw), read_site(json.dumps(out))
        for name in ("networks", "models", "devices", "links", "policy", "recording", "supplies"):
            self.assertEqual(getattr(first, name), getattr(second, name), name)


class Serving(PlainTestCase):
    def serve(self, folder: str, port: int) -> "subprocess.CompletedProcess[str]":
        command = [sys.executable, "-m", "tutelar.server", "--port", str(port)]
        environment = empty_place(folder)
        return subprocess.run(command, capture_output=True, text=True, env=environment, timeout=60, check=False)

    def test_a_taken_port_is_said_in_one_sentence(self) -> None:
        with tempfile.TemporaryDirectory() as folder, socket.create_server(("127.0.0.1", 0)) as taken:
            done = self.serve(folder, taken.getsockname()[1])
        self.assertEqual(done.returncode, 2)
        self.assertIn("is taken", done.stdout)
        self.assertNotIn("Traceback", done.stdout + done.stderr)

    def test_a_second_server_on_one_data_folder_refuses(self) -> None:
        with tempfile.TemporaryDirectory() as folder, (Path(folder) / "serving.lock").open("w") as held:
            fcntl.flock(held, fcntl.LOCK_EX)
            done = self.serve(folder, 0)
        self.assertEqual(done.returncode, 2)
        self.assertIn("Another server uses the data folder", done.stdout)
