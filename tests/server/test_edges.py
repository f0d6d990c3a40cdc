"""Edges of what is stored and printed: many pages, things that are gone, answers that nobody may give."""

import io
from unittest import mock

from django.contrib.auth.models import User
from django.db import DatabaseError
from django.test import TestCase, override_settings
from pypdf import PdfReader

from tests.samples import demo, device, document
from tests.server.test_api import ApiCase
from tutelar.server import models


class Paper(ApiCase):
    def test_hundreds_of_addresses_fill_pages_that_are_all_numbered(self) -> None:
        rows = [device(number, name=f"Lamp {number}") for number in range(300)]
        key = self.bring(
            document(
                rows, network={"cidr": "10.20.24.0/21", "gateway": "10.20.24.1", "dns": [], "pools": [], "reserved": []}
            )
        )
        content = self.client.get(f"/api/sites/{key}/files/request.pdf").content
        pages = [page.extract_text() for page in PdfReader(io.BytesIO(content)).pages]
        self.assertGreater(len(pages), 5)
        for number, text in enumerate(pages, 1):
            self.assertIn(f"page {number} of {len(pages)}", text)
            self.assertEqual("Hardware address" in text, "02:1a:4b:" in text)
        self.assertEqual(sum(text.count("02:1a:4b:") for text in pages), 300)

    def test_the_request_and_the_schedule_agree_on_every_address(self) -> None:
        key = self.bring(demo())
        wanted = self.client.get(f"/api/sites/{key}/files/request-addresses.csv").content.decode("utf-8-sig")
        schedule = self.client.get(f"/api/sites/{key}/files/schedule.csv").content.decode("utf-8-sig")
        for line in wanted.splitlines()[1:]:
            sticker, *_ = line.split(",")
            address = line.split(",")[4]
            own = next(row for row in schedule.splitlines() if row.startswith(f"{sticker},"))
            self.assertIn(f",{address},", own)


class Gone(ApiCase):
    def test_a_link_whose_other_end_is_gone_does_not_come_back(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(2)]
        key = self.bring(document(rows, links=[{"kind": "records", "from": "d-2", "to": "d-1", "slot": 1}]))
        remove = f"/sites/{key}/devices/remove"
        gone = self.call("POST", remove, {"devices": [{"key": "d-2", "revision": 1}]})[1]
        self.call("POST", remove, {"devices": [{"key": "d-1", "revision": 1}]})
        status, said = self.call("POST", f"/sites/{key}/devices/restore", gone)
        self.assertEqual(
            (status, said["message"]), (422, "The site has no device 'd-1' any more; its link cannot come back.")
        )
        self.assertEqual(models.Device.objects.count(), 0)
        for link, where in (({}, "kind"), ({"kind": "records", "from": [], "to": "d-2"}, "from")):
            status, said = self.call("POST", f"/sites/{key}/devices/restore", {**gone, "links": [link]})
            self.assertEqual((status, f"its '{where}' is missing or wrong" in said["message"]), (422, True), said)
        self.assertEqual(self.call("POST", f"/sites/{key}/devices/restore", {**gone, "links": []})[0], 200)
        self.assertEqual(self.call("POST", f"/sites/{key}/devices/restore", {**gone, "links": []})[0], 422)

    def test_what_is_not_there_is_said_by_name(self) -> None:
        key = self.bring(document([device(1)]))
        for method, path, body in (
            ("GET", f"/sites/{key}/models/none", None),
            ("POST", f"/sites/{key}/networks/none/renumber/preview", {"to": "10.1.0.0/24"}),
            ("POST", f"/sites/{key}/addresses/move", {"device": "none", "address": "10.20.30.9"}),
            ("DELETE", "/catalogue/none?revision=1", None),
            ("POST", f"/sites/{key}/survey/none/preview", {"typed": {}}),
        ):
            status, said = self.call(method, path, body)
            self.assertEqual(status, 404, path)
            self.assertIn("'none'", said["message"])

    def test_nobody_without_a_login_reads_or_writes(self) -> None:
        key = self.bring(document([device(1)]))
        self.client.logout()
        for method, path in (
            ("GET", f"/sites/{key}/survey"),
            ("GET", "/catalogue"),
            ("GET", "/catalogue/file"),
            ("POST", "/catalogue"),
            ("GET", f"/sites/{key}/files/request.pdf"),
            ("POST", f"/sites/{key}/kit/note"),
            ("POST", f"/sites/{key}/sightings"),
            ("PATCH", f"/sites/{key}/devices"),
            ("GET", f"/sites/{key}/networks/lan/renumber.csv?to=10.1.0.0/24"),
        ):
            self.assertEqual(self.call(method, path, {})[0], 401, path)


