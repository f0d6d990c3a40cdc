"""Settings at the edges: every family, devices that stand nowhere, every kind of time source, link and school."""

from datetime import UTC, datetime
from random import Random
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.samples import demo, device, document, documents, read
from tutelar.core.clock import coming, time_plan
from tutelar.core.clock.sources import reach, time_of
from tutelar.core.credentials import fails, generate, holders, logins_with, rule_for, slots_of
from tutelar.core.kit.names import PREFIXES
from tutelar.core.kit.shorter import fitted, shown_names, writable
from tutelar.core.planning import plan
from tutelar.core.ports import forward_risk, ports_of, told_of, translated
from tutelar.core.run import run
from tutelar.core.setting import DeviceSettings
from tutelar.core.site import Site
from tutelar.core.site.model import NameRule
from tutelar.server.catalogue.shipped import shipped


def of_each_family(**more: Any) -> Site:
    """Return a site with one device of each model of the catalogue."""
    models = list(shipped().values())
    rows = [device(at, part["key"]) for at, part in enumerate(models)]
    return read(document(rows, **more) | {"models": models})


class EveryFamily(TestCase):
    def test_every_model_of_the_catalogue_has_sound_values(self) -> None:
        site = of_each_family()
        made = DeviceSettings(site, plan(site), 2026)
        for item in site.devices:
            lines = [line for group in made.groups(item) for line in group.lines]
            self.assertEqual(len({line.key for line in lines}), len(lines), item.model)
            for line in lines:
                self.assertTrue(line.label and line.why, (item.model, line.key))
                self.assertEqual(bool(line.value), line.slot is None, (item.model, line.key))
                self.assertFalse(line.value.endswith((" ", ".")), line)
            made_for = {"camera": "day-night", "recorder": "unused-channels", "indoor-monitor": "ring-time"}
            wanted = made_for.get(site.family_of(item))
            self.assertTrue(wanted is None or wanted in {line.key for line in lines}, item.model)

    def test_every_slot_of_every_family_can_be_made_and_fits(self) -> None:
        for school in ("device", "family"):
            site = of_each_family(policy={"passwords": school})
            for item in site.devices:
                for slot in slots_of(site, item):
                    rule = rule_for(site, item, slot)
                    self.assertEqual(rule.conflicts, (), (item.model, slot.key))
                    if slot.kind != "address":
                        drawn = generate(rule, Random(7).choice)
                        self.assertEqual(fails(rule, drawn), [], (item.model, slot.key))
                self.assertEqual(slots_of(site, item) == (), site.family_of(item) in ("reader", "injector"))

    def test_accounts_of_customers_and_devices_have_few_rights(self) -> None:
        site = of_each_family()
        limited = {slot.key: slot.limited for item in site.devices for slot in slots_of(site, item)}
        self.assertEqual({key for key, few in limited.items() if few}, {"operator", "login"})
        self.assertIn(
            "operator",
            {slot.key for item in site.devices if site.family_of(item) == "recorder" for slot in slots_of(site, item)},
        )

    @settings(max_examples=25, deadline=None)
    @given(documents())
    def test_no_site_however_odd_stops_its_values_or_its_run(self, raw: dict[str, Any]) -> None:
        site = read(raw)
        made = DeviceSettings(site, plan(site), 2026)
        for item in site.devices:
            groups = made.groups(item)
            self.assertEqual(groups, made.groups(item))
            for slot in slots_of(site, item):
                self.assertIn(item, holders(site, item, slot.key))
                self.assertNotIn(item.key, [login.device for login in logins_with(site, item, slot.key)])
        steps = run(site, effort=2000).steps
        self.assertTrue(all(value.value and not value.secret for step in steps for value in step.values))


