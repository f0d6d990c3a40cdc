"""Reads of the bench: the run as it stands, planned or under way."""

from functools import lru_cache
from math import inf
from typing import Any, NamedTuple

from django.conf import settings
from django.db.models import Max
from django.utils import timezone

from tutelar.core.run import Run, run
from tutelar.core.run.bound import Bound
from tutelar.core.run.chain import AdapterConfig
from tutelar.core.run.durations import Medians, usual, with_usual_times
from tutelar.core.run.live import RunState, StepOutcome, live_run
from tutelar.core.site import Site
from tutelar.server import models
from tutelar.server.bench.search import SEARCHES
from tutelar.server.store import bench_steps, documents
from tutelar.server.store.reads import asked_once
from tutelar.server.store.writes import WriteRejected

PREVIEW_EFFORT = 30_000  # pieces laid for a run that nobody started yet: it is looked at, not worked by


@lru_cache(maxsize=32)
def _planned_run(pk: int, version_token: str, technicians: int, taken: int, effort: int | None) -> Run:
    site = documents.document_at(pk, version_token)
    timed = with_usual_times(site, usual(_step_durations(site)))
    return run(timed, technicians, effort, planned=documents.plan_at(pk, version_token), values=False)


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


@asked_once
def bench_row(row: models.Site) -> models.BenchRun | None:
    """Return the run of a site, None where none was started."""
    return models.BenchRun.objects.filter(site=row).first()


def bench_preview(row: models.Site, technicians: int = 1) -> Run:
    """Return a run as quickly as may be: to look at, not to work by."""
    return _planned_run(
        row.pk,
        row.version_token,
        technicians,
        models.StepDuration.objects.count(),
        settings.RUN_EFFORT or PREVIEW_EFFORT,
    )


def bench_plan(row: models.Site, technicians: int, person: str) -> Run:
    """Return the run after the seconds of the whole search, spent once for each state of the site. Raises
    WriteRejected (409) where this person stopped it, or asked for another one meanwhile. A search that is no longer
    than that of a look is not worth a program of its own: it is the look."""
    if settings.RUN_EFFORT and settings.RUN_EFFORT <= PREVIEW_EFFORT:
        return bench_preview(row, technicians)
    taken = models.StepDuration.objects.count()
    *known, found = _searched.get(row.pk, ("", 0, 0, None))
    if found is None or known != [row.version_token, technicians, taken]:
        about = (row.pk, row.version_token, technicians, taken, settings.RUN_EFFORT)
        found = SEARCHES.find(person, about, bench_site(row))
        if found is None:
            raise WriteRejected("The search for the best order was stopped.", status=409)
        _searched[row.pk] = (row.version_token, technicians, taken, found)
    return found


_searched: dict[int, tuple[str, int, int, Run]] = {}  # the last that was searched for, by site


def bench_first(row: models.Site, technicians: int) -> Run:
    """Return the run that is started at once: the best where somebody has waited for it already, else a quick one."""
    version_token, for_technicians, taken, found = _searched.get(row.pk, ("", 0, 0, None))
    if found is not None and (version_token, for_technicians, taken) == (
        row.version_token,
        technicians,
        models.StepDuration.objects.count(),
    ):
        return found
    return bench_preview(row, technicians)


def bench_now(started: models.BenchRun) -> float:
    """Return the seconds on the clock of a run; it stands where the run rests."""
    return ((started.paused_at or timezone.now()) - started.started_at).total_seconds()


def step_outcomes(started: models.BenchRun, site: Site) -> list[StepOutcome]:
    """Return what became of each step of a run as it was said; steps of devices that are gone are left out."""
    return [
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


def live(started: models.BenchRun, site: Site) -> RunState:
    """Return a run under way as the core knows it. What is to be typed anew counts as not typed yet."""
    anew = bench_steps.typed_anew(started.site)
    facts = [
        fact
        for fact in step_outcomes(started, site)
        if fact.device not in anew
        or fact.kind not in bench_steps.AFTER_TYPING
        or (fact.kind, fact.state) == ("configure", "doing")
    ]
    said = (started.said_at - started.started_at).total_seconds()
    return RunState(
        started.technicians,
        tuple(started.order),
        tuple(facts),
        started.set_aside,
        Bound(started.bound_s, started.bound_why),
        started.one_by_one_s,
        anew,
        said,
    )


def bench_run(row: models.Site) -> Run:
    """Return the run under way as it stands now, or the one that would be if it were started."""
    started = bench_row(row)
    if started is None:
        return bench_preview(row)
    now, mark = bench_now(started), (row.version_token, f"{started.revision} {sorted(bench_steps.typed_anew(row))}")
    kept, since, until, found = _standing.get(row.pk, (None, 0.0, 0.0, None))
    if found is None or kept != mark or not since <= now < until:
        site, state = _run_state(row.pk, *mark)
        found = live_run(site, state, now)
        moments = (at for step in found.steps for at in (step.start_s, step.end_s) if at > now)
        _standing[row.pk] = (mark, now, min(moments, default=inf), found)
    return found


# how a run stands, by site: (its version, from when, until the next step begins or ends, the run)
_standing: dict[int, tuple[tuple[str, str] | None, float, float, Run | None]] = {}


@lru_cache(maxsize=8)
def _run_state(pk: int, version_token: str, revision: str) -> tuple[Site, RunState]:
    """Return the rows of a run as the core knows them, read once for each word that was said."""
    started = models.BenchRun.objects.select_related("site").get(site=pk)
    site = bench_site(started.site)
    return site, live(started, site)


class Told(NamedTuple):
    """A tick as it is told to the pages that follow the bench: the number of its line, the page that said it, and what
    was said."""

    line: int
    page: str
    said: dict[str, Any]


def bench_revision(pk: int) -> tuple[str, int]:
    """Return what changes whenever somebody does something at the bench of a site, or with the site."""
    version_token = models.Site.objects.filter(pk=pk).values_list("version_token", flat=True).first() or ""
    return version_token, models.BenchRun.objects.filter(site_id=pk).values_list("revision", flat=True).first() or 0


def last_event(key: str) -> int:
    """Return the number of the newest line of a site's log, 0 where there is none."""
    return models.Event.objects.filter(site_key=key).aggregate(last=Max("pk"))["last"] or 0


def ticks_since(key: str, number: int) -> tuple[int, list[Told]]:
    """Return the number of the newest line of the log, and the ticks after a line."""
    lines = list(models.Event.objects.filter(site_key=key, pk__gt=number).order_by("pk"))
    ticks = [
        Told(
            line.pk,
            line.after.get("page") or "",
            {**{name: line.after.get(name) for name in _TICKED}, "by": line.by, "at": line.at.isoformat()},
        )
        for line in lines
        if line.kind == TICK and line.after
    ]
    return (lines[-1].pk if lines else number), ticks


TICK = "value.tick"
_TICKED = ("subject", "line", "value", "done")
