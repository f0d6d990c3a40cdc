"""Live work: refused unless it is switched on and somebody answers for the networks; then slow, logged, and exact.

The real devices of these tests stand on loopback: their network is 127.41.8.0/24.
"""

import asyncio
import threading
from typing import Any

from django.test import override_settings

from tests.samples import device, document, read
from tests.server.test_api import NOW, ApiCase
from tutelar.core.site import Site
from tutelar.server import models
from tutelar.standin.device import pretend_password
from tutelar.standin.site import StandIn

NETWORK = {"key": "lan", "cidr": "127.41.8.0/24", "gateway": "127.41.8.1", "dns": [], "pools": [], "reserved": []}


def loopback_site() -> dict[str, Any]:
    raw = document([device(1, address="127.41.8.20"), device(2, address="127.41.8.21")], network=NETWORK)
    raw["models"][0]["services"] = {"web": 18080, "stream": 18554}
    return raw


class Standing:
    """The stand-in of a site in a thread of its own: the real devices of these tests."""

    def __init__(self, site: Site) -> None:
        self.site, self.loop = site, asyncio.new_event_loop()
        self.up, self.down = threading.Event(), asyncio.Event()

    def __enter__(self) -> "Standing":
        async def stay() -> None:
            async with StandIn(self.site):
                self.up.set()
                await self.down.wait()

        self.thread = threading.Thread(target=lambda: self.loop.run_until_complete(stay()))
        self.thread.start()
        assert self.up.wait(10)
        return self

    def __exit__(self, *_: object) -> None:
        self.loop.call_soon_threadsafe(self.down.set)
        self.thread.join(10)


@override_settings(TASKS=NOW)
class Refusals(ApiCase):
    def test_nothing_real_is_measured_where_live_work_is_off(self) -> None:
        key = self.bring(loopback_site())
        self.assertFalse(self.call("GET", f"/sites/{key}")[1]["live"])
        for method, path, body in (("PUT", "authority", {"person": "Ines"}), ("POST", "proofs", {"live": True})):
            status, said = self.call(method, f"/sites/{key}/{path}", body)
            self.assertEqual(status, 409, path)
            self.assertIn("Live work is off", said["message"])
        self.assertEqual((models.Proof.objects.count(), models.Authority.objects.count()), (0, 0))

    @override_settings(LIVE=True)
    def test_a_named_person_answers_for_exactly_these_networks(self) -> None:
        key = self.bring(loopback_site())
        path = f"/sites/{key}/authority"
        status, said = self.call("POST", f"/sites/{key}/proofs", {"live": True})
        self.assertEqual(
            (status, said["message"]), (409, "Nobody has confirmed yet that these networks may be tested.")
        )
        self.assertEqual(self.call("PUT", path, {"person": "  "})[0], 422)
        self.assertEqual(self.call("PUT", path, {"person": "Marta Quill, IT"})[0], 204)
        live = self.call("GET", f"/sites/{key}/proof")[1]["live"]
        self.assertEqual((live["authority"]["person"], live["authority"]["holds"]), ("Marta Quill, IT", True))
        log = self.call("GET", f"/sites/{key}/events?search=answers")[1]
        self.assertEqual(log[0]["sentence"], "Marta Quill, IT answers for testing 127.41.8.0/24.")
        self.assertEqual(
            self.call("POST", f"/sites/{key}/proofs", {"live": True, "faults": [{"kind": "cable", "device": "d-1"}]})[
                0
            ],
            422,
        )
        change = {"revision": 1, "networks": {}}
        self.assertIn(self.call("PATCH", f"/sites/{key}/survey", change)[0], (200, 422))
        row = models.Network.objects.get()
        row.cidr = "127.41.9.0/24"
        row.save()
        site = models.Site.objects.get()
        site.version_token = "moved"
        site.save()
        status, said = self.call("POST", f"/sites/{key}/proofs", {"live": True})
        self.assertEqual((status, "Confirm it again" in said["message"]), (409, True))
        self.assertEqual(self.call("DELETE", path)[0], 204)
        self.assertIsNone(self.call("GET", f"/sites/{key}/proof")[1]["live"]["authority"])

    @override_settings(LIVE=True)
    def test_what_is_measured_stops_when_the_authority_is_taken_back(self) -> None:
        key = self.bring(loopback_site())
        self.call("PUT", f"/sites/{key}/authority", {"person": "Marta Quill"})
        row = models.Site.objects.get()
        at_work = models.Proof.objects.create(site=row, state="running", live=True, by="ines")
        self.assertEqual(self.call("DELETE", f"/sites/{key}/authority")[0], 204)
        at_work.refresh_from_db()
        self.assertEqual(at_work.state, "cancelled")
        self.assertIn("ines took back", at_work.message)
        pretend = models.Proof.objects.create(site=row, state="running", by="ines")
        self.call("PUT", f"/sites/{key}/authority", {"person": "Marta Quill"})
        self.call("DELETE", f"/sites/{key}/authority")
        pretend.refresh_from_db()
        self.assertEqual(pretend.state, "running", "the pretend site is nobody's network")


