"""Files of the request to the IT person, and the pack."""

from django.utils import timezone

from tutelar.core.handover.request import Request, request
from tutelar.paper.request import request_pdf, tables
from tutelar.paper.tables import Table, as_xlsx
from tutelar.server import models
from tutelar.server.files import Export
from tutelar.server.handover.packing import pack_file
from tutelar.server.store import documents


def _request(row: models.Site) -> Request:
    return request(documents.document(row), documents.planned(row))


def _tables(row: models.Site) -> dict[str, Table]:
    return {item.title: item for item in tables(_request(row))}


EXPORTS = (
    Export("handover", "Handover pack", {"zip": lambda row, _asked: pack_file(row)}),
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
