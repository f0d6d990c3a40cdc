"""What reaches what, case by case and on random sites against the rules written as one table."""

from ipaddress import IPv4Address, IPv4Network
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from tests import so_many
from tests.samples import read
from tutelar.core.links.readiness import gaps
from tutelar.core.links.registry import link_index
from tutelar.core.planning import plan
from tutelar.core.reach import Answer, Ends, UnknownEnd, matrix, reach

MODELS = [
    {"key": "cam", "family": "camera", "services": {"web": 80, "stream": 554}},
    {"key": "gate", "family": "door-station", "services": {"web": 80, "signalling": 5060}},
    {
        "key": "rec",
        "family": "recorder",
        "services": {"web": 80},
        "camera_ports": {"count": 4, "cidr": "172.27.16.0/24"},
    },
]
NETWORKS = [
    {"key": "sec", "name": "Security", "cidr": "10.1.0.0/24", "gateway": "10.1.0.1", "dns": ["10.1.0.1"]},
    {"key": "off", "name": "Office", "cidr": "10.2.0.0/24", "gateway": "10.2.0.1", "dns": ["10.2.0.1"]},
]


def site(**more: Any) -> Any:
    devices = [
        {"key": "a", "model": "cam", "network": "sec", "address": "10.1.0.20"},
        {"key": "b", "model": "gate", "network": "sec", "address": "10.1.0.200"},
        {"key": "c", "model": "cam", "network": "off", "address": "10.2.0.20"},
        {"key": "r", "model": "rec", "network": "sec", "address": "10.1.0.10"},
        {"key": "h", "model": "cam", "behind": "r", "address": "172.27.16.20"},
        {"key": "l", "model": "cam", "network": "sec", "addressing": "leased"},
    ]
    found = more.pop("found", {})
    for device in devices:
        if device["key"] in found:
            device["found"] = found[device["key"]]
    raw = {"format": "tutelar-site", "version": 1, "site": {"key": "s", "name": "S"}, "networks": NETWORKS}
    links = [{"kind": "records", "from": "h", "to": "r", "slot": 3}]
    return read({**raw, "models": MODELS, "devices": devices, "links": links, **more})


def ask(found: Any, start: str, goal: str, port: int = 80, protocol: Any = "tcp") -> Answer:
    return reach(Ends(found, plan(found)), start, goal, port, protocol)


def code(found: Any, start: str, goal: str, port: int = 80, protocol: Any = "tcp") -> str | None:
    reason = ask(found, start, goal, port, protocol).reason
    return reason.code if reason is not None else None


