"""The command about links: how far each is, proposals written to a file, the table."""

import contextlib
import csv
import io
import json
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase

from tests.link_examples import document as every_kind
from tests.samples import demo
from tutelar.cli import main


class Links(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def run_it(self, raw: dict[str, Any], *options: str) -> tuple[int, str]:
        file = self.folder / "site.json"
        file.write_text(json.dumps(raw))
        out = io.StringIO()
        with contextlib.redirect_stdout(out):
            status = main(["links", str(file), *options])
        return status, out.getvalue()

    def test_every_link_says_what_it_needs_and_what_is_typed(self) -> None:
        status, out = self.run_it(every_kind(), "--json")
        rows = json.loads(out)["links"]
        self.assertEqual((status, len(rows), {row["state"] for row in rows}), (0, 19, {"ready"}))
        camera = next(row for row in rows if row["of"] == "camera-to-recorder")
        self.assertEqual((camera["from"], camera["to"], camera["slot"], camera["missing"]), ("eye-1", "disk-1", 1, []))
        self.assertIn(
            {"end": "to", "label": "Channel 1: Eye 1, password", "value": "", "secret": True}, camera["values"]
        )
        self.assertEqual([test["key"] for test in camera["tests"]], ["live", "named", "records", "plays-back"])

    def test_what_cannot_be_made_sets_the_status(self) -> None:
        raw = every_kind()
        raw["links"][0]["slot"] = 9
        status, out = self.run_it(raw)
        self.assertEqual(status, 1)
        self.assertIn("impossible Eye 1 is recorded by Disk 1, channel 9: Disk 1 has the channels 1 to 4, not 9.", out)

    def test_a_proposal_is_written_as_a_site_file_that_has_no_problem(self) -> None:
        raw = demo()
        raw["links"] = []
        out = self.folder / "tied.json"
        status, said = self.run_it(raw, "--propose", "-o", str(out), "--json")
        self.assertEqual((status, json.loads(said)["untied"], json.loads(said)["shortfall"]), (0, ["desk-1"], []))
        with contextlib.redirect_stdout(io.StringIO()):
            self.assertEqual(main(["check", str(out)]), 0)
        raw["devices"] = [item for item in raw["devices"] if item["key"] != "rec-2"]
        status, said = self.run_it(raw, "--propose")
        self.assertEqual(status, 1)
        self.assertIn("channels short", said)
        with contextlib.redirect_stderr(io.StringIO()) as complaint:
            self.assertEqual(self.run_it(raw, "--propose", "-o", str(self.folder))[0], 2)
        self.assertIn("cannot be written", complaint.getvalue())

    def test_the_table_holds_a_row_a_link(self) -> None:
        status, out = self.run_it(every_kind(), "--csv")
        rows = list(csv.DictReader(io.StringIO(out)))
        self.assertEqual((status, len(rows)), (0, 19))
        paths = [row for row in rows if row["To"] == "monitoring-station"]
        self.assertEqual([(row["Its channel"], row["Account"]) for row in paths], [("1", "4711"), ("2", "4711")])
