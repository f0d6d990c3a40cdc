"""What is typed into a device: values with their reasons, names that fit, ports, time, who logs in with what."""

from datetime import UTC, datetime, timedelta
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import demo, device, document, read
from tutelar.core.check import check
from tutelar.core.clock import coming, drift, time_plan
from tutelar.core.clock.difference import typed_difference
from tutelar.core.clock.zones import zone_named
from tutelar.core.credentials import holders, logins_with, rule_for, slots_of, strength, tries
from tutelar.core.kit.shorter import fitted, shown_names
from tutelar.core.planning import plan
from tutelar.core.ports import login_loads, ports_of
from tutelar.core.setting import DeviceSettings
from tutelar.core.site import Site
from tutelar.core.site.model import NameRule, PasswordRule


def typed(site: Site, key: str, year: int = 2026) -> dict[str, tuple[str, str]]:
    """Return (value, why) by line of a device."""
    groups = DeviceSettings(site, plan(site), year).groups(site.device_by_key[key])
    return {line.key: (line.value, line.why) for group in groups for line in group.lines}


class Values(TestCase):
    def test_a_camera_is_typed_in_the_order_in_which_devices_ask(self) -> None:
        site = read(demo())
        groups = DeviceSettings(site, plan(site), 2026).groups(site.device_by_key["cam-12"])
        self.assertEqual(
            [group.key for group in groups],
            ["contact", "network", "identity", "clock", "picture", "sound", "ports", "accounts"],
        )
        lines = typed(site, "cam-12")
        for key, value in (
            ("address", "10.62.8.112"),
            ("mask", "255.255.255.0"),
            ("gateway", "10.62.8.1"),
            ("name", "Pier mast"),
            ("time-server", "10.62.8.1"),
            ("time-zone", "Europe/Dublin"),
            ("daylight-start", "Last Sunday of March at 01:00"),
            ("daylight-bias", "60 min"),
            ("date-order", "Day, month, year"),
            ("mains", "50 Hz"),
            ("patrol", "Off"),
            ("main-stream", "1920 × 1080, 25 a second, H.265, 4096 kbit/s"),
            ("port-web", "8000"),
            ("login-user", "viewer"),
        ):
            self.assertEqual(lines[key][0], value, key)
        self.assertTrue(all(why for _, why in lines.values()))
        self.assertNotIn("patrol", typed(site, "cam-01"))  # no desk steers that one
        proofs = {line.key: line.proof for group in groups for line in group.lines if line.proof}
        self.assertEqual((proofs["address"], proofs["name"], proofs["port-stream"]), ("answers", "name", "stream"))

    def test_the_recorder_knows_the_address_and_login_of_every_channel(self) -> None:
        lines = typed(read(demo()), "rec-1")
        self.assertEqual(lines["partner-records-cam-03-3"][0], "10.62.8.103")
        self.assertIn("partner-records-cam-03-3-login", lines)
        several = [key for key in typed(read(demo()), "rec-2") if key.startswith("partner-records-enc-1")]
        self.assertEqual(len(several), 12)  # four channels of one encoder, each with its address, user and password
        family = read(demo() | {"policy": {"passwords": "family"}})
        self.assertIn("partner-records-cam-03-3-administrator", typed(family, "rec-1"))

    def test_the_sites_own_choice_takes_the_place_of_the_usual(self) -> None:
        raw = document(
            [device(1)],
            policy={"choices": {"camera": {"day-night": "By time, 6 to 18"}}},
            survey={"audio": "forbidden"},
        )
        site = read(raw)
        lines = {
            line.key: line for group in DeviceSettings(site, plan(site)).groups(site.devices[0]) for line in group.lines
        }
        self.assertEqual((lines["day-night"].value, lines["day-night"].usual), ("By time, 6 to 18", "Automatic"))
        self.assertEqual((lines["microphone"].value, lines["mains"].value), ("Off", "not known yet"))


