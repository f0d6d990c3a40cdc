"""First contact: the way, the laptop's address, what stays unplugged, and the way back."""

from typing import Any
from unittest import TestCase

from tests.samples import demo, device, document, read
from tutelar.core.contact import Contact, Laptop, contact


def reach(raw: dict[str, Any], key: str, laptop: Laptop = "linux") -> Contact:
    site = read(raw)
    return contact(site, site.device_by_key[key], laptop)


class FirstContact(TestCase):
    def test_a_fixed_factory_address_wants_the_laptop_beside_it(self) -> None:
        found = reach(demo(), "cam-01").as_dict()
        self.assertEqual(found["way"], "factory-address")
        self.assertEqual(found["adapter"], {"address": "192.168.64.9", "prefix": 24})
        self.assertEqual(found["open"], "http://192.168.64.20/")
        self.assertEqual(
            found["keep_off"],
            ["cam-02", "cam-03", "cam-04", "cam-05", "cam-06", "cam-19", "cam-20", "cam-23", "cam-24"],
        )
        self.assertIn("unplugged", found["steps"][0])
        self.assertEqual(list(found), ["way", "adapter", "open", "commands", "keep_off", "steps"])

    def test_each_laptop_has_its_commands_and_the_way_back(self) -> None:
        for laptop, forth, back in (
            ("windows", "static 192.168.64.9 255.255.255.0", "dhcp"),
            ("macos", "alias 192.168.64.9 255.255.255.0", "-alias 192.168.64.9"),
            ("linux", "add 192.168.64.9/24", "del 192.168.64.9/24"),
        ):
            commands = reach(demo(), "cam-01", laptop).as_dict()["commands"]  # type: ignore[arg-type]
            self.assertIn(forth, commands["set"][0])
            self.assertIn(back, commands["back"][0])

    def test_the_other_ways(self) -> None:
        self.assertEqual(reach(demo(), "door-1").way, "link-local")
        leased = reach(demo(), "cam-13")
        self.assertEqual((leased.way, leased.adapter, leased.set_commands, leased.open), ("lease", None, (), None))
        self.assertIn("02:1a:4b:00:00:0d", " ".join(leased.steps))
        self.assertIn("192.168.64.20", " ".join(reach(demo(), "cam-07").steps))  # its fall-back
        hidden = reach(demo(), "cam-19")
        self.assertEqual(hidden.way, "recorder-port")
        self.assertIn("172.27.16.11", hidden.steps[1])
        proven = reach(document([device(1, address="10.20.30.50", locked=True)]), "d-1")
        self.assertEqual((proven.way, proven.open), ("own-address", "http://10.20.30.50/"))
        self.assertEqual(len(proven.steps), 1)
        shut = document([device(1, address="10.20.30.50", locked=True)], routing={"between": "closed"})
        shut["networks"].append({"key": "office", "name": "Office", "cidr": "10.20.40.0/24", "gateway": "10.20.40.1"})
        (_, held) = reach(shut, "d-1").steps
        self.assertTrue(held.startswith("From Office it is not reached: "), held)
        bare = document([device(1)])
        del bare["models"][0]["factory"]
        self.assertEqual(reach(bare, "d-1").way, "unknown")

    def test_a_port_that_is_not_the_usual_one_and_a_camera_of_another_maker_are_said(self) -> None:
        raw = demo()
        for model in raw["models"]:
            if "services" in model and "web" in model["services"]:
                model["services"]["web"] = 8080
        self.assertIn("http://192.168.64.20:8080/", " ".join(reach(raw, "cam-01").steps))
        self.assertIn("http://that address:8080/", " ".join(reach(raw, "cam-13").steps))
        maker = next(model for model in raw["models"] if model["key"] == "larkmoor-dome-4")
        maker["maker"] = "Tarn"
        hidden = next(item["key"] for item in raw["devices"] if item.get("behind") and item["model"] == maker["key"])
        self.assertIn("add it there by hand", reach(raw, hidden).steps[1])
        recorder = next(model for model in raw["models"] if model.get("camera_ports"))
        recorder["camera_ports"]["finds_makers"] = ["Tarn"]
        self.assertIn("finds it by itself", reach(raw, hidden).steps[1])

    def test_a_fall_back_address_is_the_way_where_nothing_leases(self) -> None:
        raw = demo()
        raw["policy"]["bench"] = {"leases": False}
        self.assertEqual(reach(raw, "gate-1").adapter.address, "192.168.77.9")  # type: ignore[union-attr]
        self.assertEqual(reach(raw, "gate-1").keep_off, ("gate-2", "gate-3"))
        self.assertIn("router", reach(raw, "cam-13").steps[0])

    def test_the_laptop_takes_nobodys_address(self) -> None:
        raw = document([device(1), device(2, "pellgrave-gate-1", address="192.168.64.9")])
        self.assertEqual(reach(raw, "d-1").adapter.address, "192.168.64.10")  # type: ignore[union-attr]

    def test_a_factory_address_inside_the_site_network_needs_no_change(self) -> None:
        near = {"cidr": "192.168.64.0/24", "gateway": "192.168.64.1", "dns": [], "pools": [], "reserved": []}
        found = reach(document([device(1)], network=near), "d-1")
        self.assertEqual((found.adapter, found.set_commands), (None, ()))
        self.assertIn("can stay as it is", " ".join(found.steps))
