"""Every read: rows turned into the core's answers. Computed results are kept by the site's stamp."""

from collections import defaultdict
from collections.abc import Collection, Mapping
from datetime import datetime
from functools import lru_cache
from typing import Any

from django.conf import settings
from django.db.models import Max, Q, QuerySet
from django.http import Http404
from django.utils import timezone

from tutelar.core.addressing import Plan, plan
from tutelar.core.links.known import Known
from tutelar.core.links.readiness import Standing, standings
from tutelar.core.progress import Progress, progress
from tutelar.core.proof import Exceptions, Expectation, State, all_expectations, device_state, latest, left_to_see
from tutelar.core.run import Run, run
from tutelar.core.run.bound import Bound
from tutelar.core.run.chain import Setting
from tutelar.core.run.live import Fact, Live, live_run
from tutelar.core.run.times import Medians, usual, with_usual_times
from tutelar.core.run.values import values_to_type
from tutelar.core.setting import Settings
from tutelar.core.site import Reading, Site
from tutelar.core.site.types import Device
from tutelar.server.sites import models
from tutelar.server.sites.document import document_of, last_readings, site_of


def site_row(key: str) -> models.Site:
    """Return the row of a site, or raise Http404 with a sentence that names the key."""
    row = models.Site.objects.filter(key=key).first()
    if row is None:
        raise Http404(f"There is no site '{key}'.")
    return row


def device_row(site: models.Site, key: str) -> models.Device:
    rows = models.Device.objects.select_related("model", "network", "behind")
    device = rows.filter(site=site, key=key).first()
    if device is None:
        raise Http404(f"The site {site.name} has no device '{key}'.")
    return device


def site_model(site: models.Site, key: str) -> tuple[dict[str, Any], int]:
    """Return a model of a site as in the document, and how many devices are of it."""
    row = models.DeviceModel.objects.filter(site=site, key=key).first()
    if row is None:
        raise Http404(f"The site {site.name} has no model '{key}'.")
    return {"key": row.key, "family": row.family, **row.rest}, models.Device.objects.filter(model=row).count()


def link_row(site: models.Site, number: int) -> models.Link:
    link = models.Link.objects.select_related("start", "end").filter(site=site, pk=number).first()
    if link is None:
        raise Http404(f"The site {site.name} has no link {number}.")
    return link


def proof_row(site: models.Site, number: int) -> models.Proof:
    proof = models.Proof.objects.select_related("site").filter(site=site, pk=number).first()
    if proof is None:
        raise Http404(f"The site {site.name} was never measured under the number {number}.")
    return proof


@lru_cache(maxsize=32)
def _document(pk: int, stamp: str) -> Site:
    return site_of(models.Site.objects.get(pk=pk))


@lru_cache(maxsize=32)
def _planned(pk: int, stamp: str) -> Plan:
    return plan(_document(pk, stamp))


PREVIEW_EFFORT = 30_000  # pieces laid for a run that nobody started yet: it is looked at, not worked by


@lru_cache(maxsize=32)
def _planned_run(pk: int, stamp: str, hands: int, taken: int, effort: int | None) -> Run:
    site = _document(pk, stamp)
    return run(with_usual_times(site, usual(_readings_of(site))), hands, effort)


def _readings_of(site: Site) -> list[tuple[str, str, float]]:
    rows = models.Took.objects.filter(model_key__in=[model.key for model in site.models])
    return list(rows.values_list("model_key", "kind", "seconds"))


@lru_cache(maxsize=32)
def _expectations(pk: int, stamp: str, marks: frozenset[tuple[tuple[str, str], str]]) -> dict[str, list[Expectation]]:
    return all_expectations(_document(pk, stamp), _planned(pk, stamp).assignments, dict(marks), witnessed=True)


def document(row: models.Site, *, fresh: bool = False) -> Site:
    """Return the site's document without its readings; `fresh`: as the rows stand within a change."""
    return site_of(row) if fresh else _document(row.pk, row.stamp)


def planned(row: models.Site) -> Plan:
    return _planned(row.pk, row.stamp)


def bench_site(row: models.Site) -> Site:
    """Return the site with the times that its models took at benches so far, where there are enough of them."""
    site = document(row)
    return with_usual_times(site, usual(_readings_of(site)))


def bench_times(row: models.Site) -> Medians:
    """Return (median seconds, number of readings) by (model key, step kind)."""
    return usual(_readings_of(document(row)))


def bench_row(row: models.Site) -> models.BenchRun | None:
    return models.BenchRun.objects.filter(site=row).first()


def bench_preview(row: models.Site, hands: int = 1) -> Run:
    """Return a run as quickly as may be: to look at, not to work by."""
    return _planned_run(row.pk, row.stamp, hands, models.Took.objects.count(), settings.RUN_EFFORT or PREVIEW_EFFORT)


