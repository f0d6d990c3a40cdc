"""Looking up rows: each raises Http404 with a sentence that names the key."""

from collections.abc import Mapping
from typing import Any

from django.http import Http404

from tutelar.server import models
from tutelar.server.store.reads import asked_once


def site_row(key: str) -> models.Site:
    """Return the row of a site, or raise Http404 with a sentence that names the key."""
    row = models.Site.objects.filter(key=key, removed_at=None).first()
    if row is None:
        raise Http404(f"There is no site '{key}'.")
    return row


def device_row(site: models.Site, key: str) -> models.Device:
    """Return the row of a device. Raises Http404 naming the key."""
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
    return {"key": row.key, "family": row.family, **row.extra}, models.Device.objects.filter(model=row).count()


def link_row(site: models.Site, number: int) -> models.Link:
    """Return the row of a link. Raises Http404 naming its number."""
    link = models.Link.objects.select_related("start", "end").filter(site=site, pk=number).first()
    if link is None:
        raise Http404(f"The site {site.name} has no link {number}.")
    return link


def proof_row(site: models.Site, number: int) -> models.Proof:
    """Return the row of a measuring. Raises Http404 naming its number."""
    proof = models.Proof.objects.select_related("site").filter(site=site, pk=number).first()
    if proof is None:
        raise Http404(f"The site {site.name} was never measured under the number {number}.")
    return proof


@asked_once
def step_records(row: models.Site) -> dict[str, models.StepRecord]:
    """Return what was said of each bench step, by its id."""
    return {record.step: record for record in models.StepRecord.objects.filter(site=row)}


def finished(records: Mapping[str, models.StepRecord]) -> frozenset[str]:
    """Return the ids of the bench steps that were said to be done or skipped."""
    return frozenset(step for step, record in records.items() if record.state in ("done", "skipped"))
