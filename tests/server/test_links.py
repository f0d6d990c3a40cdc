"""Links by real requests: the loom, one link from both ends, proposals, tables, numbers, what was witnessed."""

import csv
import io
from typing import Any

from django.test import override_settings
from hypothesis import given, settings
from hypothesis.extra import django as hypothesis_django

from tests.link_examples import LINKS
from tests.link_examples import document as every_kind
from tests.link_sites import over, proven, recorded_sites
from tests.samples import demo, device, document
from tests.server.test_api import NOW, ApiCalls, ApiCase
from tutelar.server import models


class LinkCase(ApiCase):
    def loom(self, key: str) -> dict[str, Any]:
        status, sheet = self.call("GET", f"/sites/{key}/links")
        self.assertEqual(status, 200, sheet)
        return sheet  # type: ignore[no-any-return]

    def threads(self, key: str) -> dict[tuple[str, str], dict[str, Any]]:
        return {
            (thread["start"], beam["key"]): thread for beam in self.loom(key)["beams"] for thread in beam["threads"]
        }

    def bench_done(self, key: str) -> None:
        """Settle every bench step, as somebody did who set all devices up."""
        row = models.Site.objects.get(key=key)
        models.StepRecord.objects.bulk_create(
            models.StepRecord(
                site=row, step=f"{item.key}:configure", device_key=item.key, kind="configure", state="done", by="x"
            )
            for item in models.Device.objects.filter(site=row)
        )

    def keep_secrets(self, key: str) -> None:
        row = models.Site.objects.get(key=key)
        secret = models.Secret.objects.create(site=row, sealed=b"x", by="x")
        models.SecretUse.objects.bulk_create(
            models.SecretUse(site=row, secret=secret, device_key=item.key, slot=slot)
            for item in models.Device.objects.filter(site=row)
            for slot in ("login", "administrator", "registration")
        )

    def ready(self, raw: dict[str, Any]) -> str:
        key = self.bring(raw)
        self.call("POST", f"/sites/{key}/plan", {"revision": 1})
        self.bench_done(key)
        self.keep_secrets(key)
        return key


