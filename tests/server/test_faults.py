"""Fault finding by real requests: from the complaint to measured again, drills, and what is refused."""

from random import Random
from typing import Any
from unittest.mock import patch

from tests.samples import demo, read
from tests.server.test_api import ApiCase
from tutelar.core.planning import plan
from tutelar.server import models
from tutelar.server.practice.keeper import KEEPER

SILENT = {"check": "answers", "at": "cam-16", "result": "silent"}


class Cases(ApiCase):
    def site(self, **about: Any) -> str:
        raw = demo()
        raw["site"].update(about)
        return self.bring(raw)

    def opened(self, key: str, *seen: dict[str, Any], **more: Any) -> dict[str, Any]:
        status, case = self.call("POST", f"/sites/{key}/faults", {"seen": list(seen), **more})
        self.assertEqual(status, 200, case)
        return case

    def told(self, key: str, check: str, at: str, result: str | None, number: int = 1) -> dict[str, Any]:
        body = {"check": check, "at": at, "result": result}
        status, case = self.call("POST", f"/sites/{key}/faults/{number}/seen", body)
        self.assertEqual(status, 200, case)
        return case

    def test_from_the_complaint_to_measured_again(self) -> None:
        key = self.site()
        case = self.opened(key, SILENT)
        self.assertEqual((case["number"], case["state"], case["complaint"]), (1, "open", 1))
        asked = case["next"]
        self.assertEqual({row["result"] for row in asked["answers"]}, {"pass", "fail", "silent"})
        self.assertTrue(all(row["means"].endswith(".") for row in asked["answers"]))
        for check, at, result in (
            ("answers", "switch-1", "pass"),
            ("power", "cam-16", "pass"),
            ("light", "cam-16", "on"),
            ("vlan", "cam-16", "fail"),
        ):
            case = self.told(key, check, at, result)
        self.assertEqual(case["causes"][0]["faults"][0]["fault"], "wrong-vlan")
        self.assertRegex(case["seen"][-1]["means"], "is in another network: (9 in 10|nearly sure)")
        self.assertEqual([place["state"] for place in case["way"]][-1], "silent")
        self.assertEqual(case["minutes"], 1 + 5 + 5 + 4)
        end = f"/sites/{key}/faults/1"
        self.assertEqual(self.call("PUT", f"{end}/mended", {"note": ""})[0], 409)
        named = {"faults": [{"fault": "wrong-vlan", "at": "cam-16"}], "note": "Port 6 was in the office."}
        self.assertEqual(self.call("PUT", f"{end}/cause", named)[1]["state"], "found")
        self.assertEqual(self.call("PUT", f"{end}/mended", {"note": "IT moved the port."})[1]["state"], "mended")
        self.assertEqual(self.call("POST", f"{end}/again", {**SILENT, "check": "page"})[0], 422)
        self.assertEqual(self.call("POST", f"{end}/again", SILENT)[1]["state"], "open")
        self.call("PUT", f"{end}/cause", named)
        self.call("PUT", f"{end}/mended", {})
        status, case = self.call("POST", f"{end}/again", {**SILENT, "result": "pass"})
        self.assertEqual((status, case["state"]), (200, "closed"))
        kinds = list(models.Event.objects.filter(site_key=key, kind__startswith="case.").values_list("kind", flat=True))
        self.assertEqual((kinds.count("case.seen"), kinds[-1], kinds[0]), (4, "case.opened", "case.again"))
        self.assertEqual(self.call("POST", f"{end}/seen", SILENT)[0], 409)

    def test_what_is_seen_is_taken_back_but_never_the_complaint(self) -> None:
        key = self.site()
        self.opened(key, SILENT)
        self.told(key, "power", "cam-16", "fail")
        status, case = self.call("DELETE", f"/sites/{key}/faults/1/seen")
        self.assertEqual((status, len(case["seen"])), (200, 1))
        self.assertEqual(self.call("DELETE", f"/sites/{key}/faults/1/seen")[0], 409)

    def test_the_server_looks_by_itself_where_a_pretend_site_is_kept_up(self) -> None:
        raw = demo()
        kept = {"cam-16", "cam-07", "rec-2", "switch-2", "switch-1"}
        raw["devices"] = [item for item in raw["devices"] if item["key"] in kept]
        raw["links"] = [link for link in raw["links"] if {link["from"], link["to"]} <= kept]
        planned = plan(read(raw)).addresses()
        raw["devices"] = [item | {"address": planned.get(item["key"])} for item in raw["devices"]]
        key = self.bring(raw)
        self.opened(key, {"check": "login", "at": "cam-16", "result": "fail"})
        status, refused = self.call(
            "POST", f"/sites/{key}/faults/1/seen", {"check": "page", "at": "cam-16", "result": None}
        )
        self.assertEqual((status, "cannot look" in refused["message"]), (422, True))
        self.addCleanup(KEEPER.stop, key)
        faults = [{"kind": "wrong-password", "device": "cam-16"}]
        self.assertEqual(self.call("PUT", f"/sites/{key}/pretend", {"faults": faults, "fresh": False})[0], 204)
        for check, result in (("page", "pass"), ("login", "fail"), ("answers", "pass")):
            case = self.told(key, check, "cam-16", None)
            self.assertEqual((case["seen"][-1]["result"], case["seen"][-1]["by_server"]), (result, True))
        self.assertEqual(self.call("POST", f"/sites/{key}/faults/1/seen", {"check": "vlan", "at": "cam-16"})[0], 422)

    def test_a_drill_hides_its_fault_and_is_scored(self) -> None:
        key = self.site(practice=True)
        with patch("tutelar.server.faults.services.SystemRandom", lambda: Random(4)):
            case = self.opened(key, drill="easy")
        self.assertEqual((case["hides"], case["causes"], case["next"], case["score"]), (True, [], None, None))
        hidden = models.Case.objects.get(site__key=key, number=1).hidden[0]
        place = case["seen"][0]["at"]
        self.told(key, "reset", place, "pass")
        lied = self.told(key, "elsewhere", place, "silent")["seen"][-1]
        self.assertNotEqual(lied["result"], "silent")  # the pretend site answers, whatever is said
        truth = {"fault": hidden["kind"], "at": hidden["at"]}
        wrong = {"fault": "laptop-wrong", "at": "laptop"}
        case = self.put_right(key, 1, wrong)
        self.assertEqual((case["state"], case["score"]), ("open", None))  # it still shows
        score = (case := self.put_right(key, 1, truth))["score"]
        self.assertEqual((case["state"], score["right"]), ("closed", False))
        self.assertEqual(score["minutes"], 55)
        self.assertLess(score["best"], score["minutes"])
        self.assertIn("Check 1, reset", score["left"])
        self.assertTrue(score["best_way"] and score["truth"])

    def put_right(self, key: str, number: int, *named: dict[str, str]) -> Any:
        """Name faults of a drill, put them right, and look again at all that was complained of."""
        end = f"/sites/{key}/faults/{number}"
        status, case = self.call("PUT", f"{end}/cause", {"faults": list(named)})
        self.assertEqual((status, case["state"], case["hides"]), (200, "found", True))
        case = self.call("PUT", f"{end}/mended", {})[1]
        for seen in case["seen"][: case["complaint"]]:
            if case["state"] == "mended":
                told = {"check": seen["check"], "at": seen["at"], "result": None}
                case = self.call("POST", f"{end}/again", told)[1]
        return case

    def test_two_faults_are_put_right_one_after_the_other_or_the_drill_is_given_up(self) -> None:
        key = self.site(practice=True)
        with patch("tutelar.server.faults.services.SystemRandom", lambda: Random(9)):
            self.opened(key, drill="double")
            self.opened(key, drill="double")
        hidden = models.Case.objects.get(site__key=key, number=1).hidden
        names = [{"fault": item["kind"], "at": item["at"]} for item in hidden]
        self.assertEqual(self.put_right(key, 1, names[0])["state"], "open")
        case = self.put_right(key, 1, names[1])
        self.assertEqual((case["state"], case["score"]["right"]), ("closed", True))
        case = self.call("PUT", f"/sites/{key}/faults/2/cause", {"faults": [], "note": "no idea"})[1]
        self.assertEqual((case["state"], case["score"]["right"]), ("closed", False))
        self.assertEqual(len(case["score"]["truth"]), 2)

    def test_what_is_refused_says_why_and_keeps_nothing(self) -> None:
        key = self.site(practice=False)
        for body, said in (
            ({"seen": []}, "Say what is not as it should be"),
            ({"seen": [{**SILENT, "at": "cam-99"}]}, "The site has no device 'cam-99'."),
            ({"seen": [{**SILENT, "result": "blue"}]}, "'blue' is no answer to 'answers'"),
            ({"seen": [{**SILENT, "check": "smell"}]}, "There is no check 'smell'"),
            ({"drill": "easy"}, "Drills are made on a practice site"),
        ):
            status, refused = self.call("POST", f"/sites/{key}/faults", body)
            self.assertEqual(status, 422)
            self.assertIn(said, refused["message"])
        self.assertEqual(models.Case.objects.count(), 0)
        self.opened(key, SILENT)
        end = f"/sites/{key}/faults/1"
        for body, said in (
            ({"faults": []}, "Say what it was"),
            ({"faults": [{"fault": "gremlins", "at": "cam-16"}]}, "'gremlins' is no fault"),
            ({"faults": [{"fault": "cable", "at": "internet"}]}, "'cable' cannot be at 'internet'"),
        ):
            status, refused = self.call("PUT", f"{end}/cause", body)
            self.assertEqual((status, said in refused["message"]), (422, True))
        self.assertEqual(self.call("GET", f"/sites/{key}/faults/2")[0], 404)
        sheet = self.call("GET", f"/sites/{key}/faults")[1]
        self.assertEqual([row["title"] for row in sheet["cases"]], [self.call("GET", end)[1]["title"]])

    def test_every_written_case_is_played_and_a_trainer_sees_whose_drills_went_how(self) -> None:
        key = self.site(practice=True)
        sheet = self.call("GET", f"/sites/{key}/faults")[1]
        self.assertEqual(len(sheet["written"]), 20)
        for number, item in enumerate(sheet["written"], 1):
            case = self.opened(key, written=item["value"])
            self.assertEqual((case["title"], case["teaches"], bool(case["story"])), (item["word"], "", True))
            hidden = models.Case.objects.get(site__key=key, number=number).hidden[0]
            if number % 7 != 1:  # the same way goes for each
                continue
            case = self.put_right(key, number, {"fault": hidden["kind"], "at": hidden["at"]})
            self.assertEqual((case["score"]["right"], bool(case["teaches"])), (True, True), item)
        (mine,) = self.call("GET", f"/sites/{key}/faults")[1]["people"]
        self.assertEqual((mine["name"], mine["drills"], mine["right"], mine["minutes"]), ("ines", 3, 3, 0))
        self.assertGreater(mine["usual"], mine["best"])
        self.assertEqual(self.call("POST", f"/sites/{key}/faults", {"written": "ghosts"})[0], 422)

    def test_whether_one_reaches_another_is_asked_hop_by_hop(self) -> None:
        key = self.site()
        asked = f"/sites/{key}/reach?protocol=tcp&start="
        there = self.call("GET", f"{asked}laptop@office&goal=cam-16&port=554")[1]
        self.assertEqual((there["reaches"], there["stops_at"]), (True, None))
        self.assertEqual([hop["at"] for hop in there["path"]], ["laptop@office", "10.62.4.254", "10.62.8.1", "cam-16"])
        stopped = self.call("GET", f"{asked}switch-1&goal=cam-19&port=80")[1]
        self.assertEqual((stopped["code"], stopped["reaches"]), ("behind", False))
        self.assertTrue(stopped["said"].endswith(".") and stopped["mend"].endswith("."))
        for start, goal, port in (("cam-77", "cam-16", 80), ("cam-16", "nowhere", 80), ("cam-16", "cam-01", 0)):
            self.assertEqual(self.call("GET", f"{asked}{start}&goal={goal}&port={port}")[0], 422)
