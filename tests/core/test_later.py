"""What comes later: changes in an order that cuts nothing off, the diary, and when a recording was really made."""

from datetime import UTC, date, datetime, timedelta
from typing import Any
from unittest import TestCase
from zoneinfo import ZoneInfo

from hypothesis import assume, given
from hypothesis import strategies as st

from tests.link_sites import recorded_sites
from tests.samples import device, document, read, shipped
from tutelar.core.addressing.assignment import Plan
from tutelar.core.later import KINDS, Look, change_steps, diary, footage, looks_of
from tutelar.core.later.change import OF_SITE
from tutelar.core.links.holding import holder_and_held
from tutelar.core.planning import plan
from tutelar.core.site import Site

DEMO = read(shipped())
PLANNED = plan(DEMO)
DUBLIN = ZoneInfo("Europe/Dublin")
TODAY = date(2027, 5, 3)


class Changes(TestCase):
    def check(self, site: Site, kind: str, key: str, planned: Plan | None = None) -> list[str]:
        steps = change_steps(site, planned or plan(site), kind, site.device_by_key[key])
        keys = [step.key for step in steps]
        self.assertEqual(len(keys), len(set(keys)))
        for number, step in enumerate(steps):
            self.assertLessEqual(set(step.after), set(keys[:number]), (kind, key, step.key))
            self.assertNotIn("{", step.title)
            self.assertTrue(step.at in ("", "IT") or step.at in site.device_by_key, step.at)
        return keys

    @given(recorded_sites(), st.data())
    def test_no_step_comes_before_what_it_waits_for_and_every_partner_is_told(self, raw: Any, data: Any) -> None:
        site = read(raw)
        assume(site.devices)
        key = data.draw(st.sampled_from([item.key for item in site.devices]))
        kind = data.draw(st.sampled_from([kind for kind in KINDS if kind not in OF_SITE]))
        keys = self.check(site, kind, key)
        ends = [holder_and_held(link) for link in site.links_of(key)]
        told = {f"partner-{holder}" for holder, held in ends if held == key != holder and holder in site.device_by_key}
        self.assertEqual({step for step in keys if step.startswith("partner-")}, told)

    def test_every_change_of_every_device_of_the_demo_is_in_order(self) -> None:
        for item in DEMO.devices:
            for kind in ("replace", "retire", "wifi", "reset", "add"):
                keys = self.check(DEMO, kind, item.key, PLANNED)
                if kind == "replace":
                    self.assertLess(keys.index("old-off"), keys.index("values"))
                if kind == "retire":
                    self.assertLess(
                        max((keys.index(one) for one in keys if one[:8] == "partner-"), default=-1), keys.index("wipe")
                    )

    def test_what_is_fed_or_reserved_or_records_has_its_own_steps(self) -> None:
        self.assertIn("power", self.check(DEMO, "wifi", "cam-01"))
        self.assertIn("disks", self.check(DEMO, "replace", "rec-1"))
        self.assertNotIn("disks", self.check(DEMO, "replace", "cam-01"))
        raw = document([device(1, addressing="reserved", used=True)])
        keys = self.check(read(raw), "replace", "d-1")
        self.assertLess(keys.index("reservation"), keys.index("address"))
        self.assertIn("used-0", keys)

    def test_a_site_is_taken_over_without_a_device_and_nothing_else_is(self) -> None:
        self.assertEqual(change_steps(DEMO, PLANNED, "take-over", None)[0].key, "leave")
        with self.assertRaises(ValueError):
            change_steps(DEMO, PLANNED, "replace", None)
        with self.assertRaises(KeyError):
            change_steps(DEMO, PLANNED, "repaint", DEMO.devices[0])


def looked(*rows: tuple[str, float]) -> Site:
    raw = document([device(1, name="Recorder")])
    raw["site"]["time_zone"] = "Europe/Dublin"
    raw["readings"] = [
        {"device": "d-1", "check": "clock", "result": "pass", "from": "site", "at": at, "offset_s": offset}
        for at, offset in rows
    ]
    return read(raw)


