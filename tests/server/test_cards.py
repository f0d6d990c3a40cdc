"""Job cards and questions to others by real requests: ticked, refused, left for later, a firm's own, letters."""

import io
import json
from datetime import timedelta
from typing import Any

from django.utils import timezone
from pypdf import PdfReader

from tests.core.test_cards import OWN
from tests.samples import demo, device, document
from tests.server.test_kept_safe import picture
from tests.server.test_secrets import SecretCase
from tutelar.server import models
from tutelar.server.models.fields import text_in


class Cards(SecretCase):
    def setUp(self) -> None:
        super().setUp()
        self.key = self.bring(demo())

    def card(self, subject: str = "cam-01") -> dict[str, Any]:
        found: dict[str, Any] = self.call("GET", f"/sites/{self.key}/cards/{subject}")[1]
        return {row["key"]: row for row in found["rows"]}

    def tick(self, item: str, state: str = "done", subject: str = "cam-01", **more: Any) -> tuple[int, Any]:
        return self.call("PUT", f"/sites/{self.key}/cards/{subject}/{item}", {"state": state, **more})

    def test_a_card_is_ticked_in_its_order_and_the_log_says_so(self) -> None:
        before = self.call("GET", f"/sites/{self.key}/cards?phase=after-set-up")[1]
        self.assertEqual((before["turn"], before["phase"], before["empty"]), ("before-leaving", "after-set-up", False))
        status, refused = self.tick("masks", value="masked")
        self.assertEqual((status, refused["message"][:6]), (422, "First:"))
        self.assertEqual(self.tick("angle")[0], 200)
        status, card = self.tick("masks", value="masked", note="window of number 4")
        masks = next(row for row in card["rows"] if row["key"] == "masks")
        self.assertEqual((status, masks["state"], masks["by"], masks["value"]), (200, "done", "ines", "masked"))
        after = self.call("GET", f"/sites/{self.key}/cards?phase=after-set-up")[1]
        count = {phase["key"]: phase["open"] for phase in before["phases"]}
        self.assertEqual(
            {phase["key"]: phase["open"] for phase in after["phases"]},
            {**count, "after-set-up": count["after-set-up"] - 2},
        )
        line = models.Event.objects.filter(site_key=self.key, kind="card.ticked").latest("pk")
        self.assertIn("Private areas masked on purpose: done, masked, window of number 4.", line.sentence)
        self.assertEqual(self.tick("angle", "open")[0], 200)
        self.assertEqual(self.card()["angle"]["state"], "open")
        self.assertEqual(self.tick("no-such")[0], 404)
        self.assertEqual(self.call("GET", f"/sites/{self.key}/cards/no-such")[0], 404)

    def test_what_is_left_for_later_is_a_loose_end_until_it_is_done(self) -> None:
        def open_ends() -> list[str]:
            ends = self.call("GET", f"/sites/{self.key}/leaving")[1]["ends"]
            return [end["message"] for end in ends if end["code"] == "checklist-open"]

        self.assertEqual(open_ends(), [])
        self.tick("fixings", "open", note="one screw is missing")
        self.assertEqual(len(open_ends()), 1)
        self.assertIn("one screw is missing", open_ends()[0])
        status, refused = self.tick("fixings", value=3, of=4)
        self.assertEqual((status, refused["faults"][0]["path"]), (422, "note"))
        self.assertEqual(self.tick("fixings", value=4, of=4)[0], 200)
        self.assertEqual((open_ends(), self.card()["fixings"]["right"]), ([], True))

    def test_a_photograph_is_kept_and_a_replaced_unit_starts_anew(self) -> None:
        self.assertEqual(self.tick("label-photographed", photo="0" * 32 + ".jpg")[0], 404)
        path = f"/sites/{self.key}/log/photos"
        kept = self.client.post(f"/api{path}", picture(), content_type="application/octet-stream").json()["name"]
        self.assertEqual(self.tick("label-photographed", photo=kept)[0], 200)
        self.assertEqual(self.card()["label-photographed"]["photo"], kept)
        self.assertTrue(
            models.Event.objects.alias(photo=text_in("after__photo")).filter(photo=kept).exists()
        )  # else it would be tidied away
        device = models.Device.objects.get(site__key=self.key, key="cam-01")
        device.mac = "02:00:00:00:77:01"
        device.save()
        models.Site.objects.filter(key=self.key).update(version_token=models.fresh_version_token())
        self.assertEqual(self.card()["label-photographed"]["state"], "open")

    def test_a_firm_has_its_own_file_which_is_kept_whole_or_not_at_all(self) -> None:
        sheet = self.call("GET", "/cards")[1]
        self.assertEqual((sheet["edition"], {item["used"] for item in sheet["items"]}), (0, {True}))
        bad = {"edition": 0, "items": [{**OWN, "when": ["cameraa"]}]}
        self.assertIn("'cameraa'", self.call("PUT", "/cards", bad)[1]["message"])
        status, sheet = self.call("PUT", "/cards", {"edition": 0, "items": [OWN], "off": ["film-off"]})
        self.assertEqual((status, sheet["edition"], sheet["by"]), (200, 1, "ines"))
        self.assertEqual(("roof" in self.card(), "film-off" in self.card()), (True, False))
        self.assertEqual(self.call("PUT", "/cards", {"edition": 0, "items": []})[0], 409)
        file = self.client.get("/api/cards/file").content
        self.assertEqual(json.loads(file)["items"][0]["key"], "roof")
        for content in (b"\xff\xfe", b"{", b"[]", b'{"format": "other"}', b"[" * 100_000):
            status = self.client.post("/api/cards", content, content_type="application/octet-stream").status_code
            self.assertEqual(status, 422)
        self.call("PUT", "/cards", {"edition": 1, "items": []})
        self.assertEqual(self.client.post("/api/cards", file, content_type="application/octet-stream").status_code, 200)
        self.assertIn("roof", self.card())

    def test_questions_go_out_come_back_and_hold_the_signature_meanwhile(self) -> None:
        def whose() -> list[str]:
            ends = self.call("GET", f"/sites/{self.key}/leaving")[1]["ends"]
            return [end["message"] for end in ends if end["code"] == "survey-open" and "drilled" in end["message"]]

        sheet = self.call("GET", f"/sites/{self.key}/asked")[1]
        usual = {item["key"]: item for item in sheet["suggested"]}
        words = {name: usual["drilling"][name] for name in ("of", "question", "holds")}
        day = timezone.localdate()
        late = {**words, "asked": str(day), "due": str(day - timedelta(days=1))}
        self.assertEqual(self.call("PUT", f"/sites/{self.key}/asked/drilling", late)[0], 422)
        status, sheet = self.call(
            "PUT", f"/sites/{self.key}/asked/drilling", {**words, "asked": str(day), "due": str(day), "person": "Ada"}
        )
        self.assertEqual((status, sheet["waiting"], sheet["questions"][0]["state"]), (200, 1, "asked"))
        self.assertNotIn("drilling", {item["key"] for item in sheet["suggested"]})
        self.call("POST", f"/sites/{self.key}/asked", {"of": "it", "question": "Who has the key of the riser?"})
        letters = PdfReader(io.BytesIO(self.client.get(f"/api/sites/{self.key}/files/letters.pdf").content))
        self.assertEqual(len(letters.pages), 2)
        self.assertIn("for Ada", letters.pages[1].extract_text())
        self.assertEqual(self.call("PUT", f"/sites/{self.key}/asked/no-such", words)[0], 404)
        sheet = self.call("PUT", f"/sites/{self.key}/asked/drilling", {**words, "answer": "Nowhere in the hall"})[1]
        self.assertEqual((sheet["waiting"], sheet["questions"][1]["answered"]), (1, str(day)))
        self.assertEqual(whose(), [])
        own = sheet["questions"][0]["key"]
        self.assertEqual(self.call("DELETE", f"/sites/{self.key}/asked/{own}")[1]["waiting"], 0)

    def test_what_a_file_says_of_a_question_stays_when_its_answer_is_mended(self) -> None:
        one = {"key": "roof", "of": "owner", "question": "Which roof?", "answer": "North", "x-ours": {"floor": 4}}
        key = self.bring(document([device(1)], asked=[one, {**one, "key": "gate", "answer": ""}]))
        self.assertEqual(self.call("GET", f"/sites/{key}/asked")[1]["waiting"], 1)  # an empty answer is none
        said = {"of": "owner", "question": "Which roof?", "answer": "North"}
        status, sheet = self.call("PUT", f"/sites/{key}/asked/roof", said)
        self.assertEqual((status, sheet["questions"][1]["answered"]), (200, str(timezone.localdate())))
        kept = self.call("GET", f"/sites/{key}/file")[1]["asked"]
        self.assertEqual(kept[0]["x-ours"], {"floor": 4})

    def test_cards_stand_on_paper_for_who_wants_paper_only(self) -> None:
        paper = self.client.get(f"/api/sites/{self.key}/files/cards.pdf?device=cam-01").content
        text = "".join(page.extract_text() for page in PdfReader(io.BytesIO(paper)).pages)
        self.assertIn("Private areas masked on purpose", text)
        self.assertNotIn("Recorder quay", text)
