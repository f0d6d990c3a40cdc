"""The logbook as a file."""

from django.utils import timezone

from tutelar.server import models
from tutelar.server.logbook import views
from tutelar.server.logbook.schemas import LogLine
from tutelar.server.paper.logbook import Entry, logbook_pdf
from tutelar.server.paper.tables import as_csv
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected

LOG_HEADER = ("When", "Device", "What", "By", "Kind", "It said before", "Corrected later")


LOG_MOST = 20_000


def logbook_file(row: models.Site, ending: str, search: str, device: str) -> tuple[str | bytes, str]:
    """Return (content, media type) of the logbook as csv or pdf, oldest line first, in the site's own time."""
    if ending not in ("csv", "pdf"):
        raise WriteRejected(f"The logbook comes as csv or pdf, not as '{ending}'.", status=404)
    zone = views.site_zone(documents.document(row))
    lines = views.logbook(row, search, device, most=LOG_MOST, folded=False).lines[::-1]
    if ending == "csv":
        rows = [
            (
                line.at.astimezone(zone).isoformat(timespec="seconds"),
                line.subject,
                line.sentence,
                line.by,
                line.kind,
                line.corrects,
                "; ".join(item.sentence for item in line.corrected),
            )
            for line in lines
        ]
        return as_csv(LOG_HEADER, rows), "text/csv; charset=utf-8"
    entries = [
        Entry(
            line.at.astimezone(zone),
            line.name if line.subject != row.key else "",
            line.sentence,
            line.by,
            _correction(line),
        )
        for line in lines
    ]
    return logbook_pdf(documents.document(row).about.title, entries, timezone.localdate()), "application/pdf"


def _correction(line: LogLine) -> str:
    if line.corrects:
        return f"(Corrects: {line.corrects})"
    return "".join(f"(Corrected by {item.by}: {item.sentence})" for item in line.corrected)