class Footage(TestCase):
    def made(self, site: Site, shown: str) -> tuple[list[str], str, bool]:
        found = footage(site, "d-1", datetime.fromisoformat(shown), looks_of(site, "d-1"))
        return [at.isoformat() for at in found.made], found.sentence, found.certain

    def test_an_hour_behind_until_it_was_set(self) -> None:
        site = looked(("2027-06-01T09:00:00+00:00", -3602), ("2027-07-12T08:00:00+00:00", 0))
        made, sentence, certain = self.made(site, "2027-05-20T14:10")
        self.assertEqual((made, certain), (["2027-05-20T15:10:02+01:00"], False))
        self.assertIn("1 h 2 s behind", sentence)
        self.assertIn("the recording that shows 14:10 was made at 15:10:02", sentence)
        made, sentence, certain = self.made(site, "2027-06-20T14:10")  # nobody knows when it was set
        self.assertEqual((made, certain), (["2027-06-20T14:10:00+01:00", "2027-06-20T15:10:02+01:00"], False))
        self.assertIn("cannot be told", sentence)
        self.assertEqual(self.made(site, "2027-08-01T14:10")[0], ["2027-08-01T14:10:00+01:00"])

    def test_a_drift_is_followed_and_a_repeated_hour_has_two_answers(self) -> None:
        site = looked(("2027-10-01T00:00:00+00:00", 0), ("2027-11-10T00:00:00+00:00", 40))
        made, _, certain = self.made(site, "2027-10-21T12:00:20")
        self.assertEqual((made[0][:19], certain), ("2027-10-21T11:59:59", True))
        made, _, certain = self.made(site, "2027-10-31T01:30:00")
        self.assertEqual((len(made), certain), (2, False))

    def test_nobody_looked_or_practice_alone(self) -> None:
        self.assertEqual(self.made(looked(), "2027-10-21T12:00")[0], [])
        raw = document([device(1)])
        raw["site"]["practice"] = False
        raw["readings"] = [
            {
                "device": "d-1",
                "check": "clock",
                "result": "pass",
                "from": "pretend",
                "at": "2027-01-01T00:00:00+00:00",
                "offset_s": 9,
            }
        ]
        self.assertEqual(looks_of(read(raw), "d-1"), [])

    @given(
        st.lists(st.tuples(st.integers(1, 200), st.floats(-2.5, 2.5)), min_size=1, max_size=6),
        st.floats(-4000, 4000),
        st.floats(0, 1),
    )
    def test_the_true_moment_is_among_the_answers_whatever_the_clock_drifted(
        self, stretches: list[tuple[int, float]], begin: float, where: float
    ) -> None:
        at, offset = datetime(2027, 1, 1, tzinfo=UTC), begin
        looks = [Look(at, offset)]
        for days, rate in stretches:
            at, offset = at + timedelta(days=days), offset + days * rate
            looks.append(Look(at, offset))
        true = looks[0].at + (looks[-1].at - looks[0].at) * where
        one, other = next((a, b) for a, b in zip(looks, looks[1:], strict=False) if a.at <= true <= b.at)
        quarter = abs(other.offset_s - one.offset_s)
        assume(quarter < 440)
        share = (true - one.at) / (other.at - one.at)
        ahead = one.offset_s + (other.offset_s - one.offset_s) * share
        shown = (true + timedelta(seconds=ahead)).astimezone(DUBLIN).replace(tzinfo=None)
        found = footage(looked(), "d-1", shown, looks)
        apart = [abs((item - true).total_seconds()) for item in found.made]
        self.assertTrue(apart and min(apart) <= 1.5, (found.sentence, true))


class Diary(TestCase):
    def titles(self, site: Site) -> dict[str, str]:
        return {entry.key: f"{entry.at:%Y-%m-%d} {entry.title}" for entry in diary(site, TODAY)}

    def test_each_kind_of_date_stands_in_it_once(self) -> None:
        raw = document([device(1, name="Hub")])
        raw["site"]["time_zone"] = "Europe/Dublin"
        raw["exceptions"] = [{"device": "d-1", "reason": "painters", "until": "2027-08-01"}]
        raw["checklist"] = [
            {"subject": "d-1", "item": "battery-in", "state": "done", "x-value": "2026-02"},
            {"subject": "d-1", "item": "certificate-ending", "state": "open", "note": "ends 2027-12-31"},
        ]
        raw["asked"] = [
            {"key": "a", "of": "it", "question": "Which range?", "due": "2027-04-01"},
            {"key": "b", "of": "it", "question": "Who?", "due": "2027-06-01", "answer": "Ada"},
        ]
        found = self.titles(read(raw))
        self.assertEqual(found["exception-0"], "2027-08-01 Exception ends: Hub")
        self.assertEqual(found["battery-d-1"], "2030-02-01 Battery of Hub")
        self.assertEqual(found["certificate-d-1"], "2027-12-01 Renew the certificate of Hub")
        self.assertEqual(found["asked-a"], "2027-05-03 IT owes an answer: Which range?")
        self.assertNotIn("asked-b", found)
        self.assertEqual(sum(key.startswith("clocks-") for key in found), 6)
        self.assertEqual(sum(key.startswith("yearly-") for key in found), 3)

    def test_a_clock_that_drifts_is_due(self) -> None:
        site = looked(("2027-01-01T00:00:00+00:00", 0), ("2027-03-01T00:00:00+00:00", 4))
        self.assertIn("clock-d-1", self.titles(site))
