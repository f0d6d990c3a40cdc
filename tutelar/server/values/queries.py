"""Reads of what is typed: values, ticks, clocks."""

from collections import defaultdict
from datetime import datetime
from functools import lru_cache

from django.utils import timezone

from tutelar.core.clock.drift import reckonable
from tutelar.core.run.values import values_to_type
from tutelar.core.setting import DeviceSettings
from tutelar.core.site.types import Device
from tutelar.server import models
from tutelar.server.store import documents


@lru_cache(maxsize=32)
def _settings(pk: int, version_token: str, year: int) -> DeviceSettings:
    return DeviceSettings(documents.document_at(pk, version_token), documents.plan_at(pk, version_token), year)


def settings_of(row: models.Site) -> DeviceSettings:
    """Return the values of the site's devices, with daylight saving from this year on."""
    return _settings(row.pk, row.version_token, timezone.now().year)


def compared(values: DeviceSettings, device: Device, kind: str) -> list[tuple[str, str, str]]:
    """Return (key, label, value) of what is compared at a step of this kind."""
    return [(item.key, item.label, item.value) for item in values_to_type(values, device, kind)]


def ticks(row: models.Site, subject: str) -> dict[str, models.ValueTick]:
    """Return the ticks of a device or step by line."""
    return {tick.line: tick for tick in models.ValueTick.objects.filter(site=row, subject=subject)}


def clock_readings(row: models.Site) -> dict[str, list[tuple[datetime, float]]]:
    """Return (when, seconds ahead) of every reading of a clock by device key, oldest first; those of the pretend site
    count on a practice site only."""
    found: dict[str, list[tuple[datetime, float]]] = defaultdict(list)
    rows = models.Reading.objects.filter(site=row, check_name="clock", at__isnull=False, offset_s__isnull=False)
    if not row.about.get("practice"):
        rows = rows.exclude(measured_at="pretend")
    for key, at, offset in rows.values_list("device__key", "at", "offset_s"):
        if at is not None and offset is not None and reckonable(at, offset):
            found[key].append((at, offset))
    return found
