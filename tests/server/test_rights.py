"""Who may do what: operation by operation from the API's own description, and the sites that somebody sees."""

import json
import re
import tempfile
from datetime import timedelta
from functools import cache
from io import StringIO
from pathlib import Path
from typing import Any
from unittest import mock

from django.contrib.auth.models import User
from django.core.management import CommandError, call_command
from django.test import Client, TestCase, override_settings
from django.utils import timezone

from tests import LONG
from tests.samples import demo, device, document
from tutelar.server import models
from tutelar.server.api import api
from tutelar.server.rights import NOBODY, RIGHTS, ROLES, Right, rights_of

OPEN = {"session", "sign_in", "make_first_account", "invited", "accept_invitation"}  # for whoever has no account yet
BY_NAME = {type(right).__name__: right for right in (*RIGHTS, NOBODY)}


def person(name: str, role: str, *keys: str, every: bool = False) -> Client:
    """Return the browser of somebody who is signed in."""
    user = User.objects.create_user(name, password="grey-heron-42")
    standing = models.Person.objects.create(user=user, role=role, every_site=every)
    standing.sites.set(models.Site.objects.filter(key__in=keys))
    client = Client()
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    return client


def ask(client: Client, method: str, path: str, body: Any = None) -> tuple[int, Any]:
    text = "" if body is None else json.dumps(body)
    answer = client.generic(method.upper(), f"/api{path}", text, content_type="application/json")
    is_json = "json" in answer.get("Content-Type", "")
    return answer.status_code, json.loads(answer.content) if is_json and answer.content else None


@cache
def operations() -> list[tuple[str, str, str, Right | None]]:
    """Return the method, path, name and right of every operation that the description tells of."""
    found = []
    for path, methods in api.get_openapi_schema()["paths"].items():
        for method, told in methods.items():
            named = [name for entry in told.get("security", []) for name in entry]
            right = BY_NAME.get(named[0]) if named else None
            found.append((method, path.removeprefix("/api"), told["operationId"], right))
    return found


def at_site(path: str, site: str) -> str:
    path = re.sub(r"^(/sites|/people)/\{(key|name)\}", rf"\1/{site}", path)
    return re.sub(r"\{(\w+)\}", lambda found: "1" if found[1] in ("number", "step") else "nothing", path)


class Operations(TestCase):
    def setUp(self) -> None:
        owner, raw = person("olga", "owner", every=True), demo()
        raw["site"]["practice"] = False
        self.assertEqual(ask(owner, "post", "/sites", raw)[0], 201)
        self.key = models.Site.objects.get().key

    def test_every_operation_names_its_right(self) -> None:
        for method, path, name, right in operations():
            self.assertEqual(right is None, name in OPEN, f"{method} {path} names no right, or is open to nobody")
            self.assertIsNot(right, NOBODY)

    def test_nobody_does_what_his_role_has_no_right_to_nor_anything_at_a_site_that_is_not_his(self) -> None:
        clients = {role: person(role, role, self.key) for role in ROLES}
        stranger = {role: person(f"strange-{role}", role) for role in ("lead", "technician", "trainee")}
        before = (models.Event.objects.count(), models.Site.objects.get().revision)
        refused = 0
        for number, (method, path, name, right) in enumerate(operations()):
            if right is None:
                continue
            here = at_site(path, self.key)
            self.assertEqual(ask(Client(), method, here)[0], 401, name)
            for role in set(ROLES) - set(right.roles) - {"trainee"}:
                status, said = ask(clients[role], method, here)
                self.assertEqual(status, 403, (role, name))
                self.assertTrue(said["message"].endswith("."), said)
                refused += 1
            if path.startswith("/sites/{key}"):
                others = [*stranger.items(), ("trainee", clients["trainee"])]
                for role, client in others if LONG else [others[number % len(others)]]:
                    status, said = ask(client, method, here)
                    self.assertEqual(
                        (status, said["message"]), (404, f"There is no site '{self.key}' among yours."), (role, name)
                    )
        self.assertGreater(refused, 100)
        self.assertEqual((models.Event.objects.count(), models.Site.objects.get().revision), before)

    def test_the_roles_have_the_rights_that_are_told_of_them(self) -> None:
        self.assertEqual(rights_of("owner"), [right.name for right in RIGHTS])
        self.assertEqual(set(rights_of("owner")) - set(rights_of("lead")), {"people"})
        self.assertEqual(rights_of("technician"), ["oneself", "see", "work", "reveal"])
        self.assertEqual(rights_of("support"), ["oneself", "see", "reveal"])
        self.assertEqual(rights_of(""), ["oneself"])


