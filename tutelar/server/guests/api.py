"""The API of links to one paper; and where such a link leads."""

from pathlib import Path
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import Router, Status

from tutelar.server import models
from tutelar.server.files import MEDIA, Asked, exports
from tutelar.server.guests import schemas as shapes
from tutelar.server.guests import services
from tutelar.server.http import REFUSED, download, send_file, who
from tutelar.server.rights import DECIDE
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup

router = Router(tags=["guests"])


@router.get("/{key}/guests", response={200: list[shapes.GuestRow], 404: ApiError}, auth=DECIDE, operation_id="guests")
def guests(request: HttpRequest, key: str) -> Any:
    """Return the links to papers of the site that were made, the newest first."""
    return _rows(key)


@router.post("/{key}/guests", response={201: shapes.GuestMade, **REFUSED}, auth=DECIDE, operation_id="make_guest")
def make(request: HttpRequest, key: str, body: shapes.GuestAsked) -> Any:
    """Make a link by which somebody without an account opens one paper."""
    made, word = services.make(key, who(request), body.paper, body.ending, body.for_whom, body.days)
    return Status(201, shapes.GuestMade(link=request.build_absolute_uri(f"/guest/{word}"), until=made.until))


@router.delete(
    "/{key}/guests/{number}",
    response={200: list[shapes.GuestRow], **REFUSED},
    auth=DECIDE,
    operation_id="withdraw_guest",
)
def withdraw(request: HttpRequest, key: str, number: int) -> Any:
    """Withdraw a link."""
    services.withdraw(key, who(request), number)
    return _rows(key)


def paper_by_link(request: HttpRequest, word: str) -> HttpResponseBase:
    """Return the paper that a link opens, as it stands now; 404 in a sentence where it opens none."""
    if request.method != "GET":
        return HttpResponse("This cannot be done at this address.\n", "text/plain", status=405)
    found = services.opened(word)
    if found is None:
        said = "This link has ended or was withdrawn. Whoever sent it to you can make a new one.\n"
        return HttpResponse(said, "text/plain; charset=utf-8", status=404)
    made = exports()[found.paper].content(found.site, found.ending, Asked(base=request.build_absolute_uri("/")))
    name, kind = f"{found.site.key}-{found.paper}.{found.ending}", MEDIA[found.ending]
    answer: HttpResponseBase = send_file(made, kind, name) if isinstance(made, Path) else download(made, kind, name)
    if found.ending == "pdf":
        answer["Content-Disposition"] = f'inline; filename="{name}"'
    answer["Cache-Control"], answer["Referrer-Policy"] = "no-store", "no-referrer"
    return answer


def _rows(key: str) -> list[shapes.GuestRow]:
    rows = models.GuestLink.objects.filter(site=lookup.site_row(key))
    return [
        shapes.GuestRow(
            number=row.pk,
            title=exports()[row.paper].title if row.paper in exports() else row.paper,
            ending=row.ending,
            for_whom=row.for_whom,
            until=row.until,
            made_by=row.made_by,
            opened=row.opened,
            last_opened_at=row.last_opened_at,
            ended=row.withdrawn_at is not None or row.until <= timezone.now(),
        )
        for row in rows
    ]