class TimeSources(TestCase):
    def site(self, **more: Any) -> Site:
        raw = document(
            [device(1), device(2, network="office", addressing="fixed"), device(3, network="closed")], **more
        )
        raw["networks"] += [
            {"key": "office", "cidr": "10.99.0.0/24", "gateway": "10.99.0.1"},
            {"key": "closed", "cidr": "10.98.0.0/24"},
        ]
        return read(raw)

    def test_what_is_reached_from_where(self) -> None:
        for internet, network, source, reached, said in (
            (None, "lan", "10.20.30.9", True, "in its own network"),
            (None, "lan", "10.99.0.9", True, "through the router"),
            (None, "lan", "10.98.0.9", False, "closed has no gateway"),
            (None, "closed", "10.20.30.9", False, "closed has no gateway"),
            (None, "lan", "203.0.113.4", True, "not known yet"),
            ({"connection": "line"}, "lan", "203.0.113.4", True, "through the router"),
            ({"connection": "none"}, "lan", "203.0.113.4", False, "no internet"),
            (None, "closed", "203.0.113.4", False, "has no gateway"),
            ({"connection": "line"}, "lan", "time.example.org", True, "through the router"),
            ({"connection": "line"}, "office", "time.example.org", False, "no DNS server"),
            ({"connection": "line"}, "closed", "time.example.org", False, "no gateway towards it"),
        ):
            site = self.site(internet=internet)
            with self.subTest(network=network, source=source, internet=internet):
                found, why = reach(site, site.network_by_key[network], source)
                self.assertEqual((found, said in why), (reached, True), why)

    def test_devices_that_keep_their_own_time_or_take_anothers(self) -> None:
        raw = document(
            [device(1), device(9, "larkmoor-rec-8"), device(2, behind="d-9", network=None), device(3, network=None)]
        )
        raw["models"][1]["clock"] = {"time": "hand", "daylight_saving": "hand"}
        site = read(raw)
        found = {item.key: time_of(site, item) for item in site.devices}
        self.assertEqual((found["d-9"].reached, "by hand" in found["d-9"].why), (False, True))
        self.assertEqual((found["d-2"].source, found["d-2"].reached), ("172.27.16.1", True))
        self.assertEqual((found["d-3"].reached, found["d-3"].why), (False, "It stands in no network."))
        self.assertEqual(found["d-1"].why, "No time server is known for Halls.")
        self.assertIn("No time source is known", time_plan(site, plan(site)).sentence)

    def test_two_sources_are_said_and_one_would_do(self) -> None:
        raw = document([device(1), device(2, network="office", addressing="fixed")])
        raw["networks"].append(
            {"key": "office", "cidr": "10.99.0.0/24", "gateway": "10.99.0.1", "time_source": "10.99.0.1"}
        )
        raw["networks"][0]["time_source"] = "10.20.30.1"
        found = time_plan(read(raw), plan(read(raw)))
        self.assertEqual((found.source, "today 2 are used" in found.sentence), ("10.20.30.1", True))

    def test_a_zone_without_a_rule_form_doubts_every_device_that_needs_one(self) -> None:
        raw = document([device(1), device(2)])
        raw["site"]["time_zone"] = "Africa/Casablanca"
        turns = coming(read(raw), datetime(2026, 1, 1, tzinfo=UTC), 1)
        self.assertTrue(turns)
        self.assertEqual({look.why.split(":")[0] for turn in turns for look in turn.looks}, {"One of each model"})
        raw["models"][0]["clock"] = {"daylight_saving": "rule"}
        looks = coming(read(raw), datetime(2026, 1, 1, tzinfo=UTC), 1)[0].looks
        self.assertEqual(looks[0].why, "No rule form fits this year; it cannot know of the change.")
        for zone, way, value in (
            ("Africa/Casablanca", "rule", "By hand, each time"),
            ("Asia/Tokyo", "rule", "Off"),
            ("Africa/Casablanca", "zone", "By the time zone"),
            ("Europe/Dublin", "hand", "By hand, each time"),
        ):
            raw["site"]["time_zone"], raw["models"][0]["clock"] = zone, {"daylight_saving": way}
            groups = DeviceSettings(read(raw), plan(read(raw)), 2026).groups(read(raw).devices[0])
            shown = {line.key: line.value for group in groups for line in group.lines}
            self.assertEqual(shown["daylight"], value, (zone, way))
        raw["site"]["time_zone"] = None
        self.assertEqual(coming(read(raw), datetime(2026, 1, 1, tzinfo=UTC)), [])


