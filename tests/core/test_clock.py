"""Clock rules against the time-zone database itself, and what a wrong clock tells."""

import re
from calendar import monthrange
from datetime import UTC, date, datetime, timedelta
from unittest import TestCase
from zoneinfo import ZoneInfo

from hypothesis import given
from hypothesis import strategies as st

from tutelar.core.clock import Turn, UnknownZone, clock_rule, difference, drift, transitions, zone_named, zone_names
from tutelar.core.clock.difference import drift_per_day, next_due, read_time, spoken_offset, typed_difference

FIRST, YEARS = 2026, 11


def instants(zone: ZoneInfo, year: int) -> list[tuple[datetime, int, int]]:
    """Return the turns of a year found anew: hour by hour around every day whose offset differs from the day before."""
    found = []

    def ahead(at: datetime) -> int:
        return round((at.astimezone(zone).utcoffset() or timedelta()).total_seconds() / 60)

    day = datetime(year, 1, 1, tzinfo=UTC) - timedelta(days=1)
    while day.year <= year:
        following = day + timedelta(days=1)
        if ahead(day) != ahead(following):
            at = next(
                day + timedelta(minutes=m) for m in range(1, 1441) if ahead(day + timedelta(minutes=m)) != ahead(day)
            )
            if (at + timedelta(minutes=ahead(day))).year == year:
                found.append((at, ahead(day), ahead(following)))
        day = following
    return found


def on(turn: Turn, year: int, ahead: int) -> datetime:
    """Return the instant at which a device with this rule turns its clock, by the words of the rule alone."""
    days = [date(year, turn.month, day) for day in range(1, monthrange(year, turn.month)[1] + 1)]
    fitting = [day for day in days if day.weekday() == turn.weekday]
    day = fitting[-1] if turn.week == "last" else fitting[turn.week - 1]
    wall = datetime(day.year, day.month, day.day, tzinfo=UTC) + timedelta(hours=turn.hour, minutes=turn.minute)
    return wall - timedelta(minutes=ahead)


