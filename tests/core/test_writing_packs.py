"""A pack is written a file at a time: the same bytes as at once, photographs as they lie, and how far it is."""

import hashlib
import io
import tempfile
import zipfile
from pathlib import Path
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from openpyxl import load_workbook
from pypdf import PdfReader

from tests import so_many
from tests.core.test_loose_ends import TODAY
from tests.samples import device, document, documents, read, shipped
from tutelar.core.cards import cards_of
from tutelar.core.loose_ends import loose_ends
from tutelar.core.planning import placed, plan
from tutelar.paper.asking import cards_pdf, letters_pdf
from tutelar.paper.pack import SUMS, as_zip, pack, pieces, write_zip
from tutelar.paper.pack_tables import Photo


def text(data: bytes) -> list[str]:
    return [" ".join(page.extract_text().split()) for page in PdfReader(io.BytesIO(data)).pages]


class Written(TestCase):
    def setUp(self) -> None:
        self.room = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.site = read(shipped())
        self.planned = plan(self.site)
        self.ends = loose_ends(self.site, self.planned, TODAY)

    def photos(self, number: int) -> list[Photo]:
        found = []
        for at in range(number):
            path = self.room / f"{at}.jpg"
            path.write_bytes(hashlib.sha256(str(at).encode()).digest() * 100)
            found.append(Photo(path, "cam-01", "2027-05-03T09:00:00+00:00", "Maren", f"Photograph {at}"))
        return found

    def test_a_file_at_a_time_gives_the_bytes_of_all_at_once(self) -> None:
        out, told = io.BytesIO(), list[tuple[str, float, float]]()
        photos = self.photos(3)
        write_zip(pieces(self.site, self.planned, self.ends, TODAY, photos=photos), out, lambda *now: told.append(now))
        files = pack(self.site, self.planned, self.ends, TODAY, photos=photos)
        self.assertEqual(out.getvalue(), as_zip(files))
        self.assertEqual([name for name, _, _ in told], [*files, ""])
        shares = [done / whole for _, done, whole in told]
        self.assertEqual((shares[0], shares[-1], shares), (0.0, 1.0, sorted(shares)))

    def test_photographs_lie_in_it_as_they_were_and_stand_in_the_workbook(self) -> None:
        out, photos = io.BytesIO(), self.photos(2)
        write_zip(pieces(self.site, self.planned, self.ends, TODAY, photos=photos), out)
        with zipfile.ZipFile(out) as archive:
            names = [name for name in archive.namelist() if name.startswith("photographs/")]
            self.assertEqual(names, ["photographs/2027-05-03-cam-01-001.jpg", "photographs/2027-05-03-cam-01-002.jpg"])
            for name, photo in zip(names, photos, strict=True):
                self.assertEqual(archive.read(name), photo.path.read_bytes())
                self.assertEqual(archive.getinfo(name).compress_type, zipfile.ZIP_STORED)
            sums = archive.read(SUMS).decode()
            for name in archive.namelist():
                if name != SUMS:
                    self.assertIn(f"{hashlib.sha256(archive.read(name)).hexdigest()}  {name}\n", sums)
            book = load_workbook(io.BytesIO(archive.read("schedule.xlsx")))
            rows = list(book["Photographs"].values)
            self.assertIn("Photograph 1", rows[2])

    def test_what_was_asked_and_ticked_stands_in_the_workbook(self) -> None:
        raw = document([device(1)])
        raw["asked"] = [{"key": "a", "of": "station", "question": "Which receiver?", "due": "2027-06-01"}]
        raw["checklist"] = [
            {"subject": "d-1", "item": "fixings", "state": "done", "by": "Maren", "x-value": 4, "note": "all\x08 in"}
        ]
        site = read(raw)
        planned = plan(site)
        files = pack(site, planned, loose_ends(site, planned, TODAY), TODAY)
        book = load_workbook(io.BytesIO(files["schedule.xlsx"]))
        self.assertIn("Which receiver?", list(book["Questions to others"].values)[1])
        ticked = list(book["Checklist"].values)[1]
        self.assertEqual((ticked[1:4], ticked[-1]), (("fixings", "done", "Maren"), "all in"))
        self.assertNotIn("fixings", " ".join(text(files["handover.pdf"])))


class OnPaper(TestCase):
    def test_each_of_those_who_are_asked_has_a_page_of_their_own(self) -> None:
        raw: dict[str, Any] = document([device(1)])
        raw["asked"] = [
            {"key": "a", "of": "it", "question": "Which range?", "person": "Ada Brenn"},
            {"key": "b", "of": "station", "question": "Which receiver?", "holds": "the alarm"},
            {"key": "c", "of": "owner", "question": "Where may be drilled?", "answer": "Nowhere"},
        ]
        pages = text(letters_pdf(read(raw), TODAY))
        self.assertEqual(len(pages), 2)
        self.assertIn("Questions to IT", pages[0])
        self.assertIn("for Ada Brenn", pages[0])
        self.assertIn("It holds up the alarm.", pages[1])
        self.assertNotIn("drilled", " ".join(pages))
        raw["asked"] = []
        self.assertIn("Nobody is asked anything.", text(letters_pdf(read(raw), TODAY))[0])
        self.assertEqual(letters_pdf(read(raw), TODAY), letters_pdf(read(raw), TODAY))

    def test_names_in_any_script_stand_on_cards_and_what_is_settled_does_not(self) -> None:
        raw = document([device(1, name="Κάμερα 東門")])
        raw["checklist"] = [{"subject": "d-1", "item": "film-off", "state": "done"}]
        site = read(raw)
        paper = " ".join(text(cards_pdf(site, cards_of(site), TODAY)))
        self.assertIn("Private areas masked on purpose", paper)
        self.assertNotIn("Film off", paper)
        self.assertIn("(d-1)", paper)


class Placed(TestCase):
    @given(documents(most=12))
    @settings(max_examples=so_many(30, 240))
    def test_the_addresses_alone_are_those_of_the_whole_plan(self, raw: dict[str, Any]) -> None:
        site = read(raw)
        self.assertEqual(placed(site).assignments, plan(site).assignments)
        self.assertEqual((placed(site).networks, placed(site).problems), ((), ()))
