"""What comes later by real requests: a device is replaced step by step, the diary, recordings, one search over all."""

from datetime import timedelta
from typing import Any

from django.utils import timezone

from tests.samples import demo
from tests.server.test_secrets import SecretCase
from tutelar.server import models


class Later(SecretCase):
    def setUp(self) -> None:
        super().setUp()
        self.key = self.bring(demo())

    def begin(self, kind: str, device: str | None) -> tuple[int, Any]:
        return self.call("POST", f"/sites/{self.key}/later/changes", {"kind": kind, "device": device})

    def step(self, step: str, *, done: bool = True, number: int = 1) -> tuple[int, Any]:
        return self.call("PUT", f"/sites/{self.key}/later/changes/{number}/steps/{step}", {"done": done, "note": "so"})

    def unit(self, number: int = 1, **given: str) -> tuple[int, Any]:
        return self.call("PUT", f"/sites/{self.key}/later/changes/{number}/unit", given)

    def ends(self) -> dict[str, str]:
        found = self.call("GET", f"/sites/{self.key}/leaving")[1]["ends"]
        return {end["subject"]: end["message"] for end in found if end["code"] == "checklist-open"}

    def test_a_camera_is_replaced_from_the_first_step_to_the_last(self) -> None:
        status, sheet = self.begin("replace", "cam-01")
        self.assertEqual(status, 200)
        steps = [step["key"] for step in sheet["changes"][0]["steps"]]
        self.assertIn("steps open", self.ends()["cam-01"])
        self.assertEqual(self.begin("replace", "cam-01")[0], 409)
        closing = self.call("DELETE", f"/sites/{self.key}/leaving/checklist-open/cam-01")
        self.assertEqual(closing[0], 422)
        status, refused = self.step("values")
        self.assertEqual((status, refused["message"][:6]), (409, "First:"))
        self.assertEqual(self.step("identity")[0], 422)
        row = models.Device.objects.get(site__key=self.key, key="cam-01")
        old, address = row.mac, row.address
        self.assertEqual(self.unit(mac=old or "")[0], 422)
        self.assertEqual(self.unit(mac="no address")[0], 422)
        self.assertEqual(self.unit()[0], 422)
        models.ValueTick.objects.create(site=row.site, subject="cam-01", line="name", mark="x", by="ines")
        status, sheet = self.unit(mac="02-00-00-00-77-01", serial="NEW-1")
        now = sheet["changes"][0]["now"]
        self.assertEqual((status, now["mac"], now["serial"]), (200, "02:00:00:00:77:01", "NEW-1"))
        for step in steps:
            status, sheet = self.step(step)
            self.assertEqual(status, 200, (step, sheet))
        row.refresh_from_db()
        self.assertEqual(row.address, address)
        self.assertFalse(models.ValueTick.objects.filter(site=row.site, subject="cam-01").exists())
        self.assertEqual((sheet["changes"][0]["open"], self.ends()), (0, {}))
        self.assertIsNotNone(sheet["changes"][0]["over"])
        self.assertEqual(self.step(steps[0], done=False)[0], 409)

    def test_a_step_is_opened_again_only_where_nothing_was_built_on_it_and_a_change_is_given_up(self) -> None:
        second = self.begin("retire", "cam-02")[1]["changes"][0]["steps"][1]
        self.step("agreed")
        self.assertEqual(self.step(second["key"])[0], 200)
        status, refused = self.step("agreed", done=False)
        self.assertEqual((status, refused["message"]), (409, f"First open again: {second['title']}."))
        self.step(second["key"], done=False)
        self.assertEqual(self.step("agreed", done=False)[0], 200)
        give_up = f"/sites/{self.key}/later/changes/1/given-up"
        self.assertEqual(self.call("PUT", give_up, {"reason": " "})[0], 422)
        status, sheet = self.call("PUT", give_up, {"reason": "it works again"})
        self.assertEqual((status, sheet["changes"][0]["given_up"], self.ends()), (200, "it works again", {}))
        self.assertEqual(self.begin("retire", "no-such")[0], 404)
        self.assertEqual(self.begin("retire", None)[0], 422)
        self.assertEqual(self.begin("take-over", None)[1]["changes"][0]["name"], "Brackwater Ferry Terminal")

    def test_it_moves_to_wifi_under_its_other_address(self) -> None:
        self.begin("wifi", "cam-03")
        status, sheet = self.unit(wifi_mac="02:00:00:00:88:03")
        self.assertEqual((status, sheet["changes"][0]["now"]["wifi_mac"]), (200, "02:00:00:00:88:03"))
        self.assertEqual(models.Device.objects.get(site__key=self.key, key="cam-03").extra["medium"], "wifi")
        sheet = self.begin("replace", "cam-03")[1]
        second = next(change for change in sheet["changes"] if change["kind"] == "replace")
        self.assertEqual(second["asks"], ["wifi_mac", "mac", "serial"])
        status, sheet = self.unit(2, mac="02:00:00:00:88:09")
        now = next(change for change in sheet["changes"] if change["kind"] == "replace")["now"]
        self.assertEqual((now["mac"], now["wifi_mac"]), ("02:00:00:00:88:09", None))  # nothing of the old one stays

    def test_a_recording_is_put_right_by_the_looks_that_were_kept(self) -> None:
        row = models.Site.objects.get(key=self.key)
        device = row.device_set.get(key="rec-1")
        ask = f"/sites/{self.key}/later/footage?device=rec-1&shown="
        self.assertIn("Nobody looked", self.call("GET", f"{ask}2026-06-10T14:10")[1]["sentence"])
        for days, offset in ((40, -3602.0), (20, 0.0)):
            models.Reading.objects.create(
                site=row, device=device, check_name="clock", result="pass", offset_s=offset, measured_at="site",
                at=timezone.now() - timedelta(days=days), by="ines",
            )  # fmt: skip
        day = f"{timezone.now() - timedelta(days=60):%Y-%m-%d}"
        found = self.call("GET", f"{ask}{day}T14:10")[1]
        self.assertEqual((found["made"][0][:19], found["certain"]), (f"{day}T15:10:02", False))
        for wrong in ("yesterday", "2026-13-01", "9999-12-31T23:59:59"):
            self.assertEqual(self.call("GET", f"{ask}{wrong}")[0], 422, wrong)

    def test_one_search_finds_devices_and_papers_of_every_site(self) -> None:
        row = models.Device.objects.get(site__key=self.key, key="cam-01")
        for words in (row.name, "cam-01", (row.mac or "").replace(":", "-").upper(), row.serial):
            found = self.call("GET", f"/find?search={words}")[1]["devices"]
            self.assertIn((self.key, "cam-01"), {(item["site"], item["key"]) for item in found}, words)
        self.assertEqual(self.call("GET", "/find?search=")[1], {"devices": [], "more": False, "papers": []})
        papers = self.call("GET", "/find?search=brackwater pack")[1]["papers"]
        self.assertEqual([paper["name"] for paper in papers], ["handover"])
        diary = self.client.get(f"/api/sites/{self.key}/files/diary.ics").content
        self.assertIn(b"Yearly look", diary)
