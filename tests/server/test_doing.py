"""How the installation is doing: figures for its owner, readiness and a log for what watches it."""

import json
import logging
import tempfile
from collections import namedtuple
from datetime import timedelta
from io import StringIO
from pathlib import Path
from unittest import mock

from django.db import connection
from django.test import Client, TestCase, override_settings
from pythonjsonlogger.json import JsonFormatter

from tests.samples import demo
from tests.server.test_api import ApiCalls
from tutelar.server import accesslog
from tutelar.server.doing import queries

Disk = namedtuple("Disk", "total used free")


class Doing(ApiCalls, TestCase):
    def setUp(self) -> None:
        self.sign_in()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(override_settings(DATA_DIR=self.folder / "data", BACKUPS=self.folder / "elsewhere"))
        for name in ("data", "elsewhere"):
            (self.folder / name).mkdir()

    def worries(self) -> list[str]:
        return [worry["says"] for worry in self.call("GET", "/doing")[1]["worries"]]

    def test_figures_are_counted_and_worries_come_and_go(self) -> None:
        self.bring(demo())
        (self.folder / "data" / "photos" / "x").mkdir(parents=True)
        (self.folder / "data" / "photos" / "x" / "one.jpg").write_bytes(b"1" * 2_000_000)
        (self.folder / "elsewhere" / "tutelar-1.zip").write_bytes(b"1" * 1000)
        said = self.call("GET", "/doing")[1]
        figures = {row["name"]: row["value"] for row in said["figures"]}
        self.assertEqual(
            (figures["sites"], figures["photographs"], figures["people"]),
            ("1", "1, 2.0 MB", "1, 0 with a second factor"),
        )
        self.assertEqual([row["size"] for row in said["backups"]], [1000])
        self.assertEqual(self.worries(), [])
        with mock.patch.object(queries, "STARTED", queries.STARTED - timedelta(days=3)):
            self.assertEqual(self.worries(), [])
            (self.folder / "elsewhere" / "tutelar-1.zip").unlink()
            self.assertEqual(self.worries(), ["There is no backup of the last day and a half."])
        with override_settings(BACKUPS=self.folder / "data" / "backups", LAN_ADDRESSES=["10.20.30.9"]):
            self.assertEqual([said[:16] for said in self.worries()], ["Backups lie on t", "What is typed on"])
        with mock.patch.object(queries.shutil, "disk_usage", return_value=Disk(10**9, 9 * 10**8, 10**8)):
            self.assertEqual(self.worries(), ["Only 100.0 MB are left on the disk of the data folder."])

    def test_it_is_ready_or_says_why_not(self) -> None:
        guest = Client()
        self.assertEqual((guest.get("/ready").status_code, guest.get("/ready").content), (200, b"ready\n"))
        with mock.patch.object(queries, "KNOWN", "9999_later"):
            answer = guest.get("/ready")
            self.assertEqual(answer.status_code, 503)
            self.assertIn("9999_later", answer.content.decode())
        with mock.patch.object(queries.shutil, "disk_usage", return_value=Disk(10**9, 10**9, 10)):
            self.assertIn("all but full", guest.get("/ready").content.decode())
        with mock.patch.object(connection, "cursor", side_effect=queries.DatabaseError("gone")):
            self.assertEqual(guest.get("/ready").content, b"The database does not answer: gone.\n")

    def test_a_request_is_a_line_without_what_opens_something(self) -> None:
        out = StringIO()
        handler = logging.StreamHandler(out)
        handler.setFormatter(
            JsonFormatter("{levelname}{message}", style="{", rename_fields={"request_line": "request"})
        )
        logger = logging.getLogger("tutelar.requests")
        self.addCleanup(logger.setLevel, logger.level)
        self.addCleanup(logger.removeHandler, handler)
        logger.addHandler(handler)
        logger.propagate = False
        self.addCleanup(setattr, logger, "propagate", True)
        logger.setLevel(logging.INFO)
        one = "tutelar.server.accesslog.a_line_each"
        self.assertTrue(callable(accesslog.a_line_each))
        with self.modify_settings(MIDDLEWARE={"prepend": one}):
            self.client.get("/api/sites?search=harbour")
            Client().get("/guest/a-word-that-opens")
            Client().get("/api/sites")
        lines = [json.loads(line)["request"] for line in out.getvalue().splitlines()]
        told = [(line["path"], line["status"], line["by"]) for line in lines]
        self.assertEqual(told, [("/api/sites", 200, "ines"), ("/guest/…", 404, ""), ("/api/sites", 401, "")])
        self.assertNotIn("harbour", out.getvalue())
        self.assertNotIn("opens", out.getvalue())
