"""Accounts by real requests: the first one, one's own password, signing out everywhere."""

import json
import tempfile
import time
from base64 import b32decode
from datetime import timedelta
from pathlib import Path
from typing import Any
from unittest import mock

from axes.models import AccessAttempt
from cryptography.fernet import Fernet
from cryptography.hazmat.primitives.hashes import SHA1
from cryptography.hazmat.primitives.twofactor.totp import TOTP
from django.contrib.auth.models import User
from django.test import Client, TestCase, override_settings
from django.utils import timezone

from tutelar.server import models
from tutelar.server.accounts.services import first_token
from tutelar.server.secrets import sealing
from tutelar.server.vault import Vault

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
        said = sent(client, "GET", "")[1]
        self.assertEqual((said["user"], said["first"], said["rights"]), (None, True, []))
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
        said = sent(client, "GET", "")[1]
        self.assertEqual((said["user"], said["first"], said["role"]), ("Ines Varga", False, "owner"))
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


class SecondFactor(TestCase):
    def setUp(self) -> None:
        self.user = User.objects.create_user("ines", password=GOOD)
        self.client = Client()
        self.login = {"username": "ines", "password": GOOD}
        self.assertEqual(sent(self.client, "POST", "", self.login)[0], 200)

    def begun(self) -> TOTP:
        status, said = sent(self.client, "POST", "/second", {"password": "of somebody at an open browser"})
        self.assertEqual((status, said["message"]), (422, "That is not your password."))
        status, said = sent(self.client, "POST", "/second", {"password": GOOD})
        self.assertEqual(status, 201)
        self.assertIn(said["secret"], said["uri"])
        self.assertIn("<svg", said["svg"])
        return TOTP(b32decode(said["secret"]), 6, SHA1(), 30)

    def test_a_code_is_asked_for_once_it_was_confirmed_and_is_taken_once(self) -> None:
        app = self.begun()
        self.assertEqual(sent(Client(), "POST", "", self.login)[0], 200, "it counts once it is confirmed")
        self.assertEqual(sent(self.client, "PUT", "/second", {"code": "12"})[0], 422)
        code = app.generate(time.time()).decode()
        status, said = sent(self.client, "PUT", "/second", {"code": code})
        self.assertEqual((status, len(said["codes"])), (200, 10))
        self.assertEqual(sent(self.client, "POST", "/second", {"password": GOOD})[0], 409)
        status, asked = sent(Client(), "POST", "", self.login)
        self.assertEqual((status, asked["faults"]), (401, [{"path": "code", "message": "asked"}]))
        self.assertEqual(sent(Client(), "POST", "", self.login | {"code": code})[0], 401, "it was taken already")
        later = app.generate(time.time() + 30).decode()
        status, said = sent(Client(), "POST", "", self.login | {"code": f"{later[:3]} {later[3:]}"})
        self.assertEqual((status, said["second"]), (200, True))
        self.assertEqual(sent(Client(), "POST", "", self.login | {"code": later})[0], 401)

    def test_a_recovery_code_opens_once_and_a_password_switches_it_off(self) -> None:
        app = self.begun()
        codes = sent(self.client, "PUT", "/second", {"code": app.generate(time.time()).decode()})[1]["codes"]
        for status in (200, 401):
            self.assertEqual(sent(Client(), "POST", "", self.login | {"code": codes[3].upper()})[0], status)
        kept = models.SecondFactor.objects.get()
        self.assertNotIn(codes[0], str(kept.recovery))
        self.assertEqual(sent(self.client, "DELETE", "/second", {"password": "no"})[0], 422)
        self.assertEqual(sent(self.client, "DELETE", "/second", {"password": GOOD})[1]["second"], False)
        self.assertEqual(sent(Client(), "POST", "", self.login)[0], 200)

    def test_another_vault_key_keeps_it(self) -> None:
        app = self.begun()
        sent(self.client, "PUT", "/second", {"code": app.generate(time.time()).decode()})
        fresh = Vault([Fernet.generate_key()])
        with mock.patch("tutelar.server.store.engine.write_anew"):
            sealing.seal_anew(lambda _salt: fresh)
        with mock.patch.object(sealing, "opened", return_value=fresh):
            code = app.generate(time.time() + 30).decode()
            self.assertEqual(sent(Client(), "POST", "", self.login | {"code": code})[0], 200)

    def test_wrong_codes_shut_the_name_for_a_minute_as_wrong_passwords_do(self) -> None:
        app = self.begun()
        sent(self.client, "PUT", "/second", {"code": app.generate(time.time()).decode()})
        tried = [sent(Client(), "POST", "", self.login | {"code": "000000"})[0] for _ in range(10)]
        self.assertEqual((tried[0], tried[-1]), (401, 429))


class Throttle(TestCase):
    def test_one_password_tried_at_many_names_waits_and_nobody_waits_for_long(self) -> None:
        User.objects.create_user("ines", password=GOOD)
        tried = [sent(Client(), "POST", "", {"username": f"n-{n}", "password": "Fen-Lantern"}) for n in range(30)]
        self.assertEqual([status for status, _ in tried], [401] * 20 + [429] * 10)
        self.assertRegex(tried[-1][1]["message"], r"wait \d+ seconds?, then")
        right = {"username": "ines", "password": GOOD}
        self.assertEqual(sent(Client(), "POST", "", right)[0], 429)
        AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(seconds=20))
        self.assertEqual(sent(Client(), "POST", "", right)[0], 200)
