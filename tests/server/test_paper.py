"""What is printed and opened elsewhere: the same content in every form, letters and formulas safe."""

import csv
import io
from typing import Any

from openpyxl import load_workbook
from pypdf import PdfReader

from tests.samples import demo, device, document
from tests.server.test_api import ApiCase


class Request(ApiCase):
    def fetch(self, key: str, name: str) -> Any:
        return self.client.get(f"/api/sites/{key}/files/{name}")

    def test_the_page_says_what_the_tables_say(self) -> None:
        key = self.bring(demo())
        text = "".join(
            page.extract_text() for page in PdfReader(io.BytesIO(self.fetch(key, "request.pdf").content)).pages
        )
        book = load_workbook(io.BytesIO(self.fetch(key, "request.xlsx").content))
        sheet = [[cell.value for cell in row] for row in book["Addresses"].iter_rows()]
        rows = list(csv.reader(io.StringIO(self.fetch(key, "request-addresses.csv").content.decode("utf-8-sig"))))
        self.assertEqual([[value or "" for value in row] for row in sheet], rows)
        self.assertEqual(len(rows), 38)
        for row in rows[1:]:
            self.assertIn(row[4], text)
            self.assertIn(row[7], text)
        self.assertIn("reserve it, please", text)
        self.assertIn("the makers' relay on the internet", self.fetch(key, "request-flows.csv").content.decode())

    def test_strange_letters_and_formulas_do_no_harm(self) -> None:
        name = "=1+2 <b>Čápová & 東"
        key = self.bring(document([device(1, name=name)]))
        text = PdfReader(io.BytesIO(self.fetch(key, "request.pdf").content)).pages[0].extract_text()
        self.assertIn("<b>Čápová & Dong", text)
        self.assertIn("'=1+2", self.fetch(key, "request-addresses.csv").content.decode())
        cell = load_workbook(io.BytesIO(self.fetch(key, "request.xlsx").content))["Addresses"]["B2"]
        self.assertEqual((cell.value, cell.data_type), (name, "s"))

    def test_every_paper_carries_its_typefaces_its_title_its_language_and_its_day(self) -> None:
        key = self.bring(document([device(1, name="Tor → 東")]))
        for name in ("request.pdf", "proof.pdf", "logbook.pdf", "labels.pdf"):
            reader = PdfReader(io.BytesIO(self.fetch(key, name).content))
            fonts = {
                str(font["/BaseFont"]): font.get("/FontDescriptor", {})
                for page in reader.pages
                for font in (item.get_object() for item in page["/Resources"]["/Font"].values())
            }
            self.assertTrue(fonts, name)
            self.assertEqual([font for font, how in fonts.items() if "/FontFile2" not in how.get_object()], [], name)
            self.assertEqual(reader.root_object["/Lang"], "en", name)
            self.assertTrue(reader.metadata and reader.metadata.title, name)
        self.assertIn(
            "Tor -> Dong", PdfReader(io.BytesIO(self.fetch(key, "proof.pdf").content)).pages[0].extract_text()
        )

    def test_an_empty_site_and_an_unknown_file(self) -> None:
        key = self.bring(document() | {"networks": []})
        self.assertEqual(self.fetch(key, "request.pdf").status_code, 200)
        answer = self.fetch(key, "request.doc")
        self.assertEqual(answer.status_code, 404)
        self.assertIn("comes as pdf or xlsx", answer.json()["message"])
