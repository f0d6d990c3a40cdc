"""Proposals, numbers, the ring chain, tables of links."""

from itertools import product
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from tests import so_many
from tests.link_examples import document as every_kind
from tests.samples import demo, device, document, read
from tutelar.core.check import check
from tutelar.core.links.numbering import call_lines, numbers, own_numbers, paging_zones, with_numbers
from tutelar.core.links.packing import Bin, Item, keep_home, pack
from tutelar.core.links.propose import applied, propose
from tutelar.core.links.readiness import gaps
from tutelar.core.links.registry import link_index
from tutelar.core.links.ring import ring_chain
from tutelar.core.links.table import link_table, match_fields, read_links
from tutelar.core.links.wishes import untied
from tutelar.core.planning import plan

RATES = st.sampled_from([1000, 2000, 2500, 4096, 6000])


@st.composite
def packings(draw: st.DrawFn) -> tuple[list[Item], list[Bin]]:
    bins = [
        Bin(draw(st.one_of(st.none(), st.integers(0, 4))), draw(st.one_of(st.none(), st.integers(0, 12_000))))
        for _ in range(draw(st.integers(1, 3)))
    ]
    every = tuple(range(len(bins)))
    allowed = st.one_of(
        st.just(every), st.lists(st.sampled_from(every), unique=True).map(lambda some: tuple(sorted(some)))
    )
    homes = st.one_of(st.none(), st.sampled_from(every))
    items = [Item(draw(RATES), draw(allowed), draw(homes)) for _ in range(draw(st.integers(0, 7)))]
    return items, bins


def most(items: list[Item], bins: list[Bin]) -> int:
    """Return how many items fit at most, by trying every placement."""
    best = 0
    for places in product(*[(None, *item.allowed) for item in items]):
        for at, place in enumerate(bins):
            inside = [item.rate for item, where in zip(items, places, strict=True) if where == at]
            if (place.seats is not None and len(inside) > place.seats) or (
                place.rate is not None and sum(inside) > place.rate
            ):
                break
        else:
            best = max(best, sum(where is not None for where in places))
    return best


class Packing(TestCase):
    @settings(max_examples=so_many(75, 600))
    @given(packings())
    def test_it_leaves_out_no_more_than_every_placement_there_is(self, drawn: tuple[list[Item], list[Bin]]) -> None:
        items, bins = drawn
        best = most(items, bins)
        for found in (pack(items, bins), keep_home(items, bins)):
            for at, place in enumerate(bins):
                inside = [item.rate for item, where in zip(items, found.bins, strict=True) if where == at]
                self.assertTrue(place.seats is None or len(inside) <= place.seats)
                self.assertTrue(place.rate is None or sum(inside) <= place.rate)
            self.assertTrue(
                all(where is None or where in item.allowed for item, where in zip(items, found.bins, strict=True))
            )
            self.assertEqual(len(items) - len(found.left), best)
            self.assertTrue(found.proved)

    def test_equal_recorders_get_equal_shares_in_the_order_of_the_walk(self) -> None:
        found = pack([Item(4000, (0, 1, 2))] * 12, [Bin(16, 64_000)] * 3)
        self.assertEqual(found.bins, (0,) * 4 + (1,) * 4 + (2,) * 4)

    def test_who_can_only_go_to_one_finds_a_seat_there(self) -> None:
        found = pack([*[Item(1000, (0, 1))] * 5, Item(1000, (0,))], [Bin(3, None), Bin(3, None)])
        self.assertEqual(found.bins[-1], 0)
        self.assertEqual(found.left, [])