class Partners(TestCase):
    def linked(self, kind: str, start: str, end: str) -> Site:
        models = list(shipped().values())
        by_family = {part["family"]: part["key"] for part in models}
        rows = [device(1, by_family[start], name="One"), device(2, by_family[end], name="Two")]
        return read(document(rows, links=[{"kind": kind, "from": "d-1", "to": "d-2", "slot": 3}]) | {"models": models})

    def test_who_logs_in_and_who_has_the_port(self) -> None:
        for kind, start, end, slot, login, service, told in (
            ("records", "camera", "recorder", "login", ("d-1", "d-2"), "stream", ("d-1", "d-2")),
            ("shows-on", "door-station", "indoor-monitor", "login", ("d-1", "d-2"), "stream", ("d-1", "d-2")),
            ("steers", "joystick-desk", "camera", "login", ("d-2", "d-1"), "control", ("d-2", "d-1")),
            (
                "registers-at",
                "indoor-monitor",
                "door-station",
                "registration",
                ("d-2", "d-1"),
                "signalling",
                ("d-2", "d-1"),
            ),
        ):
            site = self.linked(kind, start, end)
            with self.subTest(kind=kind):
                owner, other = login
                self.assertEqual([item.device for item in logins_with(site, site.device_by_key[owner], slot)], [other])
                self.assertEqual(logins_with(site, site.device_by_key[other], slot), ())
                asked, asks = told
                if service in site.services_of(site.device_by_key[asked]):
                    self.assertEqual(
                        [item.device for item in told_of(site, site.device_by_key[asked], service)], [asks]
                    )
                self.assertEqual(told_of(site, site.device_by_key[asks], service), ())

    def test_a_link_to_the_outside_tells_nobody(self) -> None:
        site = read(document([device(1)], links=[{"kind": "relays", "from": "d-1", "to": "relay"}]))
        self.assertEqual([row.told for row in ports_of(site, site.devices[0])], [(), ()])

    def test_the_risk_of_a_forward_is_said_whatever_it_leads_to(self) -> None:
        raw = demo()
        raw["internet"]["forwards"] = [
            {"outside": 9000 + at, "device": key, "service": service}
            for at, (key, service) in enumerate((("cam-01", "web"), ("cam-01", "stream"), ("gone", "web")))
        ]
        site = read(raw)
        assert site.internet
        web, stream, gone = (forward_risk(site, item) for item in site.internet.forwards)
        self.assertIn("log in to Ticket hall east as administrator", web)
        self.assertIn("A VPN is safer", stream)
        self.assertIn("gone", gone)
        self.assertIsNone(translated(None))


class Letters(TestCase):
    @given(st.text(max_size=80), st.sampled_from(["ascii", "latin-1", "any"]), st.integers(1, 60))
    def test_a_fitted_name_fits_and_fitting_it_again_changes_nothing(self, name: str, letters: Any, most: int) -> None:
        rule = NameRule(max=most, charset=letters)
        once = fitted(name, rule)
        self.assertLessEqual(len(once), most)
        self.assertEqual(fitted(once, rule), once)
        top = {"ascii": 128, "latin-1": 256, "any": 0x110000}[letters]
        self.assertTrue(all(ord(letter) < top for letter in writable(name, letters)))

    def test_two_that_shorten_to_the_same_text_are_told_apart(self) -> None:
        rows = [device(at, name=f"Ticket hall upper landing {'x' * 40}{at}") for at in range(12)]
        raw = document(rows)
        raw["models"][0]["name_rule"] = {"max": 8, "charset": "ascii"}
        shown = shown_names(read(raw))
        self.assertEqual(len(set(shown.values())), 12)
        self.assertTrue(all(len(name) <= 8 for name in shown.values()))

    def test_every_family_has_a_word(self) -> None:
        site = of_each_family()
        self.assertLessEqual({site.family_of(item) for item in site.devices}, set(PREFIXES))
