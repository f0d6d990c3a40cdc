"""Who may open what when, what panels know, and cards, against rules written another way on random sites."""

import hashlib
import json
from datetime import date, datetime, timedelta
from itertools import pairwise
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import device, document, read
from tutelar.core.access import AccessIndex, CardRefused, access_problems, decode, encode, may, standings
from tutelar.core.access.cards import KNOWN, wrong_format
from tutelar.core.access.week import week_of
from tutelar.core.check import check
from tutelar.core.site import UnreadableSite
from tutelar.core.site.access import CardField, CardFormat, Parity

WEEK = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
times = st.integers(0, 48).map(lambda half: f"{half // 2:02}:{half % 2 * 30:02}")
spans = st.lists(st.tuples(times, times).filter(lambda span: span[0] < span[1]).map(list), max_size=2)
days = st.dictionaries(
    st.sampled_from([*WEEK[1:], "holiday"]), spans | st.sampled_from(["mon", "sun", "tue"]), max_size=5
)
frames = st.builds(lambda mon, more: {"mon": mon, **more}, spans, days)
keys = lambda word, number: st.sampled_from([f"{word}-{at}" for at in range(1, number + 1)])  # noqa: E731
some = lambda what: st.lists(what, max_size=3, unique=True)  # noqa: E731
cards = st.fixed_dictionaries(
    {"format": st.just("w26"), "number": st.integers(0, 9), "lost": st.booleans()}, optional={"facility": st.just(7)}
)
dates = st.dates(date(2027, 3, 10), date(2027, 3, 24)).map(str)


@st.composite
def sites(draw: st.DrawFn) -> dict[str, Any]:
    """Return a document with a few people, doors, frames and rules."""
    people = [
        {
            "key": f"p-{at}",
            "name": f"Person {at}",
            "groups": draw(some(keys("team", 2))),
            "cards": draw(st.lists(cards, max_size=2)),
        }
        | ({"valid_from": draw(dates)} if draw(st.booleans()) else {})
        | ({"valid_to": draw(dates)} if draw(st.booleans()) else {})
        for at in (1, 2, 3)
    ]
    rules = [
        {
            "key": f"r-{at}",
            "people": draw(some(keys("p", 3) | keys("team", 2))),
            "doors": draw(some(keys("door", 3) | keys("area", 2))),
        }
        | draw(st.sampled_from([{}, {"frame": None}, {"frame": "f-1"}, {"frame": "f-2"}, {"frame": "gone"}]))
        for at in range(draw(st.integers(0, 4)))
    ]
    doors = [
        {
            "key": f"door-{at}",
            "panel": draw(st.sampled_from(["d-1", "d-2", None])),
            "number": at,
            "unlock_s": draw(st.sampled_from([5, 5.5])),
            "groups": draw(some(keys("area", 2))),
        }
        for at in (1, 2, 3)
    ]
    access = {
        "frames": [{"key": f"f-{at}", "name": "Frame", "week": draw(frames)} for at in (2, 1)],
        "holidays": [{"date": day, "name": "Harbour day"} for day in draw(st.lists(dates, max_size=2, unique=True))],
        "people": people,
        "rules": rules,
    }
    return document([device(1), device(2)], doors=doors, access=access)


def spans_of(week: dict[str, Any], day: str) -> list[Any]:
    seen = []
    while day not in seen:
        seen.append(day)
        said = week.get(day, week["sun"] if day == "holiday" and "sun" in week else week["mon"])
        if not isinstance(said, str):
            return list(said)
        day = said
    return []


def verdict(
    raw: dict[str, Any], person: dict[str, Any], door: dict[str, Any], when: datetime
) -> tuple[set[str], list[Any]]:
    """Return (keys of rules that grant, [rule, code] of the others)."""
    access, grants, refused = raw["access"], set(), []
    holidays = {item["date"] for item in access["holidays"]}
    day = "holiday" if str(when.date()) in holidays else WEEK[when.weekday()]
    live = [card for card in person["cards"] if not card["lost"]]
    no_card = None if live else "card-lost" if person["cards"] else "no-card"
    for rule in access["rules"]:
        frame = next((item for item in access["frames"] if item["key"] == rule.get("frame")), None)
        own = spans_of(frame["week"], day) if frame else []
        code = (
            "group"
            if not {person["key"], *person["groups"]} & {*rule["people"]}
            else "door"
            if not {door["key"], *door["groups"]} & {*rule["doors"]}
            else "not-yet"
            if str(when.date()) < person.get("valid_from", "0")
            else "over"
            if str(when.date()) > person.get("valid_to", "9")
            else "day"
            if rule.get("frame") and not own
            else "time"
            if rule.get("frame") and not any(begin <= f"{when:%H:%M}" < end for begin, end in own)
            else no_card
        )
        if code is None:
            grants.add(rule["key"])
        else:
            refused.append([rule["key"], code])
    if no_card and no_card not in [code for _, code in refused]:
        refused.append([None, no_card])
    return grants, refused


