"""The API of doors, access and the alarm."""

from datetime import datetime
from hashlib import sha256
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router, Status

from tutelar.core.doors.circuit import current_at, seen_at
from tutelar.core.doors.sequence import test_of
from tutelar.core.site.access import Person
from tutelar.core.site.doors import Door
from tutelar.server.doors import queries, services, trying, views
from tutelar.server.doors import schemas as shapes
from tutelar.server.http import BYTES, REFUSED, WRITE, Words, who
from tutelar.server.rights import SEE, WORK
from tutelar.server.schemas import ApiError, Revised
from tutelar.server.sheet import shaped
from tutelar.server.store import documents, lookup
from tutelar.server.store.writes import WriteRejected
from tutelar.server.uploads import rows_of

router = Router(tags=["doors"])
Number = Annotated[int | None, Query(ge=0, le=2**63 - 1)]


@router.get("/{key}/doors", response={200: shapes.DoorsSheet, 404: ApiError}, auth=SEE, operation_id="doors")
def doors(request: HttpRequest, key: str) -> Any:
    """Return every door with its wiring, tests and problems."""
    return views.doors_sheet(lookup.site_row(key))


@router.get("/{key}/alarm", response={200: shapes.AlarmSheet, 404: ApiError}, auth=SEE, operation_id="alarm")
def alarm(request: HttpRequest, key: str) -> Any:
    """Return the alarm hubs of a site."""
    return views.alarm_sheet(lookup.site_row(key))


@router.get("/{key}/access", response={200: shapes.AccessSheet, 404: ApiError}, auth=SEE, operation_id="access")
def access(request: HttpRequest, key: str, search: Words = "") -> Any:
    """Return who may open what when."""
    return views.access_sheet(lookup.site_row(key), search)


@router.get("/{key}/access/may", response={200: shapes.MayRow, **REFUSED}, auth=SEE, operation_id="may")
def may(request: HttpRequest, key: str, person: str, door: str, when: str) -> Any:
    """Return whether a person may open a door at a moment (ISO, the site's own time), and by which rule."""
    telling = queries.telling_of(lookup.site_row(key))
    try:
        moment = datetime.fromisoformat(when).replace(tzinfo=None)
    except ValueError:
        said = f"'{when[:40]}' is no moment; a day and a time like 2027-03-17T17:45 are expected."
        raise WriteRejected(said, [("when", said)]) from None
    found, where = telling.known.people.get(person), telling.known.doors.get(door)
    if found is None or where is None:
        missing = f"person '{person}'" if found is None else f"door '{door}'"
        raise WriteRejected(f"The site has no {missing}.", [("person" if found is None else "door", missing)])
    return views.may_row(telling, found, where, moment)


@router.get(
    "/{key}/access/week/{person}", response={200: shapes.PersonWeek, **REFUSED}, auth=SEE, operation_id="person_week"
)
def person_week(request: HttpRequest, key: str, person: str) -> Any:
    """Return a person's week at every door."""
    known = queries.telling_of(lookup.site_row(key)).known
    return views.person_week(known, _person(known.people, person))


def _person(people: dict[str, Person], key: str) -> Person:
    if key not in people:
        raise WriteRejected(f"The site has no person '{key}'.", [("person", key)], status=404)
    return people[key]


@router.get("/{key}/access/card", response={200: shapes.CardRow, **REFUSED}, auth=SEE, operation_id="card")
def card(
    request: HttpRequest, key: str, form: str, number: Number = None, facility: Number = None, owner: Words = ""
) -> Any:
    """Return a card as it is sent, or what does not fit and whom the cut number would be."""
    known = queries.telling_of(lookup.site_row(key)).known
    if form != "w26" and form not in {item.key for item in known.access.formats}:
        raise WriteRejected(f"'{form}' is no card format here.", [("form", form)])
    numbers = {name: value for name, value in (("facility", facility), ("number", number)) if value is not None}
    return views.card_row(known, form, numbers, owner or None)


@router.put("/{key}/access/{kind}/{item}", response={200: Revised, **WRITE}, auth=WORK, operation_id="change_access")
def change_access(request: HttpRequest, key: str, kind: str, item: str, body: shapes.AccessItem) -> Any:
    """Put one person, rule, frame, holiday, card format, door or alarm hub in the place of what stood there."""
    return services.change_item(key, who(request), kind, item, body.was, body.now)


@router.post("/{key}/access/sent", response={200: Revised, **WRITE}, auth=WORK, operation_id="tick_sent")
def tick_sent(request: HttpRequest, key: str, body: shapes.SentTick) -> Any:
    """Write down that a panel was sent what it has to know."""
    return services.tick_sent(key, who(request), body.panel, body.digest)


@router.post(
    "/{key}/access/table",
    response={200: shapes.PeoplePreview, **REFUSED},
    auth=SEE,
    operation_id="read_people",
    openapi_extra=BYTES,
)
def read_people(request: HttpRequest, key: str, encoding: str | None = None) -> Any:
    """Read a table of people (XLSX, CSV or text) and say what bringing it in would do."""
    row = lookup.site_row(key)
    table = rows_of(request.body, encoding)
    rows = [shaped(shapes.PersonRowOut, item) for item in services.preview_people(row, table)]
    digest = sha256(repr(table).encode()).hexdigest()
    return shapes.PeoplePreview(rows=rows, table=table, digest=digest)


@router.post("/{key}/access/people", response={200: Revised, **WRITE}, auth=WORK, operation_id="bring_people")
def bring_people(request: HttpRequest, key: str, body: shapes.PeopleTable) -> Any:
    """Bring a table of people in as its preview said."""
    return services.bring_people(key, who(request), body.table)


@router.post("/{key}/doors/{door}/unlocked", response={200: Revised, **WRITE}, auth=WORK, operation_id="unlock_door")
def unlock_door(request: HttpRequest, key: str, door: str, body: shapes.Unlocking) -> Any:
    """Write down that a door is held open for set-up."""
    return services.unlock(key, door, who(request), body.minutes, body.guard)


@router.delete("/{key}/doors/{door}/unlocked", response={204: None, **WRITE}, auth=WORK, operation_id="lock_door")
def lock_door(request: HttpRequest, key: str, door: str) -> Any:
    """Write down that a door is locked again."""
    services.lock(key, door, who(request))
    return Status(204, None)


@router.post(
    "/{key}/doors/{door}/pretend", response={200: shapes.PretendSeen, **REFUSED}, auth=SEE, operation_id="try_door"
)
def try_door(request: HttpRequest, key: str, door: str, body: shapes.PretendTry) -> Any:
    """Return what is seen when a test is made at the pretend door of a practice site."""
    site = documents.document(lookup.site_row(key))
    found: Door | None = next((item for item in site.doors if item.key == door), None)
    if found is None:
        raise WriteRejected(f"The site has no door '{door}'.", [("door", door)], status=404)
    if not site.about.practice:
        raise WriteRejected("Only a practice site has a pretend door; here the real one is tried.", [("door", door)])
    test = test_of(found, body.test)
    if test is None:
        raise WriteRejected(f"{found.label} has no test '{body.test}'.", [("test", body.test)])
    faults = frozenset(body.faults)
    does = test.does or ("glass" if test.key == "egress" else "at-rest")
    told = trying.asked_at_panel(lookup.site_row(key), found, does, faults)
    words = told if told is not None else seen_at(found, does, faults).words
    return shapes.PretendSeen(
        words=words, by_panel=told is not None, circuit=shaped(shapes.CircuitRow, current_at(found, does, faults))
    )
