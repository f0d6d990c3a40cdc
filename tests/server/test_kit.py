"""The kit by real requests: delivery notes of any kind, many devices at once, labels, the model catalogue."""

import io
import json
from typing import Any

from openpyxl import Workbook

from tests.samples import demo, device, document
from tests.server.test_api import ApiCase

NOTE = [
    ["Delivery note 4711"],
    [],
    ["Article", "Serial no.", "MAC address", "Location"],
    ["Dome 4", "A1", "02-1A-4B-00-00-A1", "Türhof"],
    ["Dome 4", "A2", "021a.4b00.00a2", "Hall"],
]


def text(delimiter: str) -> str:
    return "\r\n".join(delimiter.join(row) for row in NOTE)


def workbook() -> bytes:
    book = Workbook()
    for row in NOTE:
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


class Notes(ApiCase):
    def read(self, key: str, content: bytes, query: str = "") -> tuple[int, Any]:
        answer = self.client.post(f"/api/sites/{key}/kit/note{query}", content, content_type="application/octet-stream")
        return answer.status_code, answer.json()

    def rows(self, said: dict[str, Any]) -> dict[str, Any]:
        body = said["rows"][said["heads"] + 1 :]
        return {"fields": said["fields"], "rows": [{"line": n, "cells": cells} for n, cells in enumerate(body, 4)]}

    def test_any_delimiter_encoding_and_form_reads_the_same(self) -> None:
        key = self.bring(document())
        for content in (
            text(";").encode("utf-8-sig"),
            text(",").encode(),
            text("\t").encode("utf-16"),
            text("|").encode("cp1252"),
            text(";").encode("mac_roman"),
            workbook(),
        ):
            status, said = self.read(key, content)
            self.assertEqual((status, said["heads"]), (200, 2))
            self.assertEqual(said["fields"], ["model", "serial", "mac", "place"])
            self.assertEqual([row[3] for row in said["rows"][3:]], ["Türhof", "Hall"])
        self.assertEqual(self.read(key, text(";").encode("cp1250"), "?encoding=cp1250")[1]["rows"][3][3], "Türhof")

    def test_cells_merged_over_several_rows_stand_in_each_of_them(self) -> None:
        book = Workbook()
        sheet = book.active
        for row in (("Qty", "Model", "Serial"), (3, "Dome 4", "S1"), (None, None, "S2"), (None, None, "S3")):
            sheet.append(row)
        sheet.merge_cells("A2:A4")
        sheet.merge_cells("B2:B4")
        out = io.BytesIO()
        book.save(out)
        said = self.read(self.bring(document()), out.getvalue())[1]
        self.assertEqual(said["rows"][1:], [["1", "Dome 4", f"S{n}"] for n in (1, 2, 3)])

    def test_the_same_note_twice_is_recognised_however_it_was_saved(self) -> None:
        key = self.bring(document())
        said = self.read(key, text(";").encode())[1]
        self.assertIsNone(said["before"])
        revision = self.call("GET", f"/sites/{key}/kit")[1]["revision"]
        wanted = self.rows(said) | {"revision": revision, "digest": said["digest"]}
        self.assertEqual(self.call("POST", f"/sites/{key}/kit/import", wanted)[0], 200)
        for content in (text(";").encode(), workbook()):
            self.assertIn("imported already", self.read(key, content)[1]["before"])

    def test_what_is_no_table_is_refused_in_words(self) -> None:
        key = self.bring(document())
        for content, words in (
            (b"", "empty"),
            (b"\n ,, \n", "empty"),
            (b"%PDF-1.7 x", "PDF"),
            (b"\xd0\xcf\x11\xe0 old", ".xls"),
            (b"PK\x03\x04 broken", "cannot be opened"),
            (b"\x00\x01\x02\xff" * 50, "no table"),
            (b"a,b\n" * 5001, "up to 5000"),
            (b"x" * 8_000_001, "8.0 MB"),
        ):
            status, said = self.read(key, content)
            self.assertEqual(status, 422, content[:20])
            self.assertIn(words, said["message"])
        self.assertEqual(self.read(key, b"a,b", "?encoding=klingon")[0], 422)

    def test_a_note_is_previewed_then_stored_whole(self) -> None:
        key = self.bring(document())
        rows = self.rows(self.read(key, workbook())[1])
        _, preview = self.call("POST", f"/sites/{key}/kit/preview", rows)
        self.assertEqual([row["action"] for row in preview["rows"]], ["add", "add"])
        self.assertIn("Larkmoor Dome 4 as cam-01", preview["rows"][0]["sentence"])
        status, said = self.call("POST", f"/sites/{key}/kit/import", {**rows, "revision": 1})
        self.assertEqual((status, said["added"]), (200, ["cam-01", "cam-02"]))
        _, raw = self.call("GET", f"/sites/{key}/file")
        self.assertEqual([item["mac"] for item in raw["devices"]], ["02:1a:4b:00:00:a1", "02:1a:4b:00:00:a2"])
        self.assertEqual(self.call("POST", f"/sites/{key}/kit/import", {**rows, "revision": 1})[0], 409)
        again = self.call("POST", f"/sites/{key}/kit/import", {**rows, "revision": 2})
        self.assertEqual((again[0], again[1]["message"]), (422, "Nothing in this note is new."))

    def test_one_refused_row_stores_nothing(self) -> None:
        key = self.bring(document())
        rows = self.rows(self.read(key, workbook())[1])
        rows["rows"][1]["cells"][2] = "02-1A-4B-GG-GG-A2"
        status, said = self.call("POST", f"/sites/{key}/kit/import", {**rows, "revision": 1})
        self.assertEqual((status, said["faults"][0]["path"]), (422, "row 5"))
        self.assertEqual(self.call("GET", f"/sites/{key}/kit")[1]["devices"], [])
        twice = {**rows, "fields": ["model", "model", "mac", "place"]}
        self.assertEqual(self.call("POST", f"/sites/{key}/kit/preview", twice)[0], 422)

    def test_a_model_that_only_the_catalogue_has_comes_along(self) -> None:
        key = self.bring(document())
        rows = {"fields": ["model"], "rows": [{"line": 1, "cells": ["Pellgrave Ring 2"]}], "revision": 1}
        self.assertEqual(self.call("POST", f"/sites/{key}/kit/import", rows)[1]["added"], ["bell-1"])
        _, raw = self.call("GET", f"/sites/{key}/file")
        self.assertIn("pellgrave-ring-2", [model["key"] for model in raw["models"]])


