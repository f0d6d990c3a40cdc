"""Sheets that are kept: worked out once as long as the site stands as it stood, and never shown as they were."""

from functools import wraps
from typing import Any
from unittest import mock

from django.test import TestCase

from tests.samples import device, document
from tests.server.test_api import ApiCalls
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.kit import views as kit_views
from tutelar.server.site import views as site_views
from tutelar.server.store.writes import log


class Kept(ApiCalls, TestCase):
    def setUp(self) -> None:
        self.sign_in()
        self.key = self.bring(document([device(1), device(2)]))

    def counted(self, views: Any, name: str) -> list[int]:
        """Count how often a sheet is worked out."""
        real, calls = getattr(views, name), [0]

        @wraps(real)
        def counting(row: models.Site) -> Any:
            calls[0] += 1
            return real(row)

        self.enterContext(mock.patch.object(views, name, counting))
        return calls

    def test_a_note_changes_no_sheet_and_everything_else_does(self) -> None:
        calls = self.counted(kit_views, "kit")
        first = self.call("GET", f"/sites/{self.key}/kit")[1]
        self.assertEqual(self.call("POST", f"/sites/{self.key}/log", {"text": "Rain."})[0], 201)
        self.assertEqual((self.call("GET", f"/sites/{self.key}/kit")[1], calls), (first, [1]))
        change = {"revision": 1, "name": "Quay east"}
        self.assertEqual(self.call("PATCH", f"/sites/{self.key}/devices/d-1", change)[0], 200)
        now = self.call("GET", f"/sites/{self.key}/kit")[1]
        self.assertEqual((now["devices"][0]["name"], calls), ("Quay east", [2]))
        row = models.Site.objects.get()
        log(row, Actor("ines"), "bench.rules", row.key, "Something was said.")
        models.Reading.objects.create(
            site=row, device=models.Device.objects.first(), check_name="answers", result="pass", at=row.created_at
        )
        for before in (2, 3):
            self.call("GET", f"/sites/{self.key}/kit")
            self.assertEqual(calls[0], 3, before)
        self.bring(document([device(1)]) | {"site": {"key": "other", "name": "Other"}})
        self.call("GET", f"/sites/{self.key}/kit")
        self.assertEqual(calls[0], 3, "another site is another matter")

    def test_how_far_a_run_is_that_goes_on_by_the_clock_is_always_worked_out(self) -> None:
        calls = self.counted(site_views, "job")
        for _ in range(2):
            self.call("GET", f"/sites/{self.key}/job")
        self.assertEqual(calls, [1])
        self.call("POST", f"/sites/{self.key}/plan", {"revision": models.Site.objects.get().revision})
        self.assertEqual(self.call("POST", f"/sites/{self.key}/run", {"technicians": 1})[0], 201)
        for _ in range(2):
            self.call("GET", f"/sites/{self.key}/job")
        self.assertEqual(calls, [3])
