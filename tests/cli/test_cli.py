"""The command line as a user has it: output, exit status, and one line on standard error for each fault."""

import contextlib
import io
import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any, NamedTuple
from unittest import TestCase
from unittest.mock import patch

from tests.samples import DEMO, demo, device, document, shipped
from tutelar.cli import main
from tutelar.core.site.schema import schema_text


class Said(NamedTuple):
    """What a command printed, and its exit status."""

    returncode: int
    stdout: str
    stderr: str


def tutelar(*arguments: str, given: str | None = None) -> Said:
    """Run a command in this process."""
    out, wrong = io.StringIO(), io.StringIO()
    reads = patch("sys.stdin", io.TextIOWrapper(io.BytesIO((given or "").encode())))
    with reads, contextlib.redirect_stdout(out), contextlib.redirect_stderr(wrong):
        try:
            status = main(arguments)
        except SystemExit as stopped:
            status = int(stopped.code or 0)
    return Said(status, out.getvalue(), wrong.getvalue())


def process(*arguments: str, given: str | None = None) -> subprocess.CompletedProcess[str]:
    """Run a command as a user does, in a process of its own."""
    command = [sys.executable, "-m", "tutelar.cli", *arguments]
    return subprocess.run(command, capture_output=True, text=True, input=given, timeout=60, check=False)


class Sums(TestCase):
    def test_recording_and_loads_print_what_the_contract_names(self) -> None:
        raw = demo() | {
            "recording": {"channels": [{"recorder": "rec-1", "slot": 1, "kbps": 6000}]},
            "supplies": [{"key": "psu", "kind": "dc", "volts": 24, "rated_w": 60}],
        }
        said = tutelar("recording", "-", "--json", given=json.dumps(raw))
        found = json.loads(said.stdout)
        self.assertEqual(said.returncode, 1)  # recorders without a disk
        self.assertEqual(list(found), ["channels", "recorders", "problems"])
        first = found["channels"][0]
        self.assertEqual(
            list(first),
            "recorder slot device pattern stream kbps audio bytes_per_day file_bytes files_per_day".split(),  # noqa: SIM905
        )
        self.assertEqual((first["kbps"], first["bytes_per_day"]), (6000, 6000 * 125 * 86_400))
        self.assertEqual({row["usable_bytes"] for row in found["recorders"]}, {0})
        loads = json.loads(tutelar("loads", "-", "--json", "--viewers", "2", given=json.dumps(raw)).stdout)
        names = ["recorders", "switches", "uplinks", "internet", "cables", "supplies", "panels", "problems"]
        self.assertEqual(list(loads), names)
        self.assertEqual(len(loads["internet"]["mixes"]), 3)
        self.assertEqual(loads["supplies"][0]["load_w"], 0)
        self.assertIn("TB a day", tutelar("recording", "-", given=json.dumps(raw)).stdout)
        self.assertIn("W, 14 of 26 ports", tutelar("loads", "-", given=json.dumps(raw)).stdout)
        wrong = tutelar("loads", "-", "--viewers", "many", given=json.dumps(raw))
        self.assertEqual((wrong.returncode, "'many' is no number of people" in wrong.stderr), (2, True))