class Loom(LinkCase):
    def test_loose_threads_carry_their_reason_and_whose_turn_it_is(self) -> None:
        rows = [
            device(1, "larkmoor-rec-8", address="10.20.30.20"),
            device(2, address="10.20.30.50"),
            device(3),
            device(4, address="10.20.30.51"),
            device(5, "larkmoor-rec-8", address="10.20.30.21"),
            device(6, network=None, behind="d-5", address="172.27.16.9"),
        ]
        links = [
            {"kind": "records", "from": f"d-{at}", "to": "d-1", "slot": slot}
            for at, slot in ((2, 1), (4, None), (6, 4))
        ]
        key = self.bring(document(rows, links=links))
        self.bench_done(key)
        self.keep_secrets(key)
        found = {
            start: (item["state"], item["reason"], item["where"]) for (start, _), item in self.threads(key).items()
        }
        self.assertEqual(
            found,
            {
                "d-2": ("ready", None, None),
                "d-4": ("waiting", "no channel yet", "links"),
                "d-6": ("impossible", "it is behind Device 5, reached only through it", "links"),
            },
        )
        sheet = self.loom(key)
        self.assertEqual([item["key"] for item in sheet["untied"]], ["d-3", "d-6"])
        gravest = next(item for (start, _), item in self.threads(key).items() if start == "d-6")
        self.assertEqual(sheet["next_link"], gravest["id"])
        job = self.call("GET", f"/sites/{key}/job")[1]
        stage = next(row for row in job["stages"] if row["stage"] == "links")
        self.assertEqual((stage["open"], stage["next"]["subjects"]), (4, ["d-3"]))

    def test_every_kind_stands_in_the_loom_and_has_a_card(self) -> None:
        key = self.ready(every_kind())
        threads = self.threads(key)
        self.assertEqual({item["state"] for item in threads.values()}, {"ready"})
        self.assertEqual({item["kind"] for item in threads.values()}, set(LINKS))
        for item in threads.values():
            status, card = self.call("GET", f"/sites/{key}/links/{item['id']}")
            self.assertEqual(status, 200, card)
            self.assertTrue(all(need["met"] for need in card["needs"]), card["needs"])
            self.assertTrue(card["groups"] and card["tests"])
        self.assertEqual(self.call("GET", f"/sites/{key}/links/987654")[0], 404)

    def test_values_typed_at_both_ends_tie_it_and_witnessed_tests_prove_it(self) -> None:
        key = self.ready(every_kind())
        path = f"/sites/{key}/links/{self.threads(key)['view-1', 'gate-1']['id']}"
        card = self.call("GET", path)[1]
        self.assertEqual([group["key"] for group in card["groups"]], ["view-1", "gate-1"])
        for group in card["groups"]:
            for line in group["lines"]:
                tick = {"subject": group["key"], "line": line["key"], "value": line["mark"], "done": True}
                self.assertEqual(self.call("POST", f"/sites/{key}/typed", tick)[0], 204, line)
        self.assertEqual(self.call("GET", path)[1]["state"], "tied")
        self.assertEqual(self.call("POST", f"{path}/readings", {"test": "dance", "result": "pass"})[0], 422)
        self.assertEqual(self.call("POST", f"{path}/readings", {"test": "call", "result": "fail"})[0], 422)
        for test in card["tests"]:
            self.assertEqual(self.call("POST", f"{path}/readings", {"test": test["key"], "result": "pass"})[0], 201)
        card = self.call("GET", path)[1]
        self.assertEqual(
            (card["state"], card["tests"][0]["by"], card["tests"][0]["state"]), ("proven", "ines", "proven")
        )
        self.call("POST", f"{path}/readings", {"test": "sound", "result": "fail", "words": "one way only"})
        self.assertEqual(self.call("GET", path)[1]["reason"], "Sound both ways: one way only")
        log = self.call("GET", f"/sites/{key}/events?search=sound failed")[1]
        self.assertEqual(log[0]["sentence"], "View 1 registers at Gate 1: sound both ways failed (one way only).")
        again = self.bring(self.call("GET", f"/sites/{key}/file")[1] | {"site": {"key": "copy", "name": "Copy"}})
        self.assertEqual(self.threads(again)["view-1", "gate-1"]["state"], "broken")  # readings travel with the file

    def test_a_changed_address_password_or_number_makes_the_proven_link_doubtful(self) -> None:
        key = self.ready(every_kind())
        path = f"/sites/{key}/links/{self.threads(key)['eye-1', 'disk-1']['id']}"

        def prove() -> None:
            for test in self.call("GET", path)[1]["tests"]:
                self.call("POST", f"{path}/readings", {"test": test["key"], "result": "pass"})
            self.assertEqual(self.call("GET", path)[1]["state"], "proven")

        prove()
        part = f"/sites/{key}/devices/eye-1"
        self.call("PATCH", part, {"revision": 2, "address": "10.20.30.200"})
        card = self.call("GET", path)[1]
        self.assertEqual(card["state"], "doubtful")
        self.assertIn("10.20.30.200 now", card["tests"][0]["changed"][0])
        prove()
        self.call("PATCH", path, {"revision": card["revision"], "slot": 3})
        self.assertIn("the channel changed: 1 then, 3 now", self.call("GET", path)[1]["reason"])
        prove()
        row = models.Site.objects.get(key=key)
        models.SecretUse.objects.filter(device_key="eye-1").update(
            secret=models.Secret.objects.create(site=row, sealed=b"y")
        )
        self.assertEqual(self.call("GET", path)[1]["state"], "doubtful")
        prove()
        self.call("PATCH", part, {"revision": 3, "mac": "02:1a:4b:00:0a:0a"})
        self.assertIn("Eye 1 itself", self.call("GET", path)[1]["reason"])

    @override_settings(TASKS=NOW)
    def test_what_is_measured_of_the_devices_counts_for_their_links(self) -> None:
        raw = demo()
        raw["devices"] = [item for item in raw["devices"] if item["key"] in ("rec-1", "rec-2", "cam-01", "cam-13")]
        raw["links"] = [item for item in raw["links"] if item["from"] in ("rec-1", "cam-01", "cam-13")]
        for item in raw["devices"]:
            item["powered_by"] = None
        key = self.bring(raw)
        self.call("POST", f"/sites/{key}/plan", {"revision": 1})
        self.call("POST", f"/sites/{key}/proofs", {"faults": [{"kind": "not-recording", "device": "cam-13"}]})
        threads = self.threads(key)
        self.assertEqual((threads["cam-01", "rec-1"]["passed"], threads["cam-01", "rec-1"]["tests"]), (2, 4))
        broken = threads["cam-13", "rec-2"]
        self.assertEqual((broken["state"], broken["passed"]), ("broken", 1))
        self.assertIn("shows its red dot, and nothing new is on its time line", broken["reason"])
        self.assertEqual(threads["rec-1", "relay"]["passed"], 1)

    def test_a_link_is_untied_and_tied_again_as_it_was(self) -> None:
        key = self.ready(every_kind())
        thread = self.threads(key)["reader-1", "panel-1"]
        path = f"/sites/{key}/links/{thread['id']}"
        self.assertEqual(self.call("DELETE", f"{path}?revision=9")[0], 409)
        gone = self.call("DELETE", f"{path}?revision=1")[1]
        self.assertEqual((gone["slot"], gone["side"]), (2, "in"))
        self.assertEqual(self.call("DELETE", f"{path}?revision=1")[0], 404)
        back = {name: value for name, value in gone.items() if name not in ("from", "to")}
        self.assertEqual(
            self.call("POST", f"/sites/{key}/links", back | {"start": gone["from"], "to": gone["to"]})[0], 201
        )
        out = {"kind": "reads-for", "start": "eye-1", "to": "panel-1", "slot": 2}
        self.assertEqual(self.call("POST", f"/sites/{key}/links", out | {"side": "out"})[0], 201)  # the other side
        self.assertEqual(self.call("POST", f"/sites/{key}/links", out | {"start": "gate-1", "side": "out"})[0], 422)
        self.assertEqual(self.call("POST", f"/sites/{key}/links", out | {"start": "panel-1"})[0], 422)
        self.assertEqual(self.call("POST", f"/sites/{key}/links", out | {"to": "nowhere"})[0], 422)


