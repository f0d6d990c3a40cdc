"""The survey: what is asked, how answers are read, and what follows from them."""

from typing import Any
from unittest import TestCase

from hypothesis import given

from tests.samples import demo, device, document, documents, read
from tutelar.core.answers import read as read_typed
from tutelar.core.answers import shown
from tutelar.core.planning import plan
from tutelar.core.ports import outside_kind
from tutelar.core.site.writing import as_document
from tutelar.core.survey import Question, Untypable, answered, questions
from tutelar.core.survey.follows import follows

CAMERA = {"poe_class": 3}


def question(raw: dict[str, Any], key: str) -> Question:
    return next(item for item in questions(read(raw)) if item.key == key)


def said(raw: dict[str, Any], key: str) -> list[tuple[str, str]]:
    site = read(raw)
    return [(item.level, item.message) for item in follows(site, plan(site)).get(key, [])]


class Asking(TestCase):
    def test_defaults_are_never_shown_as_answers(self) -> None:
        asked = question(document(), "clock")
        self.assertEqual([blank.value for blank in asked.blanks], ["Europe/Dublin", "", "", "", ""])
        self.assertIn("the date order", [blank.asks for blank in asked.open])

    def test_there_is_none_is_an_answer_and_unknown_is_not(self) -> None:
        path = "networks.lan.time_source"
        self.assertEqual([blank.path for blank in question(document(), "networks.lan.time").open], [path])
        none = answered(document(), {path: "source"}, {}, frozenset({path}))
        self.assertEqual(question(none, "networks.lan.time").open, ())
        back = answered(none, {path: "source"}, {path: ""}, frozenset())
        self.assertEqual(len(question(back, "networks.lan.time").open), 1)

    @given(documents(4))
    def test_writing_down_what_stands_there_changes_nothing(self, raw: dict[str, Any]) -> None:
        site = read(raw)
        for item in questions(site):
            blanks = {blank.path: blank.kind for blank in item.blanks}
            none = frozenset(blank.path for blank in item.blanks if blank.none)
            again = read(answered(as_document(site), blanks, {b.path: b.value for b in item.blanks}, none))
            self.assertEqual(
                [blank.value for blank in question(as_document(again), item.key).blanks],
                [blank.value for blank in item.blanks],
            )
            self.assertEqual(plan(again).assignments, plan(site).assignments)

    def test_answers_are_read_as_they_are_typed(self) -> None:
        for kind, typed, value in (
            (
                "ranges",
                "10.20.30.50 - 10.20.30.99\n10.20.30.150–199",
                [{"first": "10.20.30.50", "last": "10.20.30.99"}, {"first": "10.20.30.150", "last": "10.20.30.199"}],
            ),
            (
                "kept",
                "10.20.30.2–10.20.30.9 switches",
                [{"first": "10.20.30.2", "last": "10.20.30.9", "why": "switches"}],
            ),
            ("kept", "10.20.30.7 printer", [{"first": "10.20.30.7", "last": "10.20.30.7", "why": "printer"}]),
            ("ports", "80, 443", [80, 443]),
            ("number", "18,5", 18.5),
            ("addresses", "10.0.0.1 10.0.0.2", ["10.0.0.1", "10.0.0.2"]),
            ("people", "Ines, Maren", ["Ines", "Maren"]),
            ("yes-no", "Yes", True),
            ("lines", "Hall\n\nYard\n", ["Hall", "Yard"]),
        ):
            self.assertEqual(read_typed(typed, kind), value)  # type: ignore[arg-type]
            self.assertEqual(read_typed(shown(value, kind), kind), value)  # type: ignore[arg-type]

    def test_what_cannot_be_read_is_named_with_its_blank(self) -> None:
        for kind, typed, words in (
            ("ranges", "from 50 up", "'from 50 up' is not a range"),
            ("ranges", "10.20.30.50–10.20.30.999", "'10.20.30.999' is not an IPv4 address"),
            ("network", "10.20.30.7/24", "the network that holds it is '10.20.30.0/24'"),
            ("ports", "80 70000", "70000 is not a port"),
            ("number", "lots", "'lots' is not a number"),
            ("address", "fe80::1", "IPv6"),
        ):
            with self.assertRaises(Untypable) as caught:
                answered(document(), {"networks.lan.x": kind}, {"networks.lan.x": typed}, frozenset())  # type: ignore[dict-item]
            self.assertEqual(caught.exception.path, "networks.lan.x")
            self.assertIn(words.lower(), caught.exception.sentence.lower())


