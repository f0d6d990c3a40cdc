"""Files of the request to the IT person."""

from django.utils import timezone

from tutelar.core.handover.request import Request, request
from tutelar.core.site.reading import site_from
from tutelar.paper.pack import as_zip, pack
from tutelar.paper.request import request_pdf, tables
from tutelar.paper.tables import Table, as_xlsx
from tutelar.server import models
from tutelar.server.files import Asked, Export
from tutelar.server.handover.leaving import ends_of
from tutelar.server.later.queries import looks
from tutelar.server.store import documents


def _request(row: models.Site) -> Request:
    return request(documents.document(row), documents.planned(row))


def _tables(row: models.Site) -> dict[str, Table]:
    return {item.title: item for item in tables(_request(row))}


def _pack(row: models.Site, _asked: Asked) -> bytes:
    """Return the handover pack of a site with its readings and its log; credentials are no part of it."""
    site = site_from(documents.export(row))
    events = models.Event.objects.filter(site_key=row.key).order_by("pk")
    log = [
        (at.isoformat(timespec="seconds"), by, kind, subject, sentence)
        for at, by, kind, subject, sentence in events.values_list("at", "by", "kind", "subject", "sentence")
    ]
    return as_zip(pack(site, documents.planned(row), ends_of(row), timezone.localdate(), log, looks=looks(row)))


EXPORTS = (
    Export("handover", "Handover pack", {"zip": _pack}),
    Export(
        "request",
        "Request to IT",
        {
            "pdf": lambda row, _asked: request_pdf(_request(row), timezone.localdate(), row.revision),
            "xlsx": lambda row, _asked: as_xlsx(_tables(row).values()),
        },
    ),
    Export("request-addresses", "Request to IT, addresses", table=lambda row, _asked: _tables(row)["Addresses"]),
    Export("request-flows", "Request to IT, flows", table=lambda row, _asked: _tables(row)["Flows"]),
    Export("request-open", "Request to IT, questions still open", table=lambda row, _asked: _tables(row)["Open"]),
)
