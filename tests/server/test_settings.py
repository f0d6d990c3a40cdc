"""Clocks, ports, choices, labels and the device page by real requests."""

import io
import json
import re
from datetime import datetime, timedelta
from typing import Any
from unittest import mock
from zoneinfo import ZoneInfo

from django.utils import timezone
from icalendar import Calendar
from pypdf import PdfReader

from tests.samples import demo, device, document
from tests.server.test_api import ApiCase
from tutelar.core.links.registry import link_index
from tutelar.core.proof.expectation import expectations
from tutelar.core.site import read_site
from tutelar.paper.labels import Label, label_svg, modules

LINKS = [{"kind": "records", "from": "d-1", "to": "d-9", "slot": 1}]
OUTSIDE = {"outside_address": "203.0.113.9", "router_ports": [443]}


class Clocks(ApiCase):
    def look(self, key: str, shown: str, at: datetime, **more: Any) -> tuple[int, Any]:
        with mock.patch.object(timezone, "now", return_value=at):
            return self.call("POST", f"/sites/{key}/devices/d-1/clock", {"shown": shown, **more})

    def test_what_is_shown_is_judged_kept_and_its_drift_told(self) -> None:
        key = self.bring(document([device(1, address="10.20.30.50")]))
        noon = datetime(2026, 6, 8, 12, 0, tzinfo=ZoneInfo("Europe/Dublin"))
        for shown, finding in (
            ("08/06/2026 12:00:01", "good"),
            ("08/06/2026 11:00:00", "daylight-saving"),
            ("08/06/2026 00:00:00", "half-day"),
            ("06/08/2026 12:00:00", "date-order"),
            ("01/01/2000 03:12:00", "never-set"),
        ):
            self.assertEqual(self.look(key, shown, noon)[1]["finding"], finding, shown)
        self.assertEqual(self.call("GET", f"/sites/{key}/file")[1]["readings"], [])  # nothing was kept so far
        for days in (0, 2):
            shown = f"{8 + days:02d}/06/2026 12:00:{days:02d}"
            late = noon + timedelta(days=days, seconds=20)
            self.assertEqual(self.look(key, shown, late, ago_s=20, keep=True)[1]["offset_s"], days)
        with mock.patch.object(timezone, "now", return_value=noon + timedelta(days=20)):
            row = self.call("GET", f"/sites/{key}/clocks")[1]["devices"][0]
        self.assertEqual(
            (row["said"], row["due"][:10], row["doubtful"]),
            ("2 s ahead; it gains 1.0 s a day; look again by 2026-06-13.", "2026-06-13", True),
        )
        events = self.call("GET", f"/sites/{key}/events?search=clock")[1]
        self.assertEqual(events[0]["sentence"], "Clock of Device 1: Right: 2 s ahead.")
        for shown in ("", "noon", "99/99/2026 12:00"):
            status, said = self.look(key, shown, noon)
            self.assertEqual((status, bool(said["message"])), (422, True))
        self.assertEqual(self.look(key, "08/06/2026 12:00", noon, ago_s=1e9)[0], 422)

    def test_the_coming_changes_go_into_a_calendar(self) -> None:
        key = self.bring(demo())
        calendar = Calendar.from_ical(self.client.get(f"/api/sites/{key}/files/clocks.ics").content)
        events = list(calendar.walk("VEVENT"))
        self.assertEqual(len(events), 6)
        self.assertTrue(all("Look at:" in str(event["description"]) for event in events))
        self.assertTrue(all("Ticket hall east (cam-01)" in str(event["description"]) for event in events))
        self.assertEqual({event["dtstart"].dt.astimezone(ZoneInfo("Europe/Dublin")).weekday() for event in events}, {6})
        self.assertTrue(all(str(event["url"]).startswith("http://testserver/sites/") for event in events))
        here = self.client.get(f"/api/sites/{key}/files/clocks.ics", SERVER_NAME="127.0.0.1").content
        self.assertNotIn(b"127.0.0.1", here, "on somebody else's machine it leads nowhere")
        raw = document([device(1)])
        raw["site"]["time_zone"] = "Asia/Tokyo"
        self.assertEqual(self.call("GET", f"/sites/{self.bring(raw)}/files/clocks.ics")[0], 422)


