"""What the stages are given to show: states, reasons, counts and the words people search by."""

from typing import Any

from django.test import Client, override_settings

from tests.samples import demo, device, document
from tests.server.test_api import NOW, ApiCase


class Sheets(ApiCase):
    def sheet(self, key: str, stage: str) -> Any:
        status, found = self.call("GET", f"/sites/{key}/{stage}")
        self.assertEqual(status, 200, found)
        return found

    def test_the_frame_counts_and_points_to_the_next_thing(self) -> None:
        key = self.bring(demo())
        frame, job = self.call("GET", f"/sites/{key}")[1], self.call("GET", f"/sites/{key}/job")[1]
        self.assertEqual(
            (job["next"]["stage"], job["next"]["sentence"], job["next"]["act"]),
            ("addresses", "Give 39 devices the planned address.", "plan"),
        )
        self.assertEqual(
            [row["stage"] for row in job["stages"]],
            ["survey", "kit", "addresses", "settings", "bench", "links", "recording", "doors", "proof", "handover"],
        )
        self.assertEqual(job["laptop"], {"fixed": False, "address": None, "prefix": None, "back": []})
        found = next(row for row in frame["devices"] if row["key"] == "cam-19")
        self.assertEqual((found["network"], found["address"]), ("rec-1", "172.27.16.11"))
        listed = self.call("GET", "/sites")[1]
        self.assertEqual([(row["key"], row["devices"], row["proven"]) for row in listed], [("brackwater", 39, 0)])

    def test_the_address_sheet_names_what_stands_on_the_ground(self) -> None:
        sheet = self.sheet(self.bring(demo()), "addresses")
        security = sheet["networks"][0]
        self.assertEqual(
            [(span["kind"], span["first"], span["last"]) for span in security["spans"]],
            [
                ("edge", "10.62.8.0", "10.62.8.0"),
                ("edge", "10.62.8.255", "10.62.8.255"),
                ("gateway", "10.62.8.1", "10.62.8.1"),
                ("pool", "10.62.8.150", "10.62.8.199"),
                ("kept", "10.62.8.2", "10.62.8.9"),
            ],
        )
        self.assertEqual((security["usable"], security["free"], security["wanted"]), (254, 195, 36))
        self.assertEqual([network["key"] for network in sheet["networks"]], ["security", "office", "rec-1"])
        self.assertEqual(sheet["unplanned"], 39)

    def test_a_clash_is_a_state_and_brings_its_fix(self) -> None:
        key = self.bring(document([device(1, address="10.20.30.120"), device(2, address="10.20.30.50")]))
        sheet = self.sheet(key, "addresses")
        states = {row["key"]: row["state"] for row in sheet["networks"][0]["devices"]}
        self.assertEqual(states, {"d-1": "clash", "d-2": "planned"})
        move = sheet["problems"][0]["move"]
        self.assertEqual(move["device"], "d-1")
        path = f"/sites/{key}/devices/d-1"
        self.assertEqual(self.call("PATCH", path, {"revision": 1, "address": move["address"]})[0], 200)
        self.assertEqual(self.sheet(key, "addresses")["problems"], [])

    def test_the_kit_says_which_labels_are_unread(self) -> None:
        kit = self.sheet(self.bring(document([device(1), device(2, serial=None), device(3, mac=None)])), "kit")
        self.assertEqual(kit["unread"], ["d-2", "d-3"])
        self.assertEqual(kit["networks"], [{"key": "lan", "label": "Halls"}])
        self.assertEqual(kit["next_keys"]["camera"], "cam-01")

    @override_settings(TASKS=NOW)
    def test_the_proof_sheet_knows_never_asked_from_not_answered(self) -> None:
        key = self.bring(document([device(1, address="10.20.30.50"), device(2)]))
        before = self.sheet(key, "proof")
        self.assertEqual({cell["state"] for cell in before["cells"]}, {"planned"})
        self.assertIsNone(before["last"])
        self.call("POST", f"/sites/{key}/proofs", {"only": ["d-1"]})
        states = {(cell["device"], cell["state"]) for cell in self.sheet(key, "proof")["cells"]}
        self.assertEqual(states, {("d-1", "proven"), ("d-2", "planned")})
        self.call("POST", f"/sites/{key}/proofs", {})
        states = {(cell["device"], cell["state"]) for cell in self.sheet(key, "proof")["cells"]}
        self.assertEqual(states, {("d-1", "proven"), ("d-2", "not-measured")})

    def test_the_log_is_searched_by_every_word(self) -> None:
        key = self.bring(document([device(1, name="Pier gate")]))
        self.call("PATCH", f"/sites/{key}/devices/d-1", {"revision": 1, "name": "Pier door"})
        for search, hits in (
            ("pier", 2),
            ("pier door", 2),
            ("pier gate ines name", 1),
            ("door d-1 changed", 1),
            ("pier roof", 0),
            ("", 2),
        ):
            self.assertEqual(len(self.call("GET", f"/sites/{key}/events?search={search}")[1]), hits, search)


class Doors(ApiCase):
    def test_writes_need_the_token_of_the_page(self) -> None:
        key = self.bring(document())
        strict = Client(enforce_csrf_checks=True)
        strict.force_login(self.user, backend="django.contrib.auth.backends.ModelBackend")
        path = f"/api/sites/{key}/plan"
        refused = strict.post(path, {"revision": 1}, content_type="application/json")
        self.assertEqual(refused.status_code, 403)
        token = strict.get("/api/session").cookies["csrftoken"].value
        done = strict.post(path, {"revision": 1}, content_type="application/json", headers={"X-CSRFToken": token})
        self.assertEqual(done.status_code, 200)

    def test_signing_in_and_out(self) -> None:
        self.client.logout()
        self.assertEqual(self.call("GET", "/session")[1]["user"], None)
        right = {"username": "ines", "password": "grey-heron-42"}
        self.assertEqual(self.call("POST", "/session", right)[1]["user"], "ines")
        self.assertEqual(self.call("GET", "/session")[1]["role"], "owner")
        self.assertEqual(self.call("DELETE", "/session")[1]["user"], None)
        self.assertEqual(self.call("DELETE", "/session")[0], 401)
        self.assertEqual(self.call("POST", "/session", {"username": "ines"})[0], 422)

    def test_every_answer_forbids_foreign_scripts_and_frames(self) -> None:
        for path in ("/", "/api/session", "/sites/none"):
            answer = self.client.get(path)
            self.assertIn("default-src 'self'", answer.headers["Content-Security-Policy"])
            self.assertEqual(answer.headers["X-Frame-Options"], "DENY")

    def test_unreadable_bodies_are_refused_in_words(self) -> None:
        key = self.bring(document())
        for body in ("{", "[]", '{"revision": "two"}', '{"revision": 1, "more": 2}', ""):
            status, said = self.call("POST", f"/sites/{key}/bench/x", body)
            self.assertIn(status, (400, 422), body)
            self.assertTrue(said["message"].endswith("."), said)
