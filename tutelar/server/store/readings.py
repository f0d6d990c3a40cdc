"""Readings as rows and back. What has a code is kept as values; its words are made when somebody reads them."""

from collections.abc import Iterable, Iterator
from datetime import datetime
from typing import Any

from django.db.models import Max, QuerySet, TextField
from django.db.models.functions import Cast

from tutelar.core.proof import expected_of, measured_of
from tutelar.core.site import Reading, Site
from tutelar.server import models

_FIELDS = ("took_ms", "offset_s", "by", "basis", "values", "measured_at")
_KNOWN = frozenset({"device", "check", "result", "at", "code", "expected", "measured", *_FIELDS[:-1]})


def reading_row(
    site: models.Site,
    device: models.Device,
    reading: Reading,
    at: datetime | None,
    by: str | None,
    proof: models.Proof | None = None,
) -> models.Reading:
    """Return the row of a reading, not stored yet."""
    spoken = reading.code is None or reading.code == "kept"
    return models.Reading(
        site=site,
        device=device,
        proof=proof,
        check_name=reading.check,
        result=reading.result,
        at=at,
        by=by,
        measured_at=reading.from_,
        code=reading.code or "",
        values=reading.values,
        basis=reading.basis,
        expected=reading.expected if spoken else None,
        measured=reading.measured if spoken else None,
        took_ms=reading.took_ms,
        offset_s=reading.offset_s,
    )


def last_readings(readings: QuerySet[models.Reading]) -> QuerySet[models.Reading]:
    """Return of these readings the last of each check of a device, in the order in which they were taken."""
    newest = readings.order_by().values("device", "check_name").annotate(last=Max("pk")).values("last")
    return models.Reading.objects.filter(pk__in=newest).order_by("pk")


def readings_of(rows: QuerySet[models.Reading]) -> Iterator[Reading]:
    """Yield the core's readings of these rows, without words where there are values."""
    columns = ("device__key", "check_name", "result", "at", "code", "expected", "measured", *_FIELDS)
    for device, check, result, at, code, expected, measured, *rest in rows.values_list(*columns).iterator():
        yield Reading.model_construct(
            device=device,
            check=check,
            result=result,
            at=at.isoformat(timespec="seconds") if at is not None else None,
            code=code or None,
            expected=expected,
            measured=measured,
            from_=rest[-1],
            **dict(zip(_FIELDS[:-1], rest[:-1], strict=True)),
        )


def reading_parts(site: Site, rows: QuerySet[models.Reading]) -> Iterator[dict[str, Any]]:
    """Yield the readings of these rows as the document has them, with their words of today."""
    extras = dict(rows.alias(said=Cast("extra", TextField())).exclude(said="{}").values_list("pk", "extra"))
    for pk, reading in zip(rows.values_list("pk", flat=True), readings_of(rows), strict=True):
        part = {name: value for name, value in vars(reading).items() if name in _KNOWN and value is not None}
        if reading.from_ != "hand":
            part["from"] = reading.from_
        part["expected"], part["measured"] = expected_of(site, reading), measured_of(site, reading)
        yield {**{name: value for name, value in part.items() if value is not None}, **extras.get(pk, {})}


def store_given(row: models.Site, devices: dict[str, models.Device], parts: Iterable[dict[str, Any]]) -> None:
    """Store the readings of a document that comes in."""
    models.Reading.objects.bulk_create([_given(row, devices[part["device"]], part) for part in parts], batch_size=500)


def _given(row: models.Site, device: models.Device, part: dict[str, Any]) -> models.Reading:
    reading = Reading.model_validate({name: value for name, value in part.items() if not name.startswith("x-")})
    found = reading_row(row, device, reading, _moment(part.get("at")), part.get("by"))
    found.expected, found.measured = reading.expected, reading.measured
    found.extra = {name: value for name, value in part.items() if name.startswith("x-")}
    if reading.at and (found.at is None or found.at.isoformat(timespec="seconds") != reading.at):
        found.extra["at"] = reading.at  # as it was written
    return found


def _moment(text: str | None) -> datetime | None:
    try:
        found = datetime.fromisoformat(text) if text else None
    except ValueError:
        return None
    return found if found is not None and found.tzinfo is not None else None