class PortsAndChoices(ApiCase):
    def test_a_changed_port_is_typed_expected_and_told(self) -> None:
        rows = [device(1, address="10.20.30.50"), device(9, "larkmoor-rec-8", name="Recorder", address="10.20.30.60")]
        key = self.bring(document(rows, links=LINKS))
        put = f"/sites/{key}/devices/d-1/ports"
        self.assertEqual(self.call("PUT", put, {"revision": 1, "ports": {"web": 554}})[0], 422)
        self.assertEqual(self.call("PUT", put, {"revision": 1, "ports": {"paging": 99}})[0], 422)
        self.assertEqual(self.call("PUT", put, {"revision": 1, "ports": {"stream": 70000}})[0], 422)
        self.assertEqual(self.call("PUT", put, {"revision": 1, "ports": {"stream": 8554}})[0], 200)
        self.assertEqual(self.call("PUT", put, {"revision": 1, "ports": {"stream": 8555}})[0], 409)
        page = self.call("GET", f"/sites/{key}/devices/d-1/page")[1]
        self.assertEqual([(row["port"], row["usual"]) for row in page["ports"] if row["changed"]], [(8554, 554)])
        self.assertIn("type port 8554", page["tellings"][0]["sentence"])
        wanted = [cell["expected"] for cell in self.call("GET", f"/sites/{key}/proof")[1]["cells"]]
        self.assertIn("port 8554 open at 10.20.30.50", wanted)
        self.assertEqual(self.call("GET", f"/sites/{key}/job")[1]["next"]["stage"], "bench")
        self.assertEqual(self.call("GET", f"/sites/{key}/file")[1]["devices"][0]["services"], {"stream": 8554})

    def test_a_forward_is_a_decision_with_a_name_and_a_reason(self) -> None:
        key = self.bring(document([device(1)], internet=OUTSIDE))
        good = {"outside": 9554, "device": "d-1", "service": "stream", "decided_by": "Ines", "why": "No relay"}

        def decide(**change: Any) -> tuple[int, Any]:
            revision = self.call("GET", f"/sites/{key}/ports")[1]["revision"]
            return self.call("POST", f"/sites/{key}/forwards", good | {"revision": revision} | change)

        for change, said in (
            ({"why": " "}, "Say why"),
            ({"outside": 443}, "router's own"),
            ({"device": "d-7"}, "d-7"),
            ({"service": "paging"}, "paging"),
        ):
            status, answer = decide(**change)
            self.assertEqual((status, said in answer["message"]), (422, True), answer)
        self.assertEqual(decide()[0], 201)
        self.assertEqual(decide()[0], 422)  # the outside port is taken now
        sheet = self.call("GET", f"/sites/{key}/ports")[1]
        self.assertIn("reaches Device 1", sheet["forwards"][0]["risk"])
        path = f"/sites/{key}/forwards/9554?revision="
        self.assertEqual(self.call("DELETE", f"{path}1")[0], 409)
        self.assertEqual(self.call("DELETE", f"{path}{sheet['revision']}")[0], 200)
        shared = {"site": {"key": "cut", "name": "Cut"}, "internet": OUTSIDE | {"outside_address": "100.64.3.2"}}
        cut = self.bring(document([device(1)], **shared))
        status, answer = self.call("POST", f"/sites/{cut}/forwards", good | {"revision": 1})
        self.assertEqual((status, "carrier-grade NAT" in answer["message"]), (422, True))

    def test_a_choice_of_the_site_stands_in_every_device_of_the_family(self) -> None:
        key = self.bring(demo())
        revision = self.call("GET", f"/sites/{key}/choices")[1]["revision"]
        choice = {"revision": revision, "family": "camera", "setting": "day-night", "value": "By time"}
        self.assertEqual(self.call("PUT", f"/sites/{key}/choices", choice | {"setting": "no-such"})[0], 422)
        self.assertEqual(self.call("PUT", f"/sites/{key}/choices", choice)[0], 200)
        groups = self.call("GET", f"/sites/{key}/devices/cam-07/page")[1]["groups"]
        line = next(line for group in groups for line in group["lines"] if line["key"] == "day-night")
        self.assertEqual((line["value"], line["usual"], line["chosen"]), ("By time", "Automatic", True))
        back = choice | {"revision": revision + 1, "value": ""}
        self.assertEqual(self.call("PUT", f"/sites/{key}/choices", back)[0], 200)
        self.assertNotIn("choices", self.call("GET", f"/sites/{key}/file")[1]["policy"])

    def test_a_stream_set_in_numbers_counts_in_values_load_and_proof(self) -> None:
        key = self.bring(demo())
        revision = self.call("GET", f"/sites/{key}/choices")[1]["revision"]
        path, wanted = (
            f"/sites/{key}/choices/stream",
            {"revision": revision, "family": "camera", "setting": "main-stream"},
        )
        for wrong in ({"setting": "day-night"}, {"kbps": 0}, {"kbps": "fast"}, {"width": 1.5}):
            self.assertEqual(self.call("PUT", path, wanted | {"fps": 12} | wrong)[0], 422, wrong)
        self.assertEqual(self.call("PUT", f"/sites/{key}/choices", wanted | {"value": "Full"})[0], 422)
        self.assertEqual(self.call("PUT", path, wanted | {"fps": 12, "kbps": 2000})[0], 200)
        groups = self.call("GET", f"/sites/{key}/devices/cam-07/page")[1]["groups"]
        line = next(line for group in groups for line in group["lines"] if line["key"] == "main-stream")
        self.assertIn("12 a second, H.265, 2000 kbit/s", line["value"])
        self.assertTrue(line["chosen"])
        site = read_site(json.dumps(self.call("GET", f"/sites/{key}/file")[1]))
        wanted_of = expectations(site, site.device_by_key["cam-07"], None)
        self.assertIn("12 a second", next(item for item in wanted_of if item.check == "resolution").expected)
        links = [link for link in site.links if link.kind == "records" and link.to == "rec-1"]
        self.assertAlmostEqual(link_index(site, {}).loads["rec-1"].mbps, 2.0 * len(links), places=6)
        self.assertEqual(self.call("PUT", path, wanted | {"revision": revision + 1})[0], 200)
        self.assertNotIn("streams", self.call("GET", f"/sites/{key}/file")[1]["policy"])

    def test_a_value_that_changed_after_it_was_typed_counts_as_not_typed(self) -> None:
        key = self.bring(document([device(1, address="10.20.30.50")]))
        tick = {"subject": "d-1", "line": "address", "value": "10.20.30.50", "done": True}
        self.assertEqual(self.call("POST", f"/sites/{key}/typed", tick)[0], 204)
        revision = self.placed(key, "d-1")["revision"]
        change = {"revision": revision, "address": "10.20.30.51"}
        self.assertEqual(self.call("PATCH", f"/sites/{key}/devices/d-1", change)[0], 200)
        groups = self.call("GET", f"/sites/{key}/devices/d-1/page")[1]["groups"]
        line = next(line for group in groups for line in group["lines"] if line["key"] == "address")
        self.assertEqual((line["ticked"], line["typed_before"], line["typed_by"]), (False, "10.20.30.50", "ines"))