class Names(TestCase):
    @given(
        st.lists(
            st.text(st.characters(exclude_categories=("Cc", "Cs", "Zl", "Zp")), min_size=1, max_size=60).filter(
                str.strip
            ),
            min_size=1,
            max_size=12,
            unique=True,
        ),
        st.integers(4, 40),
        st.sampled_from(["ascii", "latin-1", "any"]),
    )
    def test_every_shown_name_fits_its_device_and_none_is_anothers(
        self, names: list[str], most: int, letters: str
    ) -> None:
        rows = [device(at, name=name) for at, name in enumerate(names)]
        raw = document(rows)
        raw["models"][0]["name_rule"] = {"max": most, "charset": letters}
        site = read(raw)
        shown = shown_names(site)
        top = {"ascii": 128, "latin-1": 256, "any": 0x110000}[letters]
        for item in site.devices:
            name = shown[item.key]
            self.assertTrue(len(name) <= most and all(ord(letter) < top for letter in name), (item.name, name))
        changed = [
            name for item, name in ((item, shown[item.key]) for item in site.devices) if name and name != item.name
        ]
        self.assertEqual(len(changed), len(set(changed)))

    def test_shortened_names_can_still_be_read(self) -> None:
        rule = NameRule(max=16, charset="ascii")
        self.assertEqual(fitted("Türhof Süd", rule), "Turhof Sud")
        self.assertEqual(fitted("Ticket hall lost property", rule), "Tic hal los prop")
        self.assertEqual(fitted("Car lanes lane 12", rule), "Car lane lane 12")
        long = [device(1, name="Ticket hall corridor east"), device(2, name="Ticket hall corridor west")]
        raw = document([*long, device(3, name="Schließfächer" * 15), device(4, name="Schließfächer" * 15 + "!")])
        raw["models"][0]["name_rule"] = {"max": 16, "charset": "ascii"}
        shown = shown_names(read(raw))
        self.assertEqual(len(set(shown.values())), 4)
        self.assertEqual(shown["d-1"], "Tic hal cor east")
        self.assertTrue(shown["d-4"].endswith(" 2"), shown)
        said = next(item for item in check(read(raw)) if item.code == "name.too-long")
        self.assertIn(shown["d-1"], said.fix or "")


class Ports(TestCase):
    def site(self, forwards: list[dict[str, Any]], **internet: Any) -> Site:
        links = [{"kind": "records", "from": "d-1", "to": "d-9", "slot": 1}]
        rows = [device(1, services={"web": 8080}), device(9, "larkmoor-rec-8", name="Recorder")]
        outside = {"outside_address": "203.0.113.9", "router_ports": [443], "blocked_ports": [25], "forwards": forwards}
        return read(document(rows, links=links, internet=outside | internet))

    def codes(self, *forwards: dict[str, Any], **internet: Any) -> set[str]:
        return {
            item.code
            for item in check(self.site(list(forwards), **internet))
            if item.code.split(".")[0] in ("port", "forward")
        }

    def test_a_changed_port_is_told_to_whoever_has_it_typed_in(self) -> None:
        rows = {row.service: row for row in ports_of(self.site([]), self.site([]).devices[0])}
        self.assertEqual((rows["web"].port, rows["web"].usual, rows["web"].changed), (8080, 80, True))
        self.assertEqual([told.device for told in rows["stream"].told], ["d-9"])
        self.assertEqual(rows["web"].told, ())

    def test_forwards_that_cannot_work_or_should_not_be(self) -> None:
        good = {"outside": 9554, "device": "d-1", "service": "stream", "decided_by": "Ines", "why": "No relay here"}
        self.assertEqual(self.codes(good), set())
        for change, code in (
            ({"service": "web"}, "forward.administration"),
            ({"why": None}, "forward.undecided"),
            ({"outside": 443}, "port.router-own"),
            ({"outside": 25}, "port.blocked"),
            ({"device": "d-7"}, "forward.unknown-device"),
            ({"service": "paging"}, "forward.unknown-service"),
        ):
            self.assertEqual(self.codes(good | change), {code}, change)
        self.assertEqual(
            self.codes(good, good | {"service": "web", "device": "d-9"}),
            {"port.outside-twice", "forward.administration"},
        )
        for address in ("100.72.4.9", "192.168.1.2"):
            self.assertEqual(self.codes(good, outside_address=address), {"forward.not-reachable"})

    def test_two_services_on_one_port_of_a_host_are_an_error(self) -> None:
        raw = document([device(1, services={"web": 554})])
        found = [item for item in check(read(raw)) if item.code == "port.clash"]
        self.assertEqual([(item.level, item.subjects) for item in found], [("error", ("d-1",))])

    def test_logins_that_recorders_hold_are_counted(self) -> None:
        raw = document(
            [device(1), *(device(n, "larkmoor-rec-8") for n in (8, 9))],
            links=[{"kind": "records", "from": "d-1", "to": f"d-{n}", "slot": 1} for n in (8, 9)],
        )
        raw["models"][0]["capacity"] = {"logins": 2}
        (load,) = login_loads(read(raw))
        self.assertEqual((load.used, load.limit), (2, 2))
        self.assertIn("nobody else can log in", load.sentence)


