"""The list of sites, the frame of every screen, the log."""

import logging
from datetime import date
from functools import lru_cache

from django.conf import settings
from django.db.models import Max, QuerySet
from django.utils import timezone

from tutelar.server import models
from tutelar.server.logbook import queries as logbook_queries
from tutelar.server.schemas import EventRow
from tutelar.server.sheet import laptop_state, shaped
from tutelar.server.site import queries
from tutelar.server.site import schemas as shapes
from tutelar.server.store import documents

_LOG = logging.getLogger(__name__)


def sites(among: QuerySet[models.Site]) -> list[shapes.SiteRow]:
    """Return one row a site among these: how many devices, how many proven, and the next thing."""
    lines = models.Event.objects.order_by().values_list("site_key").annotate(last=Max("pk"))
    last, today = dict(lines), timezone.localdate()
    rows = among.filter(removed_at=None).order_by("name")
    return [_site_row(row, last.get(row.key, 0), today) for row in rows]


@lru_cache(maxsize=4096)
def _how_far(pk: int, version_token: str, line: int, today: date) -> tuple[int, int, str]:
    """Return how many devices a site has, how many are proven, and its next thing: every write changes its version
    token or leaves a line in its log, and what is left open until a day ends with that."""
    row = models.Site.objects.get(pk=pk)
    site, now = documents.document(row), queries.site_progress(row)
    return len(site.devices), len(site.devices) - now.unproven, now.next.sentence


def _site_row(row: models.Site, line: int, today: date) -> shapes.SiteRow:
    broken = False
    try:
        devices, proven, following = _how_far(row.pk, row.version_token, line, today)
    except Exception:  # whatever is wrong with one site, the others are there
        _LOG.exception("The site %s cannot be shown.", row.key)
        devices, proven, broken = 0, 0, True
        following = "It cannot be read. Import it again from a backup or its site file."
    return shaped(shapes.SiteRow, row, devices=devices, proven=proven, next=following, broken=broken)


def frame(row: models.Site) -> shapes.Frame:
    """Return what changes with the site only: its name and the devices that Find finds."""
    site = documents.document(row)
    addresses = documents.planned(row).addresses()
    return shapes.Frame(
        key=row.key,
        name=row.name,
        revision=row.revision,
        practice=site.about.practice,
        live=settings.LIVE,
        units=site.about.units,
        on_test=[
            shapes.StationTest(hub=hub.hub, name=site.label_of(hub.hub), until=hub.on_test.until)
            for hub in (site.alarm.hubs if site.alarm is not None else ())
            if hub.on_test is not None
        ],
        devices=[
            shapes.Findable(
                key=device.key,
                name=device.label,
                place=device.place,
                family=site.family_of(device),
                address=addresses.get(device.key),
                network=device.behind or device.network,
            )
            for device in site.devices
        ],
    )


def job(row: models.Site) -> shapes.Job:
    """Return how far the job is: every stage with its mark and its next thing, that of the site, and the laptop."""
    now = queries.site_progress(row)
    return shapes.Job(
        stages=[
            shaped(shapes.StageRow, item, next=shaped(shapes.NextThing, item.next, subjects=list(item.next.subjects)))
            for item in now.stages
        ],
        next=shaped(shapes.NextThing, now.next, subjects=list(now.next.subjects)),
        laptop=laptop_state(now.laptop),
    )


def events(row: models.Site, search: str, most: int = 200) -> list[EventRow]:
    """Return the newest lines of a site's log that hold every word of the search."""
    lines = logbook_queries.log_lines(row, search)
    return [shaped(EventRow, line) for line in lines[:most]]
