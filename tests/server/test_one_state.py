"""Two people at once: a read sees one state of the database from its first question to its last."""

import json
from threading import Thread
from typing import Any
from unittest.mock import patch

from django.contrib.auth.models import User
from django.db import DatabaseError, connection
from django.test import TransactionTestCase

from tests.samples import device, document
from tutelar.server import models
from tutelar.server.links import queries as links_queries
from tutelar.server.store import append_only
from tutelar.server.store import document as store_document
from tutelar.server.store.reads import one_state
from tutelar.server.store.secret_marks import all_secret_marks


class OneState(TransactionTestCase):
    def setUp(self) -> None:
        user = User.objects.create_superuser("ines", password="grey-heron-42")
        self.client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
        rows = [device(1, "larkmoor-rec-8"), device(2), device(3)]
        links = [{"kind": "records", "from": f"d-{at}", "to": "d-1", "slot": at} for at in (2, 3)]
        raw = json.dumps(document(rows, links=links))
        self.assertEqual(self.client.post("/api/sites", raw, content_type="application/json").status_code, 201)
        self.key = models.Site.objects.get().key

    def _fixture_teardown(self) -> None:
        """Empty the database; the log keeps its lines against everybody else, so what guards it steps aside."""
        append_only.unguard(connection)
        super()._fixture_teardown()  # type: ignore[misc]
        append_only.guard(connection)

    def meanwhile(self) -> None:
        """Take out a camera and its link, as another person does on a connection of their own."""

        def remove() -> None:
            models.Device.objects.filter(key="d-2").delete()
            models.Site.objects.update(revision=2, version_token=models.fresh_version_token())
            connection.close()

        other = Thread(target=remove)
        other.start()
        other.join()

    def read(self, path: str, module: Any, name: str) -> Any:
        """Return what a request answers when somebody stores a change just before its question `name` is asked."""
        real = getattr(module, name)

        def asked(*args: Any, **kwargs: Any) -> Any:
            if models.Device.objects.filter(key="d-2").exists() and not self.done:
                self.done = True
                self.meanwhile()
            return real(*args, **kwargs)

        self.done = False
        with patch.object(module, name, asked):
            answer = self.client.get(path)
        self.assertEqual((answer.status_code, self.done), (200, True))
        return answer.json()

    def test_the_links_answer_for_the_state_they_began_with(self) -> None:
        sheet = self.read(f"/api/sites/{self.key}/links", links_queries, "links_known")
        self.assertEqual([row["start"] for beam in sheet["beams"] for row in beam["threads"]], ["d-2", "d-3"])
        after = self.client.get(f"/api/sites/{self.key}/links").json()
        self.assertEqual([row["start"] for beam in after["beams"] for row in beam["threads"]], ["d-3"])

    def test_an_export_has_no_device_without_its_links(self) -> None:
        raw = self.read(f"/api/sites/{self.key}/file", store_document, "_device")
        self.assertEqual(([row["key"] for row in raw["devices"]], len(raw["links"])), (["d-1", "d-2", "d-3"], 2))

    def test_a_question_is_asked_once_while_one_state_is_read_and_each_time_elsewhere(self) -> None:
        row = models.Site.objects.get()
        with one_state(), self.assertNumQueries(1):
            read = [all_secret_marks(row), all_secret_marks(row)]
        with one_state(), self.assertNumQueries(3):  # of a list of sites only the one that is looked at is remembered
            for site in (row, models.Site(pk=row.pk + 1), row):
                all_secret_marks(site)
        use = models.SecretUse.objects
        kept = models.Secret.objects.create(site=row, sealed=b"")
        use.create(site=row, device_key="d-2", slot="administrator", secret=kept)
        with one_state():
            read.append(all_secret_marks(row))
        use.all().delete()
        self.assertEqual([len(marks) for marks in (*read, all_secret_marks(row))], [0, 0, 1, 0])

    def test_nothing_is_written_while_reading_and_a_write_follows_as_ever(self) -> None:
        with self.assertRaises(DatabaseError), one_state():
            models.Site.objects.update(name="Elsewhere")
        models.Site.objects.update(name="Here")
        self.assertEqual(models.Site.objects.get().name, "Here")
