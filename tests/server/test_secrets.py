"""Secrets by real requests: what is kept, who may see it and when, and that nobody finds one who searches every byte."""

import json
import logging
import sys
import tempfile
from io import StringIO
from pathlib import Path
from typing import Any
from unittest import mock

from django.core.management import CommandError, call_command
from django.core.signals import got_request_exception
from django.db import connection
from django.test import override_settings
from django.views.debug import ExceptionReporter

from tests.samples import demo, device, document
from tests.server.test_api import ApiCase
from tutelar.server import models

PLANTED = ("Vole-77-marsh", "Otter-31-creek", "Heron-58-weir", "491736", "sorrel@customer.example")
LINKS = [
    {"kind": "records", "from": "d-1", "to": "d-9", "slot": 1},
    {"kind": "records", "from": "d-2", "to": "d-9", "slot": 2},
]


class SecretCase(ApiCase):
    def setUp(self) -> None:
        super().setUp()
        folder = self.enterContext(tempfile.TemporaryDirectory())
        self.file = Path(folder) / "vault-key"
        self.enterContext(override_settings(VAULT_KEY_FILE=self.file, VAULT_PASSPHRASE=""))

    def two_cameras(self, **more: Any) -> str:
        rows = [device(1), device(2), device(9, "larkmoor-rec-8", name="Recorder")]
        return self.bring(document(rows, links=LINKS, **more))

    def put(self, key: str, where: str, secret: str | None, version: int = 0) -> tuple[int, Any]:
        said = {} if secret is None else {"secret": secret}
        return self.call("PUT", f"/sites/{key}/devices/{where}", {"version": version} | said)

    def shown(self, key: str, where: str) -> str:
        status, said = self.call("POST", f"/sites/{key}/devices/{where}/reveal")
        self.assertEqual(status, 200, said)
        return str(said["secret"])

    def tellings(self, key: str) -> list[dict[str, Any]]:
        return self.call("GET", f"/sites/{key}/secrets")[1]["tellings"]  # type: ignore[no-any-return]


