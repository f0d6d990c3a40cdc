"""The one next thing, what is open at each stage, and the sentences that count."""

from dataclasses import replace
from datetime import date
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from tests import so_many
from tests.link_sites import recorded_sites
from tests.samples import demo, device, document, documents, read
from tutelar.core.links.wishes import untied
from tutelar.core.loose_ends import NOTED, SITE, Raised, loose_ends
from tutelar.core.planning import plan
from tutelar.core.progress import STAGES, JobState, Progress, progress, unanswered, unidentified
from tutelar.core.proof import Expectation, State
from tutelar.core.run import run
from tutelar.core.site import Site, with_addresses
from tutelar.core.wording import count, family_plural, listed, spoken_address


def now(raw: dict[str, Any], done: int = 0, state: State = "planned", planned: bool = False) -> Progress:
    """Return the progress of a document after so many bench steps by hand, all devices in one state."""
    site = read(raw)
    if planned:
        site = with_addresses(site, plan(site).addresses())
    bench = run(site, effort=2000)
    by_hand = [step.id for step in bench.steps if step.manual]
    states: dict[str, State] = {item.key: state for item in site.devices}
    job = JobState(site, plan(site), bench, frozenset(by_hand[:done]), states)
    laptop = [Raised("laptop-fixed", SITE, str(job.laptop.address))] if job.laptop else []
    wanted = {} if state == "proven" else None  # what is proven wants nothing more
    ends = loose_ends(site, plan(site), date(2027, 2, 28), wanted=wanted, more=laptop)
    holding = [end for end in ends if end.code not in ("survey-open", "link-waiting")]
    return progress(replace(job, ends=[end for end in holding if end.blocks]))


EMPTY = run(read(document()), effort=0)


