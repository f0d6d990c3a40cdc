"""Everything of a firm in one file: what goes out comes back in elsewhere, all of it or nothing."""

import json
import tempfile
import zipfile
from datetime import timedelta
from io import BytesIO, StringIO
from pathlib import Path

from django.core.management import call_command
from django.db import connection
from django.test import TestCase, override_settings
from django.utils import timezone

from tests.samples import demo, device, document
from tests.server.test_api import ApiCalls
from tests.server.test_kept_safe import picture
from tutelar.server import archive, models
from tutelar.server.site.removal import forget_removed
from tutelar.server.store import append_only, documents
from tutelar.server.store.photos import photo_folder


class Archives(ApiCalls, TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(override_settings(DATA_DIR=self.folder / "one"))
        self.file = self.folder / "all.zip"
        self.sign_in()
        self.keys = [self.bring(demo()), self.bring(document([device(1), device(2)]))]
        photo = self.client.post(
            f"/api/sites/{self.keys[0]}/log/photos", picture(), content_type="application/octet-stream"
        ).json()["name"]
        self.call("POST", f"/sites/{self.keys[0]}/log", {"text": "The mast, from below.", "photo": photo})
        made = self.call("POST", f"/sites/{self.keys[1]}/secrets/make", {"device": "d-1"})
        self.assertEqual(made[0], 200)
        secret = self.call("POST", f"/sites/{self.keys[1]}/devices/d-1/secrets/administrator/reveal")[1]["secret"]
        archive.write(self.file)
        with zipfile.ZipFile(self.file) as packed:
            self.assertFalse([name for name in packed.namelist() if secret.encode() in packed.read(name)])

    def emptied(self) -> None:
        """Let this be another installation, with nothing in it."""
        self.enterContext(override_settings(DATA_DIR=self.folder / "two"))
        now = timezone.now()
        models.Site.objects.update(removed_at=now - timedelta(days=99))
        forget_removed(now)
        append_only.unguard(connection)
        models.Event.objects.all().delete()
        append_only.guard(connection)

    def test_it_comes_back_as_it_was(self) -> None:
        sites = {key: documents.export(models.Site.objects.get(key=key)) for key in self.keys}
        told = ("site_key", "at", "by", "right", "kind", "subject", "sentence", "before", "after")
        lines = list(models.Event.objects.order_by("pk").values_list(*told))
        photos = {path.name: path.read_bytes() for path in photo_folder(self.keys[0]).iterdir()}
        deeds = models.Event.objects.exclude(part_of=None).count()
        self.emptied()
        counts = archive.bring_in(self.file)
        self.assertEqual(counts, {"sites": 2, "lines": len(lines), "photographs": 1})
        for key, whole in sites.items():
            self.assertEqual(documents.export(models.Site.objects.get(key=key)), whole)
        there = list(models.Event.objects.exclude(by="archive").order_by("pk").values_list(*told))
        self.assertEqual(sorted(there, key=str), sorted(lines, key=str))
        own = models.Event.objects.exclude(by="archive").exclude(part_of=None)
        self.assertEqual(own.count(), deeds)
        self.assertTrue(models.Event.objects.filter(pk=own[0].part_of, site_key=own[0].site_key).exists())
        self.assertEqual({path.name: path.read_bytes() for path in photo_folder(self.keys[0]).iterdir()}, photos)
        again = self.folder / "again.zip"
        archive.write(again)
        with zipfile.ZipFile(again) as packed:
            self.assertEqual(json.loads(packed.read(f"sites/{self.keys[1]}/site.json")), sites[self.keys[1]])

    def test_it_is_brought_into_an_empty_place_only_and_all_or_nothing(self) -> None:
        before = models.Event.objects.count()
        with self.assertRaisesRegex(archive.ArchiveError, "There are sites here already"):
            archive.bring_in(self.file)
        self.assertEqual(models.Event.objects.count(), before)
        self.emptied()
        last = f"sites/{self.keys[1]}"
        for name, text, said in (
            (archive.HEAD, "{}", "no archive of Tutelar"),
            (archive.HEAD, '{"format": "tutelar-archive", "version": 9}', "version 9"),
            (f"{last}/site.json", '{"format": "tutelar-site"}', "cannot be brought in"),
            (f"{last}/log.jsonl", "{}\n", "Line 1 of .* is no line of a log: id"),
            (f"{last}/photos/..%2Fx", "x", "no photograph of Tutelar's"),
        ):
            with self.subTest(name), self.assertRaisesRegex(archive.ArchiveError, said):
                archive.bring_in(self.bent(name, text))
            self.assertEqual((models.Site.objects.count(), models.Event.objects.count()), (0, 0))
            self.assertFalse(photo_folder(self.keys[0]).exists())
        for content in (b"", b"PK\x03\x04", self.file.read_bytes()[:5000]):
            other = self.folder / "broken.zip"
            other.write_bytes(content)
            with self.assertRaises(archive.ArchiveError):
                archive.bring_in(other)

    def bent(self, name: str, text: str) -> Path:
        """Return the archive with one file written anew."""
        out = BytesIO()
        with zipfile.ZipFile(self.file) as whole, zipfile.ZipFile(out, "w") as packed:
            for item in whole.namelist():
                if item != name:
                    packed.writestr(item, whole.read(item))
            packed.writestr(name, text)
        path = self.folder / "bent.zip"
        path.write_bytes(out.getvalue())
        return path

    def test_from_the_command_line(self) -> None:
        out = self.folder / "by-hand.zip"
        said = StringIO()
        call_command("archive", str(out), verbosity=0, stdout=said)
        self.assertRegex(said.getvalue(), r"2 sites, \d+ lines, 1 photograph, read back whole")
        self.assertEqual([path.name for path in self.folder.iterdir() if path.suffix == ".new"], [])
