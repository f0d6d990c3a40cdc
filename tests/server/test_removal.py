"""Sites that go and come back, and a list that one broken site does not break."""

import os
import tempfile
from datetime import timedelta
from pathlib import Path

from django.test import override_settings
from django.utils import timezone

from tests.samples import device, document
from tests.server.test_api import ApiCase
from tests.server.test_logbook import picture
from tutelar.server import models
from tutelar.server.site.removal import forget_removed
from tutelar.server.upkeep import forget_packs, forget_photos

FOLDER = tempfile.TemporaryDirectory()


@override_settings(DATA_DIR=FOLDER.name)
class Removal(ApiCase):
    def setUp(self) -> None:
        super().setUp()
        rows = [device(1, "larkmoor-rec-8"), device(2, network=None, behind="d-1"), device(3)]
        self.key = self.bring(document(rows, links=[{"kind": "records", "from": "d-2", "to": "d-1", "slot": 1}]))

    def photo(self) -> Path:
        name = self.client.post(f"/api/sites/{self.key}/log/photos", picture(), content_type="image/jpeg").json()[
            "name"
        ]
        return Path(FOLDER.name) / "photos" / self.key / name

    def test_a_site_is_kept_for_thirty_days_and_then_gone_with_its_photographs(self) -> None:
        kept = self.photo()
        self.call("POST", f"/sites/{self.key}/log", {"photo": kept.name})
        before = self.call("GET", f"/sites/{self.key}/file")[1]
        self.assertEqual(self.call("POST", f"/sites/{self.key}/remove", {"revision": 7})[0], 409)
        self.assertEqual(self.call("POST", f"/sites/{self.key}/remove", {"revision": 1})[0], 204)
        self.assertEqual((self.call("GET", "/sites")[1], self.call("GET", f"/sites/{self.key}/kit")[0]), ([], 404))
        status, said = self.call("POST", "/sites", document())
        self.assertEqual((status, "was removed and can still be restored" in said["message"]), (409, True), said)
        self.assertEqual([site["key"] for site in self.call("GET", "/removed-sites")[1]], [self.key])
        self.assertEqual(self.call("POST", f"/sites/{self.key}/put-back")[0], 200)
        self.assertEqual(self.call("GET", f"/sites/{self.key}/file")[1], before)
        self.call("POST", f"/sites/{self.key}/remove", {"revision": 3})
        self.assertEqual(forget_removed(timezone.now() + timedelta(days=29)), [])
        self.assertEqual(forget_removed(timezone.now() + timedelta(days=31)), [self.key])
        self.assertFalse(kept.exists())
        self.assertEqual(models.Device.objects.count() + models.Link.objects.count(), 0)
        self.assertEqual(self.call("POST", f"/sites/{self.key}/put-back")[0], 404)
        lines = self.call("GET", "/log?search=gone")[1]["lines"]
        self.assertEqual((lines[0]["by"], lines[0]["gone"]), ("Tutelar", True))
        self.bring(document())

    def test_a_photograph_that_no_line_names_goes_after_a_day(self) -> None:
        named = self.photo()
        self.call("POST", f"/sites/{self.key}/log", {"photo": named.name})
        lost = named.with_name(f"{'0' * 32}.jpg")
        lost.write_bytes(picture())
        now = timezone.now().timestamp()
        self.assertEqual(forget_photos(named.parent.parent, now), 0)
        os.utime(lost, (now - 90_000,) * 2)
        os.utime(named, (now - 90_000,) * 2)
        self.assertEqual(forget_photos(named.parent.parent, now), 1)
        self.assertEqual((named.exists(), lost.exists()), (True, False))

    def test_a_pack_stays_while_a_site_has_it_and_what_broke_off_goes(self) -> None:
        folder = Path(FOLDER.name) / "packs"
        folder.mkdir()
        row = models.Site.objects.get(key=self.key)
        models.PackJob.objects.create(site=row, by="ines", revision=1, state="done", file="had.zip")
        now = timezone.now().timestamp()
        for name, age_s in (("had.zip", 90_000), ("broken-off.zip", 90_000), ("being-made.zip", 60)):
            (folder / name).write_bytes(b"")
            os.utime(folder / name, (now - age_s,) * 2)
        self.assertEqual(forget_packs(folder, now), 1)
        self.assertEqual({path.name for path in folder.iterdir()}, {"had.zip", "being-made.zip"})
        forget_removed(timezone.now())
        models.PackJob.objects.all().delete()  # as with their site
        self.assertEqual(forget_packs(folder, now), 1)

    def test_one_broken_site_does_not_break_the_list(self) -> None:
        other = self.bring(document(site={"key": "other", "name": "Other"}))
        models.Site.objects.filter(key=other).update(policy={"growth": "much"}, version_token="broken")
        with self.assertLogs("tutelar.server.site.views"):
            rows = {row["key"]: row for row in self.call("GET", "/sites")[1]}
        self.assertEqual({key: row["broken"] for key, row in rows.items()}, {self.key: False, other: True})
        self.assertIn("cannot be read", rows[other]["next"])
