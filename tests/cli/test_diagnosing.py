"""The commands about trouble, as they are typed."""

import contextlib
import io
import json
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase

from tests.samples import DEMO
from tutelar.cli import main


class Trouble(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def file(self, name: str, content: Any) -> str:
        path = self.folder / name
        path.write_text(json.dumps(content))
        return str(path)

    def run_it(self, *words: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            status = main(list(words))
        return status, out.getvalue(), err.getvalue()

    def test_a_case_from_the_complaint_to_the_cause(self) -> None:
        faults = self.file("faults.json", {"faults": [{"kind": "wrong-vlan", "device": "cam-16", "network": "office"}]})
        seen = [{"check": "answers", "at": "cam-16", "result": "silent"}]
        for _ in range(20):
            status, out, _ = self.run_it(
                "diagnose", str(DEMO), self.file("seen.json", {"observations": seen}), "--json"
            )
            found = json.loads(out)
            self.assertEqual(status, 0)
            if found["next"] is None:
                break
            check, where = found["next"]["check"], found["next"]["where"]
            status, out, _ = self.run_it("observe", str(DEMO), check, where, "--faults", faults, "--json")
            self.assertEqual((status, json.loads(out)["at"]), (0, where))
            seen.append(json.loads(out))
        self.assertEqual((found["causes"][0]["fault"], found["causes"][0]["at"]), ("wrong-vlan", "cam-16"))
        self.assertGreaterEqual(found["causes"][0]["likelihood"], 0.95)
        self.assertIn(seen[0], found["causes"][0]["explains"])

    def test_two_faults_are_named_together(self) -> None:
        rows = (("login", "cam-03", "fail"), ("neighbour", "cam-03", "pass"), ("clock", "rec-2", "fail"))
        seen = [{"check": check, "at": at, "result": result} for check, at, result in rows]
        _, out, _ = self.run_it("diagnose", str(DEMO), self.file("seen.json", {"observations": seen}), "--json")
        first = json.loads(out)["causes"][0]
        self.assertEqual({item["at"] for item in first["faults"]}, {"cam-03", "rec-2"})
        self.assertEqual(first["faults"][0], {"fault": first["fault"], "at": first["at"]})

    def test_what_is_said_to_people(self) -> None:
        seen = self.file("seen.json", {"observations": [{"check": "answers", "at": "cam-07", "result": "silent"}]})
        status, out, _ = self.run_it("diagnose", str(DEMO), seen)
        self.assertEqual(status, 0)
        self.assertIn("Next: Does Switch 1 answer", out)
        self.assertIn("The cable of Pier gangway is cut or badly made.", out)

    def test_wrong_words_end_in_one_sentence(self) -> None:
        bad = self.file("seen.json", {"observations": [{"check": "answers", "at": "cam-07", "result": "blue"}]})
        for words, said in (
            (("observe", str(DEMO), "smell", "cam-07"), "There is no check 'smell'"),
            (("observe", str(DEMO), "page", "cam-70"), "The site has no device 'cam-70'."),
            (("diagnose", str(DEMO), bad), "observations[0]: 'blue' is no answer to 'answers'"),
            (("diagnose", str(DEMO), str(self.folder / "none.json")), "cannot be read"),
        ):
            status, out, err = self.run_it(*words)
            self.assertEqual((status, out), (2, ""))
            self.assertIn(said, err)

    def test_faults_of_a_network_are_named_where_they_are(self) -> None:
        for fault, said in (
            ({"kind": "gateway-down", "device": "cam-07"}, "needs a network"),
            ({"kind": "provider-down", "network": "security"}, '"network": "internet"'),
            ({"kind": "uplink-cut", "network": "security"}, "needs a device, a switch"),
        ):
            faults = self.file("faults.json", {"faults": [fault]})
            status, _, err = self.run_it("observe", str(DEMO), "page", "cam-07", "--faults", faults)
            self.assertEqual(status, 2)
            self.assertIn(said, err)
        faults = self.file("faults.json", {"faults": [{"kind": "provider-down", "network": "internet"}]})
        _, out, _ = self.run_it("observe", str(DEMO), "outside", "cam-07", "--faults", faults, "--json")
        self.assertEqual(json.loads(out), {"check": "outside", "at": "cam-07", "result": "silent"})
