"""Learning on one's own site: questions with one right reason, and set-ups with just so many mistakes."""

from random import Random
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from tests.samples import document, documents, read, shipped
from tutelar.core.planning import plan
from tutelar.core.setting import DeviceSettings
from tutelar.core.training import marked, questions, set_up
from tutelar.core.training.mistakes import MISTAKES, PLANTS

DEMO = read(shipped())
PLANNED = plan(DEMO)


class Questions(TestCase):
    @given(st.integers(0, 10_000))
    def test_each_has_one_reason_that_is_its_own(self, seed: int) -> None:
        found = questions(DEMO, PLANNED, Random(seed))
        self.assertEqual((len(found), len({item.label for item in found})), (8, 8))
        settings = DeviceSettings(DEMO, PLANNED)
        for item in found:
            lines = [
                line for group in settings.groups(DEMO.device_by_key[item.device]) for line in group.lines
                if line.label == item.label
            ]  # fmt: skip
            reasons = {line.why for line in lines}
            self.assertEqual(len(set(item.options)), 4)
            self.assertEqual([at for at, why in enumerate(item.options) if why in reasons], [item.right])
            self.assertIn(item.value, {line.value for line in lines})
            self.assertTrue(all(line.slot is None for line in lines))

    def test_an_empty_site_asks_nothing(self) -> None:
        site = read(document([]))
        self.assertEqual((questions(site, plan(site), Random(1)), set_up(site, plan(site), Random(1))), ([], None))


class SetUps(TestCase):
    @given(documents(most=8), st.integers(0, 10_000))
    def test_there_are_just_so_many_mistakes_and_the_rest_is_right(self, raw: dict[str, Any], seed: int) -> None:
        site = read(raw)
        planned = plan(site)
        laid = set_up(site, planned, Random(seed))
        if laid is None:
            return
        groups = DeviceSettings(site, planned).groups(site.device_by_key[laid.device])
        right = {line.key: line.value for group in groups for line in group.lines}
        wrong = [line.key for line in laid.lines if line.value != right[line.key]]
        self.assertEqual(len(wrong), MISTAKES)
        self.assertEqual(wrong, [line.key for line in laid.lines if line.wrong])
        self.assertTrue(marked(laid, wrong).right)
        self.assertEqual(marked(laid, []).missed, tuple(wrong))
        sound = next((line.key for line in laid.lines if not line.wrong), None)
        if sound is not None:
            self.assertEqual(marked(laid, [*wrong, sound]).mistaken, (sound,))
            self.assertFalse(marked(laid, [*wrong, sound]).right)

    @given(st.integers(0, 10_000))
    def test_no_mistake_of_the_demo_is_the_right_value(self, seed: int) -> None:
        laid = set_up(DEMO, PLANNED, Random(seed), 2027)
        assert laid is not None
        self.assertEqual(sum(line.wrong for line in laid.lines), MISTAKES)

    @given(st.sampled_from(sorted(PLANTS)), st.integers(1, 65535), st.integers(0, 100))
    def test_a_mistake_is_never_the_right_value(self, key: str, port: int, seed: int) -> None:
        values = {"address": "10.20.30.50", "gateway": "10.20.30.1", "name": "Camera 01"}
        for value in (str(port), "8000", "off", "not set") if key not in values else (values[key],):
            if key.startswith("port-") and not value.isdigit():
                continue
            self.assertNotEqual(PLANTS[key](value, DEMO, Random(seed)), value)
