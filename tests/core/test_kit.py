"""Delivery notes with any headings, labels, names by pattern, and what a used device entails."""

from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import device, document, read
from tutelar.core.kit.columns import FIELDS, field_of_heading, heading_row, match_columns
from tutelar.core.kit.delivery import Row, delivery
from tutelar.core.kit.labels import read_label, scan
from tutelar.core.kit.names import Stickers, names_by_pattern
from tutelar.core.kit.used import used_steps
from tutelar.core.site import Site
from tutelar.field.tables import read_table

MACS = st.integers(1, 2**40 - 1).map(lambda number: f"{number << 1 & 0xFEFFFFFFFFFF | 0x020000000000:012x}")
SPELLINGS = (
    lambda mac: ":".join(mac[i : i + 2] for i in range(0, 12, 2)),
    lambda mac: "-".join(mac[i : i + 2] for i in range(0, 12, 2)).upper(),
    lambda mac: ".".join(mac[i : i + 4] for i in range(0, 12, 4)),
    lambda mac: mac.upper(),
    lambda mac: f" {mac[:6]}-{mac[6:]} ",
)


def halls(*devices: dict[str, Any], **more: Any) -> Site:
    return read(document(list(devices), **more))


def one(site: Site, fields: list[str | None], *cells: str, **defaults: str) -> Row:
    return delivery(site, fields, [(1, cells)], defaults)[0]


CELLS = (
    *("", "", "4", "4 x", "3 Stk.", "1,000", "Dome 4", "2 x Dome 4", "Dome 4 / Dome 4", "Total", "Cable", "with cover"),
    *("S1", "S2", "PG-1/PG-2/PG-3", "S1/S1", "cam-9", "02:1a:4b:00:00:aa", "02:1a:4b:00:00:01", "/", "//", ";", "0"),
    *("O2:1A:4B:00:00:0l/02:1a:4b:00:00:bb", "10.20.30.60", "٣", "½", "yes", "halls"),
)


class Columns(TestCase):
    def test_headings_in_several_languages(self) -> None:
        for heading, field in {
            "MAC-Adresse": "mac",
            "MAC address (label)": "mac",
            "Hw. Address": "mac",
            "S/N": "serial",
            "N° de série": "serial",
            "Seriennummer": "serial",
            "Serial No.": "serial",
            "Artikel": "model",
            "Désignation": "model",
            "Qty": "count",
            "Gerätename": "name",
            "Anzahl": "count",
            "Standort": "place",
            "IP-Adresse": "address",
            "Price": None,
        }.items():
            self.assertEqual(field_of_heading(heading), field, heading)

    def test_the_heading_is_found_below_the_letter_head(self) -> None:
        rows = [
            ["Larkmoor Distribution"],
            ["Delivery note 4711", "8 June 2026"],
            [],
            ["Pos", "Article", "Serial number", "MAC"],
            ["1", "Dome 4", "S1", "021A4B000001"],
        ]
        self.assertEqual(heading_row(rows), 3)
        self.assertEqual(match_columns(halls(), rows, 3), [None, "model", "serial", "mac"])

    def test_columns_without_headings_are_told_by_what_stands_in_them(self) -> None:
        rows = [["hall", "02-1A-4B-00-00-01", "Dome 4", "10.20.30.9"], ["Yard", "021a.4b00.0002", "Record 8", ""]]
        self.assertEqual(match_columns(halls(), rows, None), ["place", "mac", "model", "address"])


