"""What stands beside a step: where to open the device, what to leave unplugged, and the cautions."""

from typing import Any
from unittest import TestCase

from tests.samples import demo, device, document, read
from tutelar.core.planning import plan
from tutelar.core.run import run
from tutelar.core.run.advice import Advice, advice


def beside(raw: dict[str, Any], step: str) -> Advice:
    site = read(raw)
    assignments = {item.device: item for item in plan(site).assignments}
    found = next(item for item in run(site, effort=2000).steps if item.id == step)
    return advice(site, found, assignments.get(found.device or ""), frozenset())


class BesideTheStep(TestCase):
    def test_the_address_to_open_is_the_one_that_answers_then(self) -> None:
        self.assertEqual(beside(demo(), "cam-01:activate").open, "http://192.168.64.20/")
        self.assertEqual(beside(demo(), "cam-01:confirm").open, "http://10.62.8.101/")
        self.assertEqual(beside(demo(), "cam-12:confirm").open, "http://10.62.8.112:8000/")
        self.assertIsNone(beside(demo(), "cam-13:activate").open)  # leased: nobody knows the address before
        self.assertIsNone(beside(demo(), "desk-1:confirm").open)  # no web page at all
        secure = document([device(1)])
        secure["models"][0]["services"] = {"web-tls": 8443}
        self.assertEqual(beside(secure, "d-1:activate").open, "https://192.168.64.20:8443/")

    def test_twins_stay_unplugged_only_while_their_address_is_in_force(self) -> None:
        raw = document([device(1, "pellgrave-gate-1"), device(2, "pellgrave-gate-1")])
        self.assertEqual(beside(raw, "d-1:connect").keep_off, ())
        raw["policy"] = {"bench": {"leases": False}}
        self.assertEqual(beside(raw, "d-1:connect").keep_off, ("d-2",))
        self.assertEqual(beside(raw, "d-1:confirm").keep_off, ())

    def test_cautions_stand_where_the_work_happens(self) -> None:
        self.assertIn("licensed", beside(demo(), "rec-1:connect").caution or "")
        self.assertIn("Escape doors", beside(demo(), "door-1:connect").caution or "")
        self.assertIn("on test", beside(demo(), "hub-1:connect").caution or "")
        self.assertIn("privacy", beside(demo(), "cam-01:confirm").caution or "")
        self.assertIsNone(beside(demo(), "cam-01:configure").caution)

    def test_what_to_expect_names_the_waiting_and_the_new_address(self) -> None:
        self.assertIn("about 70 s", beside(demo(), "cam-01:connect").expect or "")
        said = beside(demo(), "cam-01:configure").expect or ""
        self.assertIn(".101", said)
        self.assertIn("60 s", said)
