"""Doors, people and the alarm by real requests: one item at a time, never over somebody else's, sent and ticked."""

from datetime import datetime, timedelta
from typing import Any
from unittest.mock import patch

from django.utils import timezone

from tests.samples import device, document
from tests.server.test_api import ApiCase
from tutelar.server.practice.keeper import KEEPER

DOOR = {
    "key": "yard",
    "name": "Yard door",
    "panel": "d-9",
    "number": 1,
    "lock": "magnet",
    "relay": "nc",
    "exit_button": True,
    "contact": "nc",
    "escape": True,
    "groups": ["all"],
}
LENA = {
    "key": "lena",
    "name": "Lena Orsk",
    "groups": ["cleaners"],
    "cards": [{"format": "w26", "facility": 114, "number": 20517}],
}
FRAME = {"key": "evening", "name": "Evening", "week": {"mon": [["17:30", "20:30"]], "sat": []}}
RULE = {"key": "cleaning", "people": ["cleaners"], "doors": ["all"], "frame": "evening"}


class Doors(ApiCase):
    def site(self, **more: Any) -> str:
        raw = document([device(9, "ondel-door-4")], doors=[DOOR], **more)
        raw["models"].append(
            {"key": "ondel-door-4", "family": "panel", "capacity": {"doors": 4}, "services": {"web": 80}}
        )
        return self.bring(raw)

    def put(self, key: str, kind: str, item: str, was: Any, now: Any) -> tuple[int, Any]:
        return self.call("PUT", f"/sites/{key}/access/{kind}/{item}", {"was": was, "now": now})

    def test_people_rules_and_frames_come_one_by_one_and_a_panel_is_told(self) -> None:
        key = self.site()
        for kind, part in (("people", LENA), ("frames", FRAME), ("rules", RULE)):
            self.assertEqual(self.put(key, kind, part["key"], None, part)[0], 200)
        self.assertEqual(self.put(key, "holidays", "2027-03-17", None, {"date": "2027-03-17"})[0], 200)
        asked = f"/sites/{key}/access/may?person=lena&door=yard&when="
        found = self.call("GET", f"{asked}2027-03-16T17:45")[1]
        self.assertEqual((found["may"], found["now"]), (True, False))
        self.assertIn("by cleaning; the panel was not sent this yet", found["said"])
        sheet = self.call("GET", f"/sites/{key}/access")[1]
        self.assertEqual(
            sheet["cells"], [{"people": "cleaners", "doors": "all", "rules": ["cleaning"], "frames": ["Evening"]}]
        )
        standing = sheet["standings"][0]
        self.assertEqual([item["code"] for item in sheet["problems"]], ["access.not-sent"])
        tick = {"panel": "d-9", "digest": standing["digest"]}
        self.assertEqual(self.call("POST", f"/sites/{key}/access/sent", {**tick, "digest": "old"})[0], 409)
        self.assertEqual(self.call("POST", f"/sites/{key}/access/sent", tick)[0], 200)
        self.assertTrue(self.call("GET", f"{asked}2027-03-16T17:45")[1]["now"])
        after = self.call("GET", f"/sites/{key}/access")[1]["standings"][0]
        self.assertEqual((after["is_sent"], after["sent_by"], after["digest"]), (True, "ines", standing["digest"]))

        # a lost card: the same panel has to be told again
        lost = {**LENA, "cards": [{**LENA["cards"][0], "lost": True}]}  # type: ignore[index,dict-item]
        self.assertEqual(self.put(key, "people", "lena", LENA, lost)[0], 200)
        found = self.call("GET", f"{asked}2027-03-16T17:45")[1]
        self.assertEqual((found["may"], found["refused"][0]["code"]), (False, "card-lost"))
        self.assertFalse(self.call("GET", f"/sites/{key}/access")[1]["standings"][0]["is_sent"])
        holiday = self.call("GET", f"{asked}2027-03-17T17:45")[1]
        self.assertIn("every card of Lena Orsk is lost", holiday["said"])
        week = self.call("GET", f"/sites/{key}/access/week/lena")[1]
        self.assertEqual(week["doors"][0]["days"]["fri"], [[1050, 1230]])
        self.assertEqual(week["doors"][0]["days"]["sat"], [])
        said = [item["sentence"] for item in self.call("GET", f"/sites/{key}/events?search=Lena")[1]]
        self.assertEqual(said, ["Lena Orsk changed (person): cards.", "Lena Orsk added (person)."])

    def test_nothing_is_written_over_somebody_elses_change_and_wrong_parts_are_named(self) -> None:
        key = self.site()
        self.assertEqual(self.put(key, "people", "lena", None, LENA)[0], 200)
        status, refused = self.put(key, "people", "lena", None, {**LENA, "name": "Other"})
        self.assertEqual((status, refused["current"]["name"]), (409, "Lena Orsk"))
        for kind, item, now, words in (
            ("people", "jo", {"valid_to": "2027-02-30"}, "2027-02-30"),
            ("people", "jo", {"nick": "Jo"}, "'nick' is unknown here"),
            ("frames", "f", {"week": {"tue": []}}, "no 'mon'"),
            ("doors", "d", {"number": 0}, "0"),
            ("rules", "Not a key", {}, "'Not a key' is not a key"),
            ("hubs", "d-9", {"armed_left": "asleep"}, "'asleep'"),
        ):
            status, refused = self.put(key, kind, item, None, now)
            self.assertEqual(status, 422, (kind, refused))
            self.assertIn(words, refused["message"])
        self.assertEqual(self.put(key, "keys", "a", None, {})[0], 404)
        self.assertEqual(self.call("GET", f"/sites/{key}/access/may?person=x&door=yard&when=soon")[0], 422)
        self.assertEqual(self.call("GET", f"/sites/{key}/access/may?person=x&door=yard&when=2027-03-01T08:00")[0], 422)

    def test_a_table_of_people_is_previewed_and_brought_in(self) -> None:
        key = self.site(access={"people": [LENA]})
        table = (
            "Name;Team;From;Until;Facility;Card number\n"
            "Lena Orsk;managers;;;114;20517\n"
            "Davi Moss;Night crew, cleaners;01.06.2027;31.08.2027;114;20518\n"
            "Jo;;;;300;1\n"
            "Kim;;2027-05-01;2027-04-01;;\n"
            ";x;;;;\n"
            "Davi Moss;;;;;20519\n"
        )
        answer = self.client.post(
            f"/api/sites/{key}/access/table", table.encode(), content_type="application/octet-stream"
        )
        preview = answer.json()
        self.assertEqual(
            [row["does"] for row in preview["rows"]], ["changed", "new", "wrong", "wrong", "wrong", "changed"]
        )
        self.assertIn("facility 300 does not fit", preview["rows"][2]["said"])
        self.assertIn("lies before", preview["rows"][3]["said"])
        self.assertEqual(self.call("POST", f"/sites/{key}/access/people", {"table": preview["table"]})[0], 200)
        people = {part["key"]: part for part in self.call("GET", f"/sites/{key}/file")[1]["access"]["people"]}
        self.assertEqual(people["lena"]["groups"], ["cleaners", "managers"])
        self.assertEqual(people["davi-moss"]["groups"], ["night-crew", "cleaners"])
        self.assertEqual([card["number"] for card in people["davi-moss"]["cards"]], [20518, 20519])
        self.assertEqual(people["davi-moss"]["valid_to"], "2027-08-31")
        self.assertEqual(self.call("POST", f"/sites/{key}/access/people", {"table": preview["table"]})[0], 422)

    def test_a_door_is_tried_step_by_step_and_a_test_falls_when_it_is_wired_anew(self) -> None:
        key = self.site(site={"key": "tried", "name": "Tried", "practice": True})
        door = self.call("GET", f"/sites/{key}/doors")[1]["doors"][0]
        expected = {test["key"]: test["expect"] for test in door["tests"]}
        self.assertEqual(expected["unlocks"], "free 5 s, then held")
        self.assertEqual(expected["lock-supply-out"], "free all the time")
        self.assertNotIn("fire", expected)
        test = next(item for item in door["tests"] if item["key"] == "unlocks")
        seen = {"result": "pass", "words": ""}
        path = f"/sites/{key}/devices/d-9/checks/{test['check']}/seen"
        self.assertEqual(self.call("POST", path, seen)[0], 201)
        egress = next(item["check"] for item in door["tests"] if item["key"] == "egress")
        refused = self.call("POST", f"/sites/{key}/devices/d-9/checks/{egress}/seen", seen)
        self.assertEqual((refused[0], "Name the person" in refused[1]["message"]), (422, True))
        tried = self.call("GET", f"/sites/{key}/doors")[1]["doors"][0]
        self.assertEqual((tried["tests"][0]["result"], tried["tests"][0]["stale"]), ("pass", False))
        self.assertEqual(self.put(key, "doors", "yard", DOOR, {**DOOR, "unlock_s": 9})[0], 200)
        after = self.call("GET", f"/sites/{key}/doors")[1]["doors"][0]
        self.assertEqual((after["tests"][0]["stale"], after["tests"][0]["expect"]), (True, "free 9 s, then held"))
        played = {
            fault: self.call("POST", f"/sites/{key}/doors/yard/pretend", {"test": "unlocks", "faults": fault})[1][
                "words"
            ]
            for fault in ((), ("relay-swapped",))
        }
        self.assertEqual(list(played.values()), ["free 9 s, then held", "held 9 s, then free"])

    def test_the_panel_of_a_pretend_site_that_is_kept_up_is_asked(self) -> None:
        key = self.site(site={"key": "kept-door", "name": "Kept", "practice": True})
        self.addCleanup(KEEPER.stop, key)
        path, ask = f"/sites/{key}/doors/yard/pretend", {"test": "card-granted"}
        self.assertFalse(self.call("POST", path, {**ask, "faults": []})[1]["by_panel"])
        self.call("POST", f"/sites/{key}/plan", {"revision": self.call("GET", f"/sites/{key}")[1]["revision"]})
        self.assertEqual(self.call("PUT", f"/sites/{key}/pretend", {"faults": [], "fresh": False})[0], 204)
        for faults, words in (([], "free 5 s, then held"), (["not-sent"], "the card is refused")):
            seen = self.call("POST", path, {**ask, "faults": faults})[1]
            self.assertEqual((seen["by_panel"], words in seen["words"]), (True, True), seen)
        said = ["card refused: it was never sent here", "card granted"]
        self.assertEqual(KEEPER.door_events(key, "d-9"), said)

    def test_a_door_held_open_has_a_guard_a_time_and_an_end(self) -> None:
        key = self.site(site={"key": "real", "name": "Real"})
        path = f"/sites/{key}/doors/yard/unlocked"
        self.assertEqual(self.call("POST", path, {"minutes": 30, "guard": ""})[0], 422)
        self.assertEqual(self.call("POST", path, {"minutes": 30, "guard": "Maren Aldous"})[0], 200)
        held = self.call("GET", f"/sites/{key}/doors")[1]["doors"][0]["unlocked"]
        until = datetime.fromisoformat(held["until"])
        self.assertAlmostEqual((until - timezone.now()) / timedelta(minutes=1), 30, 0)
        self.assertEqual((held["guard"], held["by"]), ("Maren Aldous", "ines"))
        self.assertEqual(self.call("GET", f"/sites/{key}/file")[1]["x-unlocked"]["yard"]["guard"], "Maren Aldous")

        # it stays so until somebody locks it, whatever the time: it is the stage's next thing, and no test counts
        with patch("django.utils.timezone.now", return_value=until + timedelta(days=1)):
            self.assertEqual(self.call("GET", f"/sites/{key}/doors")[1]["doors"][0]["unlocked"], held)
        stage = next(one for one in self.call("GET", f"/sites/{key}/job")[1]["stages"] if one["stage"] == "doors")
        test = self.call("GET", f"/sites/{key}/doors")[1]["doors"][0]
        seen = f"/sites/{key}/devices/{test['panel']}/checks/{test['tests'][0]['check']}/seen"
        status, refused = self.call("POST", seen, {"result": "pass", "words": "", "person": ""})
        self.assertEqual((status, "is held open for set-up" in refused["message"]), (422, True))
        self.assertEqual(self.call("DELETE", path)[0], 204)
        self.assertEqual(self.call("POST", seen, {"result": "pass", "words": "", "person": ""})[0], 201)
        after = next(one for one in self.call("GET", f"/sites/{key}/job")[1]["stages"] if one["stage"] == "doors")
        self.assertEqual(stage["open"] - after["open"], 2)
        self.assertEqual(self.call("DELETE", path)[0], 422)
        self.assertEqual(self.call("POST", f"/sites/{key}/doors/gone/unlocked", {"minutes": 5, "guard": "M"})[0], 404)
        self.assertEqual(self.call("POST", f"/sites/{key}/doors/yard/pretend", {"test": "unlocks"})[0], 422)