class Ways(TestCase):
    def test_within_a_network_masks_decide_and_the_gateway_helps_one_side(self) -> None:
        self.assertEqual([hop.at for hop in ask(site(), "a", "b").path], ["a", "b"])
        small = {"a": {"prefix": 25}}
        found = ask(site(found=small), "a", "b")
        self.assertEqual(([hop.at for hop in found.path], found.reaches), (["a", "10.1.0.1", "b"], True))
        back = ask(site(found=small), "b", "a")
        self.assertEqual(([hop.at for hop in back.path], back.reaches), (["b", "10.1.0.1", "a"], True))
        lost = {"a": {"prefix": 25, "gateway": "10.1.0.130"}}
        self.assertEqual(ask(site(found=lost), "a", "b").reason[:2], ("other-mask", "a"))  # type: ignore[index]
        self.assertEqual(ask(site(found={"b": {"prefix": 30}}), "a", "b").reason[:2], ("other-mask", "b"))  # type: ignore[index]

    def test_between_networks_both_gateways_and_it_decide(self) -> None:
        self.assertEqual([hop.at for hop in ask(site(), "a", "c").path], ["a", "10.1.0.1", "10.2.0.1", "c"])
        for found, at in (
            ({"a": {"gateway": "0.0.0.0"}}, "a"),
            ({"c": {"gateway": "10.2.0.2"}}, "c"),
            ({"c": {"prefix": 29}}, "c"),
        ):
            self.assertEqual(ask(site(found=found), "a", "c").reason[:2], ("no-gateway", at))  # type: ignore[index]
        closed = site(
            routing={"between": "closed", "rules": [{"from": "off", "to": "a", "ports": [80], "allow": True}]}
        )
        self.assertEqual(code(closed, "a", "c"), "not-allowed")
        self.assertIsNone(code(closed, "c", "a"))
        self.assertEqual(code(closed, "c", "a", 554), "not-allowed")
        self.assertIsNone(code(closed, "a", "b"), "rules do not hold inside a network")
        first = site(
            routing={
                "rules": [
                    {"from": "any", "to": "off", "protocol": "udp", "allow": False},
                    {"from": "sec", "to": "any", "allow": False},
                ]
            }
        )
        refused = ask(first, "a", "c").reason
        self.assertIn("rule 2", refused.message if refused else "")

    def test_a_recorders_own_ports_hide_their_cameras(self) -> None:
        found = ask(site(), "a", "h").reason
        self.assertEqual((found.code, found.at) if found else None, ("behind", "r"))
        self.assertIn("channel 3", found.message if found else "")
        self.assertIsNone(code(site(), "r", "h"))
        self.assertIsNone(code(site(), "h", "r"))
        self.assertEqual(code(site(), "h", "a"), "no-gateway")
        self.assertEqual(code(site(internet={"connection": "line"}), "h", "outside", 443), "no-gateway")

    def test_the_outside_is_reached_and_reaches_in(self) -> None:
        self.assertEqual(code(site(), "a", "outside", 443), "no-internet")
        line = {"connection": "line", "blocked_ports": [25], "outside_address": "198.51.100.7"}
        self.assertEqual(
            [hop.at for hop in ask(site(internet=line), "a", "outside", 443).path], ["a", "10.1.0.1", "outside"]
        )
        self.assertEqual(code(site(internet=line), "a", "outside", 25, "udp"), "blocked")
        no = {"between": "closed", "rules": [{"from": "sec", "to": "outside", "ports": [443], "allow": False}]}
        self.assertEqual(code(site(internet=line, routing=no), "a", "outside", 443), "blocked")
        self.assertIsNone(code(site(internet=line, routing=no), "a", "outside", 8443), "outside stays open")
        self.assertEqual(code(site(internet=line), "outside", "a", 8080), "not-forwarded")
        forward = {
            **line,
            "forwards": [
                {"outside": 8080, "device": "a", "service": "web"},
                {"outside": 81, "device": "b", "service": "stream"},
            ],
        }
        self.assertIsNone(code(site(internet=forward), "outside", "a", 8080))
        self.assertEqual(code(site(internet=forward), "outside", "b", 81), "no-service")
        self.assertEqual(
            code(site(internet={**forward, "outside_address": "100.72.4.9"}), "outside", "a", 8080), "shared-address"
        )
        self.assertEqual(code(site(internet=forward), "outside", "h", 8080), "behind")

    def test_services_laptops_and_leases(self) -> None:
        self.assertEqual(code(site(), "a", "b", 5060, "udp"), None)
        self.assertEqual(code(site(), "b", "a", 554, "udp"), "no-service")
        self.assertEqual(code(site(), "a", "l"), "no-address")
        self.assertIsNone(code(site(found={"l": {"address": "10.1.0.77"}}), "a", "l"))
        laptop = ask(site(), "laptop@sec", "c")
        self.assertIn("a laptop at 10.1.0.2", laptop.path[0].why)
        self.assertTrue(laptop.reaches)
        with self.assertRaises(UnknownEnd):
            ask(site(), "laptop@none", "a")


