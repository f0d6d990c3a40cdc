"""Leaving the site by real requests: what holds the signature, what is left open by decision, and what changes after."""

import io
import zipfile
from typing import Any

from tests.core.test_loose_ends import BUILT
from tests.server.test_secrets import SecretCase
from tutelar.server import models
from tutelar.server.store import documents


class Leaving(SecretCase):
    def signed(self, key: str, for_whom: str = "Tomas Okerlund") -> tuple[int, Any]:
        return self.call("PUT", f"/sites/{key}/sign-off", {"for_whom": for_whom})

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
        packs = [self.client.get(f"/api/sites/{key}/files/handover.zip").content for _ in range(2)]
        self.assertEqual(packs[0], packs[1])
        with zipfile.ZipFile(io.BytesIO(packs[0])) as archive:
            files = {name: archive.read(name) for name in archive.namelist()}
        self.assertIn(b"d-1", files["log.csv"])
        self.assertIn(b'"readings"', files["site.json"])
        self.assertFalse([name for name, data in files.items() if b"Correct-Horse-114" in data])