class Hubs(ApiCase):
    def test_a_hub_says_what_is_open_and_which_ways_fail_apart(self) -> None:
        raw = document(
            [device(1, "hub-4"), device(2, "pir")], links=[{"kind": "reads-for", "from": "d-2", "to": "d-1", "slot": 3}]
        )
        paths = ["cable", "wifi", "mobile-1", "mobile-2"]
        raw["models"] += [
            {"key": "hub-4", "family": "alarm-hub", "capacity": {"users": 1, "devices": 9, "paths": paths}},
            {"key": "pir", "family": "other"},
        ]
        key = self.bring(raw)
        hub = self.call("GET", f"/sites/{key}/alarm")[1]["hubs"][0]
        self.assertEqual((hub["apart"], hub["zones"][0]["number"], hub["there"]), (1, 3, False))
        networks = {"wifi": "guest", "mobile-1": "Fenmobile", "mobile-2": "fenmobile"}
        now = {
            "hub": "d-1",
            "armed_as_found": "away",
            "armed_left": "home",
            "on_test": {"until": "2027-03-01T10:00:00+00:00", "told": "Station", "by": "somebody"},
            "users": [{"name": "A", "rights": "arm"}, {"name": "B", "rights": "manage"}],
            "tests": [{"zone": "d-2", "result": "pass"}, {"path": "cable", "result": "pass"}],
            "x-networks": networks,
        }
        self.assertEqual(self.call("PUT", f"/sites/{key}/access/hubs/d-1", {"was": None, "now": now})[0], 200)
        hub = self.call("GET", f"/sites/{key}/alarm")[1]["hubs"][0]
        self.assertEqual({hub["on_test"]["by"], *(test["by"] for test in hub["part"]["tests"])}, {"ines"})  # who asks
        self.assertTrue(hub["on_test"]["from"] and all(test["at"] for test in hub["part"]["tests"]))
        self.assertEqual(hub["apart"], 2)
        self.assertIn("one network: that is one way", hub["remark"])
        self.assertIn("guest network is no way", hub["remark"])
        self.assertTrue(next(room for room in hub["room"] if room["what"] == "users")["over"])
        self.assertEqual(len(hub["open"]), 5)  # off test, three ways alone, left as found
        stage = next(one for one in self.call("GET", f"/sites/{key}/job")[1]["stages"] if one["stage"] == "doors")
        self.assertEqual((stage["open"], stage["next"]["act"], stage["next"]["subjects"]), (5, "alarm", ["d-1"]))
        done = {
            **{name: part for name, part in now.items() if name != "on_test"},
            "armed_left": "away",
            "tests": [{"zone": "d-2", "result": "pass"}, *({"path": way, "result": "pass"} for way in paths)],
        }
        self.assertEqual(self.call("PUT", f"/sites/{key}/access/hubs/d-1", {"was": hub["part"], "now": done})[0], 200)
        stage = next(one for one in self.call("GET", f"/sites/{key}/job")[1]["stages"] if one["stage"] == "doors")
        self.assertEqual((stage["open"], stage["next"]["sentence"]), (0, "The alarm is left as it was found."))
        self.assertEqual(
            self.call(
                "PUT",
                f"/sites/{key}/access/hubs/d-1",
                {"was": self.call("GET", f"/sites/{key}/alarm")[1]["hubs"][0]["part"], "now": now},
            )[0],
            200,
        )
        self.assertEqual(self.call("GET", f"/sites/{key}")[1]["on_test"][0]["until"], "2027-03-01T10:00:00+00:00")
