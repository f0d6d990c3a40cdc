"""The API of the address sheets: the plan, moves, ranges kept free, renumbering, tables from the field."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router

from tutelar.paper.tables import Separator
from tutelar.server.addresses import exports, services, views
from tutelar.server.addresses import schemas as shapes
from tutelar.server.http import BYTES, REFUSED, WRITE, download, who
from tutelar.server.live import services as live_services
from tutelar.server.rights import DECIDE, SEE, WORK
from tutelar.server.schemas import ApiError, Revised
from tutelar.server.store import documents, lookup
from tutelar.server.store.kept import kept
from tutelar.server.uploads import read_field_table

router = Router(tags=["addresses"])


@router.get("/{key}/addresses", response={200: shapes.Addresses, 404: ApiError}, auth=SEE, operation_id="addresses")
def addresses(request: HttpRequest, key: str) -> Any:
    """Return every network with its addresses and who holds them."""
    return kept(views.addresses, lookup.site_row(key))


@router.post("/{key}/plan", response={200: Revised, **WRITE}, auth=WORK, operation_id="apply_plan")
def apply_plan(request: HttpRequest, key: str, base: Revised) -> Any:
    """Give every device its planned address; what is set stays."""
    return services.apply_plan(key, who(request), base.revision)


@router.post(
    "/{key}/addresses/move", response={200: shapes.MovePreview, **REFUSED}, auth=SEE, operation_id="preview_move"
)
def preview_move(request: HttpRequest, key: str, wanted: shapes.MoveWanted) -> Any:
    """Return what moving a device to an address would mean; nothing is stored."""
    row = lookup.site_row(key)
    device = lookup.device_row(row, wanted.device)
    address = services.read_address(wanted.address)
    return views.move_preview(documents.document(row), documents.planned(row), device.key, address)


@router.post("/{key}/networks/{network}/keep", response={200: Revised, **WRITE}, auth=WORK, operation_id="keep_free")
def keep_free(request: HttpRequest, key: str, network: str, wanted: shapes.KeepFree) -> Any:
    """Keep a range free for others."""
    return services.keep_free(key, network, who(request), **wanted.model_dump())


@router.post(
    "/{key}/networks/{network}/give-back", response={200: Revised, **WRITE}, auth=WORK, operation_id="give_back"
)
def give_back(request: HttpRequest, key: str, network: str, wanted: shapes.KeepFree) -> Any:
    """Give a range back to the plan."""
    return services.give_back(key, network, who(request), wanted.revision, wanted.first, wanted.last)


@router.post(
    "/{key}/networks/{network}/renumber/preview",
    response={200: shapes.RenumberPreview, **REFUSED},
    auth=SEE,
    operation_id="preview_renumber",
)
def preview_renumber(request: HttpRequest, key: str, network: str, wanted: shapes.RenumberWanted) -> Any:
    """Return what renumbering a network would change; nothing is stored."""
    row = lookup.site_row(key)
    site = documents.document(row)
    return views.renumber_preview(row, site, *services.preview_renumber(site, network, wanted.to, wanted.gateway))


@router.get(
    "/{key}/networks/{network}/renumber.csv", response={200: str, **REFUSED}, auth=SEE, operation_id="renumber_file"
)
def renumber_file(
    request: HttpRequest, key: str, network: str, to: str, gateway: str = "", separator: Separator = "comma"
) -> HttpResponse:
    """Return the renumbering, device by device, as csv."""
    text = exports.renumber_csv(lookup.site_row(key), network, to, gateway, separator)
    return download(text, "text/csv; charset=utf-8", f"{key}-{network}-renumber.csv")


@router.post(
    "/{key}/networks/{network}/renumber", response={200: Revised, **WRITE}, auth=DECIDE, operation_id="apply_renumber"
)
def apply_renumber(request: HttpRequest, key: str, network: str, wanted: shapes.RenumberDo) -> Any:
    """Renumber a network, all or nothing."""
    return services.apply_renumber(key, network, who(request), wanted.revision, wanted.to, wanted.gateway)


@router.post(
    "/{key}/sightings",
    response={200: shapes.Sightings, **REFUSED},
    auth=WORK,
    operation_id="read_sightings",
    openapi_extra=BYTES,
)
def read_sightings(request: HttpRequest, key: str) -> Any:
    """Compare a lease or neighbour table with the plan; nothing is stored."""
    return views.sightings(lookup.site_row(key), *read_field_table(request.body))


@router.post("/{key}/sightings/take-over", response={200: Revised, **WRITE}, auth=WORK, operation_id="take_over")
def take_over(request: HttpRequest, key: str, wanted: shapes.TakeOver) -> Any:
    """Make devices out of those in a table that nobody knows, all or nothing."""
    seen = [services.read_sighting(item.address, item.mac, item.name, item.leased) for item in wanted.rows]
    return services.take_over(key, who(request), wanted.revision, wanted.model, seen)


@router.post("/{key}/search", response={200: shapes.Sightings, **REFUSED}, auth=WORK, operation_id="search_field")
def search_field(request: HttpRequest, key: str) -> Any:
    """Ask who is there over the shared device interface."""
    return views.sightings(lookup.site_row(key), *live_services.search_field(key, who(request)))