class Sites(TestCase):
    def setUp(self) -> None:
        self.owner = person("olga", "owner", every=True)
        for number in (1, 2, 3):
            raw = document([device(1)])
            raw["site"] |= {"key": f"s-{number}", "name": f"Site {number}", "practice": number == 3}
            self.assertEqual(ask(self.owner, "post", "/sites", raw)[0], 201)

    def seen(self, client: Client) -> list[str]:
        return [row["key"] for row in ask(client, "get", "/sites")[1]]

    def test_everybody_sees_his_sites_only_in_lists_searches_and_streams(self) -> None:
        self.assertEqual(self.seen(person("ines", "technician", "s-2")), ["s-2"])
        self.assertEqual(self.seen(person("mara", "technician", every=True)), ["s-1", "s-2", "s-3"])
        self.assertEqual(self.seen(person("odile", "support")), ["s-1", "s-2", "s-3"])
        self.assertEqual(self.seen(person("nils", "trainee", "s-1", every=True)), ["s-3"])
        ines = Client()
        ines.force_login(User.objects.get(username="ines"), backend="django.contrib.auth.backends.ModelBackend")
        found = ask(ines, "get", "/find?search=device")[1]
        self.assertEqual({row["site"] for row in found["devices"]}, {"s-2"})
        lines = ask(ines, "get", "/log?search=imported")[1]["lines"]
        self.assertEqual({row["site"] for row in lines}, {"s-2"})
        self.assertEqual(ask(ines, "get", "/sites/s-1/bench/events")[0], 404)
        self.assertEqual(ask(Client(), "get", "/sites/s-1/bench/events")[0], 401)

    def test_what_a_role_does_is_written_with_its_right_and_what_one_brings_in_is_ones_own(self) -> None:
        lead = person("lena", "lead", "s-1")
        raw = document([device(1)])
        raw["site"] |= {"key": "mine", "name": "Mine"}
        self.assertEqual(ask(lead, "post", "/sites", raw)[0], 201)
        self.assertEqual(self.seen(lead), ["mine", "s-1"])
        self.assertEqual(models.Event.objects.filter(site_key="mine", kind="site.imported").get().right, "lead")
        technician = person("tomas", "technician", "s-1")
        self.assertEqual(ask(technician, "post", "/sites/s-1/practice")[0], 201)
        self.assertIn("s-1-practice", self.seen(technician))
        status, said = ask(technician, "put", "/sites/s-1/sign-off", {"for_whom": "The harbour"})
        self.assertEqual(status, 403)
        self.assertEqual(
            said["message"], "To decide this for the site, ask an owner or a lead; your account is a technician's."
        )
        trainee = person("nils", "trainee")
        body = {"device": "d-1", "text": "Front glass is clean."}
        self.assertNotIn(ask(trainee, "post", "/sites/s-3/log", body)[0], (401, 403, 404))
        self.assertEqual(ask(trainee, "post", "/sites/s-1/log", body)[0], 404)


class Secrets(TestCase):
    def setUp(self) -> None:
        self.owner = person("olga", "owner", every=True)
        raw = document([device(number) for number in range(1, 15)])
        self.assertEqual(ask(self.owner, "post", "/sites", raw)[0], 201)
        self.key = models.Site.objects.get().key
        for number in range(1, 15):
            made = ask(self.owner, "post", f"/sites/{self.key}/secrets/make", {"device": f"d-{number}"})
            self.assertEqual(made[0], 200, made)

    def look(self, client: Client, number: int, reason: str | None = None) -> int:
        path = f"/sites/{self.key}/devices/d-{number}/secrets/administrator/reveal"
        return ask(client, "post", path, None if reason is None else {"reason": reason})[0]

    def test_a_person_has_only_so_many_devices_in_hand(self) -> None:
        ines = person("ines", "technician", self.key)
        self.assertEqual([self.look(ines, number) for number in range(1, 13)], [200] * 12)
        self.assertEqual((self.look(ines, 13), self.look(ines, 1)), (429, 200))
        self.assertEqual(models.Event.objects.filter(kind="secret.revealed", by="ines").count(), 13)
        self.assertEqual([self.look(self.owner, number) for number in range(1, 15)], [200] * 14)

    def test_support_gives_a_reason_that_stands_in_the_log(self) -> None:
        odile = person("odile", "support")
        self.assertEqual((self.look(odile, 1), self.look(odile, 1, "  ")), (422, 422))
        self.assertEqual(self.look(odile, 1, "Customer on the phone, case 12"), 200)
        line = models.Event.objects.filter(kind="secret.revealed").get()
        self.assertIn("Customer on the phone, case 12", line.sentence)
        self.assertEqual((line.by, line.right), ("odile", "support"))


