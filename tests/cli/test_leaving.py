"""The commands about leaving: what is open, and the pack that is left behind."""

import contextlib
import hashlib
import io
import json
import re
import tempfile
import zipfile
from copy import deepcopy
from pathlib import Path
from typing import Any
from unittest import TestCase

from openpyxl import load_workbook
from pypdf import PdfReader

from tests.core.test_loose_ends import BUILT
from tests.samples import DEMO
from tutelar.cli import main

SECRET = "correct-horse-114"


class Leaving(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def run_it(self, *words: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            status = main(list(words))
        return status, out.getvalue(), err.getvalue()

    def file(self, raw: dict[str, Any]) -> str:
        path = self.folder / "site.json"
        path.write_text(json.dumps(raw))
        return str(path)

    def test_open_ends_are_the_answer_and_no_error(self) -> None:
        status, out, _ = self.run_it("loose-ends", str(DEMO), "--json")
        found = json.loads(out)
        self.assertEqual((status, found["may_sign"]), (0, False))
        self.assertEqual(set(found["ends"][0]), {"code", "subject", "message", "fix", "blocks", "whose"})
        self.assertIn({"egress-missing"}, [{end["code"]} for end in found["ends"]])
        self.assertIn("loose ends hold the signature.", self.run_it("loose-ends", str(DEMO))[1])

    def test_the_same_state_gives_the_same_bytes_as_folder_and_as_zip(self) -> None:
        packs = []
        for name in ("one", "two"):
            status, out, _ = self.run_it("handover", str(DEMO), "-o", str(self.folder / name), "--json")
            self.assertEqual(status, 0)
            packs.append(json.loads(out))
        self.assertEqual(packs[0], packs[1])
        listed = (self.folder / "one" / "SHA256SUMS").read_text()
        for row in packs[0]["files"]:
            data = (self.folder / "one" / row["name"]).read_bytes()
            self.assertEqual((len(data), hashlib.sha256(data).hexdigest()), (row["bytes"], row["sha256"]))
            self.assertIn(f"{row['sha256']}  {row['name']}", listed)
        self.run_it("handover", str(DEMO), "-o", str(self.folder / "all.zip"))
        with zipfile.ZipFile(self.folder / "all.zip") as archive:
            self.assertEqual(set(archive.namelist()), {*(row["name"] for row in packs[0]["files"]), "SHA256SUMS"})
            self.assertEqual(archive.read("handover.pdf"), (self.folder / "one" / "handover.pdf").read_bytes())

    def test_what_is_open_stands_on_every_page_and_in_full_on_the_first(self) -> None:
        _, out, _ = self.run_it("loose-ends", str(DEMO), "--json")
        ends = json.loads(out)["ends"]
        self.run_it("handover", str(DEMO), "-o", str(self.folder / "pack"))
        pages = [page.extract_text() for page in PdfReader(self.folder / "pack" / "handover.pdf").pages]
        self.assertTrue(all(f"NOT READY: {len(ends)} open ends" in text for text in pages))
        whole = re.sub(r"\s+", " ", " ".join(pages))
        for end in ends:
            self.assertIn(re.sub(r"\s+", " ", end["message"])[:60], whole)
        book = load_workbook(self.folder / "pack" / "schedule.xlsx")
        self.assertIn("Who may open what", book.sheetnames)
        self.assertEqual(book["Loose ends"].max_row, len(ends) + 1)
        self.assertIn(b"BEGIN:VEVENT", (self.folder / "pack" / "calendar.ics").read_bytes())

    def test_a_signed_site_says_for_whom_and_nothing_of_not_ready(self) -> None:
        raw = deepcopy(BUILT)
        raw["sign_off"] = {"by": "Maren", "for": "Tomas Okerlund", "open": ["survey-open:site"]}
        raw["devices"][0]["name"] = "Портовые ворота"
        raw["x-note"] = SECRET
        raw["readings"] = [item for item in raw["readings"] if (item["device"], item["check"]) != ("d-1", "name")]
        raw["exceptions"] = [{"device": "d-1", "check": "name", "reason": "not in Latin", "by": "Maren"}]
        status, out, _ = self.run_it("handover", self.file(raw), "-o", str(self.folder / "pack"), "--json")
        self.assertEqual((status, json.loads(out)["may_sign"]), (0, True))
        text = " ".join(page.extract_text() for page in PdfReader(self.folder / "pack" / "handover.pdf").pages)
        self.assertIn("Signed off by Maren for Tomas Okerlund", text)
        self.assertNotIn("NOT READY", text)
        holding = [
            item.name
            for item in (self.folder / "pack").rglob("*")
            if item.is_file() and SECRET.encode() in item.read_bytes()
        ]
        self.assertEqual(holding, ["site.json"])  # what is ours alone stays in the site file

    def test_what_cannot_be_written_is_one_sentence(self) -> None:
        blocked = self.folder / "taken"
        blocked.write_text("a file")
        status, out, err = self.run_it("handover", str(DEMO), "-o", str(blocked))
        self.assertEqual((status, out), (2, ""))
        self.assertIn("cannot be written", err)
