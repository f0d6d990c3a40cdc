"""What is witnessed, what is left open, what makes exactly which proof stale, what came over the wire."""

import time
from datetime import timedelta
from email.message import Message
from typing import Any
from urllib.parse import urlencode
from urllib.request import Request, urlopen

from django.test import override_settings
from django.utils import timezone

from tests.samples import device, document
from tests.server.test_api import NOW, ApiCase
from tutelar.server import models

SITE = [{"key": "n", "cidr": "10.250.52.0/24", "gateway": "10.250.52.1", "dns": ["10.250.52.1"]}]


def gate_site() -> dict[str, Any]:
    """A door station with a monitor, a camera on a recorder; the hall's door is on an escape route."""
    raw = document(
        [
            device(1, "pellgrave-gate-1", address="10.250.52.50", network="n", name="Hall gate"),
            device(2, "pellgrave-view-1", address="10.250.52.51", network="n"),
            device(3, address="10.250.52.52", network="n"),
            device(4, "larkmoor-rec-8", address="10.250.52.53", network="n", place="Yard"),
        ],
        networks=SITE,
        survey={"escape_doors": ["Hall door"]},
    )
    raw["models"].append({"key": "pellgrave-view-1", "family": "indoor-monitor", "services": {"web": 80}})
    raw["models"][0]["services"]["web-tls"] = 443
    raw["models"][0]["timings"] = {"boot_s": 1, "restart_s": 1}
    raw["links"] = [
        {"kind": "registers-at", "from": "d-2", "to": "d-1", "slot": 1},
        {"kind": "records", "from": "d-3", "to": "d-4", "slot": 1},
    ]
    return raw


