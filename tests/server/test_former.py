"""A database made by the version before readings were kept as values: taken over with nothing lost and nothing stale."""

import gzip
import json
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase

from tests.places import with_sqlite

HERE = Path(__file__).parent
LOOK = """
import json, django
django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0, interactive=False)
from django.db import DatabaseError
from tutelar.server import models
from tutelar.server.bench import queries as bench
from dataclasses import asdict
from tutelar.server.proof import views
from tutelar.server.store import documents, lookup
from tutelar.core.site import site_from

row = lookup.site_row("former")
unproven = {(cell.check, cell.state) for cell in views.proof(row).cells if cell.state != "planned"}
row.about["practice"] = True  # its readings are from the pretend site
row.version_token = models.fresh_version_token()
row.save()
def states():
    sheet = views.proof(lookup.site_row("former"))
    return asdict(sheet.coverage), {f"{cell.device} {cell.check}": cell.state for cell in sheet.cells}
coverage, cells = states()
for device in models.Device.objects.filter(key__startswith="rec-"):
    device.name += " renamed"
    device.save()
row.version_token = models.fresh_version_token()
row.save()
renamed = states()[1]
try:
    models.Event.objects.update(sentence="another")
    log = "can be changed"
except DatabaseError as error:
    log = str(error)
run = bench.bench_run(row)
print(json.dumps({"unproven": sorted(unproven),
    "coverage": coverage, "cells": cells, "log": log, "events": models.Event.objects.count(),
    "after renaming": sorted(name for name, state in renamed.items() if state != cells[name]),
    "ticks": models.ValueTick.objects.count(), "exceptions": len(row.exceptions),
    "done": models.StepRecord.objects.filter(state="done").count(), "steps": len(run.steps),
    "readings": models.Reading.objects.count(), "words": models.Reading.objects.filter(measured=None).count(),
    "exported": len(site_from(documents.export(row)).readings),
}, default=str))
"""
DOORS = {"door-1 egress": "door-1 door.staff-door.egress", "gate-2 egress": "gate-2 door.pier-exit.egress"}
TWICE = "gate-1 egress"  # one door was asked for at two devices
BY_HAND = {"door-opens", *(name.split()[1] for name in DOORS.values()), "phone-picture", "plays-back", "test-call"}


class FormerVersion(TestCase):
    def test_a_database_of_the_version_before_is_taken_over(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "tutelar.sqlite3").write_bytes(gzip.decompress((HERE / "former.sqlite3.gz").read_bytes()))
            environment = with_sqlite(folder, DJANGO_SETTINGS_MODULE="tutelar.server.settings")
            done = subprocess.run(
                [sys.executable, "-c", LOOK], env=environment, capture_output=True, text=True, timeout=60, check=False
            )
        self.assertEqual(done.returncode, 0, done.stderr[-2000:])
        found: dict[str, Any] = json.loads(done.stdout)
        before = json.loads((HERE / "former-states.json").read_text())
        del before["cells"][TWICE]
        other = {name: (state, found["cells"].get(DOORS.get(name, name))) for name, state in before["cells"].items()}
        other = {name: pair for name, pair in other.items() if pair[0] != pair[1]}
        self.assertEqual((other, len(found["cells"])), ({}, len(before["cells"])))
        said = before["coverage"]["sentence"].replace("290 of 292", "289 of 291")
        self.assertEqual(found["coverage"]["sentence"], said)
        self.assertEqual(found["after renaming"], ["rec-1 name", "rec-2 name"])
        # before it is one to practise on, only what people said counts
        self.assertEqual({check for check, state in found["unproven"] if state == "proven"}, BY_HAND)
        self.assertEqual([check for check, state in found["unproven"] if state == "broken"], ["clock"])
        self.assertIn("append-only", found["log"])
        self.assertEqual((found["ticks"], found["exceptions"], found["done"]), (6, 1, 1))
        self.assertEqual((found["readings"], found["words"]), (355, 0))
        self.assertGreater(min(found["events"], found["steps"], found["exported"]), 30)
