"""The API of who works here."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from tutelar.server.http import REFUSED, WRITE, who
from tutelar.server.people import schemas as shapes
from tutelar.server.people import services, views
from tutelar.server.rights import PEOPLE

router = Router(tags=["people"])


@router.get("", response=shapes.People, auth=PEOPLE, operation_id="people")
def people(request: HttpRequest) -> Any:
    """Return everybody with an account, and the invitations that wait."""
    return _all(request)


@router.post("/invitations", response={201: shapes.Invited, **REFUSED}, auth=PEOPLE, operation_id="invite")
def invite(request: HttpRequest, wanted: shapes.Inviting) -> Any:
    """Make a link by which somebody makes an account of his own."""
    made, word = services.invite(
        who(request), wanted.role, every_site=wanted.every_site, sites=wanted.sites, days=wanted.days, note=wanted.note
    )
    return Status(201, shapes.Invited(link=_link(request, word), until=made.until))


@router.delete(
    "/invitations/{number}", response={200: shapes.People, **REFUSED}, auth=PEOPLE, operation_id="withdraw_invitation"
)
def withdraw(request: HttpRequest, number: int) -> Any:
    """Withdraw an invitation."""
    services.withdraw(who(request), number)
    return _all(request)


@router.put("/{name}", response={200: shapes.People, **WRITE}, auth=PEOPLE, operation_id="change_person")
def change(request: HttpRequest, name: str, wanted: shapes.Changing) -> Any:
    """Change what somebody may do and where, or shut the account."""
    services.change(
        who(request), name, wanted.role, every_site=wanted.every_site, sites=wanted.sites, active=wanted.active
    )
    return _all(request)


@router.post(
    "/{name}/password", response={201: shapes.Invited, **REFUSED}, auth=PEOPLE, operation_id="let_choose_password"
)
def let_choose_password(request: HttpRequest, name: str) -> Any:
    """Make a link by which somebody who forgot his password chooses a new one; it ends after two days."""
    made, word = services.let_choose_password(who(request), name, days=2)
    return Status(201, shapes.Invited(link=_link(request, word), until=made.until))


@router.delete(
    "/{name}/sessions", response={200: shapes.People, **REFUSED}, auth=PEOPLE, operation_id="end_sessions_of"
)
def end_sessions(request: HttpRequest, name: str) -> Any:
    """Sign somebody out everywhere."""
    services.sign_out(who(request), name)
    return _all(request)


@router.delete("/{name}/second", response={200: shapes.People, **WRITE}, auth=PEOPLE, operation_id="end_second_of")
def end_second(request: HttpRequest, name: str) -> Any:
    """Take away the second factor of somebody who lost it."""
    services.without_second(who(request), name)
    return _all(request)


def _all(request: HttpRequest) -> shapes.People:
    return views.people(request.user.get_username())


def _link(request: HttpRequest, word: str) -> str:
    return request.build_absolute_uri(f"/sign-in?invite={word}")