class Commands(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def file(self, content: Any, name: str = "site.json") -> str:
        path = self.folder / name
        path.write_text(content if isinstance(content, str) else json.dumps(content))
        return str(path)

    def test_plan_fills_in_what_prove_then_measures(self) -> None:
        out = str(self.folder / "planned.json")
        done = tutelar("plan", str(DEMO), "--json", "-o", out)
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        result = json.loads(done.stdout)
        self.assertEqual(list(result), ["assignments", "networks", "problems"])
        self.assertEqual(
            list(result["assignments"][0]),
            ["device", "network", "address", "prefix", "gateway", "dns", "source", "why"],
        )
        written = json.loads(Path(out).read_text())
        for part in written["devices"]:
            part["address"] = None
        self.assertEqual(written, shipped())
        proof = tutelar("prove", "--stand-in", out, "--json")
        readings = json.loads(proof.stdout)["readings"]
        self.assertEqual((proof.returncode, {row["result"] for row in readings}), (0, {"pass"}))
        self.assertEqual(list(readings[0]), ["device", "check", "expected", "measured", "result", "took_ms"])
        told = json.loads(tutelar("prove", "--stand-in", out, "--json", "--evidence").stdout)["evidence"]["cam-01"]
        self.assertIn('"serial": "S00001"', told["identity"])
        self.assertNotIn("nonce", " ".join(told.values()))
        faults = self.file({"faults": [{"kind": "power-off", "device": "cam-13"}]}, "faults.json")
        bare = tutelar("prove", "--stand-in", self.file(document([device(1)])), "--json")
        self.assertEqual((bare.returncode, bare.stderr), (1, "Nothing could be measured: no device has an address.\n"))
        self.assertEqual({item["result"] for item in json.loads(bare.stdout)["readings"]}, {"skipped"})
        faulty = tutelar("prove", "--stand-in", out, "--faults", faults)
        self.assertEqual(faulty.returncode, 1)
        self.assertIn("silent   Car lanes lane 1: Answers at its address", faulty.stdout)

    def test_a_search_says_who_is_where_it_should_be_and_stays_on_loopback(self) -> None:
        raw = document(
            [device(1, address="10.253.30.50"), device(2, address="10.253.30.51")],
            network={"cidr": "10.253.30.0/24", "gateway": "10.253.30.1", "dns": [], "pools": [], "reserved": []},
        )
        raw["models"][0]["services"]["device-interface"] = 8000
        faults = self.file(
            {"faults": [{"kind": "wrong-address", "device": "d-2", "address": "10.253.30.77"}]}, "f.json"
        )
        done = tutelar("search", self.file(raw), "--stand-in", "--faults", faults, "--json")
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        found = {row["device"]: (row["kind"], row["address"]) for row in json.loads(done.stdout)["found"]}
        self.assertEqual(found, {"d-1": ("expected", "10.253.30.50"), "d-2": ("elsewhere", "10.253.30.77")})
        refused = tutelar("search", self.file(raw))
        self.assertEqual((refused.returncode, "--authorised" in refused.stderr), (2, True))

    def test_check_reads_standard_input_and_ends_with_the_worst_level(self) -> None:
        faulty = document([device(1, address="10.20.30.120")])
        done = tutelar("check", "-", "--json", given=json.dumps(faulty))
        self.assertEqual(done.returncode, 1)
        self.assertEqual([row["code"] for row in json.loads(done.stdout)["problems"]], ["address.in-pool"])
        warned = document([device(1, place="Moon")])
        self.assertEqual(tutelar("check", "-", given=json.dumps(warned)).returncode, 0)

    def test_nothing_ends_in_a_traceback(self) -> None:
        site = str(DEMO)
        for command in ("check", "plan"):
            with Path("/dev/full").open("w") as full:
                done = subprocess.run(
                    [sys.executable, "-m", "tutelar.cli", command, site],
                    stdout=full,
                    stderr=subprocess.PIPE,
                    text=True,
                    check=False,
                )
            self.assertEqual((done.returncode, done.stderr.count("\n")), (2, 1), done.stderr)
            self.assertIn("No space left on device", done.stderr)
        with patch("tutelar.cli.planning.check", side_effect=RecursionError("too deep")):
            done = tutelar("check", site)
        self.assertEqual(done.returncode, 2)
        self.assertIn("could not finish: RecursionError: too deep", done.stderr)

    def test_it_says_its_version_and_which_switch_is_missing(self) -> None:
        self.assertRegex(tutelar("--version").stdout, r"^tutelar \d+\.\d+")
        done = tutelar("prove", str(DEMO))
        self.assertEqual(done.returncode, 2)
        self.assertIn("--authorised", done.stderr)

    def test_the_run_has_the_keys_of_the_contract(self) -> None:
        done = tutelar("run", str(DEMO), "--json", "--hands", "2", "--limit", "0.2")
        result = json.loads(done.stdout)
        keys = ["total_s", "hands_s", "idle_s", "adapter_changes", "lower_bound_s", "steps", "problems"]
        self.assertEqual((done.returncode, list(result)), (0, [*keys, "lower_bound_why", "gap", "one_by_one_s"]))
        step = [
            "id",
            "device",
            "kind",
            "title",
            "start_s",
            "end_s",
            "hands",
            "hand",
            "adapter",
            "needs",
            "values",
            "port",
            "why",
        ]
        self.assertEqual(list(result["steps"][0]), step)
        self.assertIn("IPv4 address: 10.62.8.101", tutelar("run", str(DEMO), "--limit", "0.2").stdout)

    def test_the_run_says_what_it_saves_and_how_far_it_can_be_from_the_best(self) -> None:
        site = self.file(document([device(1), device(2), device(3, "larkmoor-rec-8")]))
        done = tutelar("run", site, "--limit", "0.1")
        self.assertRegex(
            done.stdout, r"in all for 1 technician, with \d+ laptop changes?\. One device after the other takes"
        )
        self.assertRegex(done.stdout, r"% saved\. No run can be shorter( than .* could still be gained)?\.")
        again = [tutelar("run", site, "--json", "--limit", "0.1", "--seed", "7").stdout for _ in range(2)]
        self.assertEqual(again[0], again[1])
        for wrong in ("0", "soon", "-1", "nan", "1e9"):
            refused = tutelar("run", site, f"--limit={wrong}")
            self.assertEqual(refused.returncode, 2)
            self.assertIn(f"'{wrong}' is out of range; a number above 0, up to 36000, is expected", refused.stderr)

    def test_the_rehearsal_plays_every_step(self) -> None:
        site = self.file(document([device(1), device(2)]))
        done = tutelar("rehearse", site, "--json", "--hands", "2")
        result = json.loads(done.stdout)
        self.assertEqual((done.returncode, result["faults"]), (0, 0))
        self.assertEqual(
            {step["step"] for step in result["steps"] if "adapter" not in step["step"]},
            {f"d-{number}:{kind}" for number in (1, 2) for kind in ("connect", "activate", "configure", "confirm")},
        )
        watched = tutelar("rehearse", site, "--speed", "36000")
        self.assertRegex(watched.stdout, r"Plug in Device 1\n(.|\n)* steps played, 0 faults\.")

    def test_what_cannot_be_read_is_one_line_a_fault_and_no_traceback(self) -> None:
        broken = demo()
        broken["devices"][4]["cable_m"] = "long"
        broken["networks"][0]["cidr"] = "10.62.8.9/24"
        planned = self.file(document([device(1, address="10.20.30.50")]), "ok.json")
        cases: list[tuple[tuple[str, ...], int, str]] = [
            (("check", str(self.folder / "nothing.json")), 1, "cannot be read"),
            (("check", str(self.folder)), 1, "cannot be read"),
            (("check", self.file("{", "half.json")), 1, "not JSON"),
            (("check", self.file(broken, "two.json")), 2, "devices[4].cable_m"),
            (("plan", str(DEMO), "-o", "/nowhere/at/all.json"), 1, "cannot be written"),
            (("run", str(DEMO), "--hands", "0"), 1, "'0'"),
            (("prove", planned), 1, "--authorised"),
            (("prove", planned, "--faults", planned), 1, "--stand-in"),
            (("prove", "--stand-in", planned, "--faults", planned), 8, "unknown"),
            (("nonsense",), 1, "nonsense"),
            (("contact", str(DEMO), "cam-99"), 1, "cam-99"),
            (("renumber", str(DEMO), "--network", "wan", "--to", "10.0.0.0/24"), 1, "'wan'"),
            (("renumber", str(DEMO), "--network", "office", "--to", "10.0.0.7/24"), 1, "'10.0.0.0/24'"),
            (("renumber", str(DEMO), "--network", "office", "--to", "10.0.0.0/24", "--gateway", "x"), 1, "'x'"),
            (("contact", str(DEMO), "cam-01", "--laptop", "abacus"), 1, "abacus"),
        ]
        for arguments, lines, said in cases:
            with self.subTest(arguments=arguments):
                done = tutelar(*arguments)
                self.assertEqual((done.returncode, done.stdout), (2, ""), done.stderr)
                self.assertEqual(len(done.stderr.splitlines()), lines, done.stderr)
                self.assertIn(said, done.stderr)

    def test_people_are_told_in_sentences(self) -> None:
        faulty = json.dumps(document([device(1, address="10.20.30.120"), device(2)]))
        said = tutelar("check", "-", given=faulty).stdout
        self.assertIn("error    Device 1 has the fixed address 10.20.30.120, inside the DHCP pool", said)
        self.assertIn("→ Move Device 1 to 10.20.30.", said)
        self.assertTrue(said.endswith("1 problem.\n"))
        self.assertEqual(tutelar("check", "-", given=json.dumps(demo())).stdout, "Nothing is wrong.\n")
        planned = tutelar("plan", str(DEMO)).stdout
        self.assertIn("10.62.8.101    /24 Ticket hall east", planned)
        self.assertIn("security: 36 wanted, 195 free of 254.", planned)
        moved = tutelar(
            "renumber",
            "-",
            "--network",
            "lan",
            "--to",
            "10.99.0.0/24",
            given=json.dumps(document([device(1, address="10.20.30.50")])),
        )
        self.assertEqual(moved.returncode, 0)
        self.assertIn("Keeps its host part: 10.20.30.50 becomes 10.99.0.50.", moved.stdout)

    def test_a_process_of_its_own_says_the_same(self) -> None:
        faulty = json.dumps(document([device(1, address="10.20.30.120")]))
        for arguments, given in (
            (("check", "-", "--json"), faulty),
            (("plan", str(DEMO), "--json"), None),
            (("check", "/none/such"), None),
            (("nonsense",), None),
            (("--help",), None),
        ):
            with self.subTest(arguments=arguments):
                ran = process(*arguments, given=given)
                self.assertEqual((ran.returncode, ran.stdout, ran.stderr), tutelar(*arguments, given=given))

    def test_contact_says_it_in_steps(self) -> None:
        done = tutelar("contact", str(DEMO), "cam-12", "--laptop", "windows")
        self.assertEqual(done.returncode, 0)
        self.assertIn("1. Plug Pier mast in and let it boot; it starts at 10.90.0.10.", done.stdout)
        self.assertIn('name="Ethernet" static 10.90.1.9 255.255.0.0', done.stdout)

    def test_the_stand_in_prints_its_map_first_and_serves_until_stopped(self) -> None:
        alone = [{"key": "n", "cidr": "10.213.30.0/24"}]  # no other test's stand-in has its image
        planned = self.file(document([device(1, network="n", address="10.213.30.50")], networks=alone))
        command = [sys.executable, "-m", "tutelar.cli", "standin", planned]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=os.environ) as pretend:
            assert pretend.stdout
            first = json.loads(pretend.stdout.readline())
            self.assertEqual(first["devices"]["d-1"], {"site_address": "10.213.30.50", "address": "127.213.30.50"})
            self.assertEqual(first["ports"]["80"], 20080)
            self.assertIn("answer", pretend.stdout.readline())
            pretend.terminate()

    def test_the_published_schema_is_that_of_the_types(self) -> None:
        published = Path(__file__).parents[2] / "docs" / "site-file.schema.json"
        self.assertEqual(tutelar("schema").stdout, schema_text())
        self.assertEqual(published.read_text(), schema_text())


