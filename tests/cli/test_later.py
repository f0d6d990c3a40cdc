"""The commands about cards, changes, the diary and recordings: what they print, and what they refuse in a sentence."""

import contextlib
import io
import json
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase

from tests.samples import demo, device, document
from tutelar.cli import main


class Commands(TestCase):
    def setUp(self) -> None:
        self.room = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.site = self.file(demo())

    def file(self, raw: Any, name: str = "site.json") -> str:
        path = self.room / name
        path.write_text(raw if isinstance(raw, str) else json.dumps(raw))
        return str(path)

    def run_it(self, *arguments: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            status = main(list(arguments))
        return status, out.getvalue(), err.getvalue()

    def printed(self, *arguments: str) -> Any:
        status, out, err = self.run_it(*arguments, "--json")
        self.assertEqual((status, err), (0, ""))
        return json.loads(out)

    def refused(self, *arguments: str) -> str:
        status, out, err = self.run_it(*arguments)
        self.assertEqual((status, out, err.count("\n")), (2, "", 1), err)
        self.assertNotIn("Traceback", err)
        return err

    def test_cards_are_printed_whole_of_a_device_and_of_a_part_of_the_work(self) -> None:
        whole = self.printed("cards", self.site)
        self.assertEqual(whole["turn"], "before-leaving")
        one = self.printed("cards", self.site, "--device", "cam-01")["items"]
        self.assertEqual({row["subject"] for row in one}, {"cam-01"})
        self.assertEqual(one, [row for row in whole["items"] if row["subject"] == "cam-01"])
        part = self.printed("cards", self.site, "--phase", "mounting")["items"]
        self.assertEqual({row["phase"] for row in part}, {"mounting"})
        self.assertTrue(self.printed("cards", self.site, "--device", "site")["items"])
        self.assertIn("waits", self.run_it("cards", self.site, "--device", "cam-01")[1])

    def test_a_firms_own_cards_count_and_their_faults_are_named(self) -> None:
        own = {"items": [{"key": "roof", "phase": "mounting", "text": "Roof", "reason": "Why", "when": ["camera"]}]}
        file = self.file(own, "own.json")
        items = {row["item"] for row in self.printed("cards", self.site, "--cards", file)["items"]}
        self.assertIn("roof", items)
        wrong = self.file({"items": [own["items"][0] | {"when": ["cameraa"]}]}, "wrong.json")
        self.assertIn("'cameraa'", self.refused("cards", self.site, "--cards", wrong))
        self.assertIn("not JSON", self.refused("cards", self.site, "--cards", self.file("{", "broken.json")))
        self.assertIn("'lunch'", self.refused("cards", self.site, "--phase", "lunch"))
        self.assertIn("cam-99", self.refused("cards", self.site, "--device", "cam-99"))

    def test_changes_are_printed_in_order(self) -> None:
        steps = self.printed("change", self.site, "replace", "cam-01")["steps"]
        keys = [step["key"] for step in steps]
        for at, step in enumerate(steps):
            self.assertLessEqual(set(step["after"]), set(keys[:at]))
        self.assertTrue(
            self.run_it("change", self.site, "take-over")[1].startswith(" 1. Have the owner's written leave")
        )
        self.assertIn("'repaint'", self.refused("change", self.site, "repaint", "cam-01"))
        self.assertIn("say which one", self.refused("change", self.site, "replace"))
        self.assertIn("cam-99", self.refused("change", self.site, "retire", "cam-99"))

    def test_the_diary_is_in_order(self) -> None:
        entries = self.printed("diary", self.site)["entries"]
        self.assertEqual([item["at"] for item in entries], sorted(item["at"] for item in entries))
        self.assertIn("Yearly look", self.run_it("diary", self.site)[1])

    def test_a_recording_is_put_right_and_what_is_no_moment_is_refused(self) -> None:
        raw = document([device(1)])
        raw["site"]["time_zone"] = "Europe/Dublin"
        raw["readings"] = [
            {"device": "d-1", "check": "clock", "result": "pass", "from": "site", "at": at, "offset_s": offset}
            for at, offset in (("2027-06-01T09:00:00+00:00", -3602), ("2027-07-12T08:00:00+00:00", 0))
        ]
        site = self.file(raw, "clock.json")
        found = self.printed("footage", site, "d-1", "2027-05-20T14:10")
        self.assertEqual((found["made"], found["certain"]), (["2027-05-20T15:10:02+01:00"], False))
        self.assertIn("was made at 15:10:02", self.run_it("footage", site, "d-1", "2027-05-20T14:10")[1])
        self.assertIn("is no moment", self.refused("footage", site, "d-1", "yesterday"))
        self.assertIn("names an offset", self.refused("footage", site, "d-1", "2027-05-20T14:10+01:00"))