class Delivery(TestCase):
    @given(MACS, st.sampled_from(SPELLINGS))
    def test_every_spelling_of_a_hardware_address_is_the_same_device(self, mac: str, spell: Any) -> None:
        tidy = SPELLINGS[0](mac)
        row = one(halls(device(1, mac=tidy)), ["mac", "model"], spell(mac), "Dome 4")
        self.assertEqual(row.action, "same")
        added = one(halls(), ["mac", "model"], spell(mac), "Dome 4")
        self.assertEqual((added.action, added.parts[0]["mac"]), ("add", tidy))

    def test_known_devices_change_and_others_are_added(self) -> None:
        site = halls(device(1, mac=None, serial="S1"), device(2))
        changed = one(site, ["serial", "mac", "place"], "S1", "021A4B0000AA", "yard", model="Dome 4", network="lan")
        self.assertEqual(changed.parts, ({"key": "d-1", "mac": "02:1a:4b:00:00:aa", "place": "Yard"},))
        added = one(site, ["model", "count"], "larkmoor dome 4", "3", place="Yard")
        self.assertEqual([part["key"] for part in added.parts], ["cam-01", "cam-02", "cam-03"])
        self.assertEqual({part["network"] for part in added.parts}, {"lan"})

    def test_what_cannot_be_is_refused_with_its_value(self) -> None:
        site = halls(
            device(1),
            device(2, serial="S2"),
            device(3, address="10.20.30.50"),
            device(4, address="10.20.30.51", locked=True),
        )
        for fields, cells, words in (
            (["mac", "model"], ["02:1a:4b:00:01", "Dome 4"], "twelve digits"),
            (["model"], ["Dome 5"], "Larkmoor Dome 4 is the nearest"),
            (["model"], ["Aeroplane"], "No model is called “Aeroplane”"),
            (["mac", "serial"], ["02:1a:4b:00:00:01", "S2"], "Two devices in one row"),
            (["model", "count"], ["Dome 4", "half"], "not a number"),
            (["model", "count"], ["Dome 4", "nan"], "not a number"),
            (["model", "count"], ["Dome 4", "1e999"], "not a number"),
            (["model", "count"], ["Dome 4", "501"], "1 to 500"),
            (["model", "name"], ["Dome 4", "x" * 201], "201 characters"),
            (["model", "address", "count"], ["Dome 4", "10.20.30.60", "2"], "share one address"),
            (["model", "address"], ["Dome 4", "10.20.30.50"], "belongs to Device 3 already"),
            (["key", "address"], ["D-4", "10.20.30.61"], "locked at 10.20.30.51"),
            (["model", "mac", "count"], ["Dome 4", "021A4B0000AA", "2"], "cannot share"),
            (["model", "network"], ["Dome 4", "cellar"], "No network is called “cellar”; there is Halls"),
            (["model", "address"], ["Dome 4", "10.20.30.999"], "10.20.30.999"),
            (["name"], ["Gate"], "No model stands in it"),
            (["model", "addressing"], ["Dome 4", "magic"], "“magic”"),
        ):
            row = one(site, fields, *cells)  # type: ignore[arg-type]
            self.assertEqual(row.action, "refuse", cells)
            self.assertIn(words, row.sentence)

    def test_numbers_lists_and_rows_that_go_on(self) -> None:
        fields = ["count", "model", "serial"]
        for rows, keys, serials in (
            ([["4 x", "Dome 4", ""]], 4, []),
            ([["3 Stk.", "Dome 4", ""]], 3, []),
            ([["", "2 x Dome 4", ""]], 2, []),
            ([["3", "Dome 4", "PG-1/PG-2/PG-3"]], 3, ["PG-1", "PG-2", "PG-3"]),
            ([["", "Dome 4", "PG-1/PG-2/PG-3"]], 3, ["PG-1", "PG-2", "PG-3"]),
            ([["", "Dome 4", "A12/34"]], 1, ["A12/34"]),
            ([["3", "Dome 4", "S1"], ["", "", "S2"], ["", "", "S3"]], 3, ["S1", "S2", "S3"]),
            ([["2", "Dome 4", ""], ["", "", "S1"], ["", "", "S2"]], 2, ["S1", "S2"]),
            ([["2", "Dome 4", ""], ["", "with white cover", ""]], 2, []),
            ([["2", "Dome 4", "S1"], ["", "", "S2"], ["", "", ""]], 2, ["S1", "S2"]),
        ):
            found = delivery(halls(), fields, list(enumerate(rows, 1)), {})
            self.assertEqual(found[0].action, "add", found)
            said = {row.sentence for row in found[1:]}
            self.assertLessEqual(said, {"Goes on from row 1.", "Nothing stands in it."})
            self.assertEqual(len(found[0].parts), keys, rows)
            self.assertEqual([part["serial"] for part in found[0].parts if "serial" in part], serials)

    @given(st.data())
    def test_every_row_is_answered_once_and_no_two_devices_share_an_identity(self, data: st.DataObject) -> None:
        fields = data.draw(st.lists(st.sampled_from([*FIELDS, None]), min_size=1, max_size=6, unique=True))
        cells = st.lists(st.sampled_from(CELLS), min_size=len(fields), max_size=len(fields))
        rows = list(enumerate(data.draw(st.lists(cells, min_size=1, max_size=6)), 1))
        defaults = {"model": data.draw(st.sampled_from(["", "larkmoor-dome-4"]))}
        found = delivery(halls(device(1), device(2)), fields, rows, defaults)
        self.assertEqual(sorted(row.line for row in found), [line for line, _ in rows])
        added = [part for row in found if row.action == "add" for part in row.parts]
        for name in ("key", "mac", "serial", "address"):
            values = [part[name] for part in added if part.get(name)]
            self.assertEqual(len(values), len(set(values)), (name, rows))

    def test_a_model_written_small_and_a_name_too_many_are_rows_of_their_own(self) -> None:
        rows = [["2", "Dome 4", ""], ["", "larkmoor-dome-4", ""], ["2", "Dome 4", "S2"], ["", "", "S3"], ["", "", "S4"]]
        found = delivery(halls(), ["count", "model", "serial"], list(enumerate(rows, 1)), {"model": "larkmoor-dome-4"})
        self.assertEqual([row.action for row in found], ["add", "add", "add", "skip", "add"], found)
        self.assertEqual([part["serial"] for part in found[2].parts], ["S2", "S3"])

    def test_what_is_no_device_is_left_out_and_said(self) -> None:
        for cells, words in (
            (["", "Total", ""], "total or a charge"),
            (["1", "Versandkosten netto", ""], "total or a charge"),
            (["2", "Cat 6 cable, roll of 305 m", ""], "cable or a fitting"),
        ):
            row = delivery(halls(), ["count", "model", "serial"], [(1, cells)], {})[0]
            self.assertEqual(row.action, "skip", row)
            self.assertIn(words, row.sentence)
        for cells in (["2", "Dome camera with wall mount", ""], ["1,000", "Dome 4", ""], ["3", "Dome 4", "S1/S2"]):
            row = delivery(halls(), ["count", "model", "serial"], [(1, cells)], {})[0]
            self.assertEqual(row.action, "refuse", row)

    def test_letters_that_look_like_digits_are_read_alike_in_notes_labels_and_tables(self) -> None:
        for text in ("O2:1A:4B:00:00:0l", "02-1А-4В-OO-00-01", "０2:1a:4b:00:00:01"):
            mac = "02:1a:4b:00:00:01"
            note = delivery(halls(), ["mac", "model"], [(1, [text, "Dome 4"])], {})[0]
            self.assertEqual(note.parts[0]["mac"], mac, text)
            self.assertEqual(read_label(text).mac, mac, text)
            self.assertEqual(read_table(f"10.20.30.7,{text},gate")[1][0].mac, mac, text)
        self.assertEqual(read_label("OB1234567890").serial, "OB1234567890", "closed up it may be a serial number")

    def test_a_value_twice_in_one_note_is_refused_the_second_time(self) -> None:
        rows = [(1, ["Dome 4", "S7"]), (2, ["Dome 4", "S7"]), (3, ["", ""])]
        found = delivery(halls(), ["model", "serial"], rows, {})
        self.assertEqual([row.action for row in found], ["add", "refuse", "skip"])
        self.assertIn("stands in row 1", found[1].sentence)


