"""The API of what comes later."""

from datetime import datetime
from typing import Any

from django.http import HttpRequest
from ninja import Router

from tutelar.server.http import REFUSED, WRITE, who
from tutelar.server.later import schemas as shapes
from tutelar.server.later import services, views
from tutelar.server.rights import SEE, WORK
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup
from tutelar.server.store.writes import WriteRejected

router = Router(tags=["later"])
SHEET = {200: shapes.LaterSheet, **WRITE}


@router.get("/{key}/later", response={200: shapes.LaterSheet, 404: ApiError}, auth=SEE, operation_id="later")
def later(request: HttpRequest, key: str) -> Any:
    """Return the diary and the changes of a site."""
    return views.later_sheet(lookup.site_row(key))


@router.get("/{key}/later/footage", response={200: shapes.FootageRow, **REFUSED}, auth=SEE, operation_id="footage")
def when_recorded(request: HttpRequest, key: str, device: str, shown: str) -> Any:
    """Return when a recording was really made that shows a time (ISO, the site's own time)."""
    row = lookup.site_row(key)
    lookup.device_row(row, device)
    try:
        moment = datetime.fromisoformat(shown).replace(tzinfo=None)
        return views.footage_row(row, device, moment)
    except (ValueError, OverflowError):
        said = f"'{shown[:40]}' is no moment; a day and a time like 2027-07-10T14:10 are expected."
        raise WriteRejected(said, [("shown", said)]) from None


@router.post("/{key}/later/changes", response=SHEET, auth=WORK, operation_id="begin_change")
def begin_change(request: HttpRequest, key: str, body: shapes.NewChange) -> Any:
    """Begin a change of a device, or of the site."""
    return views.later_sheet(services.begin(key, who(request), body.kind, body.device))


@router.put("/{key}/later/changes/{number}/steps/{step}", response=SHEET, auth=WORK, operation_id="tick_change")
def tick_change(request: HttpRequest, key: str, number: int, step: str, body: shapes.ChangeTick) -> Any:
    """Tick a step of a change, or open it again."""
    return views.later_sheet(services.tick_step(key, who(request), number, step, body.done, body.note))


@router.put("/{key}/later/changes/{number}/unit", response=SHEET, auth=WORK, operation_id="write_unit")
def write_unit(request: HttpRequest, key: str, number: int, body: shapes.NewUnit) -> Any:
    """Write down what tells the new unit apart."""
    return views.later_sheet(services.write_unit(key, who(request), number, body.model_dump()))


@router.put("/{key}/later/changes/{number}/given-up", response=SHEET, auth=WORK, operation_id="give_up_change")
def give_up_change(request: HttpRequest, key: str, number: int, body: shapes.GivenUp) -> Any:
    """Give a change up, with the reason."""
    return views.later_sheet(services.give_up(key, who(request), number, body.reason))