class Kept(SecretCase):
    def test_a_secret_is_kept_and_every_look_at_it_is_logged(self) -> None:
        key = self.two_cameras()
        self.assertEqual(self.put(key, "d-1/secrets/administrator", PLANTED[0])[0], 204)
        self.assertEqual(self.shown(key, "d-1/secrets/administrator"), PLANTED[0])
        events = self.call("GET", f"/sites/{key}/events?search=administrator")[1]
        self.assertEqual([event["kind"] for event in events], ["secret.revealed", "secret.set"])
        self.assertEqual({event["by"] for event in events}, {"ines"})
        row = self.call("GET", f"/sites/{key}/secrets")[1]["devices"][0]["slots"][0]
        self.assertEqual((row["slot"], row["version"], row["by"]), ("administrator", 1, "ines"))
        self.assertEqual(self.put(key, "d-1/secrets/administrator", PLANTED[1])[0], 409)  # based on nothing
        self.assertEqual(self.call("POST", f"/sites/{key}/devices/d-2/secrets/administrator/reveal")[0], 404)
        self.assertEqual(self.put(key, "d-1/secrets/operator", PLANTED[1])[0], 404)  # a camera has no such slot

    def test_made_ones_fit_and_wrong_ones_are_refused_without_quoting_them(self) -> None:
        key = self.bring(demo())
        for where in (
            "cam-03/secrets/administrator",
            "cam-12/secrets/login",
            "gate-1/secrets/registration",
            "gate-1/secrets/relay-code",
        ):
            self.assertEqual(self.put(key, where, None)[0], 204, where)
            judged = self.call("POST", f"/sites/{key}/devices/{where}/check", {"secret": self.shown(key, where)})[1]
            self.assertEqual(judged["fails"], [], where)
        presses = self.call("POST", f"/sites/{key}/devices/cam-12/secrets/login/reveal")[1]["presses"]
        self.assertTrue(presses)  # the desk steers this one: how it is typed there
        for where, secret in (
            ("hub-1/secrets/administrator", "Vole-77"),
            ("cam-01/secrets/administrator", "vole"),
            ("gate-1/secrets/relay-code", "12"),
            ("cam-01/secrets/recovery", "nobody at home"),
            ("cam-01/secrets/recovery", None),
        ):
            status, said = self.put(key, where, secret, 1 if where.startswith("gate") else 0)
            self.assertEqual(status, 422, where)
            self.assertNotIn(secret or "None", json.dumps(said))
        weak = self.call("POST", f"/sites/{key}/devices/cam-01/secrets/login/check", {"secret": "Ticketh1"})[1]
        strong = self.call("POST", f"/sites/{key}/devices/cam-01/secrets/login/check", {"secret": "v7Kp-xTe9.mq"})[1]
        self.assertLess(weak["score"], strong["score"])

    def test_one_that_is_soon_guessed_is_kept_with_a_reason_only(self) -> None:
        key = self.two_cameras()
        for reason, status in (
            ("", 422),
            ("  ", 422),
            ("it is welcome12! as ever", 422),
            ("the customer insists", 204),
        ):
            body = {"version": 0, "secret": "Welcome12!", "reason": reason}
            said = self.call("PUT", f"/sites/{key}/devices/d-1/secrets/administrator", body)
            self.assertEqual(said[0], status, said)
            self.assertNotIn("Welcome12!", json.dumps(said[1]))
        self.assertTrue(
            self.call("POST", f"/sites/{key}/devices/d-2/secrets/administrator/check", {"secret": "Camera-1"})[1][
                "weak"
            ]
        )
        rows = {row["key"]: row for row in self.call("GET", f"/sites/{key}/secrets")[1]["devices"]}
        self.assertEqual(rows["d-1"]["slots"][0]["weak"], "the customer insists")
        self.assertIn("the customer insists", self.call("GET", f"/sites/{key}/events?search=insists")[1][0]["sentence"])

    def test_every_missing_one_is_made_at_once_and_what_is_kept_stays(self) -> None:
        key = self.two_cameras()
        self.put(key, "d-1/secrets/administrator", "Lantern-Quay-77-Gull")
        status, said = self.call("POST", f"/sites/{key}/secrets/make", {"device": None})
        self.assertEqual(status, 200)
        rows = [slot for device in self.call("GET", f"/sites/{key}/secrets")[1]["devices"] for slot in device["slots"]]
        self.assertTrue(all(slot["version"] == 1 for slot in rows if slot["makeable"]), rows)
        self.assertEqual(said["made"], sum(slot["makeable"] for slot in rows) - 1)
        self.assertEqual(self.call("POST", f"/sites/{key}/secrets/make", {"device": "d-1"})[1]["made"], 0)
        self.assertEqual(self.call("POST", f"/sites/{key}/secrets/make", {"device": "none"})[0], 404)

    def test_the_same_on_two_devices_is_noticed_where_each_has_its_own(self) -> None:
        key = self.two_cameras()
        for number in (1, 2):
            self.put(key, f"d-{number}/secrets/administrator", PLANTED[0])
        models.Secret.objects.update(alike="")  # as they were kept before equal ones were looked for
        self.put(key, "d-9/secrets/administrator", PLANTED[1])

        def same() -> list[str | None]:
            rows = self.call("GET", f"/sites/{key}/secrets")[1]["devices"]
            return [row["slots"][0]["same_as"] for row in rows]

        self.assertEqual(same(), ["Device 2", "Device 1", None])
        with mock.patch("tutelar.server.store.engine.write_anew"):
            call_command("change_key", "key-file", stdout=StringIO())
        self.assertEqual(same(), ["Device 2", "Device 1", None])
        self.put(key, "d-2/secrets/administrator", PLANTED[2], version=1)
        self.assertEqual(same(), [None, None, None])

    def test_recovery_is_left_open_with_a_reason_only_and_typed_one_ends_it(self) -> None:
        key = self.two_cameras()
        place = f"/sites/{key}/devices/d-1/secrets"
        line = next(
            item
            for group in self.call("GET", f"/sites/{key}/devices/d-1/page")[1]["groups"]
            for item in group["lines"]
            if item["secret"] and item["secret"]["slot"] == "recovery"
        )
        tick = {"subject": "d-1", "line": line["key"], "value": line["mark"], "done": True}
        status, said = self.call("POST", f"/sites/{key}/typed", tick)
        self.assertEqual((status, "say why it is left open" in said["message"]), (422, True), said)
        self.assertEqual(self.call("POST", f"{place}/administrator/open", {"reason": "none"})[0], 422)
        self.assertEqual(self.call("POST", f"{place}/recovery/open", {"reason": " "})[0], 422)
        left = {"reason": "the customer has no address for it", "everywhere": True}
        self.assertEqual(self.call("POST", f"{place}/recovery/open", left)[0], 204)
        self.assertEqual(models.OpenSlot.objects.count(), 3)
        self.assertEqual(self.call("POST", f"/sites/{key}/typed", tick)[0], 204)
        self.assertEqual(self.put(key, "d-2/secrets/recovery", PLANTED[4])[0], 204)
        rows = self.call("GET", f"/sites/{key}/secrets")[1]["devices"]
        said = {row["key"]: [slot["left_open"] for slot in row["slots"] if slot["slot"] == "recovery"] for row in rows}
        self.assertEqual(said, {"d-1": [left["reason"]], "d-2": [None], "d-9": [left["reason"]]})

    def test_an_account_with_few_rights_never_has_the_administrators_password(self) -> None:
        key = self.two_cameras()
        self.put(key, "d-1/secrets/administrator", PLANTED[0])
        status, said = self.put(key, "d-1/secrets/login", PLANTED[0])
        self.assertEqual((status, "Administrator password" in said["message"]), (422, True))
        self.assertEqual(self.put(key, "d-1/secrets/login", PLANTED[1])[0], 204)
        self.assertEqual(self.put(key, "d-1/secrets/administrator", PLANTED[1], 1)[0], 422)
        family = document(
            [device(1), device(2), device(9, "larkmoor-rec-8")], links=LINKS, policy={"passwords": "family"}
        )
        family["site"]["key"] = "family"
        key = self.bring(family)
        self.put(key, "d-2/secrets/login", PLANTED[0])
        status, said = self.put(key, "d-1/secrets/administrator", PLANTED[0])  # it would be that of d-2 as well
        self.assertEqual((status, "Device 2" in said["message"]), (422, True))

    def test_a_change_is_told_to_every_partner_until_each_is_ticked(self) -> None:
        key = self.two_cameras()
        self.put(key, "d-1/secrets/login", PLANTED[0])
        self.assertEqual(self.tellings(key), [])  # the first one is typed while linking
        self.put(key, "d-1/secrets/login", PLANTED[1], 1)
        (telling,) = self.tellings(key)
        self.assertEqual((telling["device"], telling["about"]), ("d-9", "d-1"))
        self.assertIn("records Device 1 on channel 1", telling["sentence"])
        self.put(key, "d-1/secrets/login", PLANTED[2], 2)
        (again,) = self.tellings(key)  # still one, of the newest
        self.assertEqual(self.call("POST", f"/sites/{key}/tellings", {"tellings": [telling["id"]]})[0], 404)
        self.assertEqual(self.call("POST", f"/sites/{key}/tellings", {"tellings": [again["id"]]})[0], 204)
        self.assertEqual(self.tellings(key), [])

    def test_one_a_family_is_one_secret_for_cameras_and_their_recorder(self) -> None:
        key = self.two_cameras(policy={"passwords": "family"})
        self.put(key, "d-1/secrets/administrator", None)
        first = self.shown(key, "d-9/secrets/administrator")
        self.assertEqual(first, self.shown(key, "d-2/secrets/administrator"))
        self.put(key, "d-9/secrets/administrator", PLANTED[0], 1)
        wanted = {("d-1", "d-1"), ("d-2", "d-2"), ("d-9", "d-1"), ("d-9", "d-2")}
        self.assertEqual({(item["device"], item["about"]) for item in self.tellings(key)}, wanted)
        self.assertEqual(models.Secret.objects.count(), 1)

    def test_a_tick_counts_for_the_secret_that_was_typed_and_for_no_later_one(self) -> None:
        key = self.two_cameras()

        def line() -> dict[str, Any]:
            groups = self.call("GET", f"/sites/{key}/devices/d-1/page")[1]["groups"]
            return next(item for group in groups for item in group["lines"] if item["key"] == "administrator")

        for before in (0, 1, 0):  # set, changed, and set again after it was forgotten
            if before == 0:
                self.call("DELETE", f"/sites/{key}/devices/d-1/secrets/administrator")
            self.assertEqual(self.put(key, "d-1/secrets/administrator", None, before)[0], 204)
            self.assertFalse(line()["ticked"])
            tick = {"subject": "d-1", "line": "administrator", "value": line()["mark"], "done": True}
            self.assertEqual(self.call("POST", f"/sites/{key}/typed", tick)[0], 204)
            self.assertTrue(line()["ticked"])

    def test_what_no_password_can_satisfy_is_said_and_nothing_is_made(self) -> None:
        raw = document([device(1), device(9, "larkmoor-rec-8", name="Recorder")], links=LINKS[:1])
        raw["models"][0]["password_rule"] = {"min": 10, "max": 20, "classes": 3, "symbols": "-."}
        raw["models"][1]["password_rule"] = {"min": 4, "max": 6, "digits_only": True}
        key = self.bring(raw)
        said = " ".join(item["sentence"] for item in self.call("GET", f"/sites/{key}/secrets")[1]["conflicts"])
        self.assertIn("Recorder takes digits only, Device 1 wants 3 kinds", said)
        self.assertIn("at least 10 characters, Recorder takes at most 6", said)
        self.assertEqual(self.put(key, "d-1/secrets/login", None)[0], 422)
        self.assertEqual(models.Secret.objects.count(), 0)

    def test_refused_passwords_are_counted_and_stop_before_the_lock_out(self) -> None:
        raw = document([device(1)])
        raw["models"][0]["password_rule"] = {"min": 8, "tries": 4, "lock_min": 30}
        key = self.bring(raw)
        found = []
        for taken in (False, False, False, True):
            self.assertEqual(self.call("POST", f"/sites/{key}/devices/d-1/tries", {"taken": taken})[0], 204)
            row = self.call("GET", f"/sites/{key}/devices/d-1/page")[1]["tries"]
            found.append((row["refused"], row["left"], row["stop"]))
        self.assertEqual(found, [(1, 2, False), (2, 1, False), (3, 0, True), (0, 3, False)])

    def test_removed_and_put_back_a_device_has_its_password_and_a_new_one_has_none(self) -> None:
        key = self.two_cameras()
        self.put(key, "d-2/secrets/administrator", PLANTED[0])
        revision = self.call("GET", f"/sites/{key}/kit")[1]["devices"][1]["revision"]
        remove = {"devices": [{"key": "d-2", "revision": revision}]}
        gone = self.call("POST", f"/sites/{key}/devices/remove", remove)[1]
        self.assertEqual(self.call("POST", f"/sites/{key}/devices/restore", gone)[0], 200)
        self.assertEqual(self.shown(key, "d-2/secrets/administrator"), PLANTED[0])
        self.call("POST", f"/sites/{key}/devices/remove", remove)
        fresh = {"key": "d-2", "model": "larkmoor-dome-4", "network": "lan", "serial": "S77"}
        self.assertEqual(self.call("POST", f"/sites/{key}/devices", fresh)[0], 201)
        self.assertEqual(self.call("POST", f"/sites/{key}/devices/d-2/secrets/administrator/reveal")[0], 404)

    def test_the_key_is_changed_and_the_old_one_opens_nothing(self) -> None:
        key = self.two_cameras()
        self.put(key, "d-1/secrets/administrator", PLANTED[0])
        old, sealed = self.file.read_bytes(), bytes(models.Secret.objects.get().sealed)
        with mock.patch("tutelar.server.store.engine.write_anew"):  # VACUUM cannot run inside the test's transaction
            call_command("change_key", "key-file", stdout=StringIO())
            self.assertNotEqual((self.file.read_bytes(), bytes(models.Secret.objects.get().sealed)), (old, sealed))
            self.assertEqual(self.shown(key, "d-1/secrets/administrator"), PLANTED[0])
            with mock.patch.dict("os.environ", TUTELAR_NEW_PASSPHRASE="six herons at dawn"):
                call_command("change_key", "passphrase", stdout=StringIO())
            with mock.patch.dict("os.environ", TUTELAR_NEW_PASSPHRASE="short"), self.assertRaises(CommandError):
                call_command("change_key", "passphrase")
        status, said = self.call("POST", f"/sites/{key}/devices/d-1/secrets/administrator/reveal")
        self.assertEqual((status, "TUTELAR_PASSPHRASE" in said["message"]), (503, True))
        self.assertEqual(self.put(key, "d-2/secrets/administrator", PLANTED[1])[0], 503)
        with override_settings(VAULT_PASSPHRASE="six herons at dawn"):
            self.assertEqual(self.shown(key, "d-1/secrets/administrator"), PLANTED[0])

    def test_a_sealed_value_copied_to_another_place_does_not_open(self) -> None:
        key = self.two_cameras()
        self.put(key, "d-1/secrets/administrator", PLANTED[0])
        self.put(key, "d-2/secrets/administrator", PLANTED[1])
        one, other = models.Secret.objects.order_by("pk")
        one.sealed = other.sealed
        one.save()
        status, said = self.call("POST", f"/sites/{key}/devices/d-1/secrets/administrator/reveal")
        self.assertEqual((status, "another place" in said["message"]), (503, True))