@override_settings(TASKS=NOW)
class Proofs(ApiCase):
    def setUp(self) -> None:
        super().setUp()
        self.key = self.bring(gate_site())

    def sheet(self) -> dict[str, Any]:
        return self.call("GET", f"/sites/{self.key}/proof")[1]  # type: ignore[no-any-return]

    def cells(self, state: str) -> set[tuple[str, str]]:
        return {(cell["device"], cell["check"]) for cell in self.sheet()["cells"] if cell["state"] == state}

    def measure(self, **body: Any) -> None:
        status, said = self.call("POST", f"/sites/{self.key}/proofs", body)
        self.assertEqual(status, 202, said)
        self.assertEqual(models.Proof.objects.first().state, "done", models.Proof.objects.first().message)  # type: ignore[union-attr]

    def seen(self, device_key: str, check: str, **body: Any) -> tuple[int, Any]:
        return self.call("POST", f"/sites/{self.key}/devices/{device_key}/checks/{check}/seen", body)

    def state(self, device_key: str) -> str:
        return next(item["state"] for item in self.sheet()["columns"] if item["key"] == device_key)

    def test_practice_locks_pins_and_proves_nothing_on_a_real_site(self) -> None:
        raw = gate_site()
        raw["site"] |= {"key": "real", "practice": False}
        real, practised = self.bring(raw), self.key
        for key in (real, practised):
            self.key = key
            self.measure()
        self.key = real
        sheet = self.sheet()
        self.assertEqual((sheet["practice"], sheet["coverage"]["fresh"]), (False, 0))
        self.assertEqual({item["state"] for item in sheet["columns"]}, {"planned"})
        self.assertTrue(all(cell["measured"] is None for cell in sheet["cells"]))
        self.assertTrue(any((cell["practice"] or "").startswith("passed: ") for cell in sheet["cells"]))
        devices = models.Device.objects.filter(site__key=real)
        self.assertFalse(any(device.locked or "certificate" in device.extra for device in devices))
        self.assertEqual({row["from"] for row in self.call("GET", f"/sites/{real}/file")[1]["readings"]}, {"pretend"})
        links = self.call("GET", f"/sites/{real}/links")[1]["counts"]
        self.assertEqual(next(item["number"] for item in links if item["state"] == "proven"), 0)
        self.key = practised
        self.assertGreater(self.sheet()["coverage"]["fresh"], 20)
        self.assertTrue(models.Device.objects.get(site__key=practised, key="d-3").locked)

    def test_a_copy_to_practise_on_leaves_the_site_as_it_is(self) -> None:
        raw = gate_site()
        raw["site"] |= {"key": "real", "practice": False}
        real = self.bring(raw)
        for name in ("real-practice", "real-practice-2"):
            self.assertEqual(self.call("POST", f"/sites/{real}/practice")[1]["key"], name)
        wide = document([device(1)])
        wide["site"]["key"] = f"{'a' * 59}-b"  # where its key is cut, no mark is left at the end
        copied = self.call("POST", f"/sites/{self.bring(wide)}/practice")
        self.assertEqual((copied[0], copied[1]["key"]), (201, f"{'a' * 59}-practice"))
        self.assertTrue(self.call("GET", "/sites/real-practice")[1]["practice"])
        self.assertFalse(self.call("GET", f"/sites/{real}")[1]["practice"])
        self.assertEqual(len(self.call("GET", "/sites/real-practice/kit")[1]["devices"]), 4)

    def test_a_device_is_proven_once_everything_is_measured_and_witnessed_by_somebody(self) -> None:
        self.measure()
        self.assertEqual(
            self.cells("planned"),
            {
                ("d-1", "test-call"),
                ("d-1", "door-opens"),
                ("d-1", "door.hall-door.egress"),
                ("d-2", "test-call"),
                ("d-4", "plays-back"),
            },
        )
        self.assertEqual((self.state("d-3"), self.state("d-1")), ("proven", "planned"))
        self.assertTrue(models.Device.objects.get(key="d-1").locked)  # its address is proven all the same
        self.assertEqual(self.seen("d-1", "door-opens", result="pass")[0], 201)
        for check, body, status, said in (
            ("door.hall-door.egress", {"result": "pass"}, 422, "Name the person"),
            ("test-call", {"result": "fail"}, 422, "Say what you saw"),
            ("name", {"result": "pass"}, 422, "measured, not witnessed"),
            ("plays-back", {"result": "pass"}, 422, "has no check 'plays-back'; it has answers"),
            ("test-call", {"result": "perhaps"}, 422, ""),
        ):
            answer = self.seen("d-1", check, **body)
            self.assertEqual(answer[0], status, check)
            self.assertIn(said, answer[1]["message"])
        self.assertEqual(self.seen("d-1", "door.hall-door.egress", result="pass", person="Tove Lind")[0], 201)
        self.assertEqual(self.seen("d-1", "test-call", result="fail", words="no sound from outside")[0], 201)
        self.assertEqual(self.state("d-1"), "broken")
        link = models.Link.objects.get(kind="registers-at")
        body = {"test": "call", "result": "pass", "words": ""}
        self.assertEqual(self.call("POST", f"/sites/{self.key}/links/{link.pk}/readings", body)[0], 201)
        self.assertEqual((self.state("d-1"), self.state("d-2")), ("proven", "proven"))  # the link's call proves both
        log = (
            self.call("GET", f"/sites/{self.key}/events?search=egress Tove")[1]
            or self.call("GET", f"/sites/{self.key}/events?search=Tove")[1]
        )
        self.assertIn("tried by Tove Lind", log[0]["sentence"])

    def test_a_change_makes_exactly_the_proofs_that_hang_on_it_stale(self) -> None:
        self.measure()
        self.seen("d-4", "plays-back", result="pass")
        secret = {"version": 0, "secret": "Quay-heron-77"}
        for changed, stale, why in (
            (
                lambda: self.call("PUT", f"/sites/{self.key}/devices/d-3/secrets/login", secret),
                {("d-3", "login"), ("d-3", "linked")},
                "the password was changed",
            ),
            (
                lambda: self.patch("d-2", mac="02:1a:4b:00:00:99"),
                {("d-2", check) for check in self.checks("d-2")},
                "another unit is there now",
            ),
            (
                lambda: self.ports("d-1", web=80, signalling=5070),
                {("d-1", "signalling"), ("d-2", "registered")},
                "the main station's address, port or unit was changed",
            ),
            (lambda: self.patch("d-3", place="Yard"), set(), ""),
        ):
            self.measure()
            self.assertEqual(self.cells("stale"), set())
            status, said = changed()
            self.assertIn(status, (200, 204), said)
            self.assertEqual(self.cells("stale"), stale)
            words = [word for cell in self.sheet()["cells"] for word in cell["changed"]]
            self.assertTrue(not why or why in words, words)
        coverage = self.sheet()["coverage"]
        self.assertEqual(coverage["expected"], coverage["fresh"] + coverage["never"] + coverage["stale"])

    def patch(self, key: str, **changes: Any) -> tuple[int, Any]:
        row = models.Device.objects.get(key=key)
        return self.call("PATCH", f"/sites/{self.key}/devices/{key}", {"revision": row.revision, **changes})

    def ports(self, key: str, **ports: int) -> tuple[int, Any]:
        row = models.Device.objects.get(key=key)
        return self.call("PUT", f"/sites/{self.key}/devices/{key}/ports", {"revision": row.revision, "ports": ports})

    def checks(self, key: str) -> list[str]:
        return [cell["check"] for cell in self.sheet()["cells"] if cell["device"] == key and not cell["witnessed"]]

    def test_a_check_is_left_open_with_a_reason_until_a_day_and_the_egress_test_never(self) -> None:
        path = f"/sites/{self.key}/devices/d-1/exception"
        self.measure(faults=[{"kind": "wrong-name", "device": "d-1"}])
        self.assertEqual(self.state("d-1"), "broken")
        today = timezone.localdate()
        for body, said in (
            ({"check": "name", "reason": " "}, "Say why"),
            ({"check": "nose", "reason": "x"}, "has no check 'nose'"),
            ({"check": "door.hall-door.egress", "reason": "x"}, "cannot be left open"),
            ({"check": "name", "reason": "x", "until": str(today - timedelta(days=1))}, "is past"),
            ({"check": "name", "reason": "x", "until": "soon"}, ""),
        ):
            status, answer = self.call("PUT", path, body)
            self.assertEqual(status, 422, body)
            self.assertIn(said, answer["message"])
        body = {"check": "name", "reason": "the maker's new firmware is due", "until": str(today)}
        self.assertEqual(self.call("PUT", path, body)[0], 204)
        self.assertEqual((self.cells("excepted"), self.state("d-1")), ({("d-1", "name")}, "planned"))
        sheet = self.sheet()
        self.assertIn("1 check left open by decision.", sheet["coverage"]["sentence"])
        said = self.call("GET", f"/sites/{self.key}/files/proof.csv")[1]
        self.assertIn(f"Left open by ines until {today}: the maker's new firmware is due", said)
        self.assertEqual(self.call("PUT", path, {"reason": "the door is being rebuilt"})[0], 204)
        self.assertIn(("d-1", "door.hall-door.egress"), self.cells("planned"))  # everything is left open but that
        self.assertEqual(self.call("DELETE", path)[0], 204)
        row = models.Site.objects.get()
        row.exceptions[0]["until"] = str(today - timedelta(days=1))
        row.version_token = "later"
        row.save()
        self.assertEqual((self.cells("excepted"), self.state("d-1")), (set(), "broken"))
        self.assertEqual(self.sheet()["ran_out"][0]["reason"], "the maker's new firmware is due")
        self.assertEqual(self.call("DELETE", f"{path}?check=name")[0], 204)
        self.assertEqual(self.call("DELETE", f"{path}?check=name")[0], 404)
        kinds = set(models.Event.objects.filter(kind__startswith="exception").values_list("kind", flat=True))
        self.assertEqual(kinds, {"exception.made", "exception.ended"})

    def test_the_site_says_what_it_asks_for(self) -> None:
        path = f"/sites/{self.key}/proof/rules"

        def change(**part: Any) -> tuple[int, Any]:
            return self.call("PATCH", path, {"revision": self.call("GET", path)[1]["revision"], **part})

        rules = self.call("GET", path)[1]
        seen = {row["family"]: {item["check"] for item in row["seen"] if item["asked"]} for row in rules["families"]}
        self.assertEqual(
            seen,
            {
                "door-station": {"test-call", "door-opens"},
                "indoor-monitor": {"test-call"},
                "camera": set(),
                "recorder": {"plays-back"},
            },
        )
        self.measure()
        self.assertEqual(change(clock_s=30, left_out=["dns"], witnessed={"recorder": []})[0], 200)
        self.assertEqual(self.cells("stale"), {(f"d-{at}", "clock") for at in range(1, 5)})
        self.assertNotIn(("d-4", "plays-back"), self.cells("planned"))
        self.assertEqual({cell["check"] for cell in self.sheet()["cells"]} & {"dns"}, set())
        clock = next(cell for cell in self.sheet()["cells"] if cell["check"] == "clock")
        self.assertEqual(clock["expected"], "within 30 s")
        dns = next(row for row in self.call("GET", path)[1]["measured"] if row["check"] == "dns")
        self.assertEqual((dns["asked"], dns["fixed"]), (False, False))
        for part, status in (
            ({"left_out": ["answers"]}, 422),
            ({"left_out": ["nose"]}, 422),
            ({"clock_s": 0}, 422),
            ({"witnessed": {"camera": ["egress"]}}, 422),
            ({"witnessed": {"lamp": []}}, 422),
            ({"left_out": []}, 200),
        ):
            self.assertEqual(change(**part)[0], status, part)
        self.assertEqual(self.call("PATCH", path, {"revision": 0, "clock_s": 2})[0], 409)

    def test_one_check_of_one_device_is_measured_again_and_nothing_else(self) -> None:
        self.measure()
        before = models.Reading.objects.count()
        self.measure(only=["d-3"], checks=["clock"])
        fresh = models.Reading.objects.order_by("pk")[before:]
        self.assertEqual([(row.device.key, row.check_name) for row in fresh], [("d-3", "clock")])
        self.measure(checks=["clock"])
        self.assertEqual(models.Reading.objects.count(), before + 1 + 4)
        status, said = self.call("POST", f"/sites/{self.key}/proofs", {"only": ["d-1"], "checks": ["linked"]})
        self.assertEqual((status, "not measured at any of these" in said["message"]), (422, True))

    def test_what_came_over_the_wire_is_shown_without_secrets_and_a_certificate_is_pinned(self) -> None:
        self.measure()
        path = f"/sites/{self.key}/devices/d-3"
        said = self.call("GET", f"{path}/checks/mask/evidence")[1]
        self.assertEqual(said[0]["source"], "state")
        self.assertIn('"prefix": 24', said[0]["text"])
        self.assertIn('"channels"', self.call("GET", f"{path}/checks/linked/evidence")[1][0]["text"])
        self.assertEqual(self.call("GET", f"{path}/checks/cable/evidence"), (200, []))
        pinned = models.Device.objects.get(key="d-3").extra["certificate"]
        self.assertIn(pinned, self.call("GET", f"{path}/checks/certificate/evidence")[1][0]["text"])
        self.measure()
        self.assertEqual(self.cells("stale") | self.cells("broken"), set())
        self.measure(faults=[{"kind": "other-certificate", "device": "d-3"}])
        self.assertEqual(self.cells("broken"), {("d-3", "certificate")})
        self.assertEqual(models.Device.objects.get(key="d-3").extra["certificate"], pinned)
        self.assertEqual(self.call("PUT", f"{path}/certificate")[0], 204)
        self.assertNotEqual(models.Device.objects.get(key="d-3").extra["certificate"], pinned)
        self.assertEqual(self.call("PUT", f"/sites/{self.key}/devices/d-2/certificate")[0], 422)
        self.assertEqual(models.Event.objects.filter(kind="certificate.pinned", subject="d-3").count(), 2)

    def test_the_pretend_site_is_kept_up_set_on_its_pages_and_measured_as_it_is(self) -> None:
        path = f"/sites/{self.key}/pretend"
        self.assertEqual(self.call("GET", path)[0], 404)
        self.assertEqual(self.call("PUT", path, {"fresh": True})[0], 204)
        self.addCleanup(self.call, "DELETE", path)

        def stands() -> dict[str, Any]:
            return {row["device"]: row for row in self.call("GET", path)[1]["devices"]}

        def post(page: str, form: dict[str, str], cookie: str = "") -> Message:
            request = Request(page, urlencode(form).encode(), {"Cookie": cookie})
            with urlopen(request, timeout=5) as answer:
                return answer.headers  # type: ignore[no-any-return]

        def up() -> Any:
            for _ in range(100):
                if (row := stands()["d-3"])["state"] == "up":
                    return row
                time.sleep(0.05)
            raise AssertionError(f"it is not up: {row}")

        boxed = {(key, "answers") for key in ("d-1", "d-2", "d-3", "d-4")}
        self.assertEqual(
            {(key, row["state"], row["page"]) for key, row in stands().items()},
            {(key, "boxed", None) for key, _ in boxed},
        )
        self.measure()
        self.assertEqual(self.cells("broken"), boxed)
        refused = self.call("POST", f"/sites/{self.key}/proofs", {"faults": [{"kind": "cable", "device": "d-1"}]})
        self.assertIn("kept up as it is", refused[1]["message"])
        for key, body, code, said in (
            ("nobody", {"do": "plug"}, 404, "no device 'nobody'"),
            ("d-3", {"do": "kick"}, 422, "plug"),
        ):
            answer = self.call("POST", f"{path}/{key}", body)
            self.assertEqual((answer[0], said in str(answer[1])), (code, True), answer)

        self.assertEqual(self.call("POST", f"{path}/d-3", {"do": "plug"})[0], 204)
        one = up()
        self.call("POST", f"/sites/{self.key}/run", {"technicians": 1})
        in_hand = self.call("GET", f"/sites/{self.key}/bench")[1]["current"]
        self.assertEqual(in_hand["practised"], stands()[in_hand["subject"]])
        self.assertEqual(one["address"], "192.168.64.20")
        cookie = post(f"{one['page']}password", {"password": one["password"]})["Set-Cookie"].partition(";")[0]
        form = {
            "name": "Device 3",
            "date_order": "DMY",
            "clock": "now",
            "address": "10.250.52.52",
            "prefix": "24",
            "gateway": "10.250.52.1",
            "dns": "10.250.52.1",
        }
        post(f"{one['page']}settings", form, cookie)
        time.sleep(0.1)
        self.assertEqual(up()["address"], "10.250.52.52")
        self.measure(only=["d-3"])
        self.assertEqual(self.cells("broken"), boxed - {("d-3", "answers")})
        self.assertEqual(self.call("DELETE", path)[0], 204)
        self.assertFalse(self.sheet()["kept_up"])
        self.assertEqual(self.call("POST", f"{path}/d-3", {"do": "plug"})[0], 409)
        self.measure()
        self.assertEqual(self.cells("broken"), set())
