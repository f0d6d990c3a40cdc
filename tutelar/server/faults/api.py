"""The API of fault finding."""

from typing import Annotated, Any, Literal

from django.http import HttpRequest
from ninja import Path, Query, Router

from tutelar.server.faults import queries, services, views
from tutelar.server.faults import schemas as shapes
from tutelar.server.http import REFUSED, WRITE, Words, who
from tutelar.server.rights import SEE, WORK
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup

router = Router(tags=["faults"])
Number = Annotated[int, Path(ge=1, le=2**31 - 1)]
Port = Annotated[int, Query(ge=1, le=65_535)]
SHEET = {200: shapes.CaseSheet, **WRITE}


def _told(item: shapes.SeenIn) -> services.Told:
    return item.check, item.at, item.result


@router.get("/{key}/faults", response={200: shapes.FaultsSheet, 404: ApiError}, auth=SEE, operation_id="faults")
def faults(request: HttpRequest, key: str) -> Any:
    """Return the cases of a site, and what can be complained of."""
    return views.faults_sheet(lookup.site_row(key))


@router.post("/{key}/faults", response=SHEET, auth=WORK, operation_id="open_case")
def open_case(request: HttpRequest, key: str, body: shapes.NewCase) -> Any:
    """Open a case for a complaint, or a drill."""
    case = services.open_case(key, who(request), [_told(item) for item in body.seen], body.drill, body.written)
    return views.case_sheet(lookup.site_row(key), case)


@router.get("/{key}/faults/{number}", response={200: shapes.CaseSheet, 404: ApiError}, auth=SEE, operation_id="case")
def case(request: HttpRequest, key: str, number: Number) -> Any:
    """Return one case."""
    row = lookup.site_row(key)
    return views.case_sheet(row, queries.case_of(row, number))


@router.post("/{key}/faults/{number}/seen", response=SHEET, auth=WORK, operation_id="answer_check")
def answer_check(request: HttpRequest, key: str, number: Number, body: shapes.SeenIn) -> Any:
    """Write down what a check showed; without a result the server looks itself."""
    found = services.answer(key, number, who(request), _told(body))
    return views.case_sheet(lookup.site_row(key), found)


@router.delete("/{key}/faults/{number}/seen", response=SHEET, auth=WORK, operation_id="take_back_seen")
def take_back_seen(request: HttpRequest, key: str, number: Number) -> Any:
    """Take back the last thing that was written down."""
    found = services.take_back(key, number, who(request))
    return views.case_sheet(lookup.site_row(key), found)


@router.put("/{key}/faults/{number}/cause", response=SHEET, auth=WORK, operation_id="conclude_case")
def conclude_case(request: HttpRequest, key: str, number: Number, body: shapes.Conclusion) -> Any:
    """Write down what it was; a drill ends with it."""
    found = services.conclude(key, number, who(request), [(item.fault, item.at) for item in body.faults], body.note)
    return views.case_sheet(lookup.site_row(key), found)


@router.put("/{key}/faults/{number}/mended", response=SHEET, auth=WORK, operation_id="mend_case")
def mend_case(request: HttpRequest, key: str, number: Number, body: shapes.Mending) -> Any:
    """Write down that it was put right."""
    found = services.mended(key, number, who(request), body.note)
    return views.case_sheet(lookup.site_row(key), found)


@router.post("/{key}/faults/{number}/again", response=SHEET, auth=WORK, operation_id="measure_case_again")
def measure_case_again(request: HttpRequest, key: str, number: Number, body: shapes.SeenIn) -> Any:
    """Look at what was complained of once more; when all of it is as it should be the case is closed."""
    found = services.measured_again(key, number, who(request), _told(body))
    return views.case_sheet(lookup.site_row(key), found)


@router.get("/{key}/reach", response={200: shapes.ReachRow, **REFUSED}, auth=SEE, operation_id="reach")
def reach(
    request: HttpRequest, key: str, start: Words, goal: Words, port: Port, protocol: Literal["tcp", "udp"] = "tcp"
) -> Any:
    """Return whether an end (a device, "laptop@NETWORK" or "outside") reaches another on a port, hop by hop."""
    return views.reach_row(lookup.site_row(key), start, goal, port, protocol)