class Addressing(ApiCase):
    def test_a_device_without_a_word_of_its_own_follows_the_site(self) -> None:
        one, two = device(1), device(2, addressing="fixed")
        key = self.bring(document([one, two], policy={"addressing": "reserved"}))
        sheet = self.call("GET", f"/sites/{key}/kit")[1]
        self.assertEqual([row["addressing"] for row in sheet["devices"]], [None, "fixed"])
        self.assertNotIn("addressing", self.call("GET", f"/sites/{key}/file")[1]["devices"][0])
        body = {"revision": 1, "was": {}, "typed": {"policy.addressing": "leased"}}
        self.assertEqual(self.call("POST", f"/sites/{key}/survey/addressing", body)[0], 200)
        placed = self.call("GET", f"/sites/{key}/addresses")[1]
        self.assertEqual((placed["leased"], [item["key"] for item in placed["networks"][0]["devices"]]), (1, ["d-2"]))
        changes = [{"device": "d-2", "revision": 1, "addressing": None}]
        self.assertEqual(self.call("PATCH", f"/sites/{key}/devices", {"changes": changes})[0], 200)
        self.assertEqual(self.call("GET", f"/sites/{key}/addresses")[1]["leased"], 2)
        wrong = {"revision": 2, "was": {}, "typed": {"policy.addressing": "magic"}}
        self.assertEqual(self.call("POST", f"/sites/{key}/survey/addressing", wrong)[0], 422)

    def test_what_a_used_device_entails_stands_in_the_kit_and_at_the_bench(self) -> None:
        key = self.bring(document([device(1, used=True)]))
        row = self.call("GET", f"/sites/{key}/kit")[1]["devices"][0]
        self.assertEqual(len(row["used_steps"]), 3)
        current = self.call("GET", f"/sites/{key}/bench")[1]["current"]
        self.assertIn("Bought used. Reset it to factory settings first", current["expect"])
        self.assertEqual(current["contact"]["way"], "at its factory address")
        self.assertEqual([item["laptop"] for item in current["contact"]["commands"]], ["windows", "macos", "linux"])

    def test_a_site_file_with_a_survey_comes_back_the_same(self) -> None:
        raw = demo()
        raw["survey"]["none"] = ["survey.alarms_watched_by"]
        raw["policy"]["addressing"] = "reserved"
        key = self.bring(raw)
        self.assertEqual(self.call("GET", f"/sites/{key}/file")[1], raw)


class Health(TestCase):
    def test_it_says_whether_the_database_answers(self) -> None:
        self.assertEqual((self.client.get("/health").status_code, self.client.get("/health").content), (200, b"well\n"))
        with mock.patch("tutelar.server.urls.connection.cursor", side_effect=DatabaseError("disk I/O error")):
            answer = self.client.get("/health")
        self.assertEqual((answer.status_code, "disk I/O error" in answer.content.decode()), (503, True))


class Passwords(TestCase):
    def test_an_account_is_kept_with_argon2(self) -> None:
        with override_settings(PASSWORD_HASHERS=["django.contrib.auth.hashers.Argon2PasswordHasher"]):
            user = User.objects.create_superuser("tove", password="grey-heron-42")
            self.assertTrue(user.password.startswith("argon2$argon2id$"))
            body = {"username": "tove", "password": "grey-heron-42"}
            answer = self.client.post("/api/session", body, content_type="application/json")
            self.assertEqual(answer.status_code, 200, answer.content)
