"""Reads of the proof: what is wanted, what was read last, what is left open."""

from collections.abc import Collection, Mapping
from functools import lru_cache

from django.db.models import Max
from django.utils import timezone

from tutelar.core.proof import (
    Exceptions,
    Expectation,
    State,
    all_expectations,
    device_state,
    is_planned,
    latest,
    measured_of,
    proving_sources,
)
from tutelar.core.site import Reading
from tutelar.server import models
from tutelar.server.store import documents
from tutelar.server.store.readings import last_readings, readings_of
from tutelar.server.store.reads import asked_once
from tutelar.server.store.secret_marks import all_secret_marks


@lru_cache(maxsize=32)
def _expectations(
    pk: int, version_token: str, marks: frozenset[tuple[tuple[str, str], str]]
) -> dict[str, list[Expectation]]:
    return all_expectations(
        documents.document_at(pk, version_token),
        documents.plan_at(pk, version_token).assignments,
        dict(marks),
        witnessed=True,
    )


@asked_once
def expectations(row: models.Site) -> dict[str, list[Expectation]]:
    """Return what every device has to show, measured and witnessed, by its key."""
    return _expectations(row.pk, row.version_token, frozenset(all_secret_marks(row).items()))


def measured_expectations(row: models.Site, checks: Collection[str] | None = None) -> dict[str, list[Expectation]]:
    """Return what is measured of every device, of these checks only where they are given."""
    return {
        key: [item for item in items if not item.witnessed and (checks is None or item.check in checks)]
        for key, items in expectations(row).items()
    }


@asked_once
def exceptions(row: models.Site) -> Exceptions:
    """Return the checks that are left open today."""
    return Exceptions.on(documents.document(row), timezone.localdate())


@asked_once
def readings(row: models.Site) -> Mapping[tuple[str, str], Reading]:
    """Return the last reading of each (device, check); the same object until another one is taken."""
    newest = models.Reading.objects.filter(site=row).aggregate(last=Max("pk"))["last"]
    return _readings(row.pk, row.version_token, newest)


@lru_cache(maxsize=4)
def _readings(pk: int, version_token: str, newest: int | None) -> Mapping[tuple[str, str], Reading]:
    sources = proving_sources(documents.document_at(pk, version_token))
    rows = models.Reading.objects.filter(site=pk, measured_at__in=sources)
    return latest(readings_of(last_readings(rows)))


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
    changed = models.Reading.objects.filter(pk__in=list(olds)[:most]).order_by("pk")
    site, keys = documents.document(row), changed.values_list("pk", flat=True)
    return [
        (item.device, item.check, olds[pk], item.result, measured_of(site, item) or "")
        for pk, item in zip(keys, readings_of(changed), strict=True)
    ]


def evidence(row: models.Site, device: str, source: str) -> models.Evidence | None:
    """Return what last came over the wire of a device at a source, None where nothing is kept."""
    return models.Evidence.objects.filter(site=row, device__key=device, source=source).first()


def device_states(row: models.Site, last: Mapping[tuple[str, str], Reading], done: frozenset[str]) -> dict[str, State]:
    """Return the state of every device that has something to measure, by key."""
    site, wanted, left = documents.document(row), expectations(row), exceptions(row)
    return {
        device.key: device_state(
            is_planned(site, device),
            f"{device.key}:configure" in done,
            wanted[device.key],
            last,
            left.covered(device.key, [item.check for item in wanted[device.key]]),
        )
        for device in site.devices
    }


def practised(row: models.Site) -> dict[tuple[str, str], Reading]:
    """Return what the pretend site showed last, where that proves nothing; {} on a practice site, where it counts."""
    if "pretend" in proving_sources(documents.document(row)):
        return {}
    return latest(readings_of(last_readings(models.Reading.objects.filter(site=row, measured_at="pretend"))))
