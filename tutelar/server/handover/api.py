"""The API of what is taken away: every file of a site, whichever stage makes it."""

from pathlib import Path
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from ninja import Router

from tutelar.paper.tables import Separator
from tutelar.server.files import MEDIA, Asked, exports
from tutelar.server.handover import leaving, packing, sealing, views
from tutelar.server.handover import schemas as shapes
from tutelar.server.handover.tasks import make_pack
from tutelar.server.http import REFUSED, WRITE, Words, download, send_file, who
from tutelar.server.rights import DECIDE, SEE, WORK
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup

router = Router(tags=["handover"])


@router.get("/{key}/files", response={200: list[shapes.FileRow], 404: ApiError}, auth=SEE, operation_id="files")
def files(request: HttpRequest, key: str) -> Any:
    """Return what can be downloaded of the site, and in which forms."""
    row = lookup.site_row(key)
    return [
        shapes.FileRow(name=item.name, title=item.title, endings=list(item.endings))
        for item in exports().values()
        if item.offered(row)
    ]


@router.get("/{key}/files/{name}.{ending}", response={200: str, **REFUSED}, auth=SEE, operation_id="file")
def file(
    request: HttpRequest,
    key: str,
    name: str,
    ending: str,
    search: Words = "",
    device: Words = "",
    devices: str = "",
    separator: Separator = "comma",
) -> HttpResponseBase:
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
    made = known[name].content(row, ending, asked)
    if isinstance(made, Path):
        return send_file(made, MEDIA[ending], f"{key}-{name}.{ending}")
    return download(made, MEDIA[ending], f"{key}-{name}.{ending}")


@router.get("/{key}/leaving", response={200: shapes.LeavingSheet, 404: ApiError}, auth=SEE, operation_id="leaving")
def leaving_list(request: HttpRequest, key: str) -> Any:
    """Return what is still open before one leaves, in walking order, and the signature."""
    return views.leaving_sheet(lookup.site_row(key))


@router.put(
    "/{key}/leaving/{code}/{subject}",
    response={200: shapes.LeavingSheet, **WRITE},
    auth=DECIDE,
    operation_id="leave_end_open",
)
def leave_open(request: HttpRequest, key: str, code: str, subject: str, body: shapes.EndLeft) -> Any:
    """Leave an end open with a reason, or take that back."""
    return views.leaving_sheet(leaving.leave_open(key, who(request), code, subject, body.reason))


@router.post("/{key}/leaving", response={200: shapes.LeavingSheet, **WRITE}, auth=WORK, operation_id="note_open")
def note_open(request: HttpRequest, key: str, body: shapes.Noting) -> Any:
    """Write down that something is open that nothing else tells of."""
    return views.leaving_sheet(leaving.note_open(key, who(request), body.code, body.subject, body.note))


@router.delete(
    "/{key}/leaving/{code}/{subject}",
    response={200: shapes.LeavingSheet, **WRITE},
    auth=WORK,
    operation_id="close_noted",
)
def close_noted(request: HttpRequest, key: str, code: str, subject: str) -> Any:
    """Write down that what was noted as open is done."""
    return views.leaving_sheet(leaving.close_item(key, who(request), code, subject))


@router.put("/{key}/sign-off", response={200: shapes.LeavingSheet, **WRITE}, auth=DECIDE, operation_id="sign_off")
def sign_off(request: HttpRequest, key: str, body: shapes.Signing) -> Any:
    """Sign the site off; refused while something is open that nobody left open."""
    return views.leaving_sheet(leaving.sign_off(key, who(request), body.for_whom))


@router.delete("/{key}/sign-off", response={200: shapes.LeavingSheet, **WRITE}, auth=DECIDE, operation_id="open_again")
def open_again(request: HttpRequest, key: str) -> Any:
    """Take the signature back."""
    return views.leaving_sheet(leaving.open_again(key, who(request)))


@router.get("/{key}/pack", response={200: shapes.PackSheet, 404: ApiError}, auth=SEE, operation_id="pack")
def pack(request: HttpRequest, key: str) -> Any:
    """Return the last handover pack that was asked for, how far it is, and the sealed sheets that were printed."""
    return views.pack_sheet(lookup.site_row(key))


@router.post("/{key}/pack", response={200: shapes.PackSheet, **WRITE}, auth=WORK, operation_id="make_pack")
def ask_for_pack(request: HttpRequest, key: str) -> Any:
    """Have the handover pack made in the background."""
    job = packing.ask_for(key, who(request))
    make_pack.enqueue(job.pk)
    return views.pack_sheet(lookup.site_row(key))


@router.get("/{key}/pack/{number}.zip", response={200: str, **REFUSED}, auth=SEE, operation_id="made_pack")
def made_pack(request: HttpRequest, key: str, number: int) -> Any:
    """Return a pack that was made."""
    row = lookup.site_row(key)
    return send_file(packing.made_file(row, number), MEDIA["zip"], f"{key}-handover.zip", keep=True)


@router.post("/{key}/sealed", response={200: str, **WRITE}, auth=DECIDE, operation_id="print_sealed")
def print_sealed(request: HttpRequest, key: str, body: shapes.SealedAsked) -> HttpResponse:
    """Return a sealed sheet of credentials (PDF); it is logged, and kept nowhere."""
    content, name = sealing.print_sheet(key, who(request), body.part, body.for_whom, body.reason)
    headers = {"Content-Disposition": f'attachment; filename="{name}"', "Cache-Control": "no-store"}
    return HttpResponse(content, content_type="application/pdf", headers=headers)
