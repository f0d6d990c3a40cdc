"""Remote access by real requests: one step holds the next, whose a device is, and the way that is chosen."""

from typing import Any

from tests.samples import device, document
from tests.server.test_api import ApiCase
from tutelar.server import models
from tutelar.server.store import documents


class Remote(ApiCase):
    def site(self, **more: Any) -> str:
        raw = document([device(1, address="10.20.30.60", **more)], internet={"connection": "line"})
        raw["links"] = [{"kind": "relays", "from": "d-1", "to": "relay"}]
        return self.bring(raw)

    def tick(self, key: str, item: str, state: str = "done", note: str = "") -> tuple[int, Any]:
        return self.call("PUT", f"/sites/{key}/remote/d-1/steps/{item}", {"state": state, "note": note})

    def test_steps_are_ticked_in_their_order_with_what_is_asked_for(self) -> None:
        key = self.site()
        sheet = self.call("GET", f"/sites/{key}/remote")[1]
        self.assertEqual((sheet["method"], len(sheet["methods"]), sheet["devices"][0]["open"]), (None, 5, 7))
        status, refused = self.tick(key, "remote-rights", note="the guard")
        self.assertEqual((status, refused["message"]), (409, "First: relay switched on. One step holds the next."))
        self.assertEqual(self.tick(key, "remote-relay-on")[0], 200)
        status, refused = self.tick(key, "remote-terms")
        self.assertEqual((status, refused["message"]), (422, "Write down who accepted, for whom."))
        status, sheet = self.tick(key, "remote-terms", note="Lena for the harbour")
        step = next(item for item in sheet["devices"][0]["steps"] if item["item"] == "remote-terms")
        self.assertEqual((step["state"], step["note"], step["by"]), ("done", "Lena for the harbour", "ines"))
        self.assertEqual(self.tick(key, "remote-code", "not-needed")[0], 422)
        self.assertEqual(self.tick(key, "remote-code", "not-needed", "this maker has none")[0], 200)
        self.assertEqual(self.tick(key, "remote-terms", "open")[0], 200)
        self.assertEqual(self.tick(key, "remote-online")[0], 409)
        self.assertEqual(self.tick(key, "remote-nothing")[0], 404)
        document_now = documents.export(models.Site.objects.get(key=key))
        kept = {item["item"]: item["state"] for item in document_now["checklist"]}
        self.assertEqual(kept, {"remote-relay-on": "done", "remote-terms": "open", "remote-code": "not-needed"})
        self.assertEqual(models.Event.objects.filter(site_key=key, kind="remote.step").count(), 4)

    def test_whose_a_used_device_is_holds_everything_after_it(self) -> None:
        key = self.site(used=True)
        self.tick(key, "used-purchase", note="bill 114")
        status, refused = self.tick(key, "used-released")
        self.assertEqual((status, "not ticked" in refused["message"]), (422, True))
        owner = f"/sites/{key}/remote/d-1/owner"
        wrong = {"state": "ours", "account": "former"}
        self.assertEqual(self.call("PUT", owner, wrong)[0], 422)
        sheet = self.call("PUT", owner, {"state": "released", "note": "by telephone"})[1]
        states = {item["item"]: item["state"] for item in sheet["devices"][0]["steps"]}
        self.assertEqual((states["used-released"], states["used-reset"]), ("done", "open"))
        self.assertEqual(self.call("PUT", owner.replace("d-1", "d-7"), {"state": "ours"})[0], 404)

    def test_forwarding_needs_its_reason(self) -> None:
        key = self.site()
        self.assertEqual(self.call("PUT", f"/sites/{key}/remote/method", {"method": "forwarding"})[0], 422)
        status, sheet = self.call("PUT", f"/sites/{key}/remote/method", {"method": "vpn", "why": "IT has one."})
        self.assertEqual((status, sheet["method"], sheet["why"], sheet["by"]), (200, "vpn", "IT has one.", "ines"))
