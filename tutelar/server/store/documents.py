"""A site's document and its plan, kept by the site's version."""

from dataclasses import replace
from functools import lru_cache
from typing import Any

from tutelar.core.addressing import Plan
from tutelar.core.planning import plan
from tutelar.core.site import Site
from tutelar.server import models
from tutelar.server.store.document import document_of, site_of


@lru_cache(maxsize=32)
def document_at(pk: int, version_token: str) -> Site:
    """Return the document of a site at a version_token."""
    return site_of(models.Site.objects.get(pk=pk))


@lru_cache(maxsize=32)
def plan_at(pk: int, version_token: str) -> Plan:
    """Return the plan of a site at a version_token; an address that a plan gave has the reason that it had then."""
    found = plan(document_at(pk, version_token))
    rows = models.Device.objects.filter(site=pk).exclude(planned__isnull=True).values_list("key", "planned")
    first = {(key, given["address"]): given["why"] for key, given in rows if given}
    return replace(
        found,
        assignments=tuple(
            item if item.source == "planned" else item._replace(why=first.get((item.device, item.address), item.why))
            for item in found.assignments
        ),
    )


def document(row: models.Site, *, fresh: bool = False) -> Site:
    """Return the site's document without its readings; `fresh`: as the rows stand within a change."""
    return site_of(row) if fresh else document_at(row.pk, row.version_token)


def planned(row: models.Site) -> Plan:
    """Return the plan of a site as it stands."""
    return plan_at(row.pk, row.version_token)


def export(row: models.Site) -> dict[str, Any]:
    """Return the site file of a site as JSON values."""
    return document_of(row)
