"""Leaving the site by real requests: what holds the signature, what is left open by decision, and what changes after."""

import hashlib
import io
import warnings
import zipfile
from typing import Any

from pypdf import PdfReader

from tests.core.test_loose_ends import BUILT
from tests.server.test_kept_safe import picture
from tests.server.test_secrets import SecretCase
from tutelar.server import models
from tutelar.server.handover import packing
from tutelar.server.store import documents


class Leaving(SecretCase):
    def signed(self, key: str, for_whom: str = "Tomas Okerlund") -> tuple[int, Any]:
        return self.call("PUT", f"/sites/{key}/sign-off", {"for_whom": for_whom})

    def sent(self, path: str) -> bytes:
        with warnings.catch_warnings(action="ignore"):  # a test takes at once what is sent piece by piece
            return b"".join(self.client.get(path))

    def leave(self, key: str, end: dict[str, Any], reason: str) -> tuple[int, Any]:
        return self.call("PUT", f"/sites/{key}/leaving/{end['code']}/{end['subject']}", {"reason": reason})

    def test_it_is_signed_once_nothing_is_open_that_nobody_left_open(self) -> None:
        key = self.bring(BUILT)
        sheet = self.call("GET", f"/sites/{key}/leaving")[1]
        self.assertEqual((sheet["signed"], sheet["empty"]), (None, False))
        self.assertEqual(sheet["holding"], len(sheet["ends"]))
        status, refused = self.signed(key)
        self.assertEqual((status, refused["message"].startswith("Still open: ")), (409, True))
        for end in sheet["ends"]:
            self.assertTrue(end["goes"] and end["message"] and end["whose"])
            status, now = self.leave(key, end, "The painter comes on Monday")
            self.assertEqual(status, 200)
        self.assertEqual((now["holding"], {end["left_by"] for end in now["ends"]}), (0, {"ines"}))
        self.assertEqual(self.signed(key, " ")[0], 422)
        status, sheet = self.signed(key)
        self.assertEqual(
            (status, sheet["signed"]["changed"], sheet["signed"]["for_whom"]), (200, False, "Tomas Okerlund")
        )
        kept = documents.export(models.Site.objects.get(key=key))["sign_off"]
        self.assertIn("survey-open:site", kept["open"])
        self.assertEqual(len(kept["open"]), len(sheet["ends"]))
        self.call("PUT", f"/sites/{key}/remote/method", {"method": "local"})
        self.assertTrue(self.call("GET", f"/sites/{key}/leaving")[1]["signed"]["changed"])
        self.assertIsNone(self.call("DELETE", f"/sites/{key}/sign-off")[1]["signed"])
        self.assertEqual(self.call("DELETE", f"/sites/{key}/sign-off")[0], 409)
        kinds = set(models.Event.objects.filter(site_key=key).values_list("kind", flat=True))
        self.assertLessEqual({"end.left-open", "site.signed", "site.reopened"}, kinds)

    def test_what_is_not_open_is_not_left_open_and_a_reason_is_taken_back(self) -> None:
        key = self.bring(BUILT)
        (end, *_) = [item for item in self.call("GET", f"/sites/{key}/leaving")[1]["ends"] if item["blocks"]]
        self.assertEqual(self.leave(key, {"code": "relay-bound", "subject": "d-1"}, "?")[0], 404)
        self.assertEqual(self.leave(key, {"code": "ghosts", "subject": "d-1"}, "?")[0], 404)
        before = self.leave(key, end, "later")[1]["holding"]
        self.assertEqual(self.leave(key, end, "")[1]["holding"], before + 1)

    def test_an_empty_site_is_not_signed(self) -> None:
        raw = {**BUILT, "devices": [], "links": [], "readings": [], "doors": [], "alarm": {}, "access": {}}
        key = self.bring(raw)
        self.assertTrue(self.call("GET", f"/sites/{key}/leaving")[1]["empty"])
        self.assertEqual(self.signed(key)[1]["message"], "There is nothing to sign off: the kit is empty.")

    def test_the_pack_has_the_log_and_no_secret_and_the_same_bytes(self) -> None:
        key = self.bring(BUILT)
        self.assertEqual(self.put(key, "d-1/secrets/administrator", "Correct-Horse-114")[0], 204)
        packs = [self.sent(f"/api/sites/{key}/files/handover.zip") for _ in range(2)]
        self.assertEqual(packs[0], packs[1])
        with zipfile.ZipFile(io.BytesIO(packs[0])) as archive:
            files = {name: archive.read(name) for name in archive.namelist()}
        self.assertIn(b"d-1", files["log.csv"])
        self.assertIn(b'"readings"', files["site.json"])
        self.assertFalse([name for name, data in files.items() if b"Correct-Horse-114" in data])

    def test_a_pack_is_made_in_the_background_with_its_photographs(self) -> None:
        key = self.bring(BUILT)
        photo = self.client.post(f"/api/sites/{key}/log/photos", picture(), content_type="application/octet-stream")
        entry = {"text": "the roof before", "subject": "d-1", "photo": photo.json()["name"]}
        self.assertEqual(self.call("POST", f"/sites/{key}/log", entry)[0], 201)
        self.assertIsNone(self.call("GET", f"/sites/{key}/pack")[1]["last"])
        status, sheet = self.call("POST", f"/sites/{key}/pack")
        self.assertEqual((status, sheet["last"]["state"]), (200, "waiting"))
        number = sheet["last"]["number"]
        self.assertEqual(self.call("POST", f"/sites/{key}/pack")[0], 409)
        self.assertEqual(self.call("GET", f"/sites/{key}/pack/{number}.zip")[0], 404)
        packing.make(number)
        last = self.call("GET", f"/sites/{key}/pack")[1]["last"]
        self.assertEqual((last["state"], last["share"], last["ready"], last["changed"]), ("done", 1.0, False, False))
        made = self.sent(f"/api/sites/{key}/pack/{number}.zip")
        self.assertEqual(len(made), last["size"])
        with zipfile.ZipFile(io.BytesIO(made)) as archive:
            photos = [name for name in archive.namelist() if name.startswith("photographs/")]
            sums = dict(reversed(line.split("  ")) for line in archive.read("SHA256SUMS").decode().splitlines())
            for name in archive.namelist():
                if name != "SHA256SUMS":
                    self.assertEqual(hashlib.sha256(archive.read(name)).hexdigest(), sums[name])
        self.assertEqual((len(photos), photos[0][-11:]), (1, "d-1-001.jpg"))
        self.call("POST", f"/sites/{key}/pack")
        packing.end_left("ended", None)
        self.assertEqual(self.call("GET", f"/sites/{key}/pack")[1]["last"]["state"], "failed")

    def test_a_sealed_sheet_is_printed_once_split_by_who_may_know_and_kept_nowhere(self) -> None:
        key = self.bring(BUILT)
        self.assertEqual(self.put(key, "d-1/secrets/administrator", "Correct-Horse-114")[0], 204)
        self.assertEqual(self.put(key, "d-2/secrets/operator", "Wet-Paper-Boat-7")[0], 204)
        ask = {"part": "owner", "for_whom": "Tomas Okerlund"}

        def printed(body: dict[str, str]) -> tuple[int, str]:
            answer = self.client.post(f"/api/sites/{key}/sealed", body, content_type="application/json")
            if answer.status_code != 200:
                return answer.status_code, answer.json()["message"]
            self.assertEqual(answer["Cache-Control"], "no-store")
            pages = PdfReader(io.BytesIO(answer.content)).pages
            return 200, "".join(page.extract_text() for page in pages)

        status, paper = printed(ask)
        self.assertEqual(status, 200)
        self.assertIn("Correct-Horse-114", paper)
        self.assertNotIn("Wet-Paper-Boat-7", paper)
        self.assertEqual(printed(ask)[0], 409)
        self.assertIn("Printed again: the first was lost", printed({**ask, "reason": "the first was lost"})[1])
        self.assertIn("Wet-Paper-Boat-7", printed({**ask, "part": "users"})[1])
        for wrong in ({**ask, "for_whom": " "}, {**ask, "part": "all"}, {**ask, "part": "service"}):
            self.assertEqual(printed(wrong)[0], 422, wrong)
        sealed = {item["key"]: item for item in self.call("GET", f"/sites/{key}/pack")[1]["sealed"]}
        self.assertEqual((sealed["owner"]["printed"], sealed["owner"]["for_whom"]), (2, "Tomas Okerlund"))
        lines = models.Event.objects.filter(site_key=key, kind="sealed.printed")
        self.assertEqual(lines.count(), 3)
        kept = [str(value) for line in lines for value in (line.sentence, line.before, line.after)]
        self.assertFalse([text for text in kept if "Horse" in text or "Boat" in text])

    def test_what_nothing_else_tells_of_is_noted_and_ticked_when_it_is_done(self) -> None:
        key = self.bring(BUILT)
        where = f"/sites/{key}/leaving"
        before = len(self.call("GET", where)[1]["ends"])
        for code, subject, note in (("debug-log-on", "d-2", ""), ("checklist-open", "d-1", "Fourth screw")):
            status, sheet = self.call("POST", where, {"code": code, "subject": subject, "note": note})
            self.assertEqual(status, 200, sheet)
            (end,) = [item for item in sheet["ends"] if (item["code"], item["subject"]) == (code, subject)]
            self.assertTrue(end["by_tick"] and end["blocks"])
        self.assertIn("Fourth screw", end["message"])
        kept = documents.export(models.Site.objects.get(key=key))["checklist"]
        self.assertEqual([item["item"] for item in kept], ["debug-log-on", "fourth-screw"])
        for code, subject in (("debug-log-on", "d-2"), ("checklist-open", "d-1")):
            status, sheet = self.call("DELETE", f"{where}/{code}/{subject}")
            self.assertEqual(status, 200)
        self.assertEqual(len(sheet["ends"]), before)
        for body, status in (
            ({"code": "relay-bound", "subject": "d-1"}, 422),
            ({"code": "checklist-open", "subject": "d-1"}, 422),
            ({"code": "tamper-off", "subject": "d-77"}, 404),
        ):
            self.assertEqual(self.call("POST", where, body)[0], status, body)
        self.assertEqual(self.call("DELETE", f"{where}/survey-open/site")[0], 404)

    def test_an_interval_typed_for_the_test_is_open_until_the_long_one_is_typed(self) -> None:
        key = self.bring({**BUILT, "networks": [BUILT["networks"][0] | {"time_source": "10.20.30.1"}]})
        row = models.Site.objects.get(key=key)
        for device, mark in (("d-1", "1 min for the test, then 60 min"), ("d-2", "60 min")):
            models.ValueTick.objects.create(site=row, subject=device, line="interval", mark=mark, by="ines")
        sheet = self.call("GET", f"/sites/{key}/leaving")[1]
        self.assertEqual([item["subject"] for item in sheet["ends"] if item["code"] == "temporary-value"], ["d-1"])
        sheet = self.call("DELETE", f"/sites/{key}/leaving/temporary-value/d-1")[1]
        self.assertNotIn("temporary-value", {item["code"] for item in sheet["ends"]})