class Random(TestCase):
    @settings(max_examples=so_many(100, 800))
    @given(st.data())
    def test_two_devices_reach_each_other_as_the_table_says(self, data: st.DataObject) -> None:
        prefixes, gateways = (
            st.sampled_from([None, 8, 23, 25, 28]),
            st.sampled_from([None, "0.0.0.0", "10.1.0.1", "10.1.0.9"]),
        )
        found = {
            key: {
                name: value
                for name, value in (("prefix", data.draw(prefixes)), ("gateway", data.draw(gateways)))
                if value is not None
            }
            for key in ("a", "b", "c")
        }
        start, goal = data.draw(st.permutations(["a", "b", "c"]))[:2]
        own = site(found=found)
        home = {"a": ("10.1.0.20", "10.1.0.1"), "b": ("10.1.0.200", "10.1.0.1"), "c": ("10.2.0.20", "10.2.0.1")}

        def subnet(key: str) -> IPv4Network:
            return IPv4Network(f"{home[key][0]}/{found[key].get('prefix', 24)}", strict=False)

        def gateway_works(key: str) -> bool:
            mine = found[key].get("gateway", home[key][1])
            return mine == home[key][1] and IPv4Address(mine) in subnet(key)

        if home[start][1] == home[goal][1]:
            far = [
                one for one, other in ((start, goal), (goal, start)) if IPv4Address(home[other][0]) not in subnet(one)
            ]
            wanted = next((("other-mask", key) for key in far if not gateway_works(key)), None)
        else:
            wanted = next((("no-gateway", key) for key in (start, goal) if not gateway_works(key)), None)
        reason = ask(own, start, goal).reason
        self.assertEqual(reason[:2] if reason is not None else None, wanted)

    @settings(max_examples=so_many(50, 400))
    @given(st.data())
    def test_a_matrix_says_of_every_pair_what_the_walk_says(self, data: st.DataObject) -> None:
        own = st.sampled_from([{}, {"prefix": 25}, {"gateway": "0.0.0.0"}, {"address": "10.1.0.99"}])
        found = {key: data.draw(own) for key in ("a", "b", "c", "r")}
        rules = [{"from": "sec", "to": "off", "ports": [80], "allow": False}, {"from": "a", "to": "any", "allow": True}]
        chosen = data.draw(st.sampled_from([None, {"between": "closed", "rules": rules}, {"rules": rules[:1]}]))
        built = site(found=found, **({"routing": chosen} if chosen else {}))
        ends = Ends(built, plan(built))
        ports = {device.key: 80 for device in built.devices}
        whole = matrix(ends, ports, ports)
        for one in ports:
            for other in ports:
                reason = reach(ends, one, other, 80).reason
                self.assertEqual(
                    (whole.reason(one, other) or [None])[0], reason.code if reason is not None else None, (one, other)
                )
            self.assertEqual(set(whole.reached(one)), {key for key in ports if reach(ends, one, key, 80).reaches})


class Links(TestCase):
    """What a link sends has to get through, as far as IT said how it routes and what is known to be set."""

    def missing(self, **more: Any) -> list[tuple[str, str, str | None]]:
        links = [{"kind": "records", "from": "c", "to": "r", "slot": 1}, {"kind": "relays", "from": "a", "to": "relay"}]
        found = site(links=links, internet={"connection": "line"}, **more)
        known = link_index(found, plan(found).addresses())
        found_gaps = [gap for link in found.links if (case := known.case(link)) is not None for gap in gaps(case)]
        return [(gap.whose, gap.what, gap.nearest) for gap in found_gaps if gap.need == "reach"]

    def test_nothing_said_is_nothing_missing(self) -> None:
        self.assertEqual(self.missing(), [])

    def test_a_rule_of_it_holds_a_link_and_says_which(self) -> None:
        rules = [{"from": "sec", "to": "off", "protocol": "tcp", "ports": [554], "allow": False}]
        ((whose, what, nearest),) = self.missing(routing={"between": "open", "rules": rules})
        self.assertEqual((whose, nearest), ("IT", "Ask IT to allow tcp 554"))
        self.assertIn("IT's rule 1 (sec to off) does not let it through", what)
        self.assertEqual(self.missing(routing={"between": "open", "rules": [{**rules[0], "ports": [5000]}]}), [])

    def test_a_way_out_that_it_closed_holds_remote_access(self) -> None:
        rules = [{"from": "a", "to": "outside", "allow": False}]
        ((whose, what, _),) = self.missing(routing={"between": "open", "rules": rules})
        self.assertEqual(whose, "IT")
        self.assertIn("(a to outside)", what)

    def test_a_mask_that_is_known_to_be_wrong_is_ours_to_mend(self) -> None:
        ((whose, what, nearest),) = self.missing(found={"r": {"gateway": "10.1.0.9"}})
        self.assertEqual((whose, nearest), ("you", "Set 10.1.0.1"))
        self.assertIn("has the gateway 10.1.0.9", what)
