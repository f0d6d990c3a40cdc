"""Reads of the bench: the run as it stands, planned or under way."""

from functools import lru_cache

from django.conf import settings
from django.utils import timezone

from tutelar.core.run import Run, run
from tutelar.core.run.bound import Bound
from tutelar.core.run.chain import AdapterConfig
from tutelar.core.run.durations import Medians, usual, with_usual_times
from tutelar.core.run.live import RunState, StepOutcome, live_run
from tutelar.core.site import Site
from tutelar.server import models
from tutelar.server.store import documents

PREVIEW_EFFORT = 30_000  # pieces laid for a run that nobody started yet: it is looked at, not worked by


@lru_cache(maxsize=32)
def _planned_run(pk: int, stamp: str, hands: int, taken: int, effort: int | None) -> Run:
    site = documents.document_at(pk, stamp)
    return run(with_usual_times(site, usual(_step_durations(site))), hands, effort)


def _step_durations(site: Site) -> list[tuple[str, str, float]]:
    rows = models.StepDuration.objects.filter(model_key__in=[model.key for model in site.models])
    return list(rows.values_list("model_key", "kind", "seconds"))


def bench_site(row: models.Site) -> Site:
    """Return the site with the times that its models took at benches so far, where there are enough of them."""
    site = documents.document(row)
    return with_usual_times(site, usual(_step_durations(site)))


def bench_times(row: models.Site) -> Medians:
    """Return (median seconds, number of readings) by (model key, step kind)."""
    return usual(_step_durations(documents.document(row)))


def bench_row(row: models.Site) -> models.BenchRun | None:
    return models.BenchRun.objects.filter(site=row).first()


def bench_preview(row: models.Site, hands: int = 1) -> Run:
    """Return a run as quickly as may be: to look at, not to work by."""
    return _planned_run(
        row.pk, row.stamp, hands, models.StepDuration.objects.count(), settings.RUN_EFFORT or PREVIEW_EFFORT
    )


def bench_plan(row: models.Site, hands: int) -> Run:
    """Return the run that is started, after the seconds of the whole search, spent once for each state of the site."""
    return _planned_run(row.pk, row.stamp, hands, models.StepDuration.objects.count(), settings.RUN_EFFORT)


def bench_now(started: models.BenchRun) -> float:
    """Return the seconds on the clock of a run; it stands where the run rests."""
    return ((started.paused_at or timezone.now()) - started.started_at).total_seconds()


def live(started: models.BenchRun, site: Site) -> RunState:
    """Return a run under way as the core knows it; steps of devices that are gone are left out."""
    facts = [
        StepOutcome(
            item.step,
            item.device_key or None,
            item.kind,
            item.state,  # type: ignore[arg-type]
            item.hand,
            item.start_s,
            item.end_s,
            AdapterConfig(**item.adapter) if item.adapter else None,
            item.port,
            item.more_s,
            item.why,
            item.reason,
        )
        for item in models.StepRecord.objects.filter(site=started.site).order_by("start_s", "pk")
        if item.state != "open" and (not item.device_key or item.device_key in site.device_by_key)
    ]
    said = (started.said_at - started.started_at).total_seconds()
    return RunState(
        started.hands,
        tuple(started.order),
        tuple(facts),
        started.aside,
        Bound(started.bound_s, started.bound_why),
        started.one_by_one_s,
        said,
    )


def bench_run(row: models.Site) -> Run:
    """Return the run under way as it stands now, or the one that would be if it were started."""
    started = bench_row(row)
    if started is None:
        return bench_preview(row)
    return _bench_live(row.pk, row.stamp, started.revision, int(bench_now(started)))


@lru_cache(maxsize=8)
def _bench_live(pk: int, stamp: str, revision: int, second: int) -> Run:
    """A page asks for the run in several sheets; within a second they see the same."""
    started = models.BenchRun.objects.select_related("site").get(site=pk)
    site = bench_site(started.site)
    return live_run(site, live(started, site), bench_now(started))


def bench_revision(pk: int) -> tuple[str, int]:
    """Return what changes whenever somebody does something at the bench of a site, or with the site."""
    stamp = models.Site.objects.filter(pk=pk).values_list("stamp", flat=True).first() or ""
    return stamp, models.BenchRun.objects.filter(site_id=pk).values_list("revision", flat=True).first() or 0
