"""Patterns mended by presses, levers against the sums themselves, rates measured and estimated, and what is typed."""

from datetime import UTC, datetime
from typing import Any
from unittest import TestCase

from hypothesis import assume, given
from hypothesis import strategies as st

from tests.core.test_recording import minute_by_minute, site_with, weeks
from tutelar.core.planning import plan
from tutelar.core.recording import channels_of, recording_problems, storage_of
from tutelar.core.recording.estimate import estimate
from tutelar.core.recording.fill import as_measured, fill_of
from tutelar.core.recording.levers import changed, levers_of
from tutelar.core.recording.mends import day_range, mends_of, weekdays_alike
from tutelar.core.recording.ready import ready_patterns
from tutelar.core.recording.typed import numbers_said
from tutelar.core.recording.week import is_sound
from tutelar.core.setting import DeviceSettings
from tutelar.core.site.weeks import DAYS, clock_of
from tutelar.core.site.writing import as_document

MENDABLE = {"recording.gap", "recording.overlap", "recording.past-midnight", "recording.backwards"}
times = st.integers(0, 96).map(lambda quarter: clock_of(quarter * 15))
modes = st.sampled_from(["continuous", "motion", "alarm"])
anything = st.lists(st.fixed_dictionaries({"from": times, "to": times, "mode": modes}), max_size=5)
wild = st.builds(
    lambda mon, more: {"mon": mon, **more},
    anything,
    st.dictionaries(st.sampled_from(DAYS[1:]), anything | st.sampled_from(["mon"]), max_size=5),
)


def first_pattern(week: dict[str, Any]) -> Any:
    site = site_with({"patterns": [{"key": "hours", "week": week}], "usual": "hours"})
    return site, site.recording.patterns[0]


class Mending(TestCase):
    @given(wild, st.none() | st.integers(1, 6))
    def test_pressing_every_mend_ends_with_a_week_that_holds(self, week: dict[str, Any], most: int | None) -> None:
        site, pattern = first_pattern(week)
        presses = 0
        while (mend := next(mends_of(pattern, most), None)) is not None:
            self.assertNotEqual(as_document(mend.after), as_document(pattern), mend.said)
            pattern, presses = mend.after, presses + 1
            self.assertLess(presses, 200)
        whole = site.recording.model_copy(update={"patterns": (pattern,)})
        left = {item.code for item in recording_problems(site.model_copy(update={"recording": whole}))}
        self.assertFalse(left & MENDABLE, as_document(pattern))
        self.assertTrue(all(most is None or len(item) <= most for item in pattern.week.values() if type(item) is tuple))

    @given(weeks())
    def test_mending_takes_no_minute_of_recording_away(self, week: dict[str, Any]) -> None:
        _, pattern = first_pattern(week)
        duty = {"continuous": 1.0, "motion": 1.0, "alarm": 1.0}
        for mend in mends_of(pattern, 2):
            before, after = (minute_by_minute(as_document(item)["week"], duty)[0] for item in (pattern, mend.after))
            self.assertGreaterEqual(after + 1e-9, before, mend.said)

    def test_past_midnight_goes_into_the_next_day_and_there_into_what_is_free(self) -> None:
        late = [{"from": "18:00", "to": "02:00", "mode": "motion"}]
        early = [{"from": "01:00", "to": "24:00", "mode": "continuous"}]
        _, pattern = first_pattern({"mon": early, "fri": late, "sun": late})
        mend = next(item for item in mends_of(pattern) if item.days == ("fri",))
        week = as_document(mend.after)["week"]
        self.assertEqual(week["fri"], [{"from": "18:00", "to": "24:00", "mode": "motion"}])
        self.assertEqual(week["sat"][0], {"from": "00:00", "to": "01:00", "mode": "motion"})
        self.assertEqual(week["mon"], early)
        self.assertEqual(mend.press, "Split it at midnight")

    def test_days_are_said_and_copied_as_people_do(self) -> None:
        self.assertEqual(
            day_range(("mon", "tue", "wed", "thu", "sat", "holiday")), "Monday to Thursday, Saturday and Holidays"
        )
        _, pattern = first_pattern(
            {"mon": [], "sat": [{"from": "00:00", "to": "24:00", "mode": "motion"}], "sun": "sat"}
        )
        self.assertEqual(weekdays_alike(pattern), [("mon", "tue", "wed", "thu", "fri"), ("sat", "sun", "holiday")])
        self.assertEqual(numbers_said([3, 1, 2, 7, 9, 8]), "1–3, 7–9")

    def test_ready_patterns_cover_every_day_and_keep_less_and_less(self) -> None:
        for item in ready_patterns():
            self.assertTrue(is_sound(item.pattern))
            self.assertEqual(list(mends_of(item.pattern)), [])


