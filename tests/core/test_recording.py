"""What is recorded and kept, against sums made minute by minute and disk by disk, and the worked example of the docs."""

from itertools import product
from math import ceil
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import device, document, read
from tutelar.core.check import check
from tutelar.core.recording import channels_of, recording_problems, storage_of
from tutelar.core.recording.storage import SIZES_TB, raid_share
from tutelar.core.site import UnreadableSite
from tutelar.core.site.weeks import clock_of

WEEK = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")


def site_with(recording: dict[str, Any] | None, cameras: int = 1, **recorder: Any) -> Any:
    """Return a site of cameras that one recorder records, with this part about recordings."""
    rows = [device(number) for number in range(1, cameras + 1)] + [device(9, "larkmoor-rec-8", **recorder)]
    links = [{"kind": "records", "from": f"d-{slot}", "to": "d-9", "slot": slot} for slot in range(1, cameras + 1)]
    raw = document(rows, links=links, survey={"retention_days": 14})
    raw["models"][1].setdefault("capacity", {})["bays"] = 4
    return read(raw | ({"recording": recording} if recording is not None else {}))


@st.composite
def days(draw: st.DrawFn) -> list[dict[str, str]]:
    """Return periods of a day that neither overlap nor pass midnight."""
    edges = sorted(draw(st.sets(st.integers(0, 96), max_size=8)))
    pairs = [(edges[at], edges[at + 1]) for at in range(0, len(edges) - 1, 2)]
    modes = st.sampled_from(["continuous", "motion", "alarm"])
    return [{"from": clock_of(a * 15), "to": clock_of(b * 15), "mode": draw(modes)} for a, b in pairs]


@st.composite
def weeks(draw: st.DrawFn) -> dict[str, Any]:
    """Return a sound week: days of their own, days that are as another one, absent days."""
    week: dict[str, Any] = {"mon": draw(days())}
    for day in WEEK[1:]:
        how = draw(st.sampled_from(["own", "as", "absent"]))
        if how == "own":
            week[day] = draw(days())
        elif how == "as":
            week[day] = draw(st.sampled_from(WEEK[: WEEK.index(day)]))
    return week


def minute_by_minute(week: dict[str, Any], duty: dict[str, float]) -> tuple[float, list[list[str | None]]]:
    """Return the mean minutes a day in which is written, and the mode of every minute of the week."""
    grid = []
    for day in WEEK:
        said = week.get(day, "mon")
        while isinstance(said, str):
            said = week.get(said, "mon")
        row: list[str | None] = [None] * 1440
        for item in said:
            begin, end = (int(item[edge][:2]) * 60 + int(item[edge][3:]) for edge in ("from", "to"))
            row[begin:end] = [item["mode"]] * (end - begin)
        grid.append(row)
    return sum(duty[mode] for row in grid for mode in row if mode is not None) / 7, grid


class Writing(TestCase):
    @given(weeks(), st.floats(0, 1), st.floats(0, 1), st.integers(0, 8000), st.booleans(), st.integers(1, 1440))
    def test_bytes_and_files_are_those_of_every_minute(
        self, week: dict[str, Any], motion: float, alarm: float, kbps: int, audio: bool, file_min: int
    ) -> None:
        site = site_with(
            {
                "patterns": [{"key": "hours", "week": week}],
                "usual": "hours",
                "motion_share": motion,
                "audio_kbps": 32,
                "file_min": file_min,
                "channels": [{"recorder": "d-9", "slot": 1, "kbps": kbps, "alarm_share": alarm, "audio": audio}],
            }
        )
        (channel,) = channels_of(site)
        minutes, grid = minute_by_minute(week, {"continuous": 1, "motion": motion, "alarm": alarm})
        wire = kbps + (32 if audio else 0)
        self.assertAlmostEqual(channel.bytes_per_day or 0, minutes * 60 * wire * 125, delta=1 + 1e-9 * minutes * wire)
        self.assertEqual(channel.file_bytes, wire * 125 * 60 * file_min)
        whole = all(None not in row for row in grid)
        stretches = 0
        for day in WEEK:
            said = week.get(day, "mon")
            while isinstance(said, str):
                said = week.get(said, "mon")
            for item in said:
                begin, end = (int(item[edge][:2]) * 60 + int(item[edge][3:]) for edge in ("from", "to"))
                stretches += ceil((end - begin) / file_min)
        self.assertAlmostEqual(channel.files_per_day or 0, ceil(1440 / file_min) if whole else stretches / 7)

    def test_without_a_word_everything_is_recorded_all_day_from_the_main_stream(self) -> None:
        (channel,) = channels_of(site_with(None))
        self.assertEqual((channel.pattern, channel.stream, channel.kbps, channel.audio), (None, "main", 4096, False))
        self.assertEqual((channel.bytes_per_day, channel.files_per_day), (4096 * 125 * 86_400, 24))

    def test_the_worked_example_of_the_docs(self) -> None:
        pattern = {
            "key": "hours",
            "week": {
                "mon": [
                    {"from": "00:00", "to": "07:30", "mode": "motion"},
                    {"from": "07:30", "to": "18:15", "mode": "continuous"},
                    {"from": "18:15", "to": "24:00", "mode": "motion"},
                ],
                "sat": [],
                "sun": "sat",
            },
        }
        disks = [{"bay": 1, "tb": 1}]
        site = site_with({"patterns": [pattern], "usual": "hours"}, cameras=2, disks=disks)
        (row,) = storage_of(site, channels_of(site))
        self.assertAlmostEqual(row.bytes_per_day / 1e9, 38.7730, places=4)
        self.assertAlmostEqual(row.days or 0, 23.9857, places=4)
        self.assertAlmostEqual((row.wanted_label_bytes_with_reserve or 0) / 1e12, 0.6420, places=4)