class Invitations(TestCase):
    def setUp(self) -> None:
        self.owner = person("olga", "owner", every=True)
        self.assertEqual(ask(self.owner, "post", "/sites", document([device(1)]))[0], 201)
        self.key = models.Site.objects.get().key

    def invite(self, **more: Any) -> str:
        body = {"role": "technician", "sites": [self.key], **more}
        status, said = ask(self.owner, "post", "/people/invitations", body)
        self.assertEqual(status, 201, said)
        return str(said["link"]).split("invite=")[1]

    def test_a_link_makes_one_account_and_ends(self) -> None:
        word = self.invite(note="Tomas")
        self.assertNotIn(word, json.dumps(list(models.Invitation.objects.values("hashed", "note"))))
        self.assertEqual(
            ask(Client(), "post", "/session/invited", {"token": word})[1], {"role": "technician", "user": None}
        )
        come = {"token": word, "username": " Tomas  Lind ", "password": "Fen-Lantern-27"}
        for wrong, status in (({"password": "short"}, 422), ({"username": "OLGA"}, 422), ({"token": "guessed"}, 404)):
            self.assertEqual(ask(Client(), "post", "/session/accepted", come | wrong)[0], status, wrong)
        client = Client()
        status, said = ask(client, "post", "/session/accepted", come)
        self.assertEqual((status, said["user"], said["role"]), (200, "Tomas Lind", "technician"))
        self.assertEqual([row["key"] for row in ask(client, "get", "/sites")[1]], [self.key])
        self.assertEqual(ask(Client(), "post", "/session/accepted", come)[0], 404)
        found = ask(self.owner, "get", "/log?search=Tomas")[1]["lines"]
        self.assertEqual(len(found), 2, "the invitation and the coming stand in the log of the firm")

    def test_a_link_that_ended_or_was_withdrawn_opens_nothing(self) -> None:
        late, gone = self.invite(), self.invite()
        first, second = models.Invitation.objects.order_by("pk")
        models.Invitation.objects.filter(pk=first.pk).update(until=timezone.now() - timedelta(seconds=1))
        self.assertEqual(ask(self.owner, "delete", f"/people/invitations/{second.pk}")[0], 200)
        for word in (late, gone):
            self.assertEqual(ask(Client(), "post", "/session/invited", {"token": word})[0], 404)
        for wrong in ({"role": "king"}, {"sites": ["nowhere"]}, {"days": 0}, {"days": 1000}):
            self.assertEqual(ask(self.owner, "post", "/people/invitations", {"role": "lead", **wrong})[0], 422, wrong)

    def test_somebody_is_left_who_owns_it_and_who_is_shut_out_is_out_at_once(self) -> None:
        tomas = person("tomas", "technician", self.key)
        standing = {"role": "lead", "every_site": True, "sites": [], "active": True}
        for wrong in (standing, standing | {"role": "owner", "active": False}):
            self.assertEqual(ask(self.owner, "put", "/people/olga", wrong)[0], 409)
        self.assertEqual(ask(self.owner, "put", "/people/nobody", standing)[0], 404)
        self.assertEqual(ask(self.owner, "put", "/people/tomas", standing | {"active": False})[0], 200)
        self.assertEqual(ask(tomas, "get", "/sites")[0], 401)
        self.assertEqual(ask(Client(), "post", "/session", {"username": "tomas", "password": "grey-heron-42"})[0], 401)
        self.assertEqual(ask(self.owner, "put", "/people/tomas", standing | {"role": "owner"})[0], 200)
        self.assertEqual(ask(self.owner, "put", "/people/olga", standing)[0], 200)
        roles = dict(models.Person.objects.values_list("user__username", "role"))
        self.assertEqual(roles, {"olga": "lead", "tomas": "owner"})

    def test_a_new_password_by_link_ends_the_old_sessions(self) -> None:
        tomas = person("tomas", "technician", self.key)
        status, said = ask(self.owner, "post", "/people/tomas/password")
        self.assertEqual(status, 201)
        word = said["link"].split("invite=")[1]
        body = {"token": word, "username": "", "password": "Rain-Hood-31-pier"}
        self.assertEqual(ask(Client(), "post", "/session/accepted", body)[1]["user"], "tomas")
        self.assertEqual(ask(tomas, "get", "/sites")[0], 401)
        self.assertEqual(User.objects.count(), 2)


class Keys(TestCase):
    def change(self, *names: str, passwords: tuple[str, ...] = ()) -> str:
        out = StringIO()
        with mock.patch("getpass.getpass", side_effect=passwords):
            call_command("change_key", "key-file", *names, stdout=out)
        return out.getvalue()

    def test_a_key_is_changed_by_an_owner_with_a_second_person(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(override_settings(VAULT_KEY_FILE=folder / "key"))
        self.enterContext(mock.patch("tutelar.server.store.engine.write_anew"))
        person("olga", "owner", every=True)
        self.assertIn("0 secrets sealed again", self.change("--by=olga", passwords=("grey-heron-42",)))
        person("lena", "lead")
        person("tomas", "technician")
        for names, passwords, said in (
            ((), (), "Name the owner"),
            (("--by=lena", "--with=olga"), (), "Name the owner"),
            (("--by=olga",), (), "one of lena"),
            (("--by=olga", "--with=olga"), (), "one of lena"),
            (("--by=olga", "--with=tomas"), (), "one of lena"),
            (("--by=olga", "--with=lena"), ("grey-heron-42", "guessed"), "not the password of lena"),
        ):
            with self.assertRaisesRegex(CommandError, said):
                self.change(*names, passwords=passwords)
        before = (folder / "key").read_text()
        self.change("--by=olga", "--with=lena", passwords=("grey-heron-42", "grey-heron-42"))
        self.assertNotEqual((folder / "key").read_text(), before)
        lines = models.Event.objects.filter(kind="key.changed").order_by("pk").values_list("sentence", flat=True)
        self.assertEqual(
            [line.split(":")[0].rstrip(".") for line in lines],
            ["The key was changed by olga alone", "The key was changed by olga with lena"],
        )