class Labels(TestCase):
    def test_codes_of_many_kinds(self) -> None:
        for text, mac, serial in (
            ("021A4B000001", "02:1a:4b:00:00:01", None),
            ("LK4-0001", None, "LK4-0001"),
            ("S/N: LK4-0001 MAC: 02-1A-4B-00-00-01", "02:1a:4b:00:00:01", "LK4-0001"),
            ("MAC=021a4b000001;SN=77", "02:1a:4b:00:00:01", "77"),
            ("hello", None, None),
            ("", None, None),
            ("https://maker.example/q?sn=AB12&mac=021A4B000001", "02:1a:4b:00:00:01", "AB12"),
        ):
            self.assertEqual((read_label(text).mac, read_label(text).serial), (mac, serial), text)

    @given(st.text(max_size=60))
    def test_no_code_breaks_it(self, text: str) -> None:
        site = halls(device(1), device(2, mac=None))
        self.assertTrue(scan(site, site.devices[1], text).sentence)

    def test_a_label_of_another_box_is_said(self) -> None:
        site = halls(device(1), device(2, mac=None, serial=None))
        wrong = scan(site, site.devices[1], "02:1A:4B:00:00:01")
        self.assertEqual((wrong.fits, wrong.device), (False, "d-1"))
        self.assertTrue(scan(site, site.devices[1], "021A4B0000FF").fits)
        self.assertFalse(scan(site, site.devices[0], "021A4B0000FF").fits)


class Names(TestCase):
    def test_names_count_within_place_and_kind_and_avoid_what_is_taken(self) -> None:
        site = halls(device(1, name="Hall camera 1"), device(2), device(3, place="Yard"), device(4))
        self.assertEqual(
            names_by_pattern(site, ["d-2", "d-3", "d-4"], "{place} {kind} {n}"),
            {"d-2": "Hall camera 2", "d-3": "Yard camera 1", "d-4": "Hall camera 3"},
        )
        for pattern in ("{room} {n}", "{place", "Camera"):
            with self.assertRaises(ValueError):
                names_by_pattern(site, ["d-2", "d-3"], pattern)

    def test_names_stay_within_what_the_device_takes_and_distinct(self) -> None:
        raw = document([device(number, place="Northern car park") for number in range(1, 13)])
        raw["models"][0]["name_rule"] = {"max": 16}
        names = names_by_pattern(read(raw), [f"d-{n}" for n in range(1, 13)], "{place} {kind} {n}")
        self.assertEqual(len(set(names.values())), 12)
        self.assertTrue(all(len(name) <= 16 for name in names.values()))
        self.assertIn("Norther camera 1", names.values())

    def test_stickers_go_on_counting(self) -> None:
        self.assertEqual(Stickers(["cam-07", "cam-24", "rec-9"]).next("camera"), "cam-25")
        self.assertEqual(Stickers([]).next("recorder"), "rec-1")

    def test_a_used_recorder_entails_more_than_a_used_panel(self) -> None:
        site = halls(device(1, "larkmoor-rec-8", used=True), device(2))
        self.assertEqual(len(used_steps(site, site.devices[0])), 4)
        self.assertEqual(used_steps(site, site.devices[1]), [])