class Follows(TestCase):
    def test_a_pool_that_leaves_too_few_addresses(self) -> None:
        rows = [device(number) for number in range(38)]
        raw = document(rows, network={"pools": [{"first": "10.20.30.41", "last": "10.20.30.254"}]})
        self.assertEqual(
            said(raw, "networks.lan.pools")[0],
            ("error", "38 fixed addresses wanted in Halls (10.20.30.0/24), 31 free outside the pool."),
        )

    def test_the_outside_address(self) -> None:
        kinds = {
            "100.64.0.0": "carrier",
            "100.127.255.255": "carrier",
            "100.128.0.1": "public",
            "172.31.9.9": "private",
            "172.32.0.1": "public",
            "192.168.1.2": "private",
            "10.9.9.9": "private",
        }
        for text, kind in kinds.items():
            site = read(document(internet={"outside_address": text}))
            assert site.internet
            self.assertEqual(outside_kind(site.internet.outside_address), kind, text)
        self.assertIn("carrier-grade", said(document(internet={"outside_address": "100.64.1.1"}), "internet")[0][1])
        self.assertIn("double NAT", said(document(internet={"outside_address": "10.0.0.2"}), "internet")[0][1])

    def test_power_wanted_against_ports_that_are_free(self) -> None:
        raw = document([device(number) for number in (1, 2, 3)])
        raw["models"][0]["power"] = CAMERA
        self.assertIn("46 W by class; how many are free is not known", said(raw, "power")[0][1])
        raw["survey"] = {"powered_ports": 2, "powered_w": 30}
        messages = [message for level, message in said(raw, "power") if level == "error"]
        self.assertIn("1 too few", messages[0])
        self.assertIn("30 W are left", messages[1])
        raw["survey"] = {"powered_ports": 3}
        self.assertEqual([level for level, _ in said(raw, "power")], ["good"])

    def test_retention_is_computed_from_the_streams_that_are_recorded(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(2), device(3)]
        links = [{"kind": "records", "from": f"d-{n}", "to": "d-1", "slot": n} for n in (2, 3)]
        raw = document(rows, links=links, survey={"retention_days": 30})
        # 2 x 4096 kbit/s x 86,400 s / 8 = 88.47 GB a day
        self.assertEqual(
            said(raw, "retention"),
            [("note", "2 cameras write 0.09 TB a day; 30 days want 2.7 TB. The disks are not known yet.")],
        )

    def test_a_site_without_internet(self) -> None:
        raw = demo()
        raw["internet"] = {"connection": "none"}
        raw["networks"][0]["time_source"] = "time.example.net"
        levels = [level for level, _ in said(raw, "internet")]
        self.assertEqual(levels, ["error", "note"])
        self.assertIn("no internet", said(raw, "networks.security.time")[0][1])
        self.assertEqual(said(raw, "remote")[0][0], "error")

    def test_the_site_says_how_devices_are_addressed_and_a_device_may_differ(self) -> None:
        rows = [device(1), device(2, addressing="fixed"), device(3)]
        raw = document(rows, policy={"addressing": "reserved"})
        site = read(raw)
        self.assertEqual([item.addressing for item in site.devices], ["reserved", "fixed", "reserved"])
        self.assertEqual(as_document(site)["devices"], rows)
        self.assertIn("2 reservations", said(raw, "addressing")[0][1])