class Several(LinkCase):
    def test_what_is_proposed_is_what_is_tied(self) -> None:
        raw = demo()
        raw["links"] = raw["links"][:2]
        key = self.bring(raw)
        wanted = self.call("GET", f"/sites/{key}/links/proposal")[1]
        self.assertEqual((wanted["shortfall"], wanted["left"], wanted["proved"]), ([], ["Camera desk"], True))
        path = f"/sites/{key}/links/proposal"
        self.assertEqual(self.call("POST", path, {"revision": 9})[0], 409)
        self.assertEqual(self.call("POST", path, {"revision": wanted["revision"]})[0], 200)
        self.assertEqual(models.Link.objects.count(), 2 + len(wanted["changes"]))
        self.assertEqual(self.call("GET", path)[1]["changes"], [])
        self.assertEqual(self.call("POST", path, {"revision": wanted["revision"] + 1})[0], 422)

    def test_three_hundred_links_come_from_a_table_and_ten_wrong_rows_are_named(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), *(device(at) for at in range(2, 302))]
        raw = document(rows, network={"cidr": "10.20.28.0/22", "gateway": "10.20.28.1"})
        raw["models"][1]["capacity"] = {"channels": 400}
        key = self.bring(raw)
        lines = ["Link;From;To;Number;Colour"]
        for at in range(2, 302):
            wrong = at % 30 == 0
            lines.append(f"records;d-{at};{'d-77x' if wrong else 'd-1'};{at - 1};blue")
        table = "\r\n".join(lines).encode()
        preview = self.call("POST", f"/sites/{key}/links/table", table)[1]
        self.assertEqual(preview["strange"], ["Colour"])
        actions = [row["action"] for row in preview["rows"]]
        self.assertEqual((actions.count("add"), actions.count("refuse")), (290, 10))
        first = next(row for row in preview["rows"] if row["action"] == "refuse")
        self.assertEqual((first["line"], first["sentence"]), (30, "To: the kit has no “d-77x”; d-77 is the nearest."))
        path = f"/sites/{key}/links/import?revision={preview['revision']}"
        status, said = self.call("POST", path, table)
        self.assertEqual((status, said["message"]), (422, "10 rows cannot be read; correct them or leave them out."))
        self.assertEqual(models.Link.objects.count(), 0)
        self.assertEqual(
            self.call("POST", f"{path}&leave_out=true", table)[1], {"added": 290, "changed": 0, "left_out": 10}
        )
        self.assertEqual(self.call("POST", f"{path}&leave_out=true", table)[0], 409)
        back = self.client.get(f"/api/sites/{key}/files/links.csv").content.decode("utf-8-sig")
        self.assertEqual(len(list(csv.reader(io.StringIO(back)))), 291)
        for odd in (b"", b"From;To\nd-2;d-1", b"\x00\x01", b"%PDF-1.4"):
            self.assertEqual(self.call("POST", f"/sites/{key}/links/table", odd)[0], 422, odd)

    def test_channels_are_exchanged_by_a_table(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(2), device(3)]
        links = [{"kind": "records", "from": f"d-{at}", "to": "d-1", "slot": at - 1} for at in (2, 3)]
        key = self.bring(document(rows, links=links))
        table = b"link,from,to,number\nrecords,Device 2,Device 1,2\nrecords,Device 3,Device 1,1\n"
        self.assertEqual(self.call("POST", f"/sites/{key}/links/import?revision=1", table)[1]["changed"], 2)
        self.assertEqual({start: item["slot"] for (start, _), item in self.threads(key).items()}, {"d-2": 2, "d-3": 1})

    def test_numbers_are_set_as_planned_and_the_ring_chain_is_kept(self) -> None:
        raw = every_kind()
        raw["links"][list(LINKS).index("monitor-at-station")]["slot"] = None
        key = self.bring(raw)
        sheet = self.call("GET", f"/sites/{key}/numbers")[1]
        self.assertEqual(
            [(row["device"], row["number"]) for row in sheet["rows"] if row["source"] == "planned"], [("View 1", 1)]
        )
        self.assertEqual(self.call("POST", f"/sites/{key}/numbers", {"revision": 1})[0], 200)
        self.assertEqual(self.call("POST", f"/sites/{key}/numbers", {"revision": 2})[0], 422)
        self.assertEqual(self.call("PATCH", f"/sites/{key}/numbers", {"revision": 2, "person_s": 40})[0], 200)
        ring = self.call("GET", f"/sites/{key}/numbers")[1]["ring"]
        self.assertEqual((ring["needed_s"], ring["station_s"], ring["holds"]), (66, 60, False))
        for wrong in ({"person_s": -1}, {"paging_base": "here"}, {"person_s": "long"}):
            self.assertEqual(self.call("PATCH", f"/sites/{key}/numbers", {"revision": 3, **wrong})[0], 422, wrong)
        flat = f"/sites/{key}/numbers/view-1"
        self.assertEqual(self.call("PATCH", flat, {"revision": 1, "floor": -1, "unit": 4})[0], 200)
        self.assertEqual(self.call("PATCH", flat, {"revision": 2, "floor": "cellar"})[0], 422)
        shown = next(row for row in self.call("GET", f"/sites/{key}/numbers")[1]["flats"] if row["device"] == "view-1")
        self.assertEqual((shown["building"], shown["floor"], shown["unit"]), (None, -1, 4))
        labels = self.client.get(f"/api/sites/{key}/files/labels.svg?devices=view-1").content.decode()
        self.assertIn("monitor 1, Gate 1", labels)


