"""The API of whole sites."""

import json
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Status

from tutelar.server import models
from tutelar.server.http import WRITE, download, who
from tutelar.server.rights import LEADING, SEE, WORK, give_site, sites_of
from tutelar.server.schemas import ApiError, EventRow
from tutelar.server.sheet import shaped
from tutelar.server.site import removal, services, views
from tutelar.server.site.schemas import Frame, Imported, Job, SiteRemoval, SiteRow
from tutelar.server.store import documents, lookup
from tutelar.server.store.kept import kept

router = Router(tags=["site"])


@router.get("", response=list[SiteRow], auth=SEE, operation_id="list_sites")
def list_sites(request: HttpRequest) -> Any:
    """Return every site with how far it is."""
    return views.sites(sites_of(request.user))


@router.post(
    "",
    response={201: Imported, 409: ApiError, 422: ApiError},
    auth=LEADING,
    operation_id="import_site",
    openapi_extra={"requestBody": {"required": True, "content": {"application/json": {"schema": {"type": "object"}}}}},
)
def import_site(request: HttpRequest, key: str | None = None) -> Any:
    """Store a site file as a new site, all or nothing."""
    return _made(request, services.import_site(request.body, who(request), key))


@router.post("/{key}/practice", response={201: Imported, **WRITE}, auth=WORK, operation_id="practise_on_copy")
def practise_on_copy(request: HttpRequest, key: str) -> Any:
    """Store a copy of a site to practise on."""
    return _made(request, services.practise_on_copy(key, who(request)))


def _made(request: HttpRequest, row: models.Site) -> Any:
    give_site(request.user, row)
    return Status(201, shaped(Imported, row))


@router.post("/{key}/remove", response={204: None, **WRITE}, auth=LEADING, operation_id="remove_site")
def remove_site(request: HttpRequest, key: str, wanted: SiteRemoval) -> Any:
    """Take a site off the list; it is kept for 30 days."""
    removal.remove_site(key, who(request), wanted.revision)
    return Status(204, None)


@router.post("/{key}/put-back", response={200: Imported, 404: ApiError}, auth=LEADING, operation_id="put_back_site")
def put_back_site(request: HttpRequest, key: str) -> Any:
    """Put a removed site back as it was."""
    return shaped(Imported, removal.put_back(key, who(request)))


@router.get("/{key}", response={200: Frame, 404: ApiError}, auth=SEE, operation_id="frame")
def frame(request: HttpRequest, key: str) -> Any:
    """Return what every screen of a site shows and only a change of the site changes."""
    return kept(views.frame, lookup.site_row(key))


@router.get("/{key}/job", response={200: Job, 404: ApiError}, auth=SEE, operation_id="job")
def job(request: HttpRequest, key: str) -> Any:
    """Return how far the job is, stage by stage, and the next thing."""
    row = lookup.site_row(key)
    under_way = models.BenchRun.objects.filter(site=row).exists()  # whose next thing changes with the clock alone
    return views.job(row) if under_way else kept(views.job, row)


@router.get("/{key}/file", response={200: dict[str, Any], 404: ApiError}, auth=SEE, operation_id="site_file")
def site_file(request: HttpRequest, key: str) -> HttpResponse:
    """Return the whole site as its file (JSON)."""
    text = json.dumps(documents.export(lookup.site_row(key)), ensure_ascii=False, indent=1) + "\n"
    return download(text, "application/json", f"{key}.json")


@router.get("/{key}/events", response={200: list[EventRow], 404: ApiError}, auth=SEE, operation_id="events")
def events(request: HttpRequest, key: str, search: str = "") -> Any:
    """Return the newest lines of the log that hold every word."""
    return views.events(lookup.site_row(key), search)
