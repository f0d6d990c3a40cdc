"""The API of the address sheets: the plan, moves, ranges kept free, renumbering, tables from the field."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router

from tutelar.server.sites import exports, queries, services, sheets
from tutelar.server.sites.api import BYTES, REFUSED, WRITE, download, who
from tutelar.server.sites.notes import read_field_table
from tutelar.server.sites.schemas import addresses as shapes
from tutelar.server.sites.schemas.base import Refusal, Revised

router = Router(tags=["addresses"])


@router.get("/{key}/addresses", response={200: shapes.Addresses, 404: Refusal}, operation_id="addresses")
def addresses(request: HttpRequest, key: str) -> Any:
    return sheets.addresses(queries.site_row(key))


@router.post("/{key}/plan", response={200: Revised, **WRITE}, operation_id="apply_plan")
def apply_plan(request: HttpRequest, key: str, base: Revised) -> Any:
    return services.apply_plan(key, who(request), base.revision)


@router.post("/{key}/addresses/move", response={200: shapes.MovePreview, **REFUSED}, operation_id="preview_move")
def preview_move(request: HttpRequest, key: str, wanted: shapes.MoveWanted) -> Any:
    row = queries.site_row(key)
    device = queries.device_row(row, wanted.device)
    address = services.read_address(wanted.address)
    return sheets.move_preview(queries.document(row), queries.planned(row), device.key, address)


@router.post("/{key}/networks/{network}/keep", response={200: Revised, **WRITE}, operation_id="keep_free")
def keep_free(request: HttpRequest, key: str, network: str, wanted: shapes.KeepFree) -> Any:
    return services.keep_free(key, network, who(request), **wanted.model_dump())


@router.post("/{key}/networks/{network}/give-back", response={200: Revised, **WRITE}, operation_id="give_back")
def give_back(request: HttpRequest, key: str, network: str, wanted: shapes.KeepFree) -> Any:
    return services.give_back(key, network, who(request), wanted.revision, wanted.first, wanted.last)


@router.post(
    "/{key}/networks/{network}/renumber/preview",
    response={200: shapes.RenumberPreview, **REFUSED},
    operation_id="preview_renumber",
)
def preview_renumber(request: HttpRequest, key: str, network: str, wanted: shapes.RenumberWanted) -> Any:
    row = queries.site_row(key)
    site = queries.document(row)
    return sheets.renumber_preview(row, site, *services.preview_renumber(site, network, wanted.to, wanted.gateway))


@router.get("/{key}/networks/{network}/renumber.csv", response={200: str, **REFUSED}, operation_id="renumber_file")
def renumber_file(request: HttpRequest, key: str, network: str, to: str, gateway: str = "") -> HttpResponse:
    text = exports.renumber_csv(queries.site_row(key), network, to, gateway)
    return download(text, "text/csv; charset=utf-8", f"{key}-{network}-renumber.csv")


@router.post("/{key}/networks/{network}/renumber", response={200: Revised, **WRITE}, operation_id="apply_renumber")
def apply_renumber(request: HttpRequest, key: str, network: str, wanted: shapes.RenumberDo) -> Any:
    return services.apply_renumber(key, network, who(request), wanted.revision, wanted.to, wanted.gateway)


@router.post(
    "/{key}/sightings", response={200: shapes.Sightings, **REFUSED}, operation_id="read_sightings", openapi_extra=BYTES
)
def read_sightings(request: HttpRequest, key: str) -> Any:
    return sheets.sightings(queries.site_row(key), *read_field_table(request.body))


@router.post("/{key}/search", response={200: shapes.Sightings, **REFUSED}, operation_id="search_field")
def search_field(request: HttpRequest, key: str) -> Any:
    return sheets.sightings(queries.site_row(key), *services.search_field(key, who(request)))