def everything() -> bytes:
    """Return the whole database: its file, or every row as text."""
    if connection.vendor == "sqlite":
        return bytes(connection.connection.serialize())
    with connection.cursor() as cursor:
        said = []
        for table in connection.introspection.table_names():
            cursor.execute(f'SELECT string_agg(rows::text, chr(10)) FROM "{table}" AS rows')
            said.append(cursor.fetchone()[0] or "")
    return "\n".join(said).encode()


class Planted(SecretCase):
    """Known secrets are planted everywhere they can be typed; then every byte that leaves the server is searched."""

    def test_no_secret_is_found_in_database_log_export_page_or_crash_report(self) -> None:
        key = self.bring(demo())
        where = (
            "cam-01/secrets/administrator",
            "cam-01/secrets/login",
            "rec-1/secrets/operator",
            "gate-1/secrets/relay-code",
            "cam-01/secrets/recovery",
        )
        seen: list[bytes] = []
        lines: list[str] = []
        handler = logging.Handler()
        handler.emit = lambda record: lines.append(handler.format(record))  # type: ignore[method-assign]
        root = logging.getLogger()
        loggers = [
            root,
            *(logging.getLogger(name) for name in ("django", "django.request", "django.db.backends", "axes")),
        ]
        for logger in loggers:
            levels = logger.level
            spread = logger.propagate
            logger.addHandler(handler)
            logger.propagate = False
            logger.setLevel(logging.DEBUG)
            self.addCleanup(logger.setLevel, levels)
            self.addCleanup(logger.removeHandler, handler)
            self.addCleanup(setattr, logger, "propagate", spread)

        def answers(method: str, path: str, body: Any = None) -> int:
            text = json.dumps(body) if body is not None else ""
            answer = self.client.generic(method, f"/api{path}", text, content_type="application/json")
            seen.append(b"".join(answer.streaming_content) if answer.streaming else answer.content)
            seen.append(str(answer.headers).encode())
            return int(answer.status_code)

        for place, secret in zip(where, PLANTED, strict=True):
            self.assertEqual(answers("PUT", f"/sites/{key}/devices/{place}", {"version": 0, "secret": secret}), 204)
            answers("PUT", f"/sites/{key}/devices/{place}", {"version": 0, "secret": secret})  # stale
            answers("PUT", f"/sites/{key}/devices/{place}", {"version": "one", "secret": [secret]})  # unreadable
            answers("PUT", f"/sites/{key}/devices/{place}", {"version": 1, "secret": f"{secret} é", "wrong": secret})
            answers("POST", f"/sites/{key}/devices/{place}/check", {"secret": secret})
            self.assertEqual(self.call("POST", f"/sites/{key}/devices/{place}/reveal")[1]["secret"], secret)
        answers("PUT", f"/sites/{key}/devices/cam-01/secrets/login", {"version": 1, "secret": PLANTED[0]})  # refused
        for sheet in (
            "",
            "/survey",
            "/kit",
            "/addresses",
            "/bench",
            "/links",
            "/proof",
            "/secrets",
            "/clocks",
            "/ports",
            "/choices",
            "/devices/cam-01/page",
            "/devices/rec-1/page",
            "/events",
            "/file",
            "/files/schedule.csv",
            "/files/request.pdf",
            "/files/request-flows.csv",
            "/files/labels.svg",
            "/files/labels.pdf",
            "/files/clocks.ics",
        ):
            self.assertEqual(answers("GET", f"/sites/{key}{sheet}"), 200, sheet)
        seen += self.crashed(key)
        seen.append(everything())  # what is not committed too
        seen.append("\n".join(lines).encode())
        seen.append(json.dumps(list(models.Event.objects.values("sentence", "before", "after"))).encode())
        self.assertGreater(len(lines), 20)
        for secret in PLANTED:
            shapes = (secret.encode(), secret.encode("utf-16-le"), secret.encode().hex().encode())
            for content in seen:
                found = next((content.index(shape) for shape in shapes if shape in content), None)
                self.assertIsNone(found, content[max(0, (found or 0) - 300) : (found or 0) + 60])

    def crashed(self, key: str) -> list[bytes]:
        """Return the crash reports of a server that breaks with a secret in its hands."""
        reports: list[bytes] = []

        def report(**_: Any) -> None:
            made = ExceptionReporter(None, *sys.exc_info())
            reports.extend([made.get_traceback_html().encode(), made.get_traceback_text().encode()])

        got_request_exception.connect(report)
        self.addCleanup(got_request_exception.disconnect, report)
        self.client.raise_request_exception = False
        for broken in ("_log_set", "_least_privilege", "faults"):
            with mock.patch(f"tutelar.server.secrets.services.{broken}", side_effect=RuntimeError("broken")):
                status, _ = self.call(
                    "PUT", f"/sites/{key}/devices/rec-2/secrets/operator", {"version": 0, "secret": PLANTED[0]}
                )
                self.assertEqual(status, 500)
        with mock.patch("tutelar.server.secrets.services.log", side_effect=RuntimeError("broken")):
            self.call("POST", f"/sites/{key}/devices/cam-01/secrets/login/reveal")
        self.assertEqual(len(reports), 8)
        return reports
