"""The API of what is taken away: every file of a site, whichever stage makes it."""

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from ninja import Router

from tutelar.server.files import MEDIA, Asked, exports
from tutelar.server.handover.schemas import FileRow
from tutelar.server.http import REFUSED, Words, download
from tutelar.server.paper.tables import Separator
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup

router = Router(tags=["handover"])


@router.get("/{key}/files", response={200: list[FileRow], 404: ApiError}, operation_id="files")
def files(request: HttpRequest, key: str) -> Any:
    """Return what can be downloaded of the site, and in which forms."""
    row = lookup.site_row(key)
    return [
        FileRow(name=item.name, title=item.title, endings=list(item.endings))
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