class Many(ApiCase):
    def test_values_are_exchanged_between_devices_in_one_go(self) -> None:
        key = self.bring(document([device(1, address="10.20.30.50"), device(2, address="10.20.30.51")]))
        changes = [
            {"device": "d-1", "revision": 1, "address": "10.20.30.51", "mac": "02:1a:4b:00:00:02", "place": "Yard"},
            {"device": "d-2", "revision": 1, "address": "10.20.30.50", "mac": "02-1A-4B-00-00-01"},
        ]
        status, said = self.call("PATCH", f"/sites/{key}/devices", {"changes": changes})
        self.assertEqual((status, said["devices"][0]), (200, {"key": "d-1", "revision": 2}))
        _, raw = self.call("GET", f"/sites/{key}/file")
        self.assertEqual([item["address"] for item in raw["devices"]], ["10.20.30.51", "10.20.30.50"])
        self.assertEqual(
            len(self.call("GET", f"/sites/{key}/events?search=device.changed")[1]), 5
        )  # one a device and value

    def test_what_feeds_a_device_its_port_and_its_cable_are_typed(self) -> None:
        key = self.bring(demo())

        def change(**part: Any) -> tuple[int, Any]:
            row = next(row for row in self.call("GET", f"/sites/{key}/kit")[1]["devices"] if row["key"] == "cam-07")
            return self.call("PATCH", f"/sites/{key}/devices/cam-07", {"revision": row["revision"], **part})

        def stands() -> Any:
            devices = self.call("GET", f"/sites/{key}/file")[1]["devices"]
            row = next(row for row in devices if row["key"] == "cam-07")
            return row.get("powered_by"), row.get("cable_m")

        self.assertEqual(change(feeder=None)[0], 200)
        self.assertIsNone(stands()[0])
        status, said = change(feeder_port=4)
        self.assertEqual((status, "Say first what feeds" in said["message"]), (422, True))
        for wrong, code in (({"feeder": "cam-07"}, 422), ({"feeder": "nobody"}, 404), ({"cable_m": "long"}, 422)):
            self.assertEqual(change(**wrong)[0], code, wrong)
        self.assertEqual(change(feeder="switch-2", cable_m="42.5")[0], 200)
        self.assertEqual(change(feeder_port="7")[0], 200)
        self.assertEqual(stands(), ({"device": "switch-2", "port": 7}, 42.5))
        self.assertEqual(change(feeder="switch-1")[0], 200)
        self.assertEqual(stands()[0], {"device": "switch-1", "port": None})  # that port was of the other one
        log = self.call("GET", f"/sites/{key}/events?search=powered")[1]
        self.assertTrue(any("switch-2" in row["sentence"] for row in log), log)

    def test_one_wrong_change_stores_none(self) -> None:
        key = self.bring(document([device(1), device(2)]))
        for wrong, status in (({"mac": "02:1a:4b:00:00:01"}, 422), ({"model": "none"}, 422), ({"revision": 7}, 409)):
            changes = [{"device": "d-1", "revision": 1, "place": "Yard"}, {"device": "d-2", "revision": 1, **wrong}]
            self.assertEqual(self.call("PATCH", f"/sites/{key}/devices", {"changes": changes})[0], status)
        self.assertEqual({item["place"] for item in self.call("GET", f"/sites/{key}/kit")[1]["devices"]}, {"Hall"})

    def test_what_was_removed_comes_back_with_its_links(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(2, network=None, behind="d-1"), device(3)]
        links = [{"kind": "records", "from": f"d-{n}", "to": "d-1", "slot": n} for n in (2, 3)]
        key = self.bring(document(rows, links=links))
        before = self.call("GET", f"/sites/{key}/file")[1]
        self.assertEqual(
            self.call("POST", f"/sites/{key}/devices/remove", {"devices": [{"key": "d-1", "revision": 1}]})[0], 422
        )
        both = {"devices": [{"key": "d-1", "revision": 1}, {"key": "d-2", "revision": 1}]}
        status, gone = self.call("POST", f"/sites/{key}/devices/remove", both)
        self.assertEqual((status, len(gone["devices"]), len(gone["links"])), (200, 2, 2))
        self.assertEqual(self.call("POST", f"/sites/{key}/devices/restore", gone)[0], 200)
        after = self.call("GET", f"/sites/{key}/file")[1]
        self.assertEqual(sorted(map(json.dumps, after["links"])), sorted(map(json.dumps, before["links"])))
        by_key = {item["key"]: item for item in after["devices"]}
        self.assertEqual([by_key[item["key"]] for item in before["devices"]], before["devices"])

    def test_names_by_pattern_and_labels(self) -> None:
        key = self.bring(document([device(1, mac=None), device(2)]))
        _, said = self.call("POST", f"/sites/{key}/kit/names", {"pattern": "{place} {n}", "devices": ["d-1", "d-2"]})
        self.assertEqual(said["names"], {"d-1": "Hall 1", "d-2": "Hall 2"})
        status, said = self.call("POST", f"/sites/{key}/kit/names", {"pattern": "{room}", "devices": ["d-1"]})
        self.assertEqual((status, said["faults"][0]["path"]), (422, "pattern"))
        _, said = self.call("POST", f"/sites/{key}/kit/scan", {"text": "021A4B000002", "device": "d-1"})
        self.assertEqual((said["fits"], said["device"]), (False, "d-2"))


