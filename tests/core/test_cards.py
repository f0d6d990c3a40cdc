"""Job cards: what applies where, what comes first, what is judged, and what a tick has to show."""

from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import device, document, read, shipped
from tutelar.core.cards import (
    AT_ONCE,
    PHASES,
    Card,
    NotTickable,
    Row,
    Tick,
    UnreadableCards,
    card_of,
    cards_of,
    first_phase,
    items_of,
    read_cards,
    shown_with,
)
from tutelar.core.cards.facts import known_words
from tutelar.core.cards.item import faulty_circle
from tutelar.core.site import Site

DEMO = read(shipped())
OWN = {"key": "roof", "phase": "mounting", "text": "Roof photographed", "reason": "Asked later", "when": ["camera"]}


def site(ticks: list[dict[str, Any]], **of_device: Any) -> Site:
    raw = document([device(1, mac="02:00:00:00:00:01", **of_device)])
    raw["checklist"] = [{"subject": "d-1", "state": "done", **tick} for tick in ticks]
    return read(raw)


def row(card: Card, key: str) -> Row:
    return next(row for row in card.rows if row.item.key == key)


def only(where: Site) -> Card:
    return card_of(where, where.devices[0])


class Shipped(TestCase):
    def test_every_word_is_known_every_wait_leads_somewhere_and_every_word_has_a_use(self) -> None:
        items = items_of()
        keys = [item.key for item in items]
        self.assertEqual(len(keys), len(set(keys)))
        for item in items:
            for word in (one.removeprefix("!") for words in item.when for one in words.split("|")):
                self.assertIn(word, known_words(), item.key)
            self.assertLessEqual(set(item.after), set(keys), item.key)
            if item.evidence.kind == "choice":
                self.assertGreaterEqual(len(item.evidence.options), 2, item.key)
        self.assertEqual({item.phase for item in items}, set(PHASES))
        self.assertEqual(faulty_circle(items), set())

    def test_a_plain_dome_has_at_most_nine_items_and_no_card_shows_more_than_seven_at_once(self) -> None:
        cards = cards_of(DEMO)
        domes = [card for card in cards if card.device is not None and card.device.model == "larkmoor-dome-4"]
        self.assertTrue(domes)
        for card in domes:
            self.assertLessEqual(len(card.rows), 9, card.subject)
        for card in cards:
            self.assertTrue(0 < len(card.now) <= AT_ONCE, card.subject)
            self.assertEqual(len({shown.item.phase for shown in card.now}), 1)
        self.assertEqual(first_phase(cards), "before-leaving")

    def test_each_kind_of_work_brings_its_own_items(self) -> None:
        outdoors = {item.item.key for item in only(site([], outdoors=True)).rows}
        plain = {item.item.key for item in only(site([])).rows}
        wifi = {item.item.key for item in only(site([], medium="wifi", wifi_mac="02:00:00:00:00:09")).rows}
        used = {item.item.key for item in only(site([], used=True)).rows}
        self.assertEqual(outdoors - plain, {"rating-fits", "rain-hood", "earth"})
        self.assertEqual(wifi - plain, {"wifi-joined", "wifi-signal"})
        self.assertEqual(used - plain, {"purchase-kept"})


class Ticks(TestCase):
    def test_one_item_waits_for_the_other_and_a_tick_of_another_unit_does_not_count(self) -> None:
        card = only(site([]))
        self.assertEqual(
            (row(card, "masks").state, row(card, "masks").waits_for), ("waits", row(card, "angle").item.text)
        )
        card = only(site([{"item": "angle"}]))
        self.assertEqual((row(card, "angle").state, row(card, "masks").state), ("done", "open"))
        card = only(site([{"item": "angle", "x-unit": "02:00:00:00:00:77"}]))
        self.assertEqual((row(card, "angle").state, row(card, "masks").state), ("open", "waits"))
        card = only(site([{"item": "angle", "x-unit": "02:00:00:00:00:01", "state": "not-needed", "note": "fixed"}]))
        self.assertEqual((row(card, "angle").state, row(card, "masks").state), ("not-needed", "open"))

    def shown(self, where: Site, key: str, tick: Tick) -> dict[str, Any]:
        card = only(where)
        return shown_with(where, card.device, row(card, key), tick)

    def refused(self, where: Site, key: str, tick: Tick) -> tuple[str, str]:
        with self.assertRaises(NotTickable) as caught:
            self.shown(where, key, tick)
        return caught.exception.field, str(caught.exception)

    def test_a_tick_shows_what_its_item_wants_or_says_why(self) -> None:
        here = site([])
        unit = {"x-unit": "02:00:00:00:00:01"}
        self.assertEqual(self.refused(here, "label-photographed", Tick("done"))[0], "photo")
        self.assertEqual(
            self.shown(here, "label-photographed", Tick("done", photo="a.jpg")), {**unit, "x-photo": "a.jpg"}
        )
        self.assertEqual(self.refused(here, "film-off", Tick("not-needed")), ("note", "Say why it is not needed."))
        self.assertEqual(self.refused(here, "masks", Tick("done", value="masked"))[0], "item")
        self.assertEqual(
            self.refused(site([{"item": "angle"}]), "masks", Tick("done", value="perhaps")),
            ("value", "'perhaps' is none of 'nothing to mask' or 'masked'."),
        )
        self.assertEqual(
            self.refused(here, "fixings", Tick("done", value=3.0, of=4.0)),
            ("note", "3 of 4: 1 missing. Put it right, or say why it stays so."),
        )
        kept = self.shown(here, "fixings", Tick("done", "one thread is torn", 3.0, 4.0))
        self.assertEqual(kept, {**unit, "x-value": 3.0, "x-of": 4.0})
        self.assertEqual(self.refused(here, "fixings", Tick("done", value=4.0))[1], "A number is missing: of how many.")
        self.assertEqual(self.refused(site([], outdoors=True), "earth", Tick("done"))[0], "note")
        self.assertEqual(self.shown(here, "film-off", Tick("open")), {})

    @given(st.floats(-200, 60), st.booleans())
    def test_a_signal_is_judged_by_its_number_alone(self, dbm: float, said: bool) -> None:
        where = site([{"item": "wifi-joined", "note": "the caretaker"}], medium="wifi")
        tick = Tick("done", "no better place" if said else "", dbm)
        if said or -70 <= dbm <= 0:
            self.assertEqual(self.shown(where, "wifi-signal", tick)["x-value"], dbm)
        else:
            self.assertEqual(self.refused(where, "wifi-signal", tick)[0], "note")


