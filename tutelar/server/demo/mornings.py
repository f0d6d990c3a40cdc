"""Two more demo sites, each as somebody finds it in the morning: half-way at the bench, and finished a year ago."""

from datetime import datetime, timedelta
from pathlib import Path

from django.utils import timezone

from tutelar.core.proof import Observation, PortAnswer, judge
from tutelar.core.run.transitions import StepReport
from tutelar.core.site.types import Reading
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.addresses.services import apply_plan
from tutelar.server.bench import queries as bench_queries
from tutelar.server.bench import services as bench_services
from tutelar.server.links import queries as link_queries
from tutelar.server.links import services as link_services
from tutelar.server.logbook.services import add_entry
from tutelar.server.proof import queries as proof_queries
from tutelar.server.secrets import services as secrets_services
from tutelar.server.site import services as site_services
from tutelar.server.store import documents, lookup
from tutelar.server.store.readings import reading_row
from tutelar.server.store.writes import bump, log

HALF_WAY, FINISHED = "larch-court", "ferrow-depot"
BENCH, LEAD, SUPPORT = "Ari Vold", "Tomas Okerlund", "Ines Varga"
STEPS = 22  # of those by hand that are done at the bench
FAULTY = "gate-1"


def load_half_way() -> None:
    """Store a site whose run at the bench has gone on since this morning and is in the middle of it."""
    now = timezone.now()
    planned = Actor(LEAD, origin="server", at=now - timedelta(days=1))
    _begin(HALF_WAY, planned)
    started = bench_services.start_run(HALF_WAY, Actor(BENCH, origin="server"))
    row = started.site
    span = [item.end_s for item in bench_queries.bench_run(row).steps if item.manual][STEPS - 1]
    for _ in range(STEPS):
        order = bench_queries.bench_run(row)
        records = lookup.step_records(row)
        done = {key for key, record in records.items() if record.state == "done"}
        step = next((item for item in order.steps if item.manual and item.id not in done), None)
        if step is None:
            break
        models.BenchRun.objects.filter(site=row).update(started_at=now - timedelta(seconds=step.end_s))
        record = records.get(step.id)
        actor = Actor(BENCH, origin="server", at=now - timedelta(seconds=max(0.0, span - step.end_s)))
        bench_services.record_step(HALF_WAY, step.id, actor, record.revision if record else 0, StepReport(state="done"))
        models.StepRecord.objects.filter(site=row, step=step.id).update(start_s=step.start_s)


def load_finished() -> None:
    """Store a site that was proven a year ago, with a door station that is silent today."""
    now = timezone.now()
    then = now - timedelta(days=365)
    proven = Actor(LEAD, origin="server", at=then)
    row = _begin(FINISHED, Actor(LEAD, origin="server", at=then - timedelta(days=2)))
    _everything_passed(row, then)
    for number, item in enumerate(link_queries.link_standings(row), 1):
        link = models.Link.objects.filter(site=row).order_by("position")[number - 1]
        for test in item.case.kind.tests:
            link_services.witness(FINISHED, link.pk, proven, test.key, "pass", "")
    models.Reading.objects.filter(site=row).update(at=then)
    models.Device.objects.filter(site=row).update(locked=True)
    steps = [step for step in bench_queries.bench_preview(row).steps if step.manual]
    models.StepRecord.objects.bulk_create(
        models.StepRecord(site=row, step=step.id, revision=1, state="done", device_key=step.device or "", by=BENCH)
        for step in steps
    )
    bump(row)
    log(row, proven, "proof.ended", row.key, "Every device proven; handed over to Berit Sand.")
    words = "The yard gate rings nobody since this morning, says the weighbridge. Its lamp is dark."
    add_entry(FINISHED, Actor(SUPPORT, origin="server", at=now - timedelta(minutes=40)), text=words, subject=FAULTY)
    _silent(row, FAULTY, now - timedelta(minutes=25))


def _begin(key: str, actor: Actor) -> models.Site:
    """Store a demo site with its addresses planned and its passwords made and told."""
    row = site_services.import_site(Path(__file__).with_name(f"{key}.json").read_bytes(), actor)
    row = apply_plan(key, actor, row.revision)
    secrets_services.make_missing(key, actor)
    open_ones = models.PendingUpdate.objects.filter(site=row, done_at__isnull=True)
    secrets_services.told(key, list(open_ones.values_list("pk", flat=True)), actor)
    return models.Site.objects.get(pk=row.pk)


def _everything_passed(row: models.Site, at: datetime) -> None:
    devices = {device.key: device for device in models.Device.objects.filter(site=row)}
    rows = [
        reading_row(
            row,
            devices[key],
            Reading(
                device=key,
                check=item.check,
                expected=item.expected,
                measured="seen so" if item.witnessed else item.expected,
                result="pass",
                basis=dict(item.basis),
                **{"from": "hand" if item.witnessed else "pretend"},  # type: ignore[arg-type]
            ),
            at,
            LEAD,
        )
        for key, wanted in proof_queries.expectations(row).items()
        for item in wanted
    ]
    models.Reading.objects.bulk_create(rows)


def _silent(row: models.Site, key: str, at: datetime) -> None:
    """Keep what is measured of a device that answers at none of its ports."""
    site = documents.document(row)
    device, stored = site.device_by_key[key], lookup.device_row(row, key)
    seen = Observation(ports={name: PortAnswer(False, 0) for name in site.services_of(device)})
    wanted = [item for item in proof_queries.expectations(row)[key] if not item.witnessed]
    readings = [item.model_copy(update={"from_": "pretend"}) for item in judge(site, device, wanted, seen)]
    models.Reading.objects.bulk_create(reading_row(row, stored, item, at, SUPPORT) for item in readings)
    bump(row)
    log(
        row, Actor(SUPPORT, origin="server", at=at), "proof.ended", key, f"{device.label} measured: it answers nowhere."
    )