class Time(TestCase):
    def two(self, **more: Any) -> Site:
        raw = document([device(1), device(2, network="office", addressing="fixed")], **more)
        raw["networks"].append({"key": "office", "cidr": "10.99.0.0/24", "gateway": "10.99.0.1"})
        raw["networks"][0]["time_source"] = more.get("source", "10.20.30.1")
        return read(raw)

    def test_one_source_that_all_reach_or_why_there_is_none(self) -> None:
        found = time_plan(self.two(), plan(self.two()))
        self.assertEqual(found.source, "10.20.30.1")
        self.assertEqual([(row.source, row.reached) for row in found.devices], [("10.20.30.1", True), (None, False)])
        raw = demo()
        raw["internet"] = {"connection": "none"}
        raw["networks"][0]["time_source"] = "time.example.org"
        found = time_plan(read(raw), plan(read(raw)))
        self.assertIsNone(found.source)
        self.assertIn("no internet", found.sentence)
        self.assertIn("lies outside, and this site has no internet", found.devices[0].why)

    def test_a_device_that_serves_the_time_does_it_for_a_site_without_internet(self) -> None:
        raw = document(
            [device(1), device(9, "larkmoor-rec-8", name="Recorder", address="10.20.30.60")],
            internet={"connection": "none"},
        )
        raw["models"][1]["services"]["time"] = 123
        found = time_plan(read(raw), plan(read(raw)))
        self.assertEqual((found.source, "(Recorder)" in found.sentence), ("10.20.30.60", True))

    def test_the_coming_changes_name_what_does_not_follow_by_itself(self) -> None:
        raw = document([device(1), device(2), device(9, "larkmoor-rec-8")])
        raw["models"][1]["clock"] = {"time": "linked", "daylight_saving": "hand"}
        turns = coming(read(raw), datetime(2026, 6, 1, tzinfo=UTC), 1, doubted=["d-2"])
        self.assertEqual(
            [(turn.at.isoformat(), turn.before, turn.after) for turn in turns],
            [("2026-10-25T01:00:00+00:00", "02:00", "01:00"), ("2027-03-28T01:00:00+00:00", "01:00", "02:00")],
        )
        self.assertEqual(
            [(look.device, look.why.split(":")[0].split(".")[0]) for look in turns[0].looks],
            [
                ("d-1", "One of each model"),
                ("d-2", "Its clock was found wrong at the last look"),
                ("d-9", "It is turned by hand"),
            ],
        )
        raw["site"]["time_zone"] = "Asia/Tokyo"
        self.assertEqual(coming(read(raw), datetime(2026, 6, 1, tzinfo=UTC)), [])

    def test_drift_is_told_from_several_looks(self) -> None:
        start = datetime(2026, 6, 1, tzinfo=UTC)
        seen = drift([(start + timedelta(days=day), day * 0.5) for day in (0, 2, 4)])
        assert seen and seen.due
        self.assertEqual((seen.offset_s, round(seen.per_day_s or 0, 6)), (2.0, 0.5))
        self.assertEqual(seen.due.date().isoformat(), "2026-06-11")  # 5 s off after ten days
        self.assertIsNone(drift([]))

    def test_a_date_in_another_order_is_read_and_said(self) -> None:
        now = datetime(2026, 6, 28, 12, 0, tzinfo=UTC)
        found = typed_difference("06/28/2026 13:00:00", "DMY", now, zone_named("Europe/Dublin"))
        self.assertEqual((found.finding, found.offset_s), ("date-order", 0))
        self.assertIn("month, day, year, the site as day, month, year", found.message)
        with self.assertRaisesRegex(ValueError, "is no time"):
            typed_difference("noon", "DMY", now, zone_named("Europe/Dublin"))


class Logins(TestCase):
    def test_who_logs_in_with_what_under_both_schools(self) -> None:
        site = read(demo())
        camera = site.device_by_key["cam-12"]
        self.assertEqual([slot.key for slot in slots_of(site, camera)], ["administrator", "recovery", "login"])
        found = {login.device for login in logins_with(site, camera, "login")}
        self.assertEqual(found, {"desk-1", next(link.to for link in site.links if link.from_ == "cam-12")})
        self.assertEqual(logins_with(site, camera, "administrator"), ())
        self.assertEqual([item.key for item in holders(site, camera, "administrator")], ["cam-12"])
        family = read(demo() | {"policy": {"passwords": "family"}})
        together = {family.family_of(item) for item in holders(family, family.device_by_key["cam-12"], "administrator")}
        self.assertTrue({"camera", "recorder"} <= together)
        self.assertNotIn("switch", together)

    def test_a_login_is_typeable_on_the_desk_that_steers(self) -> None:
        site = read(demo())
        camera = site.device_by_key["cam-12"]
        login = next(slot for slot in slots_of(site, camera) if slot.key == "login")
        rule = rule_for(site, camera, login)
        self.assertEqual((rule.keypad_of, set(rule.rule.symbols)), ("Camera desk", set("-._")))

    def test_tries_end_before_the_lock_out_and_strength_knows_the_sites_words(self) -> None:
        self.assertEqual([tries(PasswordRule(tries=3), n).stop for n in range(4)], [False, False, True, True])
        self.assertEqual([tries(None, n).stop for n in range(3)], [False, False, True])
        self.assertTrue(tries(PasswordRule(tries=1), 0).stop)
        self.assertLess(strength("Brackwater1", ["Brackwater"]).score, strength("Brackwater1-heron-vole").score)
        self.assertNotIn("heron", strength("heron").sentence)
