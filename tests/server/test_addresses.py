"""Moves, kept ranges, renumbering and tables from the field by real requests."""

from typing import Any

from tests.samples import device, document
from tests.server.test_api import ApiCase

ROWS = [
    device(1, "larkmoor-rec-8", address="10.20.30.20"),
    device(2, address="10.20.30.50"),
    device(3, address="10.20.30.51", locked=True),
    device(4),
]
LINKS = [{"kind": "records", "from": f"d-{n}", "to": "d-1", "slot": n} for n in (2, 3)]


class Sheets(ApiCase):
    def site(self, **more: Any) -> str:
        return self.bring(document(ROWS, links=LINKS, **more))

    def test_unknown_rows_of_a_table_become_devices_with_their_names(self) -> None:
        key = self.site()
        table = b"Host,IP,MAC,Type\nyard-cam,10.20.30.70,02:55:00:00:00:07,static\nlamp,10.20.30.120,02:55:00:00:00:08,dynamic"
        path = f"/api/sites/{key}/sightings"
        said = self.client.post(path, table, content_type="application/octet-stream").json()
        rows = [
            {name: row[name] for name in ("address", "mac", "name", "leased")} for row in said["rows"] if row["take"]
        ]
        body = {"revision": said["revision"], "model": "larkmoor-dome-4", "rows": rows}
        for wrong, words in (({"model": "none"}, "no model 'none'"), ({"rows": [rows[0] | {"mac": "02:x"}]}, "“02:x”")):
            status, refused = self.call("POST", f"/sites/{key}/sightings/take-over", body | wrong)
            self.assertEqual((status, words in refused["message"]), (422, True), refused)
        self.assertEqual(self.call("POST", f"/sites/{key}/sightings/take-over", body)[0], 200)
        self.assertEqual(self.call("POST", f"/sites/{key}/sightings/take-over", body)[0], 409)
        devices = {item["name"]: item for item in self.call("GET", f"/sites/{key}/kit")[1]["devices"]}
        self.assertEqual((devices["yard-cam"]["address"], devices["yard-cam"]["addressing"]), ("10.20.30.70", "fixed"))
        self.assertEqual((devices["lamp"]["address"], devices["lamp"]["addressing"]), (None, "leased"))
        log = self.call("GET", f"/sites/{key}/log")[1]["lines"][0]
        self.assertEqual((log["sentence"], log["parts"]), ("Taken over from a table of the network: 2 devices.", 2))

    def test_a_move_is_previewed_with_whom_it_concerns(self) -> None:
        key = self.site()
        _, said = self.call("POST", f"/sites/{key}/addresses/move", {"device": "d-2", "address": "10.20.30.60"})
        self.assertEqual((said["possible"], said["sentence"]), (True, "10.20.30.60 is free for Device 2."))
        self.assertEqual(
            said["partners"][0] | {"after": []},
            {
                "device": "d-1",
                "name": "Device 1",
                "setting": "address of the camera on channel 2",
                "old": "10.20.30.50",
                "new": "10.20.30.60",
                "after": [],
            },
        )
        for address, words in (
            ("10.20.30.51", "have the same address"),
            ("10.20.30.120", "inside the DHCP pool"),
            ("10.20.30.255", "broadcast"),
            ("10.20.31.5", "outside Halls"),
            ("10.20.30.3", "IT keeps"),
        ):
            _, said = self.call("POST", f"/sites/{key}/addresses/move", {"device": "d-2", "address": address})
            self.assertFalse(said["possible"], address)
            self.assertIn(words, said["sentence"])
        status, said = self.call("POST", f"/sites/{key}/addresses/move", {"device": "d-2", "address": "10.20.30.999"})
        self.assertEqual((status, said["faults"][0]["path"]), (422, "address"))

    def test_after_a_plan_an_address_keeps_its_first_reason(self) -> None:
        key = self.bring(document([device(1), device(2)]))

        def whys() -> dict[str, str]:
            sheet = self.call("GET", f"/sites/{key}/addresses")[1]
            return {row["key"]: row["why"] for network in sheet["networks"] for row in network["devices"]}

        first = whys()
        revision = self.call("GET", f"/sites/{key}/addresses")[1]["revision"]
        self.assertEqual(self.call("POST", f"/sites/{key}/plan", {"revision": revision})[0], 200)
        for name, why in whys().items():
            self.assertTrue(why.startswith(f"{first[name]} Planned on "), why)
        moved = {"revision": self.placed(key, "d-1")["revision"], "address": "10.20.30.77"}
        self.assertEqual(self.call("PATCH", f"/sites/{key}/devices/d-1", moved)[0], 200)
        self.assertNotIn("Planned on", whys()["d-1"])  # another address than the plan's has another reason

    def test_a_range_is_kept_free_cut_and_given_back(self) -> None:
        key = self.site()
        body = {"revision": 1, "first": "10.20.30.60", "last": "10.20.30.69", "why": "tills"}
        self.assertEqual(self.call("POST", f"/sites/{key}/networks/lan/keep", body), (200, {"revision": 2}))
        cut = {"revision": 2, "first": "10.20.30.64", "last": "10.20.30.64"}
        self.assertEqual(self.call("POST", f"/sites/{key}/networks/lan/give-back", cut)[0], 200)
        kept = self.call("GET", f"/sites/{key}/file")[1]["networks"][0]["reserved"]
        self.assertEqual(
            [(item["first"], item["last"], item["why"]) for item in kept][1:],
            [("10.20.30.60", "10.20.30.63", "tills"), ("10.20.30.65", "10.20.30.69", "tills")],
        )
        for wrong in (
            {"first": "10.20.30.9", "last": "10.20.30.3"},
            {"first": "10.9.9.9", "last": "10.9.9.9"},
            {"first": "x", "last": "10.20.30.9"},
        ):
            self.assertEqual(self.call("POST", f"/sites/{key}/networks/lan/keep", {"revision": 3, **wrong})[0], 422)
        self.assertEqual(self.call("POST", f"/sites/{key}/networks/lan/give-back", cut | {"revision": 3})[0], 422)
        self.assertEqual(self.call("POST", f"/sites/{key}/networks/none/keep", body | {"revision": 3})[0], 404)

    def test_renumbering_is_previewed_taken_away_and_done(self) -> None:
        key = self.site()
        wanted = {"to": "10.77.0.0/24", "gateway": "10.77.0.254"}
        _, said = self.call("POST", f"/sites/{key}/networks/lan/renumber/preview", wanted)
        self.assertEqual(
            [(item["old"], item["new"]) for item in said["devices"]],
            [("10.20.30.20", "10.77.0.20"), ("10.20.30.50", "10.77.0.50"), ("10.20.30.51", "10.77.0.51")],
        )
        self.assertEqual(
            {item["setting"] for item in said["partners"]},
            {"address of the camera on channel 2", "address of the camera on channel 3"},
        )
        text = self.call("GET", f"/sites/{key}/networks/lan/renumber.csv?to=10.77.0.0/24")[1]
        self.assertIn("Device 1,address of the camera on channel 2,10.20.30.50,10.77.0.50", text)
        self.assertEqual(self.call("POST", f"/sites/{key}/networks/lan/renumber", wanted | {"revision": 9})[0], 409)
        self.assertEqual(self.call("POST", f"/sites/{key}/networks/lan/renumber", wanted | {"revision": 1})[0], 200)
        raw = self.call("GET", f"/sites/{key}/file")[1]
        self.assertEqual((raw["networks"][0]["cidr"], raw["networks"][0]["gateway"]), ("10.77.0.0/24", "10.77.0.254"))
        self.assertEqual([item["address"] for item in raw["devices"]], ["10.77.0.20", "10.77.0.50", "10.77.0.51", None])
        self.assertTrue(raw["devices"][2]["locked"])
        for to, gateway in (("10.77.0.0/24", None), ("10.77.0.7/24", None), ("x", None), ("10.78.0.0/24", "10.9.9.9")):
            body = {"to": to, "gateway": gateway}
            self.assertEqual(self.call("POST", f"/sites/{key}/networks/lan/renumber/preview", body)[0], 422, to)

    def test_a_table_from_the_field_is_judged(self) -> None:
        key = self.site()
        text = (
            "10.20.30.50 dev eth0 lladdr 06:00:00:00:00:01 STALE\n10.20.30.70 dev eth0 lladdr 02:1a:4b:00:00:01 STALE\n"
        )
        for content in (text.encode(), text.encode("utf-16")):
            answer = self.client.post(f"/api/sites/{key}/sightings", content, content_type="application/octet-stream")
            said = answer.json()
            self.assertEqual(
                [(row["kind"], row["device"]) for row in said["rows"]], [("taken", "d-2"), ("elsewhere", "d-1")]
            )
            self.assertEqual(said["unseen"], ["Device 2", "Device 3", "Device 4"])
        answer = self.client.post(f"/api/sites/{key}/sightings", b"hello", content_type="application/octet-stream")
        self.assertEqual(answer.status_code, 422)

    def test_who_answers_a_search_of_the_pretend_site_is_compared_with_the_plan(self) -> None:
        raw = document(
            [device(1, address="10.252.30.50"), device(2, "pellgrave-gate-1", address="10.252.30.51")],
            network={"cidr": "10.252.30.0/24", "gateway": "10.252.30.1", "dns": [], "pools": [], "reserved": []},
        )
        raw["models"][0]["services"]["device-interface"] = 8000
        key = self.bring(raw)
        status, said = self.call("POST", f"/sites/{key}/search")
        self.assertEqual((status, said["table"]), (200, "a search of the pretend site"))
        self.assertEqual([(row["kind"], row["device"]) for row in said["rows"]], [("expected", "d-1")])
        log = self.call("GET", f"/sites/{key}/events?search=search")[1]
        self.assertEqual(log[0]["sentence"], "A search of the pretend site: 1 device answered.")
        # one that is kept up is searched as it is: here every device is still in its box
        path = f"/sites/{key}/pretend"
        fault = {"kind": "cable", "device": "d-1"}
        self.assertEqual(self.call("PUT", path, {"fresh": True, "faults": [fault]})[0], 422)
        self.assertEqual(self.call("PUT", path, {"fresh": True})[0], 204)
        self.addCleanup(self.call, "DELETE", path)
        self.assertEqual(self.call("POST", f"/sites/{key}/search")[1]["rows"], [])
