"""The API of what is taken away: every file of a site, whichever stage makes it."""

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from ninja import Router

from tutelar.paper.tables import Separator
from tutelar.server.files import MEDIA, Asked, exports
from tutelar.server.handover import leaving, views
from tutelar.server.handover import schemas as shapes
from tutelar.server.http import REFUSED, WRITE, Words, download, who
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup

router = Router(tags=["handover"])


@router.get("/{key}/files", response={200: list[shapes.FileRow], 404: ApiError}, operation_id="files")
def files(request: HttpRequest, key: str) -> Any:
    """Return what can be downloaded of the site, and in which forms."""
    row = lookup.site_row(key)
    return [
        shapes.FileRow(name=item.name, title=item.title, endings=list(item.endings))
        for item in exports().values()
        if item.offered(row)
    ]


@router.get("/{key}/files/{name}.{ending}", response={200: str, **REFUSED}, operation_id="file")
def file(
    request: HttpRequest,
    key: str,
    name: str,
    ending: str,
    search: Words = "",
    device: Words = "",
    devices: str = "",
    separator: Separator = "comma",
) -> HttpResponse:
    """Return one of them; `devices` are keys with commas between."""
    row, known = lookup.site_row(key), exports()
    if name not in known:
        raise Http404(f"There is no file '{name}'; there are {', '.join(known)}.")
    asked = Asked(
        search=search,
        device=device,
        devices=tuple(filter(None, devices.split(","))),
        base=request.build_absolute_uri("/"),
        separator=separator,
    )
    return download(known[name].content(row, ending, asked), MEDIA[ending], f"{key}-{name}.{ending}")


@router.get("/{key}/leaving", response={200: shapes.LeavingSheet, 404: ApiError}, operation_id="leaving")
def leaving_list(request: HttpRequest, key: str) -> Any:
    """Return what is still open before one leaves, in walking order, and the signature."""
    return views.leaving_sheet(lookup.site_row(key))


@router.put(
    "/{key}/leaving/{code}/{subject}", response={200: shapes.LeavingSheet, **WRITE}, operation_id="leave_end_open"
)
def leave_open(request: HttpRequest, key: str, code: str, subject: str, body: shapes.EndLeft) -> Any:
    """Leave an end open with a reason, or take that back."""
    return views.leaving_sheet(leaving.leave_open(key, who(request), code, subject, body.reason))


@router.post("/{key}/leaving", response={200: shapes.LeavingSheet, **WRITE}, operation_id="note_open")
def note_open(request: HttpRequest, key: str, body: shapes.Noting) -> Any:
    """Write down that something is open that nothing else tells of."""
    return views.leaving_sheet(leaving.note_open(key, who(request), body.code, body.subject, body.note))


@router.delete(
    "/{key}/leaving/{code}/{subject}", response={200: shapes.LeavingSheet, **WRITE}, operation_id="close_noted"
)
def close_noted(request: HttpRequest, key: str, code: str, subject: str) -> Any:
    """Write down that what was noted as open is done."""
    return views.leaving_sheet(leaving.close_item(key, who(request), code, subject))


@router.put("/{key}/sign-off", response={200: shapes.LeavingSheet, **WRITE}, operation_id="sign_off")
def sign_off(request: HttpRequest, key: str, body: shapes.Signing) -> Any:
    """Sign the site off; refused while something is open that nobody left open."""
    return views.leaving_sheet(leaving.sign_off(key, who(request), body.for_whom))


@router.delete("/{key}/sign-off", response={200: shapes.LeavingSheet, **WRITE}, operation_id="open_again")
def open_again(request: HttpRequest, key: str) -> Any:
    """Take the signature back."""
    return views.leaving_sheet(leaving.open_again(key, who(request)))
