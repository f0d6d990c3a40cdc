"""Whatever people write into a site: cards, loose ends, diary, papers and lessons bear it and keep their promises."""

import csv
import hashlib
import io
import json
import zipfile
from datetime import UTC, date, datetime, time
from random import Random
from typing import Any
from unittest import TestCase

from hypothesis import assume, given, settings
from hypothesis import strategies as st
from icalendar import Calendar
from openpyxl import load_workbook
from pypdf import PdfReader

from tests import so_many
from tests.link_sites import recorded_sites
from tests.samples import documents
from tutelar.core.cards import AT_ONCE, Card, cards_of, items_of
from tutelar.core.later import diary, footage, looks_of
from tutelar.core.loose_ends import CODES, SITE, loose_ends, may_sign
from tutelar.core.planning import plan
from tutelar.core.site import Site, UnreadableSite, read_site
from tutelar.core.training import questions, set_up
from tutelar.paper.asking import cards_pdf, letters_pdf
from tutelar.paper.pack import SUMS, as_zip, pack

TODAY = date(2027, 2, 28)
WORDS = st.text(max_size=40)
SUBJECTS = st.sampled_from(["site", "d-1", "d-2", "no-such"])
VALUES = st.one_of(WORDS, st.integers(-10, 10**6), st.floats(allow_nan=False, allow_infinity=False), st.booleans())
TICKS = st.fixed_dictionaries(
    {
        "subject": SUBJECTS,
        "item": st.sampled_from([*(item.key for item in items_of()), "certificate-ending", "none-such"]),
        "state": st.sampled_from(["done", "open", "not-needed"]),
    },
    optional={"note": WORDS, "x-value": VALUES, "x-of": VALUES, "x-unit": WORDS, "at": WORDS, "by": WORDS},
)
ASKED = st.fixed_dictionaries(
    {
        "key": st.sampled_from("abc"),
        "of": st.sampled_from(["it", "owner", "station"]),
        "question": st.text(min_size=1, max_size=60),
    },
    optional={"due": st.dates().map(str), "asked": st.dates().map(str), "answer": WORDS, "person": WORDS},
)
LEFT = st.fixed_dictionaries({}, optional={"code": WORDS, "subject": WORDS, "reason": WORDS, "by": WORDS})
LOOKS = st.fixed_dictionaries(
    {
        "device": SUBJECTS,
        "check": st.just("clock"),
        "result": st.just("pass"),
        "offset_s": st.floats(-1e10, 1e10),
        "at": st.one_of(st.datetimes().map(lambda at: f"{at.isoformat()}+00:00"), WORDS),
    }
)
WRITTEN = st.fixed_dictionaries(
    {},
    optional={
        "checklist": st.lists(TICKS, max_size=8),
        "asked": st.lists(ASKED, max_size=4),
        "x-left-open": st.one_of(WORDS, st.lists(st.one_of(WORDS, LEFT), max_size=3)),
        "readings": st.lists(LOOKS, max_size=4),
    },
)


@st.composite
def written(draw: st.DrawFn) -> Site:
    """A site with whatever people write into it, where that can be read at all."""
    raw: dict[str, Any] = {**draw(st.one_of(documents(most=6), recorded_sites())), **draw(WRITTEN)}
    try:
        return read_site(json.dumps(raw))
    except UnreadableSite:
        assume(False)
        raise


