"""The API of the page of one device."""

from typing import Any

from django.http import HttpRequest
from ninja import Router

from tutelar.server.device import views
from tutelar.server.rights import SEE
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup
from tutelar.server.values import schemas as shapes

router = Router(tags=["device"])
SEEN = {404: ApiError}


@router.get(
    "/{key}/devices/{device}/page", response={200: shapes.DevicePage, **SEEN}, auth=SEE, operation_id="device_page"
)
def device_page(request: HttpRequest, key: str, device: str) -> Any:
    """Return everything known about one device."""
    return views.device_page(lookup.site_row(key), device)