class Typed(TestCase):
    def said(self, *arguments: str) -> tuple[int, Any, str]:
        done = tutelar(*arguments)
        return done.returncode, done.stdout, done.stderr

    def test_clock_difference_keypad_and_password(self) -> None:
        status, out, _ = self.said("clock", "Europe/Dublin", "--from", "2026", "--years", "10", "--json")
        self.assertEqual((status, json.loads(out)["rule"]["bias_min"]), (0, 60))
        status, out, _ = self.said(
            "difference",
            "08/06/2026 15:00:00",
            "2026-06-08T14:00:00",
            "--zone",
            "Europe/Dublin",
            "--date-order",
            "DMY",
            "--json",
        )
        self.assertEqual((status, json.loads(out)["finding"]), (0, "daylight-saving"))
        status, out, _ = self.said("keypad", "a1", "--json")
        self.assertEqual((status, json.loads(out)["cannot"]), (0, []))
        status, out, _ = self.said("password", str(DEMO), "cam-01", "rec-1", "--json")
        said = json.loads(out)
        self.assertEqual((status, said["check"], len(said["password"])), (0, None, 12))
        status, out, _ = self.said("password", str(DEMO), "hub-1", "cam-13", "--json")
        self.assertEqual((status, json.loads(out)["password"], len(json.loads(out)["conflicts"])), (1, None, 2))

    def test_what_cannot_be_read_is_one_line(self) -> None:
        for command in (
            ("clock", "Europe/Dubln"),
            ("clock", "Europe/Dublin", "--from", "soon"),
            ("clock", "Europe/Dublin", "--years", "0"),
            ("difference", "soon", "2026-06-08T14:00", "--zone", "Europe/Dublin"),
            ("keypad", "a", "--layout", "klingon"),
            ("password", str(DEMO), "cam-99"),
            ("password", "/none/such", "cam-01"),
        ):
            status, _, error = self.said(*command)
            self.assertEqual(status, 2, command)
            self.assertEqual(len(error.strip().splitlines()), 1, error)