class Proposals(TestCase):
    def test_the_demo_without_links_is_tied_again_without_a_problem(self) -> None:
        raw = demo()
        raw["links"] = []
        site = read(raw)
        found = propose(link_index(site, plan(site).addresses()))
        self.assertEqual((found.shortfall, found.left, found.proved), ((), ("desk-1",), True))
        after = applied(site, found.changes)
        self.assertEqual([item.code for item in check(after) if item.level != "note"], [])
        self.assertEqual(untied(after), ["desk-1"])
        looked = link_index(after, plan(after).addresses())
        self.assertTrue(all(not gaps(case) for link in after.links if (case := looked.case(link))))
        self.assertEqual(propose(looked).changes, ())
        slots = [link.slot for link in after.links if link.to == "rec-1" and link.kind == "records"]
        self.assertEqual(slots, sorted(slots, key=lambda slot: slot or 0))

    def test_each_limit_of_a_full_recorder_is_told_apart(self) -> None:
        cameras = [device(at) for at in range(2, 7)]
        for capacity, words in (
            ({"channels": 3}, "2 channels short"),
            ({"incoming_mbps": 13}, "Mbit/s short"),
            ({"channels": 9, "licences": 4}, "1 licence or channel short"),
        ):
            raw = document([device(1, "larkmoor-rec-8"), *cameras])
            raw["models"][1]["capacity"] = capacity
            found = propose(link_index(read(raw), {}))
            self.assertIn(words, found.shortfall[0])
            self.assertTrue(found.proved)

    def test_links_that_may_not_move_stay_and_others_move_only_where_a_recorder_is_over(self) -> None:
        rows = [device(1, "larkmoor-rec-8"), device(9, "larkmoor-rec-8"), *(device(at) for at in range(2, 7))]
        links = [{"kind": "records", "from": f"d-{at}", "to": "d-1", "slot": at - 1} for at in range(2, 6)]
        raw = document(rows, links=links)
        self.assertEqual({change.action for change in propose(link_index(read(raw), {})).changes}, {"add"})
        raw["models"][1]["capacity"] = {"channels": 3}
        fixed = propose(link_index(read(raw), {}), fixed=(0, 1))
        moved = [change.position for change in fixed.changes if change.action == "move"]
        self.assertEqual(len(moved), 1)
        self.assertFalse({0, 1} & set(moved))
        self.assertEqual([item.code for item in check(applied(read(raw), fixed.changes)) if item.level == "error"], [])


class Numbering(TestCase):
    @settings(max_examples=so_many(20, 160))
    @given(st.lists(st.one_of(st.none(), st.integers(1, 8)), min_size=1, max_size=7), st.integers(0, 3))
    def test_numbers_are_unique_and_what_is_added_moves_none(self, slots: list[int | None], added: int) -> None:
        def site(many: list[int | None]) -> Any:
            taken: set[int] = set()
            links = []
            for at, wanted in enumerate(many):
                slot = None if wanted in taken else wanted
                taken |= {slot} if slot else set()
                links.append({"kind": "records", "from": f"d-{at + 2}", "to": "d-1", "slot": slot})
            return read(
                document([device(1, "larkmoor-rec-8"), *(device(at + 2) for at in range(len(many)))], links=links)
            )

        first = site(slots)
        numbered = with_numbers(first, numbers(link_index(first, {})))
        held = [link.slot for link in numbered.links if link.slot is not None]
        self.assertEqual(len(held), len(set(held)))
        self.assertTrue(
            all(link.slot == old.slot for link, old in zip(numbered.links, first.links, strict=True) if old.slot)
        )
        more = numbered.model_copy(
            update={"links": (*numbered.links, *site([*slots, *[None] * added]).links[len(slots) :])}
        )
        again = with_numbers(more, numbers(link_index(more, {})))
        self.assertEqual([link.slot for link in again.links[: len(slots)]], [link.slot for link in numbered.links])

    def test_a_short_number_is_free_on_its_desk_too_and_a_full_row_says_so(self) -> None:
        raw = every_kind()
        raw["links"].append({"kind": "steers", "from": "stick-1", "to": "gate-1"})
        row = next(row for row in numbers(link_index(read(raw), {})) if row.source != "kept")
        self.assertEqual((row.number, row.source), (None, "missing"))
        self.assertIn("None of the short numbers 1 to 2", row.why)

    def test_two_meanings_of_one_number_are_problems(self) -> None:
        raw = every_kind()
        raw["links"] += [
            {"kind": "steers", "from": "stick-1", "to": "box-1", "slot": 1},
            {"kind": "pages", "from": "exchange-1", "to": "gate-2", "slot": 4, "address": "239.128.0.3"},
            {"kind": "registers-at", "from": "view-2", "to": "gate-1", "slot": 2},
        ]
        for item in raw["devices"]:
            if item["model"] == "view":
                item["numbers"] = {"floor": -1, "unit": 4}
        said = {item.code for item in check(read(raw))}
        self.assertIn("Short number 1 of Stick 1", " ".join(item.message for item in check(read(raw))))
        self.assertIn("2 master monitors of floor -1, unit 4", " ".join(item.message for item in check(read(raw))))
        self.assertNotIn("paging.zone", said)
        raw["links"][-2]["address"] = "239.64.0.3"  # another address than zone 3 has, with the same last 23 bits
        self.assertEqual(
            [zone.fault for zone in paging_zones(read(raw))], [None, "zone 4 and zone 3 meet on 239.64.0.3 port 5004"]
        )

    def test_registrations_and_lines_are_counted_apart(self) -> None:
        raw = every_kind()
        raw["links"].append({"kind": "calls", "from": "gate-2", "to": "exchange-1", "slot": 202, "account": "201"})
        (row,) = call_lines(read(raw))
        self.assertEqual(row.sentence, "Exchange 1: 2 of 2 registrations on 1 of 1 lines.")
        self.assertIn("extension 201, Exchange 1", own_numbers(read(raw), read(raw).device_by_key["gate-1"]))

    def test_the_station_outlasts_monitors_forwarding_and_a_person(self) -> None:
        raw = every_kind()
        self.assertEqual((ring_chain(read(raw)).needed_s, ring_chain(read(raw)).holds), (41, True))
        raw["policy"] = {"choices": {"door-station": {"ring-time": "40 s"}}}
        problem = next(item for item in check(read(raw)) if item.code == "ring.too-short")
        self.assertIn("at least 41 s (monitors 20 s, forwarding 6 s, a person 15 s)", problem.message)
        raw["policy"] = {"numbering": {"ring": {"monitor_s": 30, "station_s": 51}}}
        self.assertTrue(ring_chain(read(raw)).holds)


