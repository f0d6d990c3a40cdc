"""What is asked of all sites at once: their log, and which were removed."""

from django.db.models import QuerySet

from tutelar.server import models
from tutelar.server.everywhere import schemas as shapes
from tutelar.server.files import exports
from tutelar.server.logbook import queries
from tutelar.server.site.removal import gone_at

MOST = 200
DEVICES, PAPERS = 40, 20


def log(
    among: QuerySet[models.Site] | None, search: str, before: int | None = None, most: int = MOST
) -> shapes.FoundLines:
    """Return the newest lines of the log of these sites (None: of every one, the firm's own lines and those of sites
    that are gone among them) that hold every word; none without a word to look for."""
    lines = queries.log_lines(None, search) if search.strip() else models.Event.objects.none()
    if among is not None:
        lines = lines.filter(site_key__in=among.values("key"))
    if before is not None:
        lines = lines.filter(pk__lt=before)
    found = list(lines[: most + 1])
    names = dict(
        models.Site.objects.filter(key__in={item.site_key for item in found}, removed_at=None).values_list(
            "key", "name"
        )
    )
    about = models.Device.objects.filter(site__key__in=names, key__in={item.subject for item in found})
    rows = about.values_list("site__key", "key", "name")
    called = {(site, key): name or key for site, key, name in rows}
    return shapes.FoundLines(
        lines=[
            shapes.FoundLine(
                id=item.pk,
                at=item.at,
                by=item.by,
                site=item.site_key,
                site_name=names.get(item.site_key, item.site_key),
                gone=item.site_key not in names,
                subject=item.subject,
                name=called.get((item.site_key, item.subject)),
                sentence=item.sentence,
            )
            for item in found[:most]
        ],
        more=len(found) > most,
    )


def things(among: QuerySet[models.Site], search: str) -> shapes.FoundThings:
    """Return the devices and papers of these sites that answer to every word; none without one."""
    found = list(queries.found_devices(search).filter(site__in=among)[: DEVICES + 1])
    words = search.casefold().split()
    papers: list[shapes.FoundPaper] = []
    for row in among.filter(removed_at=None).order_by("name") if words else ():
        for item in exports().values():
            text = f"{item.title} {row.name} {row.key}".casefold()
            of_paper = any(word in item.title.casefold() for word in words)
            if len(papers) < PAPERS and of_paper and all(word in text for word in words) and item.offered(row):
                papers.append(
                    shapes.FoundPaper(
                        site=row.key,
                        site_name=row.name,
                        name=item.name,
                        title=item.title,
                        endings=list(item.endings),
                    )
                )
    return shapes.FoundThings(
        devices=[
            shapes.FoundDevice(
                site=item.site.key,
                site_name=item.site.name,
                key=item.key,
                name=item.name or item.key,
                place=item.place,
                model=item.model.key,
                address=item.address,
                mac=item.mac,
                serial=item.serial,
            )
            for item in found[:DEVICES]
        ],
        more=len(found) > DEVICES,
        papers=papers,
    )


def removed(among: QuerySet[models.Site]) -> list[shapes.RemovedSite]:
    """Return those of these sites that were removed and are still kept, the last removed first."""
    rows = among.exclude(removed_at=None).order_by("-removed_at")
    return [
        shapes.RemovedSite(
            key=row.key,
            name=row.name,
            removed_at=row.removed_at,
            removed_by=row.removed_by,
            gone_at=gone_at(row.removed_at),
        )
        for row in rows
        if row.removed_at is not None
    ]
