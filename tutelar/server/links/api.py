"""The API of links: the loom, one link, proposals, tables, numbers, what was witnessed."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from tutelar.server.http import BYTES, REFUSED, WRITE, who
from tutelar.server.kit import services as kit_services
from tutelar.server.links import card, services, views
from tutelar.server.links import schemas as shapes
from tutelar.server.rights import SEE, WORK
from tutelar.server.schemas import ApiError, Revised
from tutelar.server.sheet import shaped
from tutelar.server.store import lookup
from tutelar.server.store.kept import kept

router = Router(tags=["links"])
SEEN = {404: ApiError}


@router.get("/{key}/links", response={200: shapes.Links, **SEEN}, auth=SEE, operation_id="links")
def links(request: HttpRequest, key: str) -> Any:
    """Return every link with how far it is and what it waits for."""
    return kept(views.links, lookup.site_row(key))


@router.post("/{key}/links", response={201: Revised, **WRITE}, auth=WORK, operation_id="add_link")
def add_link(request: HttpRequest, key: str, link: shapes.NewLink) -> Any:
    """Add a link."""
    part = link.model_dump(exclude={"start", "to"}) | {"from": link.start, "to": link.to}
    return Status(201, services.add_link(key, who(request), part))


@router.get(
    "/{key}/links/proposal", response={200: shapes.ProposalSheet, **SEEN}, auth=SEE, operation_id="link_proposal"
)
def proposal(request: HttpRequest, key: str) -> Any:
    """Return what could be tied within all limits, and what is left; nothing is stored."""
    return views.proposal(lookup.site_row(key))


@router.post("/{key}/links/proposal", response={200: Revised, **WRITE}, auth=WORK, operation_id="apply_link_proposal")
def apply_proposal(request: HttpRequest, key: str, based: Revised) -> Any:
    """Apply what was proposed, all or nothing."""
    return services.apply_proposal(key, who(request), based.revision)


@router.post(
    "/{key}/links/table",
    response={200: shapes.TablePreview, **REFUSED},
    auth=SEE,
    operation_id="preview_links",
    openapi_extra=BYTES,
)
def preview_links(request: HttpRequest, key: str) -> Any:
    """Return what a table of links would add and change; nothing is stored."""
    row = lookup.site_row(key)
    strange, rows = services.preview_links(row, request.body)
    return shapes.TablePreview(
        revision=row.revision, strange=strange, rows=[shaped(shapes.TableRow, item) for item in rows]
    )


@router.post(
    "/{key}/links/import",
    response={200: shapes.TableResult, **WRITE},
    auth=WORK,
    operation_id="import_links",
    openapi_extra=BYTES,
)
def import_links(request: HttpRequest, key: str, revision: int, leave_out: bool = False) -> Any:
    """Bring a table of links in as its preview said, all or nothing."""
    return services.import_links(key, who(request), revision, request.body, leave_out=leave_out)


@router.get("/{key}/links/{number}", response={200: shapes.LinkCard, **SEEN}, auth=SEE, operation_id="link")
def link(request: HttpRequest, key: str, number: int) -> Any:
    """Return one link with its values to type and its tests."""
    return card.link_card(lookup.site_row(key), number)


@router.patch("/{key}/links/{number}", response={200: Revised, **WRITE}, auth=WORK, operation_id="change_link")
def change_link(request: HttpRequest, key: str, number: int, change: shapes.LinkChange) -> Any:
    """Change one link, based on its revision."""
    changes = change.model_dump(exclude_unset=True, exclude={"revision"})
    if changes.get("to", "") is None:
        del changes["to"]  # it stays where it leads
    return services.change_link(key, number, who(request), change.revision, changes)


@router.delete("/{key}/links/{number}", response={200: dict[str, Any], **WRITE}, auth=WORK, operation_id="remove_link")
def remove_link(request: HttpRequest, key: str, number: int, revision: int) -> Any:
    """Remove one link."""
    return services.remove_link(key, number, who(request), revision)


@router.post("/{key}/links/{number}/readings", response={201: None, **WRITE}, auth=WORK, operation_id="witness_link")
def witness(request: HttpRequest, key: str, number: int, seen: shapes.Witnessed) -> Any:
    """Keep what was seen of a link's tests."""
    services.witness(key, number, who(request), seen.test, seen.result, seen.words)
    return Status(201, None)


@router.get("/{key}/numbers", response={200: shapes.Numbers, **SEEN}, auth=SEE, operation_id="link_numbers")
def numbers(request: HttpRequest, key: str) -> Any:
    """Return the numbers of stations, zones and rings."""
    return card.link_numbers(lookup.site_row(key))


@router.post("/{key}/numbers", response={200: Revised, **WRITE}, auth=WORK, operation_id="apply_numbers")
def apply_numbers(request: HttpRequest, key: str, based: Revised) -> Any:
    """Give the numbers that were proposed."""
    return services.apply_numbers(key, who(request), based.revision)


@router.patch("/{key}/numbers", response={200: Revised, **WRITE}, auth=WORK, operation_id="change_numbering")
def change_numbering(request: HttpRequest, key: str, change: shapes.NumberingChange) -> Any:
    """Change how this site numbers."""
    changes = change.model_dump(exclude_none=True, exclude={"revision"})
    return services.change_numbering(key, who(request), change.revision, changes)


@router.patch("/{key}/numbers/{device}", response={200: Revised, **WRITE}, auth=WORK, operation_id="change_flat")
def change_flat(request: HttpRequest, key: str, device: str, change: shapes.FlatChange) -> Any:
    """Change where a monitor stands in the house."""
    flat = change.model_dump(exclude_none=True, exclude={"revision"})
    return kit_services.change_device(key, device, who(request), change.revision, {"numbers": flat or None})