def told(raw: dict[str, Any], panel: str) -> str:
    """Return the digest of what a panel has to know, made from the file's own JSON."""
    access = raw["access"]
    doors = [door for door in raw["doors"] if door["panel"] == panel]
    ends = {key for door in doors for key in (door["key"], *door["groups"])}
    rules = [rule for rule in access["rules"] if ends & {*rule["doors"]}]
    names = {key for rule in rules for key in rule["people"]}
    people = [person for person in access["people"] if names & {person["key"], *person["groups"]}]
    formats = {card["format"] for person in people for card in person["cards"]}
    wanted = {
        "doors": doors,
        "rules": rules,
        "frames": [item for item in access["frames"] if item["key"] in {rule.get("frame") for rule in rules}],
        "people": people,
        "formats": [item for item in access.get("formats", []) if item["key"] in formats],
    }
    parts = {name: sorted(items, key=lambda item: item["key"]) for name, items in wanted.items()}
    parts["holidays"] = sorted(access["holidays"], key=lambda item: item["date"])
    bare = {name: [{k: v for k, v in item.items() if k != "name"} for item in items] for name, items in parts.items()}
    text = json.dumps(bare, sort_keys=True, separators=(",", ":"), ensure_ascii=False)
    return hashlib.sha256(text.encode()).hexdigest()


class Opening(TestCase):
    @given(sites(), st.integers(0, 2), st.integers(0, 2), st.integers(0, 14 * 48))
    def test_who_may_open_what_is_as_every_rule_says(
        self, raw: dict[str, Any], person: int, door: int, half: int
    ) -> None:
        when = datetime(2027, 3, 10) + timedelta(minutes=30 * half)  # noqa: DTZ001 - the site's own time
        known = AccessIndex(read(raw))
        p, d = raw["access"]["people"][person], raw["doors"][door]
        found = may(known, known.people[p["key"]], known.doors[d["key"]], when)
        grants, refused = verdict(raw, p, d, when)
        self.assertEqual({item.rule for item in found.because}, grants)
        self.assertEqual([[item.rule, item.code] for item in found.refused], refused)
        self.assertEqual(found.may, bool(grants))
        self.assertFalse(found.now)
        self.assertTrue(all(item.why for item in (*found.because, *found.refused)))

    @given(sites())
    def test_a_panel_has_to_know_what_the_file_says_and_now_counts_what_was_sent(self, raw: dict[str, Any]) -> None:
        site = read(raw)
        found = {item.panel: item for item in standings(AccessIndex(site))}
        self.assertEqual(set(found), {door["panel"] for door in raw["doors"] if door["panel"]})
        for panel, standing in found.items():
            self.assertEqual(standing.digest, told(raw, panel))
        old = {"digest": "old", "at": "2027-03-02T09:00:00+01:00"}
        fresh = {"at": "2027-03-02T08:30:00+00:00", "by": "Ari"}  # later, though it reads earlier
        sent = [
            row
            for panel, standing in found.items()
            for row in ({"panel": panel, "digest": standing.digest, **fresh}, {"panel": panel, **old})
        ]
        after = read({**raw, "access": {**raw["access"], "sent": sent}})
        self.assertTrue(all(item.is_sent for item in standings(AccessIndex(after))))
        codes = [item.code for item in access_problems(after)]
        self.assertNotIn("access.not-sent", codes)
        self.assertEqual([item.code for item in access_problems(site)].count("access.not-sent"), len(found))

    @given(sites(), st.integers(0, 13 * 48))
    def test_the_week_of_a_person_is_what_every_question_would_be_told(self, raw: dict[str, Any], half: int) -> None:
        known = AccessIndex(read(raw))
        when = datetime.fromisoformat("2027-03-11T00:00") + timedelta(minutes=half * 30)
        for person in known.people.values():
            week = week_of(known, person)
            for door in known.doors.values():
                found = may(known, person, door, when)
                own = week.get(door.key, {}).get(known.day_of(when.date()), [])
                inside = any(begin <= when.hour * 60 + when.minute < end for begin, end in own)
                outside = {item.code for item in found.refused} & {"not-yet", "over", "card-lost", "no-card"}
                self.assertEqual(found.may or (inside and bool(outside)), inside)
                self.assertTrue(all(end < begin for (_, end), (begin, _) in pairwise(own)))
                self.assertEqual(found.nearest is None, not found.refused)

    def test_midnight_belongs_to_the_day_that_begins(self) -> None:
        week = {"mon": [["20:00", "24:00"]], "tue": [["00:00", "01:00"]], "wed": []}
        person = {
            "key": "p",
            "cards": [{"format": "w26", "number": 1}],
            "valid_from": "2027-03-15",
            "valid_to": "2027-03-16",
        }
        access = {
            "frames": [{"key": "night", "week": week}],
            "people": [person],
            "rules": [{"key": "r", "people": ["p"], "doors": ["d"], "frame": "night"}],
        }
        known = AccessIndex(read(document([], doors=[{"key": "d"}], access=access)))
        moments = {
            "2027-03-15T23:59": True,
            "2027-03-16T00:00": True,
            "2027-03-16T01:00": False,
            "2027-03-17T00:00": False,
        }
        for text, opens in moments.items():
            found = may(known, known.people["p"], known.doors["d"], datetime.fromisoformat(text))
            self.assertEqual(found.may, opens, text)
            self.assertIsNone(found.standing)