class Rules(TestCase):
    def test_every_zone_is_right_in_every_year_it_promises_and_wrong_in_the_next(self) -> None:
        for name in zone_names():
            rule, zone = clock_rule(name, FIRST, YEARS), zone_named(name)
            last = rule.holds_until or FIRST + YEARS - 1
            for year in range(FIRST, min(last + 1, FIRST + YEARS - 1) + 1):
                truth = [(turn.at, turn.before, turn.after) for turn in transitions(zone, year)]
                if rule.start is None or rule.end is None:
                    if year == FIRST:
                        self.assertFalse(len(truth) == 2 and truth[0][1] == truth[1][2], name)
                    continue
                base, later = rule.utc_offset_min, rule.utc_offset_min + rule.bias_min
                said = sorted([(on(rule.start, year, base), base, later), (on(rule.end, year, later), later, base)])
                self.assertEqual(said == truth, year <= last, f"{name} in {year}")

    def test_the_turns_are_those_of_an_independent_search(self) -> None:
        for name in (
            "Europe/Dublin",
            "Australia/Lord_Howe",
            "America/Nuuk",
            "Africa/Cairo",
            "Asia/Gaza",
            "Antarctica/Troll",
            "America/Santiago",
            "Africa/Casablanca",
            "Pacific/Chatham",
            "America/Phoenix",
        ):
            zone = zone_named(name)
            for year in (2023, FIRST, 2031):
                self.assertEqual(
                    [(t.at, t.before, t.after) for t in transitions(zone, year)], instants(zone, year), name
                )

    def test_the_forms_that_devices_ask_for(self) -> None:
        helsinki = clock_rule("Europe/Helsinki", FIRST, 10)
        self.assertEqual(
            helsinki.as_dict(),
            {
                "zone": "Europe/Helsinki",
                "utc_offset_min": 120,
                "holds_until": None,
                "posix": "EET-2EEST,M3.5.0/3,M10.5.0/4",
                "rule": {
                    "start": {"month": 3, "week": "last", "weekday": 6, "hour": 3, "minute": 0},
                    "end": {"month": 10, "week": "last", "weekday": 6, "hour": 4, "minute": 0},
                    "bias_min": 60,
                },
                "note": helsinki.note,
            },
        )
        adelaide = clock_rule("Australia/Adelaide", FIRST, 10)
        self.assertEqual((adelaide.start, adelaide.end), (Turn(10, 1, 6, 2, 0), Turn(4, 1, 6, 3, 0)))
        dublin = clock_rule("Europe/Dublin", FIRST, 10)  # whose standard time is the summer one
        self.assertEqual((dublin.utc_offset_min, dublin.start), (0, Turn(3, "last", 6, 1, 0)))
        self.assertEqual(clock_rule("Australia/Lord_Howe", FIRST, 10).bias_min, 30)
        self.assertEqual(clock_rule("America/Santiago", FIRST, 10).start, Turn(9, 1, 5, 24, 0))
        for name in ("America/Phoenix", "Australia/Brisbane"):
            rule = clock_rule(name, FIRST, 10)
            self.assertEqual((rule.as_dict()["rule"], rule.holds_until), (None, None))
            self.assertIn("No daylight saving", rule.note)

    def test_only_last_where_both_would_do_and_only_as_long_as_it_holds(self) -> None:
        for name in zone_names():
            rule = clock_rule(name, FIRST, YEARS)
            for turn in (rule.start, rule.end):
                if turn is not None and turn.week == 4:
                    fits = [
                        on(Turn(turn.month, "last", turn.weekday, turn.hour, turn.minute), year, 0) == on(turn, year, 0)
                        for year in range(FIRST, (rule.holds_until or FIRST + YEARS - 1) + 1)
                    ]
                    self.assertFalse(all(fits), name)
        for name in ("Asia/Gaza", "Asia/Hebron"):  # the other turn is wrong before "last" is
            start = clock_rule(name, 2026, 10).start
            self.assertEqual(start and start.week, "last", name)
        self.assertEqual(clock_rule("America/Nuuk", FIRST, 10).holds_until, 2029)
        self.assertIn("After 2029", clock_rule("America/Nuuk", FIRST, 10).note)

    def test_irregular_and_unknown_zones_are_said(self) -> None:
        self.assertIn("3 times", clock_rule("Africa/Casablanca", FIRST, 10).note)
        self.assertIsNone(clock_rule("Europe/Volgograd", 2020, 1).start)
        with self.assertRaisesRegex(UnknownZone, "'Europe/Dublin', .* are the nearest"):
            clock_rule("Europe/Dubln", FIRST, 1)


