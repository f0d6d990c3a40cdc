"""The API of the site to practise on."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from tutelar.server.http import REFUSED, WRITE, who
from tutelar.server.practice import services, views
from tutelar.server.practice.schemas import NewPretend, PretendHandling, PretendSheet
from tutelar.server.rights import SEE, WORK
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup

router = Router(tags=["practice"])


@router.get("/{key}/pretend", response={200: PretendSheet, 404: ApiError}, auth=SEE, operation_id="pretend")
def pretend(request: HttpRequest, key: str) -> Any:
    """Return whether the pretend site is kept up, and where each device stands."""
    return views.pretend(lookup.site_row(key))


@router.put("/{key}/pretend", response={204: None, **WRITE}, auth=WORK, operation_id="keep_up")
def keep_up(request: HttpRequest, key: str, wanted: NewPretend) -> Any:
    """Start the pretend site and keep it up, with faults or as out of the box."""
    faults = [fault.model_dump(exclude_none=True) for fault in wanted.faults]
    services.start(key, who(request), faults, fresh=wanted.fresh)
    return Status(204, None)


@router.post("/{key}/pretend/{device}", response={204: None, **WRITE}, auth=WORK, operation_id="handle_pretend")
def handle_pretend(request: HttpRequest, key: str, device: str, wanted: PretendHandling) -> Any:
    """Put a pretend device into its box, plug it in, or pull its plug."""
    services.handle_pretend(key, device, who(request), wanted.do)
    return Status(204, None)


@router.delete("/{key}/pretend", response={204: None, **REFUSED}, auth=WORK, operation_id="take_down")
def take_down(request: HttpRequest, key: str) -> Any:
    """Take the pretend site down."""
    services.stop(key, who(request))
    return Status(204, None)