class Judged(TestCase):
    def verdict(self, raw: dict[str, Any], key: str, value: Any) -> tuple[bool, str] | None:
        subject = raw["devices"][0]["key"]
        raw["checklist"] = [{"subject": subject, "item": key, "state": "done", "x-value": value, "note": "so"}]
        where = read(raw)
        found = row(card_of(where, where.devices[0]), key).verdict
        return None if found is None else (found.right, found.said)

    def test_a_country_is_held_against_the_time_zone(self) -> None:
        raw = document([device(1, "larkmoor-rec-8")])
        raw["site"]["time_zone"] = "Europe/Dublin"
        self.assertEqual(self.verdict(raw, "region", "Ireland"), (True, "Ireland keeps the time of Europe/Dublin."))
        self.assertEqual((self.verdict(raw, "region", "US") or (None, ""))[0], False)
        self.assertIsNone(self.verdict(raw, "region", "Atlantis"))

    def test_a_rating_is_held_against_the_place(self) -> None:
        raw = document([device(1, outdoors=True)])
        raw["models"] = [{**model, "outdoor": False} for model in raw["models"]]
        self.assertEqual((self.verdict(raw, "rating-fits", None) or (None, ""))[0], False)

    def test_a_packet_size_is_held_against_the_line(self) -> None:
        raw = document([device(1, "larkmoor-rec-8")])
        raw["links"] = [{"kind": "relays", "from": "d-1", "to": "relay"}]
        raw["internet"] = {"connection": "line", "mtu": 1492}
        self.assertEqual(self.verdict(raw, "packet-typed", 1492), (True, "1492: ping payload 1464, TCP segment 1452."))
        self.assertEqual((self.verdict(raw, "packet-typed", 1500) or (None, ""))[0], False)
        self.assertEqual((self.verdict(raw, "packet-typed", 900) or (None, ""))[0], False)


class Firm(TestCase):
    def faults(self, **raw: Any) -> list[tuple[str, str]]:
        with self.assertRaises(UnreadableCards) as caught:
            read_cards(raw)
        return caught.exception.faults

    def test_a_firm_adds_replaces_and_switches_off(self) -> None:
        file = read_cards({"items": [OWN, {**OWN, "key": "film-off"}], "off": ["angle", "film-off"]})
        where = site([])
        keys = {line.item.key: line for line in card_of(where, where.devices[0], items_of(file)).rows}
        self.assertEqual(("roof" in keys, "angle" in keys), (True, False))
        self.assertEqual(keys["film-off"].item.text, "Roof photographed")
        self.assertEqual(keys["masks"].state, "open")  # what it waited for is not used here

    def test_what_is_wrong_in_a_file_is_named(self) -> None:
        self.assertIn("'cameraa'", self.faults(items=[{**OWN, "when": ["cameraa"]}])[0][1])
        self.assertEqual(self.faults(items=[OWN, OWN])[0][0], "items[1].key")
        self.assertIn("'nowhere'", self.faults(items=[{**OWN, "after": ["nowhere"]}])[0][1])
        self.assertIn("circle", self.faults(items=[{**OWN, "after": ["roof"]}])[0][1])
        self.assertIn("'rooof'", self.faults(off=["rooof"])[0][1])
        self.assertEqual(self.faults(items=[{**OWN, "phase": "lunch"}])[0][0], "items[0].phase")
        self.assertIn("two options", self.faults(items=[{**OWN, "evidence": {"kind": "choice"}}])[0][1])

    @given(st.lists(st.sampled_from(sorted(item.key for item in items_of())), unique=True))
    def test_whatever_is_switched_off_nothing_waits_for_it(self, off: list[str]) -> None:
        items = items_of(read_cards({"off": off}))
        for card in cards_of(DEMO, items):
            there = {line.item.text for line in card.rows}
            self.assertFalse({line.item.key for line in card.rows} & set(off))
            for line in card.rows:
                self.assertTrue(line.waits_for is None or line.waits_for in there)
