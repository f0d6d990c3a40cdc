"""Accounts by real requests: the first one, one's own password, signing out everywhere."""

import json
import tempfile
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.test import Client, TestCase, override_settings

from tutelar.server.accounts.services import first_token

GOOD = "Fen-Lantern-27-quay"


def sent(client: Client, method: str, path: str, body: dict[str, Any] | None = None) -> tuple[int, Any]:
    answer = client.generic(method, f"/api/session{path}", json.dumps(body or {}), "application/json")
    return answer.status_code, answer.json()


class First(TestCase):
    def setUp(self) -> None:
        folder = self.enterContext(tempfile.TemporaryDirectory())
        self.enterContext(override_settings(DATA_DIR=Path(folder)))

    def test_whoever_has_the_servers_word_makes_the_one_first_account(self) -> None:
        client, token = Client(), first_token()
        self.assertEqual(first_token(), token)
        self.assertEqual(sent(client, "GET", "")[1], {"user": None, "first": True})
        asked = {"token": token, "username": " Ines  Varga ", "password": GOOD}
        for wrong, status in (
            ({"token": "guessed"}, 403),
            ({"username": "  "}, 422),
            ({"password": "short"}, 422),
            ({"password": "password123"}, 422),
        ):
            self.assertEqual(sent(client, "POST", "/first", {**asked, **wrong})[0], status, wrong)
        self.assertEqual(User.objects.count(), 0)
        status, said = sent(client, "POST", "/first", asked)
        self.assertEqual((status, said["user"]), (200, "Ines Varga"))
        self.assertEqual(sent(client, "GET", "")[1], {"user": "Ines Varga", "first": False})
        self.assertEqual(sent(Client(), "POST", "/first", asked)[0], 409)
        self.assertIsNone(first_token())


class Own(TestCase):
    def setUp(self) -> None:
        self.user = User.objects.create_user("ines", password=GOOD)
        self.here, self.there = Client(), Client()
        for client in (self.here, self.there):
            self.assertEqual(sent(client, "POST", "", {"username": "ines", "password": GOOD})[0], 200)

    def who(self, client: Client) -> Any:
        return sent(client, "GET", "")[1]["user"]

    def test_a_changed_password_ends_every_other_session(self) -> None:
        fresh = "Rain-Hood-31-pier"
        change = {"old_password": GOOD, "password": fresh}
        for wrong in ({"old_password": "no"}, {"password": "short"}, {"password": GOOD}):
            self.assertEqual(sent(self.here, "PUT", "/password", {**change, **wrong})[0], 422, wrong)
        self.assertEqual(sent(self.here, "PUT", "/password", change)[0], 200)
        self.assertEqual((self.who(self.here), self.who(self.there)), ("ines", None))
        self.assertEqual(sent(Client(), "POST", "", {"username": "ines", "password": GOOD})[0], 401)
        self.assertEqual(sent(Client(), "PUT", "/password", change)[0], 401)

    def test_signing_out_everywhere_leaves_nobody_elses_session_alone(self) -> None:
        User.objects.create_user("tomas", password=GOOD)
        other = Client()
        sent(other, "POST", "", {"username": "tomas", "password": GOOD})
        self.assertEqual(sent(self.here, "DELETE", "/everywhere")[0], 200)
        self.assertEqual((self.who(self.here), self.who(self.there), self.who(other)), (None, None, "tomas"))
