"""The API of what is asked of all sites at once."""

from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router

from tutelar.server.everywhere import schemas, views
from tutelar.server.rights import LEADING, SEE, sees_every_site, sites_of

router = Router(tags=["everywhere"])


@router.get("/log", response=schemas.FoundLines, auth=SEE, operation_id="log_everywhere")
def log_everywhere(
    request: HttpRequest,
    search: Annotated[str, Query(max_length=200)] = "",
    before: Annotated[int | None, Query(ge=1, le=2**53)] = None,
) -> Any:
    """Return the newest lines of every site's log that hold every word of the search."""
    return views.log(None if sees_every_site(request.user) else sites_of(request.user), search, before)


@router.get("/find", response=schemas.FoundThings, auth=SEE, operation_id="find_everywhere")
def find_everywhere(request: HttpRequest, search: Annotated[str, Query(max_length=200)] = "") -> Any:
    """Return the devices and papers of every site that answer to every word."""
    return views.things(sites_of(request.user), search)


@router.get("/removed-sites", response=list[schemas.RemovedSite], auth=LEADING, operation_id="removed_sites")
def removed_sites(request: HttpRequest) -> Any:
    """Return the sites that were removed and can be put back."""
    return views.removed(sites_of(request.user))
