"""The logbook: every line of the log, newest first, by device and day, and what corrected it."""

from datetime import UTC, date, datetime, time, timedelta, tzinfo

from django.db.models import Count

from tutelar.core.clock import zone_of
from tutelar.core.site import Site
from tutelar.server import models
from tutelar.server.logbook import queries
from tutelar.server.logbook import schemas as shapes
from tutelar.server.sheet import shaped
from tutelar.server.store import documents

MOST = 200


def logbook(
    row: models.Site,
    search: str = "",
    device: str = "",
    day: date | None = None,
    before: int | None = None,
    most: int = MOST,
    deed: int | None = None,
    *,
    folded: bool = True,
) -> shapes.Logbook:
    """Return the newest lines that hold every word, of a device and a day of the site's own calendar; with `deed` the
    lines that stand under that one. Not `folded`: with every line that stands under another."""
    site = documents.document(row)
    lines = queries.log_lines(row, search, device, folded=folded)
    if deed is not None:
        lines = models.Event.objects.filter(site_key=row.key, part_of=deed)
    if day is not None and not 1 < day.year < 9999:
        lines = lines.none()  # where a day of another zone may be in no year
    elif day is not None:
        start = datetime.combine(day, time(), site_zone(site))
        lines = lines.filter(at__gte=start, at__lt=start + timedelta(days=1))
    if before is not None:
        lines = lines.filter(pk__lt=before)
    found = list(lines[: most + 1])
    corrections, parts = _corrections(row), _parts(found)
    return shapes.Logbook(
        lines=[
            _line(item, site.label_of(item.subject), corrections.get(item.pk, []), parts.get(item.pk, 0))
            for item in found[:most]
        ],
        more=len(found) > most,
        devices=[shapes.LogDevice(key=part.key, name=part.label) for part in site.devices],
    )


def site_zone(site: Site) -> tzinfo:
    """Return the time zone of the site, UTC where it is not known."""
    return zone_of(site) or UTC


def _corrections(row: models.Site) -> dict[int, list[models.Event]]:
    found: dict[int, list[models.Event]] = {}
    for item in models.Event.objects.filter(site_key=row.key, kind="correction").order_by("pk"):
        number = (item.after or {}).get("corrects")
        if isinstance(number, int):
            found.setdefault(number, []).append(item)
    return found


def _parts(lines: list[models.Event]) -> dict[int, int]:
    """Return how many lines stand under each of these."""
    under = models.Event.objects.filter(part_of__in=[item.pk for item in lines]).order_by()
    return dict(under.values_list("part_of").annotate(number=Count("pk")))


def _line(item: models.Event, name: str, corrections: list[models.Event], parts: int) -> shapes.LogLine:
    after = item.after if isinstance(item.after, dict) else {}
    return shaped(
        shapes.LogLine,
        item,
        name=name,
        photo=after.get("photo") or None,
        parts=parts,
        corrects=item.before if item.kind == "correction" else None,
        corrected=[shaped(shapes.Correction, later) for later in corrections],
    )