class Levers(TestCase):
    @given(
        weeks() | st.none(),
        st.integers(1, 4),
        st.integers(1, 20),
        st.sampled_from(["none", "1", "5"]),
        st.integers(1, 90),
    )
    def test_every_lever_gives_the_days_that_the_sums_give(
        self, week: dict[str, Any] | None, disks: int, tb: int, raid: str, wanted: int
    ) -> None:
        recording = {} if week is None else {"patterns": [{"key": "hours", "week": week}], "usual": "hours"}
        site = site_with(recording, 3, disks=[{"tb": tb}] * disks, raid=raid)
        site = site.model_copy(update={"survey": site.survey.model_copy(update={"retention_days": wanted})})
        now = storage_of(site, channels_of(site))[0]
        found = levers_of(site, "d-9")
        if now.days is None or now.days >= wanted:
            self.assertEqual(found, [])
        for lever in found:
            then = changed(site, "d-9", lever.change)
            row = storage_of(then, channels_of(then))[0]
            self.assertEqual(row.days, lever.days, lever.said)
            self.assertEqual(lever.keeps, row.days is None or row.days >= (row.wanted_days or 0))
            if lever.key != "promise":
                self.assertGreater(row.days or 0, now.days or 0)

    def test_no_rate_goes_below_half_and_a_needed_one_is_just_enough(self) -> None:
        site = site_with({}, 4, disks=[{"tb": 2}])
        now = storage_of(site, channels_of(site))[0]
        for days in (int(now.days or 0) + 1, 10_000):
            promised = site.model_copy(update={"survey": site.survey.model_copy(update={"retention_days": days})})
            lever = next(item for item in levers_of(promised, "d-9") if item.key == "rate")
            self.assertEqual(lever.keeps, days < 10_000)
            rates = [item.kbps or 0 for item in lever.change.recording.channels] if lever.change.recording else []
            usual = channels_of(site)[0].kbps or 0
            self.assertTrue(rates and all(usual / 2 - 250 <= rate < usual for rate in rates), rates)


class Filling(TestCase):
    @given(st.floats(1e10, 1e13), st.floats(0.1, 60), st.floats(0, 1e13), st.floats(0.2, 5))
    def test_rates_taken_as_measured_come_to_what_was_measured(
        self, daily: float, days: float, used: float, sound: float
    ) -> None:
        site = site_with({"audio": True, "audio_kbps": sound}, 3, disks=[{"tb": 20}] * 4)
        row = storage_of(site, channels_of(site))[0]
        later = used + daily * days
        assume(later < row.usable_bytes)
        start = datetime(2026, 6, 1, 8, tzinfo=UTC)
        end = datetime.fromtimestamp(start.timestamp() + days * 86_400, UTC)
        found = fill_of((start, used), (end, later), row.usable_bytes, row.bytes_per_day)
        self.assertAlmostEqual(found.bytes_per_day / daily, 1, 3)
        fresh = as_measured(site, "d-9", channels_of(site), found.of_estimate or 0)
        then = site.model_copy(update={"recording": fresh})
        self.assertAlmostEqual(storage_of(then, channels_of(then))[0].bytes_per_day / daily, 1, 3)

    def test_readings_that_tell_nothing_are_refused_with_the_reason(self) -> None:
        one, two = datetime(2026, 6, 1, 8, tzinfo=UTC), datetime(2026, 6, 3, 8, tzinfo=UTC)
        wrong = (
            ((one, 5.0), (one, 6.0), 1e12, "an hour after"),
            ((two, 5.0), (one, 6.0), 1e12, "an hour after"),
            ((one, 6.0), (two, 6.0), 1e12, "Nothing was written"),
            ((one, 5.0), (two, 6.0), 0.0, "No disk"),
            ((one, 5.0), (two, 3e12), 1e12, "look at the unit"),
        )
        for first, second, usable, words in wrong:
            with self.assertRaisesRegex(ValueError, words):
                fill_of(first, second, usable, 1.0)

    def test_an_estimate_says_its_range(self) -> None:
        found = estimate(1920, 1080, 25, "h264", "usual")
        self.assertAlmostEqual(found.kbps, 7257.6)
        self.assertAlmostEqual(found.low_kbps * 2, found.kbps)
        self.assertAlmostEqual(found.high_kbps, found.kbps * 2)
        self.assertEqual(estimate(640, 480, 5, "mjpeg", "busy"), estimate(640, 480, 5, "mjpeg", "calm"))


class Typing(TestCase):
    def lines(self, site: Any) -> dict[str, Any]:
        groups = DeviceSettings(site, plan(site)).groups(site.device_by_key["d-9"])
        return {line.label: line for group in groups if group.key == "recording" for line in group.lines}

    def test_a_recorder_is_told_each_pattern_by_channel_and_weekday(self) -> None:
        hours = [
            {"from": "00:00", "to": "07:30", "mode": "motion"},
            {"from": "07:30", "to": "24:00", "mode": "continuous"},
        ]
        recording = {
            "patterns": [
                {"key": "hours", "name": "Hours", "week": {"mon": hours, "sat": [], "sun": "sat", "holiday": "sun"}}
            ],
            "usual": "hours",
            "channels": [{"recorder": "d-9", "slot": 3, "kbps": 6000, "audio": True}],
            "file_min": 30,
            "disk_full": "stop",
        }
        found = self.lines(site_with(recording, 3, disks=[{"bay": 1, "tb": 16, "serial": "K1"}], raid="none"))
        self.assertEqual(found["Channels 1–3, Monday to Friday"].value, "00:00–07:30 motion, 07:30–24:00 continuous")
        self.assertIn("copy it to Tuesday to Friday", found["Channels 1–3, Monday to Friday"].why)
        self.assertEqual(found["Channels 1–3, Saturday, Sunday and Holidays"].value, "nothing")
        self.assertEqual(found["Channel 3, bit rate"].value, "6000 kbit/s")
        self.assertEqual(found["Disk in bay 1"].value, "16 TB, shows as 14.55 TiB")
        self.assertIn("Format it", found["Disk in bay 1"].why)
        self.assertEqual(found["Sound in recordings"].value, "On at 3, else off")
        self.assertIn("not known", found["Sound in recordings"].why)
        self.assertEqual(found["When the disk is full"].value, "Stop")
        self.assertIn("Draw the zones last", found["Motion zones"].why)

    def test_where_nothing_is_said_nothing_is_typed(self) -> None:
        self.assertEqual(self.lines(site_with(None, 2)), {})
