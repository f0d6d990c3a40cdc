"""The handover pack on built sites: what stands where, its sums, and nothing that tells the moment it was made."""

import csv
import hashlib
import io
import json
import zipfile
from datetime import date
from typing import Any
from unittest import TestCase

from icalendar import Calendar
from openpyxl import load_workbook
from pypdf import PdfReader

from tests.core.test_loose_ends import BUILT, TODAY, turned
from tests.samples import read, shipped
from tutelar.core.loose_ends import loose_ends
from tutelar.core.planning import plan
from tutelar.paper.pack import SUMS, as_zip, pack, sums


def packed(raw: dict[str, Any], today: date = TODAY, **more: Any) -> dict[str, bytes]:
    site = read(raw)
    planned = plan(site)
    return pack(site, planned, loose_ends(site, planned, today), today, **more)


def text(data: bytes) -> str:
    return " ".join(" ".join(page.extract_text() for page in PdfReader(io.BytesIO(data)).pages).split())


class Packs(TestCase):
    def test_the_site_file_in_it_is_the_site(self) -> None:
        files = packed(BUILT)
        self.assertEqual(read(json.loads(files["site.json"])), read(BUILT))

    def test_every_part_of_the_demo_has_its_sheet_and_stands_on_paper(self) -> None:
        files = packed(shipped())
        book = load_workbook(io.BytesIO(files["schedule.xlsx"]))
        wanted = ["Addresses", "Links", "Recording", "Retention", "Doors", "Who may open what", "Alarm", "Proof"]
        self.assertEqual([name for name in book.sheetnames if name in wanted], wanted)
        self.assertEqual(book["Addresses"].max_row, len(shipped()["devices"]) + 1)
        paper = text(files["handover.pdf"])
        for part in (*wanted, "Pier gangway", "10.62.8.107", "Lena Orsk", "Whom to call", "Every year"):
            self.assertIn(part, paper)
        self.assertEqual(paper.count("Terminal days. Monday"), 1)  # a long week is said once

    def test_what_is_left_open_by_decision_stands_on_every_page_with_its_reason(self) -> None:
        raw = turned(sign_off={"by": "Maren", "for": "Ada", "open": ["survey-open:site"]})
        raw["survey"] = {}
        raw["x-left-open"] = [{"code": "survey-open", "subject": "site", "reason": "IT is away", "by": "Maren"}]
        pages = PdfReader(io.BytesIO(packed(raw)["handover.pdf"])).pages
        for page in pages:
            self.assertIn("LEFT OPEN: 1 end", page.extract_text())
        self.assertIn("Left open by Maren: IT is away.", " ".join(pages[0].extract_text().split()))

    def test_what_is_nothing_here_has_no_sheet(self) -> None:
        raw = turned(doors=[], alarm={}, access={})
        raw["readings"] = [item for item in raw["readings"] if not item["check"].startswith("door.")]
        book = load_workbook(io.BytesIO(packed(raw)["schedule.xlsx"]))
        self.assertNotIn("Doors", book.sheetnames)
        self.assertIn("Loose ends", book.sheetnames)

    def test_exceptions_and_the_figures_of_the_proof(self) -> None:
        signed = {"device": "d-1", "check": "cable", "reason": "the duct is shut", "by": "Maren", "until": "2027-08-01"}
        raw = turned(exceptions=[signed])
        raw["readings"] = [item | ({"result": "fail"} if item["check"] == "cable" else {}) for item in raw["readings"]]
        files = packed(raw)
        book = load_workbook(io.BytesIO(files["schedule.xlsx"]))
        row = [cell.value for cell in book["Exceptions"][2]]
        self.assertEqual(row, ["Device 1", "cable", "the duct is shut", "Maren", "2027-08-01"])
        figures = {row[0].value: [cell.value for cell in row[1:]] for row in book["Proof"].iter_rows(min_row=2)}
        checks, passed, failed, left = figures["Device 1"]
        self.assertEqual((checks, failed, left), (passed + failed, 1, 0))
        self.assertIn("the duct is shut", text(files["handover.pdf"]))

    def test_the_diary_has_the_clocks_the_yearly_look_and_what_ends(self) -> None:
        raw = turned(exceptions=[{"device": "d-1", "reason": "later", "by": "Maren", "until": "2027-08-01"}])
        events = Calendar.from_ical(packed(raw)["calendar.ics"]).walk("VEVENT")
        words = [str(event["summary"]) for event in events]
        self.assertEqual(words.count("Yearly look"), 3)
        self.assertIn("Exception ends: Device 1", words)
        self.assertEqual(sum("clock" in word.lower() for word in words), 6)
        starts = [event["dtstart"].dt for event in events]
        self.assertEqual(starts, sorted(starts))
        self.assertEqual(len({str(event["uid"]) for event in events}), len(events))

    def test_a_site_without_a_zone_or_devices_is_packed_too(self) -> None:
        raw = turned(devices=[], links=[], readings=[], doors=[], alarm={}, access={})
        del raw["site"]["time_zone"]
        files = packed(raw)
        self.assertEqual(len(Calendar.from_ical(files["calendar.ics"]).walk("VEVENT")), 3)
        self.assertIn("Handover", text(files["handover.pdf"]))
        self.assertFalse([name for name in files if name.startswith("reservations/")])

    def test_the_log_comes_as_it_is_given_and_begins_no_formula(self) -> None:
        log = [("2027-05-01T09:00:00+00:00", "Maren", "note", "d-1", "=HYPERLINK(1)"), ("b", "c", "d", "e", "f")]
        rows = list(csv.reader(io.StringIO(packed(BUILT, log=log)["log.csv"].decode("utf-8-sig"))))
        self.assertEqual((len(rows), rows[1][4], rows[2]), (3, "'=HYPERLINK(1)", ["b", "c", "d", "e", "f"]))

    def test_reservations_come_for_every_server_where_there_are_any(self) -> None:
        raw = turned(devices=[item | {"addressing": "reserved"} for item in BUILT["devices"]])
        files = packed(raw)
        self.assertEqual(len([name for name in files if name.startswith("reservations/")]), 3)
        self.assertIn(b"02:1a:4b:00:00:01", files["reservations/dnsmasq.conf"])

    def test_the_same_day_gives_the_same_bytes_and_another_day_says_so(self) -> None:
        one, two, later = packed(BUILT), packed(BUILT), packed(BUILT, date(2027, 6, 3))
        self.assertEqual(one, two)
        self.assertEqual(as_zip(one), as_zip(two))
        self.assertIn("3 June 2027", text(later["handover.pdf"]))
        changed = {name for name in one if one[name] != later[name]}
        self.assertEqual(changed, {"handover.pdf", "calendar.ics"})

    def test_sums_are_those_of_the_files_in_their_order(self) -> None:
        files = packed(BUILT)
        lines = sums(files).decode().splitlines()
        self.assertEqual([line.split("  ")[1] for line in lines], sorted(files))
        for line in lines:
            digest, name = line.split("  ")
            self.assertEqual(digest, hashlib.sha256(files[name]).hexdigest())
        with zipfile.ZipFile(io.BytesIO(as_zip(files))) as archive:
            self.assertIsNone(archive.testzip())
            self.assertEqual(archive.read(SUMS), sums(files))
            self.assertEqual({item.date_time for item in archive.infolist()}, {(1980, 1, 1, 0, 0, 0)})
