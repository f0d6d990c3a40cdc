"""The logbook as a file."""

from django.utils import timezone

from tutelar.paper.logbook import Entry, logbook_pdf
from tutelar.paper.tables import Table
from tutelar.server import models
from tutelar.server.files import Asked, Export
from tutelar.server.logbook import views
from tutelar.server.logbook.schemas import LogLine
from tutelar.server.store import documents

LOG_HEADER = ("When", "Device", "What", "By", "Kind", "It said before", "Corrected later")


LOG_MOST = 20_000


def _lines(row: models.Site, asked: Asked) -> list[LogLine]:
    return views.logbook(row, asked.search, asked.device, most=LOG_MOST, folded=False).lines[::-1]


def _table(row: models.Site, asked: Asked) -> Table:
    """Return the logbook, oldest line first, in the site's own time."""
    zone = views.site_zone(documents.document(row))
    rows = (
        (
            line.at.astimezone(zone).isoformat(timespec="seconds"),
            line.subject,
            line.sentence,
            line.by,
            line.kind,
            line.corrects,
            "; ".join(item.sentence for item in line.corrected),
        )
        for line in _lines(row, asked)
    )
    return Table("Logbook", LOG_HEADER, tuple(rows))


def _pdf(row: models.Site, asked: Asked) -> bytes:
    site = documents.document(row)
    zone = views.site_zone(site)
    entries = [
        Entry(
            line.at.astimezone(zone),
            line.name if line.subject != row.key else "",
            line.sentence,
            line.by,
            _correction(line),
        )
        for line in _lines(row, asked)
    ]
    return logbook_pdf(site.about.title, entries, timezone.localdate())


def _correction(line: LogLine) -> str:
    if line.corrects:
        return f"(Corrects: {line.corrects})"
    return "".join(f"(Corrected by {item.by}: {item.sentence})" for item in line.corrected)


EXPORTS = (Export("logbook", "Logbook", {"pdf": _pdf}, _table),)
