"""Questions to others: which are usual where, how they stand, what their letters say, and whose turn it is."""

from datetime import date, timedelta
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import device, document, read, shipped
from tutelar.core.cards.facts import known_words
from tutelar.core.loose_ends import loose_ends
from tutelar.core.planning import plan
from tutelar.core.site import Site
from tutelar.core.site.closing import WHOM
from tutelar.core.survey.asked import SUGGESTED, letter_line, next_of, state_of, suggested

TODAY = date(2027, 5, 3)


def asked(*rows: dict[str, Any], **more: Any) -> Site:
    found = [{"key": f"q-{at}", "of": "it", "question": f"Question {at}?", **row} for at, row in enumerate(rows)]
    return read({**document([device(1)]), "asked": found, **more})


class Usual(TestCase):
    def test_every_usual_question_is_for_somebody_and_its_words_are_known(self) -> None:
        self.assertEqual(len({item.key for item in SUGGESTED}), len(SUGGESTED))
        for item in SUGGESTED:
            self.assertIn(item.of, WHOM)
            self.assertTrue(item.question.endswith("?") and item.holds)
            for word in item.when.split("|"):
                self.assertIn(word, known_words(), item.key)

    def test_a_site_is_asked_what_it_calls_for_and_nothing_twice(self) -> None:
        self.assertEqual(suggested(read(document([]))), [])
        plain = {item.key for item in suggested(read(document([device(1)])))}
        self.assertLessEqual({"range", "patching", "drilling"}, plain)
        self.assertNotIn("receiver", plain)
        demo = {item.key for item in suggested(read(shipped()))}
        self.assertLessEqual({"compatible", "stock", "sim", "escape"}, demo)
        once = read({**document([device(1)]), "asked": [{"key": "range", "of": "it", "question": "Which?"}]})
        self.assertNotIn("range", {item.key for item in suggested(once)})


class Standing(TestCase):
    def test_how_a_question_stands(self) -> None:
        day = TODAY.isoformat()
        site = asked(
            {},
            {"asked": day},
            {"asked": day, "due": day},
            {"asked": day, "due": "2027-05-02"},
            {"answer": "Ada"},
            {"answer": " "},
        )
        self.assertEqual(
            [state_of(item, TODAY) for item in site.asked],
            ["not asked", "asked", "asked", "overdue", "answered", "not asked"],
        )

    def test_whose_turn_it_is(self) -> None:
        day = TODAY.isoformat()
        asked_, late, done = {"asked": day}, {"asked": day, "due": "2027-05-02"}, {"answer": "Ada"}
        for rows, turn in (
            ([], None),
            ([done], None),
            ([done, asked_], 1),
            ([asked_, done, {}, {}], 2),
            ([{}, asked_, late, late], 2),
        ):
            questions = asked(*rows).asked
            self.assertEqual(next_of(questions, TODAY), None if turn is None else questions[turn])

    @given(st.integers(-400, 400))
    def test_it_is_overdue_from_the_day_after(self, days: int) -> None:
        (item,) = asked({"due": (TODAY + timedelta(days=days)).isoformat()}).asked
        self.assertEqual(state_of(item, TODAY) == "overdue", days < 0)

    def test_a_letter_says_what_an_answer_holds_up_and_until_when(self) -> None:
        site = asked(
            {"holds": "the alarm", "due": "2027-06-01"}, {"holds": "calls", "due": "2027-06-01", "answer": "Ada"}
        )
        self.assertEqual(
            list(map(letter_line, site.asked)),
            ["Question 0? It holds up the alarm. Wanted by 1 June 2027.", "Question 1? It holds up calls."],
        )

    def ends(self, site: Site) -> list[tuple[str, str]]:
        found = loose_ends(site, plan(site), TODAY)
        return [(end.message, end.whose) for end in found if end.code == "survey-open"]

    def test_an_answer_that_is_missing_is_a_loose_end_of_whoever_owes_it(self) -> None:
        answered = {"survey": {}}
        raw = document([device(1)])
        open_survey = bool(self.ends(read(raw)))
        said = self.ends(asked({"of": "provider"}, **answered))
        self.assertEqual(len(said), 1)
        if not open_survey:
            self.assertEqual(said[0][1], WHOM["provider"])
        self.assertEqual(bool(self.ends(asked({"of": "provider", "answer": "Ada"}))), open_survey)
