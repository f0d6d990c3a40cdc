"""Loads by real requests: tried out, moved, kept, and taken away as strips and tables."""

from typing import Any

from tests.samples import device, document
from tests.server.test_api import ApiCase

SWITCH = {"key": "sw", "family": "switch", "ports": 4, "poe_budget_w": 20.0, "uplink_mbps": 100}


class LoadSheets(ApiCase):
    def site(self) -> str:
        rows = [
            device(1, powered_by={"device": "d-90", "port": 1}),
            device(2, powered_by={"device": "d-90", "port": 2}),
            device(90, "sw", place="Rack"),
            device(91, "sw", place="Rack", plugged_into={"device": "d-90", "port": 4}),
        ]
        raw = document(rows, supplies=[{"key": "psu", "name": "Gate supply", "kind": "dc", "volts": 12, "rated_w": 24}])
        raw["models"].append(SWITCH)
        camera = next(item for item in raw["models"] if item["key"] == raw["devices"][0]["model"])
        camera["power"] = {"poe_class": 3, "draw_w": 6.0, "peak_w": 9.0, "dc_min_v": 10.8}
        return self.bring(raw)

    def test_a_switch_over_its_budget_says_what_moves_where_and_a_draft_of_it_fits(self) -> None:
        key = self.site()
        status, sheet = self.call("GET", f"/sites/{key}/loads?viewers=5")
        self.assertEqual((status, sheet["misses"]), (200, ["switch"]))
        over = next(item for item in sheet["switches"] if item["key"] == "d-90")
        self.assertEqual((over["verdict"], over["counts_w"], over["budget_w"]), ("over", 30.8, 20.0))
        moving = [item for item in over["fed"] if item["moves"]]
        self.assertEqual([(item["device"], len(item["homes"])) for item in moving], [("d-1", 1)])
        self.assertEqual(sheet["balance"]["devices"], {"d-1": {"powered_by": {"device": "d-91", "port": 1}}})
        draft = {"devices": sheet["balance"]["devices"]}
        tried = self.call("POST", f"/sites/{key}/loads/preview", draft)[1]
        self.assertEqual((tried["misses"], tried["balance"]["moves"]), ([], []))
        was = {"devices": {"d-1": {"powered_by": {"device": "d-90", "port": 1}}}}
        self.assertEqual(self.call("PATCH", f"/sites/{key}/recording", {"draft": draft, "was": was})[0], 200)
        said = self.call("GET", f"/sites/{key}/events")[1][0]["sentence"]
        self.assertEqual(said, "Device 1: fed by d-90 port 1 → d-91 port 1.")

    def test_a_cable_and_an_earth_conductor_are_reckoned_with_and_kept(self) -> None:
        key = self.site()
        fed = {"supply": "psu", "m": 60.0, "mm2": 0.5}
        draft = {"devices": {"d-2": {"fed": fed, "powered_by": None, "x-earth": {"mm2": 2.5, "least_mm2": 4}}}}
        tried = self.call("POST", f"/sites/{key}/loads/preview", draft)[1]
        cable = tried["cables"][0]
        self.assertEqual((cable["ok"], cable["smallest_ok"]), (False, 1.5))
        self.assertEqual([item["ok"] for item in cable["sizes"]], [False, False, False, True, True, True, True, True])
        self.assertEqual(len(tried["earths"][0]["findings"]), 1)
        self.assertEqual(tried["misses"], ["supply cable"])
        was = {"devices": {"d-2": {"fed": None, "powered_by": {"device": "d-90", "port": 2}, "x-earth": None}}}
        self.assertEqual(self.call("PATCH", f"/sites/{key}/recording", {"draft": draft, "was": was})[0], 200)
        kept = self.call("GET", f"/sites/{key}/file")[1]["devices"][1]
        self.assertEqual((kept["fed"], kept["x-earth"]), (fed, {"mm2": 2.5, "least_mm2": 4}))
        self.assertNotIn("powered_by", kept)
        wrong = {"devices": {"d-2": {"fed": {**fed, "awg": 16}}}}
        status, refused = self.call("POST", f"/sites/{key}/loads/preview", wrong)
        self.assertEqual(status, 422)
        self.assertIn("given together", refused["message"])

    def test_ports_are_taken_away_as_a_table_and_as_strips(self) -> None:
        key = self.site()
        rows = self.client.get(f"/api/sites/{key}/files/ports.csv").content.decode().splitlines()
        self.assertIn("Device 90,1,Device 1,Hall,fed and data,", rows)
        self.assertIn("Device 90,4,Device 91,Rack,uplink,", rows)
        self.assertIn("Device 90,3,,,,", rows)
        self.assertTrue(self.client.get(f"/api/sites/{key}/files/ports.pdf").content.startswith(b"%PDF"))
        empty: dict[str, Any] = document([], site={"key": "none", "name": "None"})
        bare = self.bring(empty)
        self.assertEqual(self.call("GET", f"/sites/{bare}/loads")[1]["switches"], [])
        status, said = self.call("GET", f"/sites/{bare}/files/ports.pdf")
        self.assertEqual((status, "nothing with ports" in said["message"]), (422, True))