class Written(TestCase):
    @given(written())
    def test_every_end_is_known_has_a_place_and_says_what_closes_it(self, site: Site) -> None:
        ends = loose_ends(site, plan(site), TODAY)
        order = list(CODES)
        self.assertEqual([end.code for end in ends], sorted((end.code for end in ends), key=order.index))
        self.assertEqual(len(ends), len({(end.code, end.subject) for end in ends}))
        for end in ends:
            self.assertTrue(end.message.endswith(".") and end.fix.endswith(".") and end.whose, end)
            self.assertNotIn("{name}", end.message)
        self.assertEqual(may_sign(ends), not [end for end in ends if end.blocks])
        if site.devices:  # nothing of it was measured but clocks
            self.assertLessEqual({"proof-missing"}, {end.code for end in ends})

    @settings(max_examples=so_many(25, 400))
    @given(written())
    def test_a_card_shows_few_at_once_and_nothing_that_is_ticked_or_waits(self, site: Site) -> None:
        cards = cards_of(site)
        self.assertEqual(len(cards), len({card.subject for card in cards}))
        for card in cards:
            self.check(card)

    def check(self, card: Card) -> None:
        keys = [row.item.key for row in card.rows]
        self.assertEqual(len(keys), len(set(keys)))
        self.assertLessEqual(len(card.now), AT_ONCE)
        self.assertLessEqual(len({row.item.phase for row in card.now}), 1)
        self.assertEqual({row.state for row in card.now} - {"open"}, set())
        if not card.now:  # what waits, waits for something that can be done
            self.assertFalse([row for row in card.rows if row.open and row.item.phase != "yearly"])
        for row in card.rows:
            settled = row.tick is not None and row.tick.state in ("done", "not-needed")
            self.assertEqual(row.open, not settled, row.item.key)
            self.assertTrue(row.verdict is None or row.verdict.said, row.item.key)

    @settings(max_examples=so_many(25, 400))
    @given(written(), st.integers(0, 10_000))
    def test_the_diary_looks_ahead_and_lessons_never_stumble(self, site: Site, seed: int) -> None:
        entries = diary(site, TODAY)
        self.assertEqual(len(entries), len({entry.key for entry in entries}))
        self.assertTrue(all(entry.title for entry in entries))
        planned = plan(site)
        for question in questions(site, planned, Random(seed)):
            self.assertIn(question.device, site.device_by_key)
        laid = set_up(site, planned, Random(seed))
        self.assertTrue(laid is None or any(line.wrong for line in laid.lines))

    @given(written(), st.dates(date(2000, 1, 1), date(2060, 1, 1)), st.times())
    def test_a_recording_was_made_where_its_clock_shows_that_time(self, site: Site, day: date, hour: time) -> None:
        shown = datetime.combine(day, hour)
        for device in site.devices[:2]:
            looks = looks_of(site, device.key)
            self.assertEqual(looks, sorted(looks, key=lambda look: look.at))
            found = footage(site, device.key, shown, looks)
            self.assertTrue(found.sentence.endswith("."))
            self.assertLessEqual(len(found.made), 2 * (2 * len(looks) + 1))
            self.assertEqual(list(found.made), sorted(found.made, key=lambda at: at.astimezone(UTC)))

    @settings(max_examples=so_many(5, 200))
    @given(written())
    def test_the_pack_opens_whatever_was_written(self, site: Site) -> None:
        planned = plan(site)
        files = pack(site, planned, loose_ends(site, planned, TODAY), TODAY)
        self.assertEqual(read_site(files["site.json"]), site)
        for name, data in files.items():
            if name.endswith(".csv"):
                rows = list(csv.reader(io.StringIO(data.decode("utf-8-sig"))))
                self.assertEqual({len(row) for row in rows}, {len(rows[0])}, name)
            elif name.endswith(".xlsx"):
                self.assertTrue(load_workbook(io.BytesIO(data)).sheetnames, name)
            elif name.endswith(".ics"):
                self.assertEqual(Calendar.from_ical(data).name, "VCALENDAR")
            elif name.endswith(".pdf"):
                self.assertTrue(PdfReader(io.BytesIO(data)).pages, name)
        with zipfile.ZipFile(io.BytesIO(as_zip(files))) as archive:
            self.assertIsNone(archive.testzip())
            sums = archive.read(SUMS).decode().splitlines()
        told = dict(line.split(maxsplit=1)[::-1] for line in sums)
        self.assertEqual(told, {name: hashlib.sha256(data).hexdigest() for name, data in files.items()})

    @settings(max_examples=so_many(10, 200))
    @given(written())
    def test_each_letter_is_one_page_and_cards_are_printed(self, site: Site) -> None:
        whom = {item.of for item in site.asked if item.open}
        self.assertEqual(len(PdfReader(io.BytesIO(letters_pdf(site, TODAY))).pages), max(1, len(whom)))
        self.assertTrue(PdfReader(io.BytesIO(cards_pdf(site, cards_of(site), TODAY))).pages)
        self.assertNotIn(SITE, site.device_by_key)
