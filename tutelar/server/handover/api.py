"""The API of what is handed over."""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from tutelar.server.addresses import exports as addresses_exports
from tutelar.server.handover import exports
from tutelar.server.http import REFUSED, download
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup

router = Router(tags=["handover"])


@router.get("/{key}/schedule.csv", response={200: str, 404: ApiError}, operation_id="schedule")
def schedule(request: HttpRequest, key: str) -> HttpResponse:
    """Return the address schedule as a file (xlsx, csv or pdf)."""
    return download(
        addresses_exports.schedule_csv(lookup.site_row(key)), "text/csv; charset=utf-8", f"{key}-addresses.csv"
    )


@router.get("/{key}/reservations/{server}", response={200: str, **REFUSED}, operation_id="reservations")
def reservations(request: HttpRequest, key: str, server: str) -> HttpResponse:
    """Return the reservations, ready to load into a DHCP server."""
    text, ending = addresses_exports.reservation_file(lookup.site_row(key), server)
    return download(text, "text/plain; charset=utf-8", f"{key}-{server}.{ending}")


@router.get("/{key}/request/{name}", response={200: str, **REFUSED}, operation_id="request_file")
def request_file(request: HttpRequest, key: str, name: str) -> HttpResponse:
    """Return the request to the customer's IT, one page, as a file."""
    content, kind = exports.request_file(lookup.site_row(key), name)
    return download(content, kind, f"{key}-{name}")