class Cards(TestCase):
    def test_the_worked_example_of_26_bits(self) -> None:
        found = encode(KNOWN, {"facility": 114, "number": 20517})
        self.assertEqual(found, ("00111001001010000001001010", 0x725025, "725025"))
        self.assertEqual(decode(KNOWN, "0 01110010 0101000000100101 0"), ({"facility": 114, "number": 20517}, True))
        self.assertFalse(decode(KNOWN, "1 01110010 0101000000100101 0").parity_ok)
        with self.assertRaises(CardRefused) as refused:
            encode(KNOWN, {"number": 9018442511037})
        self.assertEqual((refused.exception.field, refused.exception.limit), ("number", 65535))
        self.assertEqual(refused.exception.cut, 9018442511037 & 65535)

    @given(st.data(), st.integers(1, 60), st.integers(1, 64), st.booleans())
    def test_what_is_encoded_is_decoded_and_one_wrong_bit_is_noticed(
        self, data: st.DataObject, low: int, high: int, even: bool
    ) -> None:
        size = low + high + 2
        item = CardFormat(
            key="long",
            bits=size,
            fields=(CardField(name="facility", first=1, bits=low), CardField(name="number", first=1 + low, bits=high)),
            parity=(
                Parity(bit=size - 1, even=even, first=0, bits=size - 1),
                Parity(bit=0, even=True, first=1, bits=low),
            ),
        )
        self.assertIsNone(wrong_format(item))
        numbers = {"facility": data.draw(st.integers(0, 2**low - 1)), "number": data.draw(st.integers(0, 2**high - 1))}
        found = encode(item, numbers)
        self.assertEqual(decode(item, found.bits), (numbers, True))
        self.assertEqual(found.value, (numbers["facility"] << high) + numbers["number"])
        self.assertEqual(int(found.hex, 16), found.value)
        at = data.draw(st.integers(0, size - 1))
        turned = found.bits[:at] + ("1" if found.bits[at] == "0" else "0") + found.bits[at + 1 :]
        self.assertFalse(decode(item, turned).parity_ok)