class Labels(ApiCase):
    def test_labels_carry_the_link_the_name_and_the_numbers(self) -> None:
        key = self.bring(demo())
        self.call("POST", f"/sites/{key}/plan", {"revision": 1})
        sheets = PdfReader(io.BytesIO(self.client.get(f"/api/sites/{key}/files/labels.pdf").content))
        self.assertEqual(len(sheets.pages), 2)  # 39 devices, 24 a sheet
        text = sheets.pages[0].extract_text()
        self.assertIn("Ticket hall east", text)
        svg = self.client.get(f"/api/sites/{key}/files/labels.svg?devices=cam-12").content.decode()
        self.assertEqual((svg.count("<g "), "10.62.8.112" in svg, "02:1a:4b:00:00:0c" in svg), (1, True, True))
        for path in ("labels.svg?devices=cam-99", "labels.docx"):
            self.assertEqual(self.call("GET", f"/sites/{key}/{path}")[0], 404)

    def test_the_code_on_a_label_is_the_link_to_the_devices_page(self) -> None:
        link = "http://127.0.0.1:8000/sites/brackwater/devices/cam-12"
        rows = modules(link)
        self.assertEqual(len({len(row) for row in rows} | {len(rows)}), 1)
        self.assertTrue(all(rows[0][:7]) and not rows[1][1])  # the corner that readers look for
        odd = label_svg([Label(link, "A <very> long & odd name " * 8, ("", "Türhof"))], "Labels")
        self.assertNotIn("<very>", odd)
        self.assertTrue(re.search(r"…</text>", odd))