class Differences(TestCase):
    def told(self, shown: str, reference: str, zone: str = "Europe/Dublin", order: str = "DMY") -> tuple[float, str]:
        found = difference(read_time(shown, order), read_time(reference), zone_named(zone))  # type: ignore[arg-type]
        return found.offset_s, found.finding

    def test_each_finding(self) -> None:
        now = "2026-06-08T14:00:00"
        for shown, zone, offset, finding in (
            ("2026-06-08T14:00:02", "Europe/Dublin", 2, "good"),
            ("2026-06-08T13:59:57", "Europe/Dublin", -3, "drift"),
            ("2026-06-08T14:05:00", "Europe/Dublin", 300, "drift"),
            ("2026-06-08T13:00:20", "Europe/Dublin", -3580, "daylight-saving"),
            ("2026-06-08T13:00:20", "America/Phoenix", -3580, "time-zone"),
            ("2026-06-08T14:30:00", "Australia/Lord_Howe", 1800, "daylight-saving"),
            ("2026-06-08T15:00:00", "Australia/Lord_Howe", 3600, "time-zone"),
            ("2026-06-08T19:30:00", "Asia/Kolkata", 19800, "time-zone"),
            ("2026-06-08T02:00:59", "Europe/Dublin", -43141, "half-day"),
            ("06/08/2026 14:00:00", "Europe/Dublin", 5097600, "date-order"),
            ("2026-06-10T14:00:00", "Europe/Dublin", 172800, "date-order"),
            ("01.01.2000 00:07:00", "Europe/Dublin", None, "never-set"),
            ("2026-06-08T14:07:00", "Europe/Dublin", 420, "never-set"),
        ):
            found = self.told(shown, now, zone)
            self.assertEqual(found[1], finding, shown)
            if offset is not None:
                self.assertEqual(found[0], offset, shown)

    def test_a_time_inside_the_gap_of_spring_counts_by_the_wall(self) -> None:
        after = "2026-03-29T01:20:00+00:00"  # 02:20 in Dublin, where 01:20 never was
        self.assertEqual(self.told("2026-03-29T01:20:00", after), (-3600, "daylight-saving"))
        self.assertEqual(self.told("2026-03-29T01:50:00", after), (-1800, "time-zone"))
        self.assertEqual(self.told("2026-03-29T01:59:59", "2026-03-29T00:59:59+00:00"), (3600, "daylight-saving"))

    def test_a_year_off_is_never_set_in_whatever_order_it_is_written(self) -> None:
        reference, zone = read_time("2026-06-08T14:00:00"), zone_named("Europe/Dublin")
        for typed, finding in (("06/28/2026 14:00:00", "date-order"), ("01/31/2012 14:00:00", "never-set")):
            self.assertEqual(typed_difference(typed, "DMY", reference, zone).finding, finding)

    def test_across_midnight_across_the_change_and_with_offsets(self) -> None:
        self.assertEqual(self.told("2026-06-09T00:00:01", "2026-06-08T23:59:59"), (2, "good"))
        # 01:30 exists twice in the night of 25 October; each is right
        self.assertEqual(self.told("2026-10-25T01:30:00", "2026-10-25T01:30:00+00:00"), (0, "good"))
        self.assertEqual(self.told("2026-10-25T01:30:00", "2026-10-25T00:30:00+00:00"), (0, "good"))
        self.assertEqual(self.told("2026-06-08T14:00:00+02:00", "2026-06-08T13:00:00"), (0, "good"))

    @given(
        st.datetimes(datetime(2000, 1, 1), datetime(2049, 1, 1)),  # noqa: DTZ001
        st.sampled_from(["DMY", "MDY", "YMD"]),
        st.sampled_from("/.-"),
    )
    def test_a_date_is_read_back_in_every_order(self, moment: datetime, order: str, sign: str) -> None:
        moment = moment.replace(microsecond=0)
        letters = {"D": f"{moment.day:02d}", "M": f"{moment.month:02d}", "Y": f"{moment.year}"}
        typed = f"{sign.join(letters[letter] for letter in order)} {moment:%H:%M:%S}"
        self.assertEqual(read_time(typed, order), moment)  # type: ignore[arg-type]
        self.assertEqual(read_time(re.sub(r"\d+:\d\d:\d\d", f"{moment:%I:%M:%S %p}", typed), order), moment)  # type: ignore[arg-type]

    def test_what_is_no_time_is_said(self) -> None:
        for text, words in (
            ("soon", "is no time"),
            ("31/02/2026 10:00", "order day, month, year"),
            ("2026-13-01T10:00", "'2026-13-01T10:00'"),
        ):
            with self.assertRaisesRegex(ValueError, words):
                read_time(text, "DMY")

    def test_a_whole_hour_off_says_what_to_check_first(self) -> None:
        at = datetime(2027, 1, 4, 12, tzinfo=UTC)
        for zone, seconds, words in (
            ("Europe/Dublin", 3601, "daylight saving"),
            ("Europe/Dublin", -3600, "daylight saving"),
            ("Europe/Dublin", 7195, "time zone"),
            ("Europe/Dublin", 40, ""),
            ("Asia/Tokyo", 3600, "time zone"),
            ("Australia/Lord_Howe", 1800, "daylight saving"),
        ):
            found = drift([(at, seconds), (at + timedelta(days=3), seconds)], zone_named(zone))
            assert found is not None
            self.assertIn("keeps time", found.sentence)
            self.assertEqual("Check" in found.sentence, bool(words), found.sentence)
            self.assertIn(words, found.sentence)

    def test_drift_and_when_the_next_check_is_due(self) -> None:
        start = datetime(2026, 6, 1, tzinfo=UTC)
        readings = [(start + timedelta(days=day), 0.5 * day) for day in (0, 2, 4)]
        self.assertAlmostEqual(drift_per_day(readings) or 0, 0.5)
        self.assertEqual(next_due(readings), start + timedelta(days=10))
        self.assertIsNone(drift_per_day(readings[:1]))
        self.assertIsNone(next_due([(start, 1.0), (start + timedelta(days=1), 1.0)]))
        self.assertEqual(spoken_offset(-3598), "59 min 58 s behind")
