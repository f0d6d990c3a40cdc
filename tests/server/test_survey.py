"""Answers of the survey by real requests: kept, refused with their blank, never overwritten."""

from tests.samples import device, document
from tests.server.test_api import ApiCase

POOLS = "networks.lan.pools"


class Answers(ApiCase):
    def test_an_answer_is_kept_with_its_speaker_and_said_in_the_log(self) -> None:
        key = self.bring(document())
        was = {POOLS: "10.20.30.100–10.20.30.149"}
        body = {"revision": 1, "was": was, "typed": {POOLS: "10.20.30.100–180"}, "told_by": "Ines Varga"}
        self.assertEqual(self.call("POST", f"/sites/{key}/survey/{POOLS}", body), (200, {"revision": 2}))
        _, sheet = self.call("GET", f"/sites/{key}/survey")
        asked = next(item for item in sheet["questions"] if item["key"] == POOLS)
        self.assertEqual(
            (asked["blanks"][0]["value"], asked["told_by"], asked["missing"]),
            ("10.20.30.100–10.20.30.180", "Ines Varga", []),
        )
        _, log = self.call("GET", f"/sites/{key}/events?search=Ines")
        self.assertIn("10.20.30.149 → 10.20.30.100–10.20.30.180, told by Ines Varga", log[0]["sentence"])
        _, raw = self.call("GET", f"/sites/{key}/file")
        self.assertEqual(raw["survey"]["told"][POOLS]["by"], "Ines Varga")

    def test_an_answer_that_a_change_overtook_says_so(self) -> None:
        key = self.bring(document([device(1)]))
        path = "networks.lan.reserved"

        def blank() -> tuple[str, bool, str | None]:
            asked = self.call("GET", f"/sites/{key}/survey")[1]["questions"]
            row = next(row for item in asked for row in item["blanks"] if row["path"] == path)
            return row["value"], row["none"], row["overtaken"]

        answer = {"revision": 1, "was": {}, "typed": {}, "none": [path], "told_by": "Ines Varga"}
        self.assertEqual(self.call("POST", f"/sites/{key}/survey/{path}", answer)[0], 200)
        self.assertEqual(blank(), ("", True, None))
        kept = {"revision": 2, "first": "10.20.30.60", "last": "10.20.30.69", "why": "tills"}
        self.assertEqual(self.call("POST", f"/sites/{key}/networks/lan/keep", kept)[0], 200)
        self.assertEqual(blank(), ("10.20.30.60–10.20.30.69 tills", False, ""))
        again = {"revision": 3, "was": {}, "typed": {path: "10.20.30.60–10.20.30.65 tills"}}
        self.assertEqual(self.call("POST", f"/sites/{key}/survey/{path}", again)[0], 200)
        self.assertEqual(blank()[1:], (False, None))

    def test_escape_doors_that_are_told_stand_in_the_document_with_keys(self) -> None:
        key = self.bring(document())
        for revision, names, doors in ((1, "Yard door\nCellar", ["yard-door", "cellar"]), (2, "Cellar", ["cellar"])):
            body = {"revision": revision, "was": {}, "typed": {"survey.escape_doors": names}}
            self.assertEqual(self.call("POST", f"/sites/{key}/survey/escape", body)[0], 200)
            kept = self.call("GET", f"/sites/{key}/file")[1]["doors"]
            self.assertEqual([door["key"] for door in kept], doors)

    def test_two_people_may_answer_different_questions_but_not_overwrite_each_other(self) -> None:
        key = self.bring(document())
        first = {"revision": 1, "was": {"survey.audio": ""}, "typed": {"survey.audio": "forbidden"}}
        self.assertEqual(self.call("POST", f"/sites/{key}/survey/audio", first)[0], 200)
        other = {"revision": 1, "was": {"survey.retention_days": ""}, "typed": {"survey.retention_days": "30"}}
        self.assertEqual(self.call("POST", f"/sites/{key}/survey/retention", other)[0], 200)
        status, said = self.call("POST", f"/sites/{key}/survey/audio", first | {"typed": {"survey.audio": "allowed"}})
        self.assertEqual((status, said["current"]), (409, {"survey.audio": "forbidden"}))

    def test_what_cannot_be_is_said_at_its_blank_and_nothing_is_kept(self) -> None:
        key = self.bring(document())
        for question, path, typed in (
            (POOLS, POOLS, "all of them"),
            ("networks.lan.range", "networks.lan.cidr", "10.20.30.7/24"),
            ("networks.lan.range", "networks.lan.vlan", "9999"),
            ("clock", "site.mains_hz", "55"),
            ("clock", "site.time_zone", "Europe/Dubln"),
            ("audio", "networks.lan.cidr", "10.0.0.0/8"),
        ):
            body = {"revision": 1, "was": {}, "typed": {path: typed}}
            status, said = self.call("POST", f"/sites/{key}/survey/{question}", body)
            self.assertEqual((status, said["faults"][0]["path"]), (422, path), said)
        self.assertEqual(
            self.call("POST", f"/sites/{key}/survey/weather", {"revision": 1, "was": {}, "typed": {}})[0], 404
        )
        self.assertEqual(self.call("GET", f"/sites/{key}")[1]["revision"], 1)

    def test_consequences_of_what_is_still_being_typed(self) -> None:
        key = self.bring(document())
        path = f"/sites/{key}/survey/internet/preview"
        typed = {"internet.connection": "line", "internet.outside_address": "100.64.3.3"}
        status, said = self.call("POST", path, {"typed": typed})
        self.assertEqual((status, said["follows"]["internet"][0]["level"]), (200, "warning"))
        self.assertEqual(self.call("GET", f"/sites/{key}")[1]["revision"], 1)

    def test_another_network_gets_a_key_of_its_own(self) -> None:
        key = self.bring(document())
        body = {"revision": 1, "name": "Lan", "cidr": "10.20.31.0/24"}
        self.assertEqual(self.call("POST", f"/sites/{key}/networks", body), (201, {"revision": 2}))
        self.assertEqual([n["key"] for n in self.call("GET", f"/sites/{key}/file")[1]["networks"]], ["lan", "lan-2"])
        for wrong in ("10.20.31.0", "10.20.31.9/24", "nonsense"):
            status, said = self.call("POST", f"/sites/{key}/networks", {"revision": 2, "name": "More", "cidr": wrong})
            self.assertEqual(status, 422)
            self.assertIn(wrong, said["message"])
