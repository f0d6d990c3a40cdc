"""Recordings by real requests: tried out without a trace, kept whole or not at all, never over somebody else's."""

from typing import Any

from tests.samples import device, document
from tests.server.test_api import ApiCase

ALL_DAY = [{"from": "00:00", "to": "24:00", "mode": "continuous"}]
GAP = [{"from": "00:00", "to": "12:00", "mode": "continuous"}, {"from": "13:00", "to": "24:00", "mode": "motion"}]


class Recordings(ApiCase):
    def site(self, **more: Any) -> str:
        rows = [device(number) for number in (1, 2)] + [device(9, "larkmoor-rec-8", disks=[{"bay": 1, "tb": 1}])]
        links = [{"kind": "records", "from": f"d-{slot}", "to": "d-9", "slot": slot} for slot in (1, 2)]
        raw = document(rows, links=links, survey={"retention_days": 30})
        raw["models"][1].setdefault("capacity", {})["bays"] = 4
        return self.bring(raw | more)

    def keep(self, key: str, draft: dict[str, Any], was: dict[str, Any]) -> tuple[int, Any]:
        return self.call("PATCH", f"/sites/{key}/recording", {"draft": draft, "was": was})

    def test_what_is_tried_is_worked_out_and_leaves_no_trace(self) -> None:
        key = self.site()
        before = self.call("GET", f"/sites/{key}/recording")[1]
        draft = {
            "recording": {"patterns": [{"key": "gap", "week": {"mon": GAP}}], "usual": "gap"},
            "devices": {"d-9": {"disks": [{"bay": 1, "tb": 8}, {"bay": 2, "tb": 8}], "raid": "1"}},
            "retention_days": 90,
        }
        status, tried = self.call("POST", f"/sites/{key}/recording/preview", draft)
        self.assertEqual(status, 200)
        mend = tried["patterns"][0]["mends"][0]
        self.assertEqual((mend["code"], mend["press"]), ("recording.gap", "Run continuous on to 13:00"))
        self.assertEqual(len(mend["days"]), 8)
        row = tried["recorders"][0]
        self.assertAlmostEqual(row["bytes_per_day"], 2 * 4096 * 125 * 60 * (720 + 0.3 * 660))
        self.assertAlmostEqual(mend["adds_bytes_per_day"], 2 * 4096 * 125 * 60 * 60)
        self.assertEqual((row["usable_bytes"], row["wanted_days"]), (8e12 * 0.93, 90))
        self.assertEqual(self.call("GET", f"/sites/{key}/recording")[1], before)

    def test_a_draft_is_kept_with_a_line_for_each_thing(self) -> None:
        key = self.site()
        draft = {
            "recording": {"patterns": [{"key": "always", "week": {"mon": ALL_DAY}}], "file_min": 30},
            "devices": {"d-9": {"disks": [{"bay": 1, "tb": 8}], "raid": "none"}},
            "retention_days": 14,
        }
        was = {
            "recording": None,
            "devices": {"d-9": {"disks": [{"bay": 1, "tb": 1}], "raid": "none"}},
            "retention_days": 30,
        }
        self.assertEqual(self.keep(key, draft, was), (200, {"revision": 2}))
        raw = self.call("GET", f"/sites/{key}/file")[1]
        self.assertEqual(raw["recording"], draft["recording"])
        self.assertEqual(raw["devices"][2]["disks"], [{"bay": 1, "tb": 8}])
        self.assertEqual(raw["survey"]["retention_days"], 14)
        said = [item["sentence"] for item in self.call("GET", f"/sites/{key}/events")[1]]
        self.assertIn("Days promised: 30 → 14.", said)
        self.assertIn("Recording changed: patterns, file length.", said)
        self.assertTrue(any(line.endswith("disks 1 TB → 8 TB.") for line in said), said)

        # somebody else changed the disks meanwhile: both versions, and nothing is stored
        status, refused = self.keep(key, {"devices": {"d-9": {"disks": [{"tb": 4}]}}}, {"devices": was["devices"]})
        self.assertEqual(status, 409)
        self.assertEqual(refused["current"]["devices"]["d-9"]["disks"], [{"bay": 1, "tb": 8}])
        self.assertEqual(self.keep(key, {"devices": {"d-9": {"disks": [{"tb": 4}]}}}, refused["current"])[0], 200)

        # what somebody else changed elsewhere is no hindrance
        self.assertEqual(self.keep(key, {"recording": None}, {"recording": draft["recording"]})[0], 200)
        self.assertNotIn("recording", self.call("GET", f"/sites/{key}/file")[1])

    def test_an_input_is_switched_off_by_decision_with_a_reason_and_a_day_and_given_back(self) -> None:
        raw = document([device(1), device(2, "d-panel", name="Hall panel")])
        raw["models"].append({"key": "d-panel", "family": "panel", "services": {"web": 80}})
        key = self.bring(raw)
        rows = self.call("GET", f"/sites/{key}/doors")[1]["inputs"]
        self.assertEqual([(row["panel"], row["part"]) for row in rows], [("d-2", None)])
        before = {row["name"]: row["on"] for row in rows[0]["inputs"]}
        self.assertEqual(before, {"mains": True, "battery": True, "lid": True})

        off = {"mains": {"on": False, "reason": "The supply stands elsewhere.", "review": "2027-05-01"}}
        was_none: dict[str, Any] = {"devices": {"d-2": {"x-inputs": None}}}
        self.assertEqual(self.keep(key, {"devices": {"d-2": {"x-inputs": off}}}, was_none)[0], 200)
        mains = self.call("GET", f"/sites/{key}/doors")[1]["inputs"][0]["inputs"][0]
        self.assertEqual((mains["on"], mains["decided"], mains["review"]), (False, True, "2027-05-01"))
        self.assertEqual(self.call("GET", f"/sites/{key}/file")[1]["devices"][1]["x-inputs"], off)
        said = self.call("GET", f"/sites/{key}/events")[1][0]["sentence"]
        self.assertIn("supervision inputs nothing → Mains input off (The supply stands elsewhere.).", said)

        # what a file brought there may be anything
        for odd in ("off", {"mains": 3}, {"mains": {"on": "?"}}):
            strange = self.bring(
                {
                    **raw,
                    "site": {**raw["site"], "key": f"odd-{len(str(odd))}"},
                    "devices": [raw["devices"][0], {**raw["devices"][1], "x-inputs": odd, "x-earth": {"mm2": "four"}}],
                }
            )
            was = {"devices": {"d-2": {"x-inputs": odd, "x-earth": {"mm2": "four"}}}}
            draft = {"devices": {"d-2": {"x-inputs": off, "x-earth": {"mm2": 4}}}}
            self.assertEqual(self.keep(strange, draft, was)[0], 200, odd)

        # somebody else's decision is not written over
        other = {"mains": {"on": True, "reason": "It has its own supply."}}
        status, refused = self.keep(key, {"devices": {"d-2": {"x-inputs": other}}}, was_none)
        self.assertEqual((status, refused["current"]["devices"]["d-2"]["x-inputs"]), (409, off))
        for wrong, words in (
            ({"mains": {"on": False}}, "reason"),
            ({"mains": {"on": False, "reason": ""}}, "reason"),
            ({"mains": {"on": "no", "reason": "x"}}, "no"),
            ({"mains": {"on": False, "reason": "x", "review": "2027-02-30"}}, "2027-02-30"),
        ):
            status, refused = self.keep(key, {"devices": {"d-2": {"x-inputs": wrong}}}, refused.get("current") or {})
            self.assertEqual((status, words in str(refused)), (422, True), refused)
        was = {"devices": {"d-2": {"x-inputs": off}}}
        self.assertEqual(self.keep(key, {"devices": {"d-2": {"x-inputs": None}}}, was)[0], 200)
        self.assertEqual(self.call("GET", f"/sites/{key}/doors")[1]["inputs"], rows)
        self.assertFalse(self.call("GET", f"/sites/{key}/file")[1]["devices"][1].get("x-inputs"))

    def test_a_wrong_draft_is_refused_with_its_value_and_place(self) -> None:
        key = self.site()
        wrong: list[tuple[dict[str, Any], str]] = [
            ({"recording": {"patterns": [{"key": "a", "week": {"mon": [{**ALL_DAY[0], "to": "25:00"}]}}]}}, "'25:00'"),
            ({"recording": {"motion_share": 2}}, "2"),
            ({"recording": {"file_min": 0}}, "0"),
            ({"devices": {"d-77": {"raid": "none"}}}, "'d-77'"),
            ({"devices": {"d-9": {"disks": [{"tb": -1}]}}}, "-1"),
            ({"devices": {"d-9": {"address": "1.2.3.4"}}}, "address"),
            ({"retention_days": 0}, "'0'"),
            ({"supplies": [{"key": "a", "kind": "dc", "volts": 0}]}, "0"),
        ]
        for draft, words in wrong:
            for way in ("preview", "keep"):
                path = f"/sites/{key}/recording/preview"
                status, said = self.call("POST", path, draft) if way == "preview" else self.keep(key, draft, {})
                self.assertEqual(status, 422, (draft, said))
                self.assertIn(words, said["message"])
        self.assertEqual(self.call("GET", f"/sites/{key}/recording")[1]["revision"], 1)

    def test_levers_are_taken_into_the_draft_one_after_the_other(self) -> None:
        key = self.site()
        draft: dict[str, Any] = {}
        for lever in ("rate", "disks"):
            path, body = f"/sites/{key}/recording/lever", {"draft": draft, "recorder": "d-9", "lever": lever}
            tried = self.call("POST", f"/sites/{key}/recording/preview", draft)[1]["recorders"][0]
            promised = next(item["days"] for item in tried["levers"] if item["key"] == lever)
            status, pulled = self.call("POST", path, body)
            self.assertEqual(status, 200, pulled)
            draft = pulled["draft"]
            self.assertEqual(self.call("POST", f"/sites/{key}/recording/preview", draft)[1], pulled["sheet"])
            self.assertAlmostEqual(pulled["sheet"]["recorders"][0]["days"], promised)
        self.assertEqual(set(draft), {"recording", "devices"})
        status, said = self.call("POST", path, body | {"draft": draft})
        self.assertEqual((status, "does not help" in said["message"]), (422, True))

    def test_two_readings_give_the_real_rate_and_the_day_on_which_it_is_full(self) -> None:
        key = self.site()
        body = {
            "draft": {},
            "recorder": "d-9",
            "first": {"at": "2026-06-01T08:00", "used": 0.1, "unit": "TB"},
            "second": {"at": "2026-06-03T08:00", "used": 0.3, "unit": "TB"},
        }
        status, found = self.call("POST", f"/sites/{key}/recording/measured", body)
        self.assertEqual(status, 200)
        self.assertAlmostEqual(found["bytes_per_day"], 1e11)
        self.assertAlmostEqual(found["days"], 9.3)
        self.assertEqual(found["full_at"], "2026-06-09T15:12")
        after = self.call("POST", f"/sites/{key}/recording/preview", found["draft"])[1]["recorders"][0]
        self.assertAlmostEqual(after["bytes_per_day"] / 1e11, 1)
        for name, value in (("at", "soon"), ("used", 0.05), ("unit", "TiB")):
            wrong = body | {"second": {**body["second"], name: value}}  # type: ignore[dict-item]
            status, said = self.call("POST", f"/sites/{key}/recording/measured", wrong)
            self.assertEqual(status, 200 if name == "unit" else 422, said)
