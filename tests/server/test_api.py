"""The API by real requests: what is stored, what is refused, and that nothing is half-stored or overwritten."""

import json
from typing import Any
from unittest import skipUnless

from django.contrib.auth.models import User
from django.db import DatabaseError, IntegrityError, connection, transaction
from django.test import SimpleTestCase, TestCase, override_settings

from tests.samples import demo, device, document
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.proof import services as proof_services

NOW = {"default": {"BACKEND": "django_tasks.backends.immediate.ImmediateBackend"}}


class ApiCalls(SimpleTestCase):
    """Short ways to ask the API."""

    def sign_in(self) -> None:
        self.user = User.objects.create_superuser("ines", password="grey-heron-42")
        self.client.force_login(self.user, backend="django.contrib.auth.backends.ModelBackend")

    def call(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        text = body if isinstance(body, str | bytes) else json.dumps(body)
        answer = self.client.generic(method, f"/api{path}", text, content_type="application/json")
        try:
            return answer.status_code, json.loads(answer.content)
        except ValueError:
            return answer.status_code, answer.content.decode()

    def bring(self, raw: dict[str, Any]) -> str:
        status, said = self.call("POST", "/sites", raw)
        self.assertEqual(status, 201, said)
        return str(said["key"])

    def placed(self, key: str, device_key: str) -> dict[str, Any]:
        _, sheet = self.call("GET", f"/sites/{key}/addresses")
        return next(d for n in sheet["networks"] for d in n["devices"] if d["key"] == device_key)


class ApiCase(ApiCalls, TestCase):
    def setUp(self) -> None:
        self.sign_in()


class Whole(ApiCase):
    def test_import_then_export_gives_the_same_document(self) -> None:
        raw = demo()
        raw["devices"][0]["x-rack"] = {"unit": 4}
        raw["x-note"] = "ours"
        raw["readings"] = [{"device": "cam-01", "check": "answers", "expected": "a", "measured": "b", "result": "pass"}]
        raw["exceptions"] = [{"device": "cam-02", "reason": "no ladder today"}]
        key = self.bring(raw)
        self.assertEqual(self.call("GET", f"/sites/{key}/file"), (200, raw))

    def test_a_file_with_faults_stores_nothing_and_says_each(self) -> None:
        doubled = document(
            [device(1, address="10.20.30.50"), device(2, address="10.20.30.50", mac="02:1a:4b:00:00:01")]
        )
        for raw, paths in (
            (doubled, ["d-1, d-2", "d-1, d-2"]),
            ("{", [""]),
            ({"format": "else"}, ["format", "version"]),
        ):
            status, said = self.call("POST", "/sites", raw)
            self.assertEqual((status, [fault["path"] for fault in said["faults"]]), (422, paths))
        overlapping = document([device(1, address="10.20.30.50"), device(2, network="twin", address="10.20.30.50")])
        overlapping["networks"].append({"key": "twin", "cidr": "10.20.0.0/16"})
        self.assertEqual(self.call("POST", "/sites", overlapping)[0], 422)
        for kind in (models.Site, models.Network, models.Device, models.Event):
            self.assertEqual(kind.objects.count(), 0)

    def test_a_key_that_is_none_is_refused_wherever_a_site_comes_in(self) -> None:
        for key in ("..", "a%2Fb", "a'b", "Big", "a%0Ab", "%00", "x" * 300, ""):
            status, said = self.call("POST", f"/sites?key={key}", document())
            self.assertEqual((status, said["faults"][0]["path"]), (422, "key"), key)
        self.assertEqual(models.Site.objects.count(), 0)

    def test_a_taken_key_is_refused_and_another_one_taken(self) -> None:
        self.bring(document())
        self.assertEqual(self.call("POST", "/sites", document())[0], 409)
        self.assertEqual(self.call("POST", "/sites?key=halls-2", document())[1]["key"], "halls-2")

    def test_strangers_get_nothing(self) -> None:
        key = self.bring(document())
        self.client.logout()
        for path in ("", f"/{key}", f"/{key}/file", f"/{key}/files/schedule.csv", f"/{key}/proofs/1/events"):
            self.assertEqual(self.call("GET", f"/sites{path}")[0], 401, path)
        self.assertEqual(self.call("POST", f"/sites/{key}/plan", {"revision": 1})[0], 401)

    def test_signing_in_stops_after_too_many_wrong_passwords(self) -> None:
        self.client.logout()
        answers = [self.call("POST", "/session", {"username": "ines", "password": "wrong"})[0] for _ in range(9)]
        self.assertEqual((answers[0], answers[-1]), (401, 429))
        right = {"username": "ines", "password": "grey-heron-42"}
        self.assertEqual(self.call("POST", "/session", right)[0], 429)

    def test_survey_changes_are_read_like_a_site_file(self) -> None:
        key = self.bring(document([device(1)]))
        bad = [document()["networks"][0] | {"cidr": "10.20.30.1/24"}]
        status, said = self.call("PATCH", f"/sites/{key}/survey", {"revision": 1, "networks": bad})
        self.assertEqual((status, said["faults"][0]["path"]), (422, "networks[0].cidr"))
        self.assertEqual(self.call("PATCH", f"/sites/{key}/survey", {"revision": 1, "networks": []})[0], 422)
        for part in ("site", "networks", "policy"):
            status, said = self.call("PATCH", f"/sites/{key}/survey", {"revision": 1, part: None})
            self.assertEqual((status, said["faults"][0]["path"]), (422, part))
        good = {"revision": 1, "site": {"name": "Three Halls", "places": ["Hall"]}, "internet": {"upstream_mbps": 8}}
        self.assertEqual(self.call("PATCH", f"/sites/{key}/survey", good), (200, {"revision": 2}))
        survey = self.call("GET", f"/sites/{key}/survey")[1]
        self.assertEqual((survey["site"]["name"], survey["internet"]), ("Three Halls", {"upstream_mbps": 8}))


class Changes(ApiCase):
    def test_a_plan_sets_addresses_once_and_only_on_what_it_was_based_on(self) -> None:
        key = self.bring(document([device(1), device(2, address="10.20.30.60", locked=True)]))
        self.assertEqual(self.call("POST", f"/sites/{key}/plan", {"revision": 1}), (200, {"revision": 2}))
        self.assertEqual(self.placed(key, "d-1")["source"], "kept")
        self.assertEqual(self.placed(key, "d-2")["address"], "10.20.30.60")
        status, said = self.call("POST", f"/sites/{key}/plan", {"revision": 1})
        self.assertEqual((status, said["yours"], said["current"]), (409, {"revision": 1}, {"revision": 2}))

    def test_two_people_at_one_device_are_told_of_each_other(self) -> None:
        key = self.bring(document([device(1)]))
        path = f"/sites/{key}/devices/d-1"
        self.assertEqual(self.call("PATCH", path, {"revision": 1, "name": "Gate"}), (200, {"revision": 2}))
        status, said = self.call("PATCH", path, {"revision": 1, "name": "Door"})
        self.assertEqual((status, said["yours"], said["current"]), (409, {"name": "Door"}, {"name": "Gate"}))
        self.assertEqual(models.Device.objects.get().name, "Gate")

    def test_a_device_takes_only_what_can_be(self) -> None:
        rows = [device(1, address="10.20.30.50", locked=True), device(2, address="10.20.30.51"), device(3)]
        key = self.bring(document(rows))
        cases: list[tuple[str, dict[str, Any], str]] = [
            ("d-1", {"address": "10.20.30.52"}, "locked"),
            ("d-3", {"address": "10.20.30.50"}, "Device 1"),
            ("d-3", {"address": "10.20.30.300"}, "10.20.30.300"),
            ("d-3", {"mac": "02:1a:4b:00:00:02"}, "Device 2"),
            ("d-3", {"model": "none-such"}, "none-such"),
            ("d-3", {"network": "wan"}, "wan"),
            ("d-3", {"addressing": "somehow"}, "somehow"),
            ("d-3", {"behind": "d-1"}, "both"),
            ("d-3", {"name": ""}, "''"),
        ]
        for name, changes, said in cases:
            with self.subTest(changes=changes):
                status, answer = self.call("PATCH", f"/sites/{key}/devices/{name}", {"revision": 1, **changes})
                self.assertEqual(status, 422)
                self.assertIn(said, answer["message"])
        self.assertEqual(self.call("PATCH", f"/sites/{key}/devices/d-3", {"revision": 1, "colour": "red"})[0], 422)
        self.assertEqual(models.Event.objects.filter(part_of=None).count(), 1)  # the import alone
        done = self.call("PATCH", f"/sites/{key}/devices/d-3", {"revision": 1, "mac": "02-1A-4B-00-00-77"})
        self.assertEqual((done[0], models.Device.objects.get(key="d-3").mac), (200, "02:1a:4b:00:00:77"))

    def test_what_is_too_long_is_quoted_and_a_secret_never(self) -> None:
        key = self.bring(document([device(1)]))
        status, said = self.call("POST", f"/sites/{key}/log", {"text": "x" * 5000})
        self.assertEqual(
            (status, said["message"]), (422, f"'{'x' * 77}…' has 5000 characters; at most 4000 can stand here.")
        )
        body = {"version": 0, "secret": "Heron" * 100}
        status, said = self.call("PUT", f"/sites/{key}/devices/d-1/secrets/administrator", body)
        self.assertEqual((status, said["message"]), (422, "At most 300 characters can stand here."))
        fresh = {"key": "d-2", "model": "larkmoor-dome-4", "network": "lan", "name": "Yard\ngate"}
        self.assertEqual(self.call("POST", f"/sites/{key}/devices", fresh)[0], 201)
        self.assertEqual(models.Device.objects.get(key="d-2").name, "Yard gate")

    def test_how_a_device_is_connected_and_the_largest_packet_are_kept_or_refused_in_words(self) -> None:
        key = self.bring(document([device(1)]))
        path = f"/sites/{key}/devices/d-1"
        wifi = {"medium": "wifi", "wifi_mac": "02-1A-4B-00-00-F1", "outdoors": True}
        self.assertEqual(self.call("PATCH", path, {"revision": 1} | wifi)[0], 200)
        status, said = self.call("PATCH", path, {"revision": 2, "medium": "radio"})
        self.assertEqual((status, "'radio' is not one of 'cable'" in said["message"]), (422, True))
        for typed, said_ in (
            ("12", "at least 576 is expected"),
            ("99999", "at most 9216"),
            ("abc", "'abc' is not a number"),
        ):
            body = {"revision": 2, "was": {}, "typed": {"internet.mtu": typed}}
            status, said = self.call("POST", f"/sites/{key}/survey/internet", body)
            self.assertEqual((status, said_ in said["message"]), (422, True), said)
        raw = self.call("GET", f"/sites/{key}/file")[1]["devices"][0]
        self.assertEqual({name: raw[name] for name in wifi}, wifi | {"wifi_mac": "02:1a:4b:00:00:f1"})

    def test_devices_come_and_go_and_the_log_keeps_what_they_were(self) -> None:
        key = self.bring(document([device(1, "larkmoor-rec-8"), device(2, network=None, behind="d-1")]))
        fresh = {"key": "d-9", "model": "larkmoor-dome-4", "network": "lan", "name": "New"}
        self.assertEqual(self.call("POST", f"/sites/{key}/devices", fresh)[0], 201)
        self.assertEqual(self.call("POST", f"/sites/{key}/devices", fresh)[0], 422)
        gone = f"/sites/{key}/devices/remove"
        self.assertIn("hangs on", self.call("POST", gone, {"devices": [{"key": "d-1", "revision": 1}]})[1]["message"])
        self.assertEqual(self.call("POST", gone, {"devices": [{"key": "d-9", "revision": 2}]})[0], 409)
        self.assertEqual(self.call("POST", gone, {"devices": [{"key": "d-9", "revision": 1}]})[0], 200)
        found = self.call("GET", f"/sites/{key}/events?search=ines new removed")[1]
        self.assertEqual([row["sentence"] for row in found], ["New removed."])

    def test_channels_are_changed_but_never_shared(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(2), device(3), device(4)]
        links = [{"kind": "records", "from": f"d-{at}", "to": "d-1", "slot": at - 1} for at in (2, 3)]
        key = self.bring(document(rows, links=links))
        first = self.call("GET", f"/sites/{key}/links")[1]["beams"][0]["threads"][0]
        path = f"/sites/{key}/links/{first['id']}"
        status, said = self.call("PATCH", path, {"revision": 1, "slot": 2})
        self.assertEqual((status, "Device 3" in said["message"]), (422, True))
        self.assertEqual(self.call("PATCH", path, {"revision": 1, "slot": 8})[0], 200)
        self.assertEqual(self.call("PATCH", path, {"revision": 1, "slot": 7})[0], 409)
        self.assertEqual(self.call("POST", f"/sites/{key}/links", {"start": "d-4", "to": "d-1", "slot": 8})[0], 422)
        self.assertEqual(self.call("POST", f"/sites/{key}/links", {"start": "d-4", "to": "d-1", "slot": 1})[0], 201)
        sheet = self.call("GET", f"/sites/{key}/links")[1]
        self.assertEqual((sheet["untied"], [t["slot"] for t in sheet["beams"][0]["threads"]]), ([], [8, 2, 1]))

    def test_bench_steps_are_ticked_done_or_skipped_with_a_reason(self) -> None:
        key = self.bring(document([device(1)]))
        bench = self.call("GET", f"/sites/{key}/bench")[1]["current"]
        path, line = f"/sites/{key}/bench/{bench['step']}", bench["groups"][0]["lines"][0]
        self.assertEqual((bench["subject"], line["label"], line["ticked"]), ("d-1", "Serial number", False))
        tick = {"subject": "d-1", "line": line["key"], "value": line["mark"], "done": True}
        self.assertEqual(self.call("POST", f"/sites/{key}/typed", tick)[0], 204)
        self.assertEqual(self.call("POST", f"/sites/{key}/typed", tick | {"value": "S2"})[0], 409)
        self.assertEqual(self.call("POST", f"/sites/{key}/typed", tick | {"line": "no such"})[0], 422)
        self.assertEqual(self.call("POST", f"/sites/{key}/typed", tick | {"subject": "no such"})[0], 404)
        now = self.call("GET", f"/sites/{key}/bench")[1]["current"]["groups"][0]["lines"][0]
        self.assertEqual((now["ticked"], now["typed_by"]), (True, "ines"))
        self.assertEqual(self.call("POST", path, {"revision": 0, "state": "skipped", "reason": " "})[0], 422)
        self.assertEqual(self.call("POST", path, {"revision": 0, "state": "done"})[0], 200)
        self.assertEqual(self.call("POST", path, {"revision": 0, "state": "open"})[0], 409)
        after = self.call("GET", f"/sites/{key}/bench")[1]
        row = next(item for item in after["steps"] if item["id"] == bench["step"])
        self.assertEqual((row["state"], row["by"]), ("done", "ines"))
        self.assertNotEqual(after["current"]["step"], bench["step"])
        self.assertEqual(self.call("POST", f"/sites/{key}/bench/no-such", {"revision": 0, "state": "done"})[0], 404)

    def test_the_laptop_is_fixed_until_it_is_set_back(self) -> None:
        key = self.bring(document([device(1)]))
        states = []
        for _ in range(20):
            bench = self.call("GET", f"/sites/{key}/bench")[1]
            states.append(bench["laptop"]["address"])
            if bench["current"] is None:
                break
            self.call("POST", f"/sites/{key}/bench/{bench['current']['step']}", {"revision": 0, "state": "done"})
        self.assertEqual(states, [None, None, "192.168.64.9", "192.168.64.9", "192.168.64.9", None, None])
        self.assertEqual(self.placed(key, "d-1")["source"], "planned")


@override_settings(TASKS=NOW)
class Measuring(ApiCase):
    def test_a_fault_is_found_and_what_is_proven_is_locked(self) -> None:
        key = self.bring(document([device(1, address="10.20.30.50"), device(2, address="10.20.30.51")]))
        start = {"faults": [{"kind": "wrong-name", "device": "d-2"}]}
        self.assertEqual(self.call("POST", f"/sites/{key}/proofs", start)[0], 202)
        sheet = self.call("GET", f"/sites/{key}/proof")[1]
        self.assertEqual((sheet["last"]["state"], sheet["last"]["measured"]), ("done", 2))
        broken = [(cell["device"], cell["check"]) for cell in sheet["cells"] if cell["state"] == "broken"]
        self.assertEqual(broken, [("d-2", "name")])
        self.assertEqual([column["state"] for column in sheet["columns"]], ["proven", "broken"])
        self.assertEqual((self.placed(key, "d-1")["locked"], self.placed(key, "d-2")["locked"]), (True, False))
        readings = self.call("GET", f"/sites/{key}/file")[1]["readings"]
        self.assertEqual({row["result"] for row in readings}, {"pass", "fail"})
        self.assertEqual(self.call("POST", "/sites?key=copy", self.call("GET", f"/sites/{key}/file")[1])[0], 201)
        self.assertEqual(self.call("GET", "/sites/copy/file")[1]["readings"], readings)
        self.call("PATCH", f"/sites/{key}/devices/d-2", {"revision": 1, "name": "Renamed"})
        states = {
            cell["check"]: cell["state"]
            for cell in self.call("GET", f"/sites/{key}/proof")[1]["cells"]
            if cell["device"] == "d-2"
        }
        self.assertEqual((states["name"], states["clock"]), ("stale", "proven"))

    def test_measuring_is_refused_where_it_makes_no_sense(self) -> None:
        key = self.bring(document([device(1)]))
        self.assertEqual(self.call("POST", f"/sites/{key}/proofs", {})[0], 422)  # no address yet
        self.call("POST", f"/sites/{key}/plan", {"revision": 1})
        for body in ({"faults": [{"kind": "no-such", "device": "d-1"}]}, {"only": ["d-9"]}, {"fault": []}):
            self.assertEqual(self.call("POST", f"/sites/{key}/proofs", body)[0], 422, body)
        site = models.Site.objects.get()
        models.Proof.objects.create(site=site, by="ines")
        self.assertEqual(self.call("POST", f"/sites/{key}/proofs", {})[0], 409)

    def test_the_schedule_tells_spreadsheets_no_formula(self) -> None:
        key = self.bring(document([device(1, name="=1+1", address="10.20.30.50")]))
        text = self.call("GET", f"/sites/{key}/files/schedule.csv")[1]
        self.assertIn("d-1,'=1+1,Hall,camera,Larkmoor Dome 4,lan,10.20.30.50,255.255.255.0,10.20.30.1", text)


class TakenAway(ApiCase):
    def test_reservations_are_ready_to_load(self) -> None:
        key = self.bring(document([device(1, addressing="reserved")]))
        self.assertIn(
            "dhcp-host=02:1a:4b:00:00:01,10.20.30.",
            self.call("GET", f"/sites/{key}/files/reservations-dnsmasq.conf")[1],
        )
        self.assertEqual(
            self.call("GET", f"/sites/{key}/files/reservations-kea.json")[1]["Dhcp4"]["subnet4"][0]["reservations"][0][
                "hostname"
            ],
            "d-1",
        )
        self.assertEqual(self.call("GET", f"/sites/{key}/files/reservations-abacus.conf")[0], 404)
        bare = self.bring(document([device(1)]) | {"site": {"key": "bare", "name": "Bare"}})
        self.assertEqual(self.call("GET", f"/sites/{bare}/files/reservations-kea.json")[0], 422)


class Database(ApiCase):
    def test_what_must_never_happen_is_refused_by_the_database(self) -> None:
        self.bring(
            document(
                [device(1, address="10.20.30.50"), device(2, address="10.20.30.51")],
                links=[{"kind": "pages", "from": "d-1", "to": "d-2", "slot": 1}],
            )
        )
        first, second = models.Device.objects.order_by("key")
        attempts = [
            lambda: models.Device.objects.filter(pk=second.pk).update(address=first.address),
            lambda: models.Device.objects.filter(pk=second.pk).update(mac=first.mac),
            lambda: models.Device.objects.filter(pk=second.pk).update(behind=first),
            lambda: models.Link.objects.create(
                site=first.site, position=2, kind="pages", start=first, end=second, slot=1
            ),
            lambda: [models.Proof.objects.create(site=first.site, by="x") for _ in range(2)],
        ]
        for attempt in attempts:
            with self.assertRaises(IntegrityError), transaction.atomic():
                attempt()

    def test_the_log_can_only_grow(self) -> None:
        self.bring(document())
        for change in (models.Event.objects.all().delete, lambda: models.Event.objects.update(by="nobody")):
            with self.assertRaisesRegex(DatabaseError, "append-only"), transaction.atomic():
                change()

    @skipUnless(connection.vendor == "sqlite", "PostgreSQL's own are always in force")
    def test_the_settings_of_the_database_are_in_force(self) -> None:
        with connection.cursor() as cursor:
            for pragma, value in (("journal_mode", "wal"), ("foreign_keys", 1)):
                self.assertEqual(cursor.execute(f"PRAGMA {pragma}").fetchone()[0], value)

    def test_a_stopped_measurement_keeps_what_it_read(self) -> None:
        key = self.bring(document([device(1, address="10.20.30.50")]))
        proof = models.Proof.objects.create(site=models.Site.objects.get(), by="ines", state="running")
        self.assertEqual(self.call("DELETE", f"/sites/{key}/proofs/{proof.pk}")[1]["state"], "cancelled")
        self.assertEqual(proof_services.cancel_proof(key, proof.pk, Actor("ines")).message, "Stopped by ines.")