class Catalogue(ApiCase):
    def test_profiles_are_added_changed_and_taken_away(self) -> None:
        shipped = len(self.call("GET", "/catalogue")[1])
        body = {
            "revision": 0,
            "typed": {
                "family": "camera",
                "maker": "Tarn",
                "name": "Owl",
                "services": "web 80\nstream 554",
                "factory.mode": "fixed",
                "factory.address": "192.168.9.9",
                "factory.prefix": "24",
            },
        }
        self.assertEqual(self.call("PATCH", "/catalogue/tarn-owl", body), (200, {"revision": 1}))
        rows = {row["key"]: row for row in self.call("GET", "/catalogue")[1]}
        self.assertEqual((len(rows), rows["tarn-owl"]["factory"]), (shipped + 1, "192.168.9.9/24"))
        self.assertEqual(self.call("PATCH", "/catalogue/tarn-owl", body)[0], 409)
        for path, typed, words in (
            ("factory.address", "192.168.9.999", "192.168.9.999"),
            ("services", "web eighty", "web eighty"),
            ("power.poe_class", "12", "12"),
            ("family", "spaceship", "spaceship"),
            ("family", "", "family"),
        ):
            status, said = self.call("PATCH", "/catalogue/tarn-owl", {"revision": 1, "typed": {path: typed}})
            self.assertEqual((status, said["faults"][0]["path"]), (422, path), said)
            self.assertIn(words, said["message"])
        self.assertEqual(self.call("DELETE", "/catalogue/tarn-owl?revision=1")[0], 204)
        self.assertEqual(self.call("DELETE", "/catalogue/larkmoor-dome-4?revision=0")[0], 422)

    def test_the_catalogue_goes_out_and_comes_in_unchanged(self) -> None:
        _, whole = self.call("GET", "/catalogue/file")
        said = self.call("POST", "/catalogue", json.dumps(whole))[1]
        self.assertEqual(said["sentence"], "Every model stands so already.")
        whole["models"][0]["name"] = "Dome 4 Mark 2"
        self.assertEqual(
            self.call("POST", "/catalogue", json.dumps(whole))[1]["sentence"], "1 model is new or different."
        )
        for wrong in (
            "{",
            "[]",
            '{"format":"else"}',
            '{"format":"tutelar-models","version":1,"models":[{"key":"x"}]}',
            '{"format":"tutelar-models","version":1,"models":[7]}',
        ):
            self.assertEqual(self.call("POST", "/catalogue", wrong)[0], 422, wrong)

    def test_a_site_keeps_its_own_copy_of_a_model(self) -> None:
        key = self.bring(document([device(1)]))
        body = {"revision": 1, "typed": {"name": "Dome 4B", "timings.boot_s": "75"}}
        self.assertEqual(self.call("PATCH", f"/sites/{key}/models/larkmoor-dome-4", body), (200, {"revision": 2}))
        sheet = self.call("GET", f"/sites/{key}/models/larkmoor-dome-4")[1]
        self.assertEqual((sheet["label"], sheet["devices"]), ("Larkmoor Dome 4B", 1))
        self.assertEqual(self.call("GET", "/catalogue/larkmoor-dome-4")[1]["label"], "Larkmoor Dome 4")
        raw = self.call("GET", f"/sites/{key}/file")[1]
        self.assertEqual(raw["models"][0]["streams"]["main"]["kbps"], 4096)