class Faults(TestCase):
    def codes(self, **more: Any) -> list[tuple[str, tuple[str, ...]]]:
        raw = document([device(1), device(2), device(3)], **more)
        raw["models"].append({"key": "reads-26", "family": "reader", "card_bits": [26, 34]})
        raw["models"].append({"key": "takes-37", "family": "panel", "card_bits": [37], "capacity": {"doors": 2}})
        raw["devices"][1]["model"], raw["devices"][2]["model"] = "reads-26", "takes-37"
        return [(item.code, item.subjects) for item in check(read(raw)) if item.code.split(".")[0] in OURS]

    def test_doors_with_the_wrong_sense_or_no_way_out_are_named(self) -> None:
        doors = [
            {"key": "a", "lock": "magnet", "relay": "no", "exit_button": True},
            {"key": "b", "lock": "strike-fail-secure", "relay": "nc", "escape": True},
            {"key": "c", "lock": "strike-fail-safe", "relay": "nc"},
            {"key": "d", "lock": "magnet", "relay": "nc"},
            {"key": "e", "lock": "gate", "relay": "no"},
            {"key": "f", "panel": "d-3", "number": 1},
            {"key": "g", "panel": "d-3", "number": 1},
            {"key": "h", "panel": "d-3", "number": 3},
        ]
        self.assertEqual(
            set(self.codes(doors=doors)),
            {
                ("door.relay-sense", ("a",)),
                ("door.relay-sense", ("b",)),
                ("door.escape-fail-secure", ("b",)),
                ("door.no-exit", ("d",)),
                ("door.number-taken", ("f", "g")),
                ("door.too-many", ("h", "d-3")),
            },
        )

    def test_frames_rules_and_cards_that_cannot_be_are_named(self) -> None:
        access = {
            "frames": [
                {"key": "f", "week": {"mon": [["08:00", "12:00"], ["11:00", "13:00"]], "tue": [["09:00", "09:00"]]}},
                {"key": "g", "week": {"mon": [], "tue": "wed", "wed": "tue"}},
            ],
            "people": [
                {"key": "p", "groups": ["team"], "cards": [{"format": "w26", "facility": 256, "number": 5}]},
                {
                    "key": "q",
                    "cards": [{"format": "w26", "facility": 256, "number": 5}, {"format": "w99", "number": 1}],
                },
            ],
            "rules": [
                {"key": "r", "people": ["team", "nobody"], "doors": ["door", "nowhere"], "frame": "never"},
            ],
            "sent": [{"panel": "d-9", "digest": "x", "at": "2027-03-02T09:00:00+00:00"}],
        }
        doors = [{"key": "door", "panel": "d-3", "number": 1}]
        links = [{"kind": "reads-for", "from": "d-2", "to": "d-3", "slot": 1}]
        found = self.codes(access=access, doors=doors, links=links)
        self.assertEqual(
            sorted(found),
            sorted(
                [
                    ("frame.overlap", ("f",)),
                    ("frame.backwards", ("f",)),
                    ("access.unknown", ("g",)),
                    ("access.unknown", ("g",)),
                    ("card.too-large", ("p",)),
                    ("card.too-large", ("q",)),
                    ("card.twice", ("p", "q")),
                    ("access.unknown", ("q",)),
                    ("access.unknown", ("r",)),
                    ("access.unknown", ("r",)),
                    ("access.unknown", ("r",)),
                    ("access.unknown", ("d-9",)),
                    ("card.bits-differ", ("door", "d-3")),
                    ("card.bits-differ", ("door", "d-2", "d-3")),
                    ("access.not-sent", ("d-3",)),
                ]
            ),
        )

    def test_what_cannot_be_read_is_refused_where_it_stands(self) -> None:
        for access, path, words in (
            (
                {"frames": [{"key": "f", "week": {"mon": [["08:00", "25:00"]]}}]},
                "access.frames[0].week.mon[0][1]",
                "25:00",
            ),
            ({"frames": [{"key": "f", "week": {"tue": []}}]}, "access.frames[0].week", "no 'mon'"),
            ({"people": [{"key": "p", "valid_to": "2027-02-30"}]}, "access.people[0].valid_to", "2027-02-30"),
            ({"people": [{"key": "p", "cards": [{"format": "w26"}]}]}, "access.people[0].cards[0].number", "missing"),
            ({"people": [{"key": "p", "nick": "Len"}]}, "access.people[0].nick", "unknown here"),
        ):
            with self.assertRaises(UnreadableSite) as refused:
                read(document([], access=access))
            self.assertEqual(refused.exception.faults[0][0], path)
            self.assertIn(words, refused.exception.faults[0][1])


OURS = ("door", "access", "frame", "card")
