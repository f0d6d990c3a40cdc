"""The logbook by real requests: nothing is changed, everything is found, and a photograph tells no place."""

import io
import tempfile
from typing import Any

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
        self.assertEqual([line["kind"] for line in self.lines("device=d-2")], ["reading"])
        day = self.lines()[0]["at"][:10]
        self.assertEqual(len(self.lines(f"day={day}")), len(self.lines()))
        self.assertEqual(self.lines("day=2001-01-01"), [])
        last = self.lines()[-1]["id"]
        self.assertEqual(self.lines(f"before={last}"), [])

    def test_a_correction_keeps_what_stood_there(self) -> None:
        self.add(text="Cable is 83 m", subject="d-1")
        wrong = self.lines()[0]
        self.assertEqual(self.add(text="Cable is 38 m", corrects=wrong["id"])[0], 201)
        now, before = self.lines()[:2]
        self.assertEqual((now["subject"], now["corrects"]), ("d-1", "Cable is 83 m"))
        self.assertEqual((before["sentence"], before["corrected"][0]["sentence"]), ("Cable is 83 m", "Cable is 38 m"))
        csv = self.call("GET", f"/sites/{self.key}/logbook.csv?device=d-1")[1]
        self.assertIn("Cable is 38 m,ines,correction,Cable is 83 m,", csv)
        pdf = self.client.get(f"/api/sites/{self.key}/logbook.pdf").content
        text = " ".join(PdfReader(io.BytesIO(pdf)).pages[0].extract_text().split())
        self.assertIn("(Corrected by ines: Cable is 38 m)", text)

    def test_what_says_nothing_or_names_nothing_is_refused(self) -> None:
        for entry, status, words in (
            ({}, 422, "Write what happened"),
            ({"value": 3}, 422, "Give the unit of 3"),
            ({"text": "x", "subject": "d-9"}, 404, "no device 'd-9'"),
            ({"text": "x", "corrects": 99999}, 404, "has no line 99999"),
            ({"text": "x", "photo": "../../vault-key"}, 404, "was not kept"),
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
