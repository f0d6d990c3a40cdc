"""The API of remote access."""

from typing import Any

from django.http import HttpRequest
from ninja import Router

from tutelar.server.http import WRITE, who
from tutelar.server.remote import schemas as shapes
from tutelar.server.remote import services, views
from tutelar.server.rights import DECIDE, SEE, WORK
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup

router = Router(tags=["remote"])
SHEET = {200: shapes.RemoteSheet, **WRITE}


@router.get("/{key}/remote", response={200: shapes.RemoteSheet, 404: ApiError}, auth=SEE, operation_id="remote")
def remote(request: HttpRequest, key: str) -> Any:
    """Return the remote access of a site: the chosen way, and each device's steps."""
    return views.remote_sheet(lookup.site_row(key))


@router.put("/{key}/remote/method", response=SHEET, auth=DECIDE, operation_id="choose_remote")
def choose_remote(request: HttpRequest, key: str, body: shapes.MethodChoice) -> Any:
    """Choose a way of remote access."""
    return views.remote_sheet(services.choose_method(key, who(request), body.method, body.why))


@router.put("/{key}/remote/{device}/owner", response=SHEET, auth=WORK, operation_id="say_owner")
def say_owner(request: HttpRequest, key: str, device: str, body: shapes.OwnerSaid) -> Any:
    """Write down whose a device is at its maker's relay."""
    return views.remote_sheet(services.say_owner(key, device, who(request), body.state, body.account, body.note))


@router.put("/{key}/remote/{device}/steps/{item}", response=SHEET, auth=WORK, operation_id="tick_remote")
def tick_remote(request: HttpRequest, key: str, device: str, item: str, body: shapes.StepTick) -> Any:
    """Tick a step of a device, open it again, or say that it is not needed."""
    return views.remote_sheet(services.tick_step(key, device, item, who(request), body.state, body.note))