def bench_plan(row: models.Site, hands: int) -> Run:
    """Return the run that is started, after the seconds of the whole search, spent once for each state of the site."""
    return _planned_run(row.pk, row.stamp, hands, models.Took.objects.count(), settings.RUN_EFFORT)


def bench_now(started: models.BenchRun) -> float:
    """Return the seconds on the clock of a run; it stands where the run rests."""
    return ((started.paused_at or timezone.now()) - started.started_at).total_seconds()


def live(started: models.BenchRun, site: Site) -> Live:
    """Return a run under way as the core knows it; steps of devices that are gone are left out."""
    facts = [
        Fact(
            item.step,
            item.device_key or None,
            item.kind,
            item.state,  # type: ignore[arg-type]
            item.hand,
            item.start_s,
            item.end_s,
            Setting(**item.adapter) if item.adapter else None,
            item.port,
            item.more_s,
            item.why,
            item.reason,
        )
        for item in models.StepRecord.objects.filter(site=started.site).order_by("start_s", "pk")
        if item.state != "open" and (not item.device_key or item.device_key in site.device_by_key)
    ]
    said = (started.said_at - started.started_at).total_seconds()
    return Live(
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


def expectations(row: models.Site) -> dict[str, list[Expectation]]:
    """Return what every device has to show, measured and witnessed, by its key."""
    return _expectations(row.pk, row.stamp, frozenset(all_secret_marks(row).items()))


def measured_expectations(row: models.Site, checks: Collection[str] | None = None) -> dict[str, list[Expectation]]:
    """Return what is measured of every device, of these checks only where they are given."""
    return {
        key: [item for item in items if not item.witnessed and (checks is None or item.check in checks)]
        for key, items in expectations(row).items()
    }


def exceptions(row: models.Site) -> Exceptions:
    """Return the checks that are left open today."""
    return Exceptions.on(document(row), timezone.localdate())


def readings(row: models.Site) -> Mapping[tuple[str, str], Reading]:
    """Return the last reading of each (device, check); the same object until another one is taken."""
    newest = models.Reading.objects.filter(site=row).aggregate(last=Max("pk"))["last"]
    return _readings(row.pk, row.stamp, newest)


@lru_cache(maxsize=4)
def _readings(pk: int, stamp: str, newest: int | None) -> Mapping[tuple[str, str], Reading]:
    rows = last_readings(models.Reading.objects.filter(site=pk))
    return latest(
        Reading.model_construct(**{**rest, "device": device, "check": check, "result": result})
        for device, check, result, rest in rows.values_list("device__key", "check_name", "result", "rest").iterator()
    )


def proof_changes(row: models.Site, most: int = 200) -> list[tuple[str, str, str, str, str]]:
    """Return what came out otherwise at the last measuring that ended than before: (device, check, result before,
    result now, what was measured now), in the order in which it was measured."""
    newest = models.Proof.objects.filter(site=row, state__in=("done", "cancelled")).first()
    if newest is None:
        return []
    fresh = models.Reading.objects.filter(site=row, proof=newest).exclude(check_name__contains=".").order_by("pk")
    now = list(fresh.values_list("pk", "device", "check_name", "result"))
    if not now:
        return []
    earlier = last_readings(models.Reading.objects.filter(site=row, pk__lt=now[0][0]))
    before = {(device, check): old for device, check, old in earlier.values_list("device", "check_name", "result")}
    olds = {
        pk: before[device, check] for pk, device, check, result in now if before.get((device, check), result) != result
    }
    changed = models.Reading.objects.select_related("device").filter(pk__in=list(olds)[:most]).order_by("pk")
    return [
        (item.device.key, item.check_name, olds[item.pk], item.result, str(item.rest.get("measured") or ""))
        for item in changed
    ]


def evidence(row: models.Site, device: str, source: str) -> models.Evidence | None:
    """Return what last came over the wire of a device at a source, None where nothing is kept."""
    return models.Evidence.objects.filter(site=row, device__key=device, source=source).first()


def step_records(row: models.Site) -> dict[str, models.StepRecord]:
    return {record.step: record for record in models.StepRecord.objects.filter(site=row)}


def finished(records: dict[str, models.StepRecord]) -> frozenset[str]:
    return frozenset(step for step, record in records.items() if record.state in ("done", "skipped"))


def device_states(row: models.Site, last: Mapping[tuple[str, str], Reading], done: frozenset[str]) -> dict[str, State]:
    """Return the state of every device that has something to measure, by key."""
    wanted, left = expectations(row), exceptions(row)
    return {
        device.key: device_state(
            device.address is not None,
            f"{device.key}:configure" in done,
            wanted[device.key],
            last,
            left.covered(device.key, [item.check for item in wanted[device.key]]),
        )
        for device in document(row).devices
    }


def site_progress(row: models.Site) -> Progress:
    done, last = finished(step_records(row)), readings(row)
    states = device_states(row, last, done)
    telling = models.Telling.objects.filter(site=row, done_at__isnull=True).values_list("sentence", flat=True)
    links = link_standings(row, last, states)
    to_see = left_to_see(expectations(row), last, exceptions(row))
    return progress(document(row), planned(row), bench_run(row), done, states, list(telling), links, to_see)


def links_known(row: models.Site, states: Mapping[str, str] | None = None) -> Known:
    """Return what is known of a site's links; `states` are those of its devices where they are at hand."""
    if states is None:
        states = device_states(row, readings(row), finished(step_records(row)))
    secrets = all_secret_marks(row)
    open_ = models.Telling.objects.filter(site=row, done_at__isnull=True).values_list("device__key", "about__key")
    return Known(document(row), planned(row).addresses(), states, secrets, frozenset(open_))


def link_ticks(row: models.Site) -> dict[tuple[str, str], str]:
    """Return what each value was when it was ticked, by (device key, line key)."""
    rows = models.Typed.objects.filter(site=row).values_list("subject", "line", "mark")
    return {(subject, line): mark for subject, line, mark in rows}


def link_standings(
    row: models.Site, last: Mapping[tuple[str, str], Reading] | None = None, states: Mapping[str, str] | None = None
) -> list[Standing]:
    """Return how far every link is, in the order of the document."""
    last = readings(row) if last is None else last
    return standings(links_known(row, states), last, link_ticks(row))


def export(row: models.Site) -> dict[str, object]:
    """Return the site file of a site as JSON values."""
    return document_of(row)


@lru_cache(maxsize=32)
def _settings(pk: int, stamp: str, year: int) -> Settings:
    return Settings(_document(pk, stamp), _planned(pk, stamp), year)


def settings_of(row: models.Site) -> Settings:
    """Return the values of the site's devices, with daylight saving from this year on."""
    return _settings(row.pk, row.stamp, timezone.now().year)


def compared(values: Settings, device: Device, kind: str) -> list[tuple[str, str]]:
    """Return the (label, value) pairs that are compared at a step of this kind."""
    return [(item.label, item.value) for item in values_to_type(values, device, kind)]


def all_secret_marks(row: models.Site) -> dict[tuple[str, str], str]:
    """Return what every kept secret of a site is known by, by (device key, slot)."""
    uses = models.SecretUse.objects.filter(site=row).values_list("device_key", "slot", "secret")
    return {(device, slot): secret_mark(pk) for device, slot, pk in uses}


def secret_marks(row: models.Site, device_keys: Collection[str]) -> dict[tuple[str, str], str]:
    """Return what a tick of each stored secret refers to by (device key, slot); a new secret has another mark."""
    uses = models.SecretUse.objects.filter(site=row, device_key__in=device_keys)
    return {(device, slot): secret_mark(pk) for device, slot, pk in uses.values_list("device_key", "slot", "secret")}


def secret_mark(pk: int | None) -> str:
    return f"secret {pk}" if pk else "no secret"


def ticks(row: models.Site, subject: str) -> dict[str, models.Typed]:
    return {tick.line: tick for tick in models.Typed.objects.filter(site=row, subject=subject)}


def open_tellings(row: models.Site) -> list[models.Telling]:
    return list(models.Telling.objects.select_related("device", "about").filter(site=row, done_at__isnull=True))


def clock_readings(row: models.Site) -> dict[str, list[tuple[datetime, float]]]:
    """Return (when, seconds ahead) of every reading of a clock by device key, oldest first."""
    found: dict[str, list[tuple[datetime, float]]] = defaultdict(list)
    rows = models.Reading.objects.filter(site=row, check_name="clock", at__isnull=False)
    for key, at, rest in rows.values_list("device__key", "at", "rest"):
        if at is not None and isinstance(rest.get("offset_s"), int | float):
            found[key].append((at, float(rest["offset_s"])))
    return found


def log_lines(row: models.Site, search: str = "", device: str = "") -> QuerySet[models.Event]:
    """Return the lines of a site's log that hold every word, newest first; a word may be part of a device's name."""
    lines = models.Event.objects.filter(site_key=row.key)
    if device:
        lines = lines.filter(subject=device)
    for word in search.split()[:10]:
        named = [part.key for part in document(row).devices if word.lower() in part.label.lower()]
        lines = lines.filter(
            Q(sentence__icontains=word)
            | Q(by__icontains=word)
            | Q(kind__icontains=word)
            | Q(subject__icontains=word)
            | Q(subject__in=named[:500])
        )
    return lines