class Disks(TestCase):
    @given(
        st.sampled_from(["none", "0", "1", "5", "6", "10"]),
        st.integers(1, 6),
        st.integers(1, 400),
        st.integers(0, 60_000),
        st.floats(0, 0.5),
    )
    def test_no_other_equal_disks_hold_it_with_less(
        self, raid: Any, bays: int, wanted: int, kbps: int, reserve: float
    ) -> None:
        recording = {"reserve_share": reserve, "channels": [{"recorder": "d-9", "slot": 1, "kbps": kbps}]}
        rows = [device(1), device(9, "larkmoor-rec-8", raid=raid)]
        links = [{"kind": "records", "from": "d-1", "to": "d-9", "slot": 1}]
        raw = document(rows, links=links, survey={"retention_days": wanted}, recording=recording)
        raw["models"][1].setdefault("capacity", {})["bays"] = bays
        site = read(raw)
        (row,) = storage_of(site, channels_of(site))
        needed = kbps * 125 * 86_400 * wanted * (1 + reserve)
        good = [
            (number * size, number)
            for number, size in product(range(1, bays + 1), SIZES_TB)
            if (share := raid_share(raid, number)) and number * size * 1e12 * share * 0.93 >= needed * (1 - 1e-12)
        ]
        if not good or kbps == 0:
            self.assertIsNone(row.propose)
            return
        assert row.propose is not None
        self.assertEqual((sum(row.propose.disks), len(row.propose.disks)), min(good))
        self.assertGreaterEqual(row.propose.days, wanted * (1 + reserve) * (1 - 1e-9))

    def test_unequal_disks_count_in_full_alone_and_as_the_smallest_in_a_raid(self) -> None:
        disks = [{"tb": 4}, {"tb": 8}, {"tb": 8}]
        for raid, label, usable in (("none", 20, 20), ("5", 12, 8), ("1", 12, 4), ("6", 12, 0)):
            (row,) = storage_of(site := site_with(None, disks=disks, raid=raid), channels_of(site))
            self.assertEqual((row.label_bytes, round(row.usable_bytes)), (label * 1e12, usable * 0.93e12), raid)
            codes = {item.code for item in recording_problems(site)}
            self.assertEqual("recording.raid-disks" in codes, raid == "6")


class Wrong(TestCase):
    def codes(self, recording: dict[str, Any], **recorder: Any) -> dict[str, str]:
        """Return the codes of what is wrong with a recording, with their levels."""
        found = recording_problems(site_with(recording, **{"disks": [{"tb": 24}], **recorder}))
        return {item.code.removeprefix("recording."): item.level for item in found}

    def week(self, *periods: tuple[str, str], **days: Any) -> dict[str, Any]:
        """Return a recording whose usual pattern has these periods on Monday."""
        monday = [{"from": begin, "to": end, "mode": "motion"} for begin, end in periods]
        return {"patterns": [{"key": "p", "week": {"mon": monday, **days}}], "usual": "p"}

    def test_each_fault_of_a_pattern_has_its_code_and_breaks_what_follows_it(self) -> None:
        whole = ("00:00", "24:00")
        for recording, said in (
            (self.week(whole), {}),
            (self.week(("00:00", "07:00"), ("08:00", "24:00")), {"gap": "warning"}),
            (self.week(("00:00", "08:00"), ("07:00", "24:00")), {"overlap": "error"}),
            (self.week(("18:00", "07:00")), {"past-midnight": "error"}),
            (self.week(("07:00", "07:00")), {"backwards": "error"}),
            (self.week(whole, tue="wed", wed="tue"), {"unknown": "error"}),
            (self.week(whole, someday="mon"), {"unknown": "error"}),
            (self.week(whole, sat=[]), {"nothing": "note"}),
            ({"usual": "nights"}, {"unknown": "error"}),
            ({"channels": [{"recorder": "d-9", "slot": 7}]}, {"unknown": "error"}),
            ({"channels": [{"recorder": "nobody", "slot": 1}]}, {"unknown": "error"}),
        ):
            self.assertEqual(self.codes(recording), said, recording)
            (channel,) = channels_of(site_with(recording))
            broken = "error" in said.values() and "channels" not in recording
            self.assertEqual(channel.bytes_per_day is None, broken, recording)

    def test_disks_sound_and_days(self) -> None:
        self.assertEqual(self.codes({}, disks=[]), {"no-disk": "error"})
        self.assertEqual(self.codes({}, disks=[{"tb": 0.1}]), {"too-small": "warning"})
        self.assertEqual(self.codes({}, disks=[{"tb": 1}] * 5), {"too-many-disks": "error"})
        self.assertEqual(self.codes({"audio": True}), {"audio-undecided": "warning"})

    def test_a_file_without_recordings_reads_as_before(self) -> None:
        self.assertFalse([item for item in check(site_with(None)) if item.code.startswith("recording.")])

    def test_a_week_without_monday_and_a_time_that_is_none_are_refused(self) -> None:
        at = "recording.patterns[0].week"
        for week, said in (
            ({"tue": []}, (at, "no 'mon'")),
            (
                {"mon": [{"from": "25:00", "to": "24:00", "mode": "motion"}]},
                (f"{at}.mon[0].from", "'25:00' is no time"),
            ),
            ({"mon": 5}, (f"{at}.mon", "5 stands where a list is expected")),
        ):
            with self.assertRaises(UnreadableSite) as caught:
                site_with({"patterns": [{"key": "p", "week": week}]})
            (path, sentence), *more = caught.exception.faults
            self.assertEqual((path, said[1] in sentence, more), (said[0], True, []), sentence)
