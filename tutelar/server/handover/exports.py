"""Files of the request to the IT person."""

from django.utils import timezone

from tutelar.core.handover.request import request
from tutelar.server import models
from tutelar.server.paper.request import request_pdf, tables
from tutelar.server.paper.tables import as_csv, as_xlsx
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected

_REQUEST_FILES = ("request.pdf", "request.xlsx", "addresses.csv", "flows.csv", "open.csv")


def request_file(row: models.Site, name: str) -> tuple[bytes, str]:
    """Return (bytes, media type) of the request to the IT person. Raises Rejected for a file it does not have."""
    if name not in _REQUEST_FILES:
        raise WriteRejected(f"The request has no file '{name}'; choose one of {', '.join(_REQUEST_FILES)}.", status=404)
    asked = request(documents.document(row), documents.planned(row))
    if name == "request.pdf":
        return request_pdf(asked, timezone.localdate()), "application/pdf"
    if name == "request.xlsx":
        return as_xlsx(tables(asked)), "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    table = next(item for item in tables(asked) if item.title.lower() == name.removesuffix(".csv"))
    return as_csv(table.header, table.rows).encode(), "text/csv; charset=utf-8"