class Tables(TestCase):
    def test_what_is_written_reads_back_as_the_same_links(self) -> None:
        for raw in (every_kind(), demo()):
            site = read(raw)
            heads, *rows = link_table(site)
            empty = site.model_copy(update={"links": ()})
            found = read_links(empty, match_fields(heads), list(enumerate(rows, 2)))
            self.assertEqual([row.sentence for row in found if row.action != "add"], [])
            parts = [link.model_dump(mode="json", by_alias=True, exclude_none=True) for link in site.links]
            self.assertEqual([row.part for row in found], parts)
            again = read_links(site, match_fields(heads), list(enumerate(rows, 2)))
            self.assertEqual({row.action for row in again}, {"same"})

    def test_wrong_rows_say_the_value_and_what_would_be_right(self) -> None:
        site = read(every_kind())
        heads: list[str | None] = ["kind", "from", "to", "slot", "side"]
        rows = [
            (["films", "eye-1", "disk-1", "3", ""], "“films” is no kind of link; write one of records"),
            (["records", "eyee-1", "disk-1", "3", ""], "the kit has no “eyee-1”; eye-1 is the nearest"),
            (["records", "eye-1", "view-1", "3", ""], "Eye 1 to View 1: View 1 is no target for it"),
            (["records", "", "disk-1", "3", ""], "Nothing stands under “From”"),
            (["records", "eye-1", "keeper-1", "three", ""], "Number: “three” is no number from 0 to"),
            (["records", "eye-1", "disk-2", "1", ""], ""),
            (["Camera to recorder", "Eye 1", "Disk 2", "2", ""], "The same link stands in row 7 already"),
            (["records", "gate-1", "disk-2", "1", ""], "Channel 1 of Disk 2 is taken: it stands in row 7"),
            (["records", "gate-1", "disk-1", "1", ""], "Channel 1 of Disk 1 is taken: it stands of Eye 1"),
            (["steers", "stick-1", "stick-1", "1", ""], "cannot be tied to itself"),
            (["reads-for", "reader-1", "panel-1", "2", "up"], "Side: “up” is neither in nor out"),
            (["", "", "", "", ""], "Nothing stands in it"),
        ]
        found = read_links(site, heads, [(at, cells) for at, (cells, _) in enumerate(rows, 2)])
        for row, (cells, words) in zip(found, rows, strict=True):
            if words:
                self.assertIn(words, row.sentence, cells)
                self.assertIn(row.action, ("refuse", "skip"))
            else:
                self.assertEqual(row.action, "add")