class NextThing(TestCase):
    def test_it_follows_the_order_of_the_work(self) -> None:
        one = document([device(1)])
        self.assertEqual(now(document() | {"networks": []}).next.stage, "survey")
        self.assertEqual(now(document()).next.stage, "kit")
        self.assertEqual(now(one).next.sentence, "Give 1 device the planned address.")
        self.assertEqual(now(document([device(1, address="10.20.30.120")])).next.stage, "addresses")
        self.assertEqual(now(one, planned=True).next.sentence, "Plug in Device 1.")
        self.assertEqual(now(one, done=99, planned=True).next.stage, "proof")
        self.assertEqual(now(one, done=99, planned=True, state="proven").next.stage, "handover")

    def test_what_can_be_tied_is_tied_before_anything_is_typed_at_the_bench(self) -> None:
        loose = document([device(1), device(2, "larkmoor-rec-8")])
        self.assertEqual(now(loose, planned=True).next.stage, "links")
        self.assertEqual(now(loose, done=1, planned=True).next.stage, "bench", "a run that has begun goes on")
        tied = loose | {"links": [{"kind": "records", "from": "d-1", "to": "d-2", "slot": 1}]}
        self.assertEqual(now(tied, planned=True).next.stage, "bench")
        self.assertIn("Send IT the request", now(tied, planned=True).stages[2].next.detail)

    def test_what_is_left_to_see_is_said_before_the_handover(self) -> None:
        site = read(document([device(1, address="10.20.30.50")]))
        bench = run(site, effort=2000)
        done = frozenset(step.id for step in bench.steps)
        seen = [Expectation("d-1", "door-opens", {}, {}, True, read(document([device(1)])))]
        found = progress(JobState(site, plan(site), bench, done, {"d-1": "set"}, to_see=seen)).next
        self.assertEqual(
            (found.stage, found.sentence, found.detail),
            ("proof", "See for yourself: Device 1, door opens and locks.", "It is the last thing to see."),
        )
        self.assertEqual(
            progress(JobState(site, plan(site), bench, done, {"d-1": "set"})).next.sentence, "Measure the site."
        )

    def test_an_empty_site_is_not_finished(self) -> None:
        empty = now(document())
        self.assertEqual({item.stage for item in empty.stages if item.mark == "not-begun"}, {*STAGES} - {"survey"})
        self.assertEqual(empty.open["proof"], None)
        self.assertTrue(all(item.next.sentence for item in empty.stages))

    def test_a_filled_mark_stands_for_what_was_measured(self) -> None:
        marks = {item.stage: item.mark for item in now(demo(), done=999, planned=True, state="set").stages}
        self.assertEqual((marks["addresses"], marks["kit"], marks["proof"]), ("done", "done", "open"))
        marks = {item.stage: item.mark for item in now(demo(), done=999, planned=True, state="proven").stages}
        self.assertEqual((marks["bench"], marks["proof"], marks["handover"]), ("done", "proven", "open"))
        self.assertEqual(marks["doors"], "open", "nobody wrote down that the escape doors open")
        one = now(document([device(1)]), done=99, planned=True, state="proven").stages[-1]
        self.assertEqual((one.mark, one.next.sentence), ("proven", "Take the address schedule away."))

    def test_the_stage_and_the_site_say_the_same(self) -> None:
        for raw in (document(), document([device(1, address="10.20.30.120"), device(2)]), demo()):
            for done, state in ((0, "planned"), (999, "set"), (999, "broken"), (999, "proven")):
                found = now(raw, done=done, planned=raw == demo(), state=state)
                self.assertIn(found.next, [item.next for item in found.stages])

    def test_the_laptop_is_followed_and_blocks_the_handover(self) -> None:
        one = document([device(1)])
        away = now(one, done=2, planned=True)
        assert away.laptop is not None
        self.assertEqual((away.laptop.address, away.laptop.prefix), ("192.168.64.9", 24))
        self.assertEqual(away.open["handover"], 2)
        back = now(one, done=99, planned=True, state="proven")
        self.assertEqual((back.laptop, back.open["handover"]), (None, 0))

    def test_open_counts_of_the_demo(self) -> None:
        counts = now(demo()).open
        self.assertEqual(
            counts | {"bench": 0},
            {
                "survey": 6,
                "kit": 0,
                "addresses": 39,
                "settings": 0,
                "bench": 0,
                "links": 0,
                "recording": 1,
                "doors": 2,
                "proof": 39,
                "handover": 41,
            },
        )

    @settings(max_examples=so_many(25, 400))
    @given(st.one_of(documents(most=6), recorded_sites()), st.sampled_from(["planned", "set", "proven"]), st.data())
    def test_no_stage_is_done_while_an_end_of_it_holds_the_signature(
        self, raw: dict[str, Any], state: State, data: st.DataObject
    ) -> None:
        subjects = st.sampled_from(["site", *(item["key"] for item in raw["devices"])])
        rows = st.fixed_dictionaries({"subject": subjects, "item": st.sampled_from(NOTED), "state": st.just("open")})
        site = read({**raw, "checklist": data.draw(st.lists(rows, max_size=3))})
        planned = plan(site)
        ends = [end for end in loose_ends(site, planned, date(2027, 2, 28)) if end.blocks]
        states: dict[str, State] = {item.key: state for item in site.devices}
        found = progress(JobState(site, planned, EMPTY, frozenset(), states, ends=ends))
        for item in found.stages:
            here = [end for end in ends if end.stage == item.stage]
            self.assertTrue(item.mark == "open" or not here, (item, here))
            self.assertGreaterEqual(item.open or 0, len({end.code for end in here}))
        self.assertIn(found.open["handover"], [len(ends)] if site.devices else [len(ends), None])

    def test_what_is_unknown_stays_unknown(self) -> None:
        missing = unanswered(read(document()))
        self.assertIn("the time server of Halls", missing)
        self.assertIn("the internet connection", missing)
        self.assertEqual(unanswered(read(demo()))[0], "the time server of Office")
        self.assertEqual(unanswered(read(document() | {"networks": []}))[0], "which network the devices may live on")

    def test_labels_and_channels_still_missing(self) -> None:
        site: Site = read(
            document(
                [device(1, mac=None), device(2, "larkmoor-rec-8"), device(3, serial=None)],
                links=[{"kind": "records", "from": "d-1", "to": "d-2", "slot": 1}],
            )
        )
        self.assertEqual(unidentified(site), ["d-1", "d-3"])
        self.assertEqual(untied(site), ["d-3"])


class Wording(TestCase):
    def test_counting_and_listing(self) -> None:
        self.assertEqual(count(1, "address", "addresses"), "1 address")
        self.assertEqual(count(0, "camera"), "0 cameras")
        self.assertEqual(listed([]), "none")
        self.assertEqual(listed(["a"]), "a")
        self.assertEqual(listed(["a", "b", "c"]), "a, b and c")
        self.assertEqual(listed(["a", "b", "c", "d", "e"]), "a, b, c and 2 more")
        self.assertEqual(family_plural("switch"), "switches")
        self.assertEqual(spoken_address("10.62.8.114", 24), ".114")
        self.assertEqual(spoken_address("10.62.8.114", 22), "10.62.8.114")
