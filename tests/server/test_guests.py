"""One paper by a link: opened without an account until a day, and nothing else of the site."""

from datetime import timedelta
from typing import Any

from django.test import Client, TestCase
from django.utils import timezone

from tests.samples import device, document
from tests.server.test_api import ApiCalls
from tutelar.server import models


class Guests(ApiCalls, TestCase):
    def setUp(self) -> None:
        self.sign_in()
        self.key = self.bring(document([device(1)]))
        self.path = f"/sites/{self.key}/guests"

    def make(self, **more: Any) -> str:
        body = {"paper": "request", "ending": "pdf", "for_whom": "IT of the harbour", **more}
        status, said = self.call("POST", self.path, body)
        self.assertEqual(status, 201, said)
        return str(said["link"]).removeprefix("http://testserver")

    def test_a_guest_opens_the_one_paper_as_it_stands_and_nothing_else(self) -> None:
        link, guest = self.make(), Client()
        first = guest.get(link)
        self.assertEqual((first.status_code, first["Content-Type"]), (200, "application/pdf"))
        self.assertTrue(first.content.startswith(b"%PDF"))
        self.assertEqual(guest.get(link).status_code, 200)
        self.assertEqual(guest.post(link).status_code, 405)
        self.assertEqual(guest.get(f"/api{self.path}").status_code, 401)
        self.assertEqual(guest.get(link[:-3]).status_code, 404)
        rows = self.call("GET", self.path)[1]
        self.assertEqual((rows[0]["opened"], rows[0]["for_whom"], rows[0]["ended"]), (2, "IT of the harbour", False))
        self.assertNotIn(link.split("/")[-1], str(list(models.GuestLink.objects.values())))
        lines = models.Event.objects.filter(kind__startswith="guest.").values_list("by", "right")
        self.assertEqual(list(lines), [("IT of the harbour", "guest"), ("ines", "owner")])

    def test_it_ends_by_itself_by_a_press_and_with_its_site(self) -> None:
        late, gone, last = self.make(), self.make(paper="schedule", ending="csv"), self.make()
        rows = list(models.GuestLink.objects.order_by("pk"))
        models.GuestLink.objects.filter(pk=rows[0].pk).update(until=timezone.now() - timedelta(seconds=1))
        self.assertEqual(self.call("DELETE", f"{self.path}/{rows[1].pk}")[0], 200)
        self.assertEqual(self.call("DELETE", f"{self.path}/{rows[1].pk}")[0], 404)
        models.Site.objects.update(removed_at=timezone.now())
        for link in (late, gone, last):
            answer = Client().get(link)
            self.assertEqual(answer.status_code, 404)
            self.assertIn("can make a new one", answer.content.decode())

    def test_what_cannot_be_is_refused_in_a_sentence(self) -> None:
        for wrong, status in (
            ({"paper": "passwords"}, 404),
            ({"ending": "exe"}, 422),
            ({"for_whom": " "}, 422),
            ({"days": 0}, 422),
        ):
            body = {"paper": "request", "ending": "pdf", "for_whom": "IT", **wrong}
            self.assertEqual(self.call("POST", self.path, body)[0], status, wrong)
        self.assertFalse(models.GuestLink.objects.exists())
