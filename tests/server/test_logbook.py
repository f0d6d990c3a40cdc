"""The logbook by real requests: nothing is changed, everything is found, and a photograph tells no place."""

import io
import tempfile
from typing import Any
from urllib.parse import quote

from django.test import override_settings
from PIL import Image
from pypdf import PdfReader

from tests.samples import device, document
from tests.server.test_api import ApiCase
from tutelar.server import models

FOLDER = tempfile.TemporaryDirectory()


def picture(width: int = 40, height: int = 20, **more: Any) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), "red").save(out, "JPEG", **more)
    return out.getvalue()


@override_settings(DATA_DIR=FOLDER.name)
class Logbook(ApiCase):
    def setUp(self) -> None:
        super().setUp()
        self.key = self.bring(document([device(1), device(2)]))

    def add(self, **entry: Any) -> tuple[int, Any]:
        return self.call("POST", f"/sites/{self.key}/log", entry)

    def lines(self, query: str = "") -> list[dict[str, Any]]:
        return self.call("GET", f"/sites/{self.key}/log?{query}")[1]["lines"]  # type: ignore[no-any-return]

    def test_what_was_changed_when_and_by_whom_is_found_in_one_search(self) -> None:
        self.add(text="Lens cleaned", subject="d-1")
        self.add(text="Voltage at the far end", subject="d-2", value=11.8, unit="V")
        self.assertEqual(self.lines("search=11.8")[0]["sentence"], "Voltage at the far end: 11.8 V")
        self.assertEqual([line["name"] for line in self.lines("search=device%201%20lens%20ines")], ["Device 1"])
        self.assertEqual([line["kind"] for line in self.lines("device=d-2")], ["reading", "device.added"])
        day = self.lines()[0]["at"][:10]
        self.assertEqual(len(self.lines(f"day={day}")), len(self.lines()))
        self.assertEqual(self.lines("day=2001-01-01"), [])
        last = self.lines()[-1]["id"]
        self.assertEqual(self.lines(f"before={last}"), [])

    def test_every_address_of_a_device_and_whatever_is_on_its_label_leads_to_what_was_changed(self) -> None:
        one = device(1, address="10.20.30.50", mac="02:1a:4b:00:00:a1", serial="PX-7 0042", name="Pier cam")
        key = self.bring(
            document([one, device(2, address="10.20.30.150"), device(3)], site={"key": "pier", "name": "Pier"})
        )
        self.call("POST", f"/sites/{key}/plan", {"revision": 1})
        change = {"revision": 1, "address": "10.20.30.77", "mac": "02-1A-4B-00-00-B2", "place": "Pier head"}
        self.assertEqual(self.call("PATCH", f"/sites/{key}/devices/d-1", change)[0], 200)

        def said(search: str, site: str = key) -> list[str]:
            return [
                line["sentence"] for line in self.call("GET", f"/sites/{site}/log?search={quote(search)}")[1]["lines"]
            ]

        moved = "Pier cam: address 10.20.30.50 → 10.20.30.77."
        for search in (
            "10.20.30.50",
            "010.020.030.077",
            "02:1a:4b:00:00:a1",
            "021A.4B00.00B2",
            "02 1a 4b 00 00 a1",
            "px70042",
        ):
            self.assertIn(moved, said(search), search)
        self.assertFalse([line for line in said("10.20.30.5") if "10.20.30.5" in line])  # .5 is not .50
        self.assertNotIn("10.20.30.150", " ".join(said("10.20.30.15")))
        self.assertIn("Pier cam: place Hall → Pier head.", said("d-1"))
        self.assertEqual(len(said("Device 3: address nothing")), 1)  # what the plan gave it
        self.call("POST", f"/sites/{key}/networks/lan/renumber", {"revision": 3, "to": "10.44.0.0/24"})
        new = self.call("GET", f"/sites/{key}/file")[1]["devices"][0]["address"]
        self.assertIn(f"Pier cam: address 10.20.30.77 → {new}.", said("10.20.30.77"))
        other = self.bring(document([device(1)], site={"key": "other", "name": "Other"}))
        everywhere = self.call("GET", "/log?search=02-1a-4b-00-00-b2")[1]["lines"]
        self.assertEqual({(line["site"], line["name"]) for line in everywhere}, {("pier", "Pier cam")})
        self.assertEqual(self.call("GET", "/log?search=")[1]["lines"], [])
        self.assertEqual(said("02-1a-4b-00-00-b2", other), [])

    def test_lines_of_one_deed_stand_under_it(self) -> None:
        key = self.bring(document([device(number) for number in range(1, 7)], site={"key": "many", "name": "Many"}))
        first = self.call("GET", f"/sites/{key}/log")[1]["lines"]
        self.assertEqual([(line["kind"], line["parts"]) for line in first], [("site.imported", 6)])
        under = self.call("GET", f"/sites/{key}/log?deed={first[0]['id']}")[1]["lines"]
        self.assertEqual([line["subject"] for line in under], [f"d-{number}" for number in range(6, 0, -1)])
        self.assertEqual(len(self.call("GET", f"/sites/{key}/files/logbook.csv")[1].splitlines()), 8)

    def test_a_correction_keeps_what_stood_there(self) -> None:
        self.add(text="Cable is 83 m", subject="d-1")
        wrong = self.lines()[0]
        self.assertEqual(self.add(text="Cable is 38 m", corrects=wrong["id"])[0], 201)
        now, before = self.lines()[:2]
        self.assertEqual((now["subject"], now["corrects"]), ("d-1", "Cable is 83 m"))
        self.assertEqual((before["sentence"], before["corrected"][0]["sentence"]), ("Cable is 83 m", "Cable is 38 m"))
        csv = self.call("GET", f"/sites/{self.key}/files/logbook.csv?device=d-1")[1]
        self.assertIn("Cable is 38 m,ines,correction,Cable is 83 m,", csv)
        pdf = self.client.get(f"/api/sites/{self.key}/files/logbook.pdf").content
        text = " ".join(PdfReader(io.BytesIO(pdf)).pages[0].extract_text().split())
        self.assertIn("(Corrected by ines: Cable is 38 m)", text)

    def test_what_says_nothing_or_names_nothing_is_refused(self) -> None:
        for entry, status, words in (
            ({}, 422, "Write what happened"),
            ({"value": 3}, 422, "Give the unit of 3"),
            ({"text": "x", "subject": "d-9"}, 404, "no device 'd-9'"),
            ({"text": "x", "corrects": 99999}, 404, "has no line 99999"),
            ({"text": "x", "photo": "../../vault-key"}, 404, "was not stored"),
        ):
            found, said = self.add(**entry)
            self.assertEqual((found, words in said["message"]), (status, True), said)
        self.assertEqual(models.Event.objects.filter(kind="note").count(), 0)
        self.assertEqual(self.call("GET", f"/sites/{self.key}/logbook.doc")[0], 404)

    def test_a_photograph_is_kept_without_its_place_and_upright(self) -> None:
        exif = Image.Exif()
        exif[0x0112] = 6  # turned by a quarter
        exif[0x010F] = "Maker of phones"
        exif.get_ifd(0x8825)[2] = (53.0, 20.0, 0.0)
        sent = picture(4000, 1000, exif=exif, comment=b"53.3498 N")
        status, said = self.call("POST", f"/sites/{self.key}/log/photos", sent)
        self.assertEqual(status, 201, said)
        self.assertEqual(self.add(photo=said["name"], text="Behind the cabinet")[0], 201)
        kept = self.client.get(f"/api/sites/{self.key}/log/photos/{self.lines()[0]['photo']}")
        content = b"".join(kept.streaming_content)  # type: ignore[arg-type]
        with Image.open(io.BytesIO(content)) as found:
            self.assertEqual((found.size, dict(found.getexif()), found.info.get("comment")), ((512, 2048), {}, None))
        self.assertNotIn(b"Maker of phones", content)

    def test_what_is_no_photograph_is_refused_in_a_sentence(self) -> None:
        for content in (b"", b"GIF89a....", picture()[:200], b"\xff" * 13_000_000):
            answer = self.client.generic(
                "POST", f"/api/sites/{self.key}/log/photos", content, "application/octet-stream"
            )
            self.assertEqual(answer.status_code, 422)
            self.assertRegex(answer.json()["message"], "photograph")
        self.assertEqual(self.call("GET", f"/sites/{self.key}/log/photos/{'0' * 32}.jpg")[0], 404)