@override_settings(TASKS=NOW, LIVE=True)
class Measured(ApiCase):
    def results(self, key: str) -> dict[tuple[str, str], str]:
        return {(row.device.key, row.check_name): row.result for row in models.Reading.objects.select_related("device")}

    def test_real_devices_are_asked_with_what_is_kept_and_a_refusal_counts(self) -> None:
        raw = loopback_site()
        site = read(raw)
        key = self.bring(raw)
        self.call("PUT", f"/sites/{key}/authority", {"person": "Marta Quill"})
        right = {"version": 0, "secret": pretend_password(site, "d-1")}
        self.assertEqual(self.call("PUT", f"/sites/{key}/devices/d-1/secrets/login", right)[0], 204)
        wrong = {"version": 0, "secret": "another-Quay-77"}
        self.assertEqual(self.call("PUT", f"/sites/{key}/devices/d-2/secrets/login", wrong)[0], 204)
        with Standing(site):
            self.assertEqual(self.call("POST", f"/sites/{key}/proofs", {"live": True})[0], 202)
        proof = models.Proof.objects.get()
        self.assertEqual((proof.state, proof.live), ("done", True), proof.message)
        found = self.results(key)
        self.assertEqual(
            {found["d-1", check] for check in ("answers", "right-device", "login", "mask", "resolution")}, {"pass"}
        )
        self.assertEqual((found["d-2", "login"], found["d-2", "mask"]), ("fail", "skipped"))
        self.assertEqual(models.FailedLogins.objects.get().number, 1)  # one try a sweep, not one a question
        events = models.Event.objects.filter(kind="proof.started").values_list("sentence", flat=True)
        self.assertIn("on the real networks 127.41.8.0/24; Marta Quill answers for it", events[0])
        for text in (pretend_password(site, "d-1"), "another-Quay-77"):
            everywhere = repr(list(models.Event.objects.values())) + repr(list(models.Reading.objects.values()))
            self.assertNotIn(text, everywhere)
        self.call("POST", f"/sites/{key}/proofs", {"live": True})  # nobody stands there any more
        self.assertEqual(self.results(key)["d-1", "answers"], "silent")


@override_settings(TASKS=NOW)
class Results(ApiCase):
    def test_what_changed_since_the_last_measuring_is_listed_and_the_result_is_taken_away(self) -> None:
        key = self.bring(
            document(
                [device(1, address="10.250.41.50", network="n"), device(2, address="10.250.41.51", network="n")],
                networks=[{"key": "n", "cidr": "10.250.41.0/24"}],
            )
        )
        self.call("POST", f"/sites/{key}/proofs", {})
        before = self.call("GET", f"/sites/{key}/proof")[1]
        self.assertEqual(before["changes"], [])
        whole = before["coverage"]["expected"]
        self.assertEqual(before["coverage"]["sentence"], f"{whole} of {whole} readings fresh and passed.")
        self.call("POST", f"/sites/{key}/proofs", {"faults": [{"kind": "wrong-name", "device": "d-2"}]})
        sheet = self.call("GET", f"/sites/{key}/proof")[1]
        self.assertEqual(
            [(row["device"], row["check"], row["before"], row["now"]) for row in sheet["changes"]],
            [("d-2", "name", "pass", "fail")],
        )
        self.assertEqual(sheet["coverage"]["fresh"], whole - 1)
        table = self.client.get(f"/api/sites/{key}/files/proof.csv").content.decode("utf-8-sig").splitlines()
        self.assertEqual(len(table), whole + 1)
        self.assertEqual(len([line for line in table if ",broken," in line]), 1)
        self.assertEqual(self.client.get(f"/api/sites/{key}/files/proof.json").json()["coverage"]["fresh"], whole - 1)
        self.assertTrue(self.client.get(f"/api/sites/{key}/files/proof.pdf").content.startswith(b"%PDF"))
        self.assertTrue(self.client.get(f"/api/sites/{key}/files/proof.xlsx").content.startswith(b"PK"))
        self.assertEqual(self.client.get(f"/api/sites/{key}/files/proof.doc").status_code, 404)
