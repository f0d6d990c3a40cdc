"""The list of sites, the frame of every screen, the log."""

import logging
from dataclasses import asdict

from django.conf import settings

from tutelar.server import models
from tutelar.server.logbook import queries as logbook_queries
from tutelar.server.sheet import Sheet, laptop_state
from tutelar.server.site import queries
from tutelar.server.store import documents

_LOG = logging.getLogger(__name__)


def sites() -> list[Sheet]:
    """Return one row a site: how many devices, how many proven, and the next thing."""
    return [_site_row(row) for row in models.Site.objects.filter(removed_at=None).order_by("name")]


def _site_row(row: models.Site) -> Sheet:
    found = {"key": row.key, "name": row.name, "revision": row.revision, "updated_at": row.updated_at}
    try:
        site, now = documents.document(row), queries.site_progress(row)
    except Exception:  # whatever is wrong with one site, the others are there
        _LOG.exception("The site %s cannot be shown.", row.key)
        said = "It cannot be read. Bring it in anew from a backup or its site file."
        return {**found, "devices": 0, "proven": 0, "next": said, "broken": True}
    proven = len(site.devices) - (now.open["proof"] or 0)
    return {**found, "devices": len(site.devices), "proven": proven, "next": now.next.sentence, "broken": False}


def frame(row: models.Site) -> Sheet:
    """Return what changes with the site only: its name and the devices that Find finds."""
    site = documents.document(row)
    addresses = documents.planned(row).addresses()
    return {
        "key": row.key,
        "name": row.name,
        "revision": row.revision,
        "practice": site.about.practice,
        "live": settings.LIVE,
        "reserved": sum(1 for device in site.devices if device.addressing == "reserved" and device.mac),
        "devices": [
            {
                "key": device.key,
                "name": device.label,
                "place": device.place,
                "family": site.family_of(device),
                "address": addresses.get(device.key),
                "network": device.behind or device.network,
            }
            for device in site.devices
        ],
    }


def job(row: models.Site) -> Sheet:
    """Return how far the job is: every stage with its mark and its next thing, that of the site, and the laptop."""
    now = queries.site_progress(row)
    return {
        "stages": [{**asdict(item), "mark": item.mark} for item in now.stages],
        "next": asdict(now.next),
        "laptop": laptop_state(now.laptop),
    }


def events(row: models.Site, search: str, most: int = 200) -> list[Sheet]:
    """Return the newest lines of a site's log that hold every word of the search."""
    lines = logbook_queries.log_lines(row, search)
    return [dict(line) for line in lines.values("id", "at", "by", "kind", "subject", "sentence")[:most]]