class Impossible(LinkCase):
    def test_what_no_way_leads_to_is_kept_as_wanted_only_and_gives_nothing_to_type(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(2, "larkmoor-rec-8"), device(3, network=None, behind="d-1")]
        key = self.bring(document(rows, links=[{"kind": "records", "from": "d-3", "to": "d-1", "slot": 7}]))
        self.call("POST", f"/sites/{key}/plan", {"revision": 1})
        part = {"kind": "records", "start": "d-3", "to": "d-2"}
        status, said = self.call("POST", f"/sites/{key}/links", part)
        self.assertEqual((status, [fault["path"] for fault in said["faults"]]), (422, ["to", "wanted"]))
        self.assertIn("Take channel 7 of Device 1", said["message"])
        self.assertEqual(self.call("POST", f"/sites/{key}/links", part | {"wanted": True})[0], 201)
        thread = self.threads(key)["d-3", "d-2"]
        self.assertEqual((thread["state"], thread["wanted"], thread["slot"]), ("impossible", True, None))
        self.assertEqual(self.call("GET", f"/sites/{key}/links/{thread['id']}")[1]["groups"], [])
        self.assertEqual(self.call("POST", f"/sites/{key}/numbers", {"revision": 3})[0], 422)  # it takes none

    def test_what_makes_no_sense_is_refused_even_as_a_wish(self) -> None:
        raw = document([device(1, "larkmoor-rec-8"), *(device(at, "panel") for at in (2, 3, 4))])
        raw["models"].append({"key": "panel", "family": "panel", "services": {"web": 80}})
        key = self.bring(raw)
        follows = {"kind": "manages", "start": "d-2", "to": "d-3", "wanted": True}
        self.assertEqual(self.call("POST", f"/sites/{key}/links", follows)[0], 201)
        for part, words in (
            ({"to": "d-4"}, "it follows Device 3 already"),
            ({"start": "d-3", "to": "d-2"}, "they follow each other in a circle"),
            ({"to": "d-2"}, "cannot be tied to itself"),
            ({"kind": "records", "to": "d-1"}, "a panel cannot be tied like this"),
        ):
            status, said = self.call("POST", f"/sites/{key}/links", follows | part)
            self.assertEqual((status, words in said["message"]), (422, True), said)
        change = {"revision": 1, "behind": "d-1", "network": None}
        status, said = self.call("PATCH", f"/sites/{key}/devices/d-4", change)
        self.assertEqual((status, "which is for cameras alone" in said["message"]), (422, True), said)
        self.assertEqual(models.Link.objects.count(), 1)

    def test_the_log_says_links_in_their_direction_with_what_was_before(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(2, "larkmoor-rec-8"), device(3)]
        key = self.bring(document(rows, links=[{"kind": "records", "from": "d-3", "to": "d-1", "slot": 7}]))
        path = f"/sites/{key}/links/{self.threads(key)['d-3', 'd-1']['id']}"
        self.assertEqual(self.call("PATCH", path, {"revision": 1, "to": "d-2", "slot": 2})[0], 200)
        self.call("DELETE", f"{path}?revision=2")
        said = [line["sentence"] for line in self.call("GET", f"/sites/{key}/events?search=link")[1]]
        self.assertIn("Device 3 is recorded by Device 2, channel 2; before: Device 1, channel 7.", said)
        self.assertIn("Link removed: Device 3 is recorded by Device 2, channel 2.", said)


class NobodyThoughtOf(hypothesis_django.TestCase, ApiCalls):
    @given(recorded_sites())
    @settings(max_examples=15)
    def test_what_is_applied_keeps_proven_links_and_every_limit(self, raw: dict[str, Any]) -> None:
        self.sign_in()
        key = self.bring(raw)
        wanted = self.call("GET", f"/sites/{key}/links/proposal")[1]
        status, said = self.call("POST", f"/sites/{key}/links/proposal", {"revision": wanted["revision"]})
        self.assertEqual(status, 200 if wanted["changes"] else 422, said)
        links = self.call("GET", f"/sites/{key}/file")[1].get("links", [])
        for link in proven(raw):
            self.assertIn(link, links)
        self.assertLessEqual(set(over(raw, links)), set(over(raw, proven(raw))))
        self.assertTrue(wanted["shortfall"] or not (wanted["left"] or over(raw, links)))
        self.assertEqual(self.call("GET", f"/sites/{key}/links/proposal")[1]["changes"], [])
