"""The list of sites, the frame of every screen, the log."""

from dataclasses import asdict

from django.conf import settings

from tutelar.server import models
from tutelar.server.logbook import queries as logbook_queries
from tutelar.server.sheet import Sheet, laptop_state
from tutelar.server.site import queries
from tutelar.server.store import documents


def sites() -> list[Sheet]:
    """Return one row a site: how many devices, how many proven, and the next thing."""
    rows = []
    for row in models.Site.objects.order_by("name"):
        site, now = documents.document(row), queries.site_progress(row)
        rows.append(
            {
                "key": row.key,
                "name": row.name,
                "devices": len(site.devices),
                "proven": len(site.devices) - (now.open["proof"] or 0),
                "next": now.next.sentence,
                "updated_at": row.updated_at,
            }
        )
    return rows


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
