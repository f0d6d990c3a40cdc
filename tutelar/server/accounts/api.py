"""Signing in and out. The session is a cookie; the answer says who is signed in."""

from typing import Any

from django.contrib.auth import authenticate, login, logout, update_session_auth_hash, user_login_failed
from django.contrib.auth.models import AnonymousUser, User
from django.http import HttpRequest, JsonResponse
from django.middleware.csrf import get_token
from django.views.decorators.debug import sensitive_variables
from ninja import Router, Status

from tutelar.core.wording import count
from tutelar.server.accounts import invited as links
from tutelar.server.accounts import second, services
from tutelar.server.accounts.schemas import (
    Begun,
    Confirming,
    FirstAccount,
    Link,
    Login,
    NewPassword,
    Offer,
    OwnPassword,
    Recovery,
    Session,
)
from tutelar.server.http import REFUSED, WRITE
from tutelar.server.rights import ONESELF, rights_of, role_of
from tutelar.server.schemas import ApiError, Fault
from tutelar.server.store.writes import WriteRejected

router = Router(tags=["accounts"])


@router.get("", response=Session, auth=None, operation_id="session")
def session(request: HttpRequest) -> Any:
    """Return who is signed in; the answer brings the token that later writes need."""
    get_token(request)
    return _session(request.user)


def _session(user: User | AnonymousUser) -> Session:
    if isinstance(user, AnonymousUser) or not user.is_authenticated:
        return Session(user=None, first=services.nobody_yet())
    role = role_of(user)
    return Session(user=user.get_username(), role=role, rights=rights_of(role), second=second.has_second(user))


@router.post(
    "", response={200: Session, 401: ApiError, 415: ApiError, 429: ApiError}, auth=None, operation_id="sign_in"
)
@sensitive_variables()
def sign_in(request: HttpRequest, who: Login) -> Any:
    """Open a session for name and password, and the code of whoever has a second factor. Only JSON is taken."""
    _only_json(request)
    if (wait := services.too_many_from(request.META.get("REMOTE_ADDR", ""))) > 0:
        said = f"Too many wrong passwords came from this machine; wait {count(wait, 'second')}, then try again."
        return Status(429, ApiError(message=said, faults=[]))
    user = authenticate(request, username=who.username, password=who.password)
    if user is None:
        if getattr(request, "axes_locked_out", False):
            return locked_out(request)
        return Status(401, ApiError(message="This name and password do not belong together.", faults=[]))
    if second.has_second(user):
        asked = [Fault(path="code", message="asked")]
        if not who.code.strip():
            said = "Type the code that your authenticator app shows, or one of your recovery codes."
            return Status(401, ApiError(message=said, faults=asked))
        if not second.passes(user, who.code):
            user_login_failed.send(__name__, credentials={"username": who.username}, request=request)
            return Status(401, ApiError(message="This code is not the one of now, or was used already.", faults=asked))
    login(request, user)
    return _session(user)


@router.post("/first", response={200: Session, 403: ApiError, **WRITE}, auth=None, operation_id="make_first_account")
@sensitive_variables()
def make_first_account(request: HttpRequest, body: FirstAccount) -> Any:
    """Make the first account with what the server printed at its first start, and sign in."""
    _only_json(request)
    return _come_in(request, services.make_first(body.token, body.username, body.password))


@router.post("/invited", response={200: Offer, **REFUSED}, auth=None, operation_id="invited")
def invited(request: HttpRequest, body: Link) -> Any:
    """Return what a link offers."""
    found = links.offer(body.token)
    return Offer(role=found.role, user=found.user.get_username() if found.user else None)


@router.post("/accepted", response={200: Session, **WRITE}, auth=None, operation_id="accept_invitation")
@sensitive_variables()
def accept_invitation(request: HttpRequest, body: FirstAccount) -> Any:
    """Make the account of an invitation, or choose the new password that it lets one choose. Whoever has no second
    factor is signed in with that."""
    _only_json(request)
    user = links.accept(body.token, body.username, body.password)
    return _session(AnonymousUser()) if second.has_second(user) else _come_in(request, user)


def _only_json(request: HttpRequest) -> None:
    """Raise WriteRejected for what a page of another site could send unasked."""
    if request.content_type != "application/json":
        raise WriteRejected("Name and password are sent as JSON.", status=415)


def _come_in(request: HttpRequest, user: User) -> Session:
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return _session(user)


@router.put("/password", response={200: Session, **WRITE}, auth=ONESELF, operation_id="change_own_password")
@sensitive_variables()
def change_own_password(request: HttpRequest, body: NewPassword) -> Any:
    """Change one's own password; every other session of it ends."""
    user = request.user
    services.change_password(user, body.old_password, body.password)  # type: ignore[arg-type]
    update_session_auth_hash(request, user)  # type: ignore[arg-type]
    return _session(user)


@router.post("/second", response={201: Begun, **WRITE}, auth=ONESELF, operation_id="begin_second")
@sensitive_variables()
def begin_second(request: HttpRequest, body: OwnPassword) -> Any:
    """Begin with a second factor: what the authenticator app has to know. One's own password is asked for: whoever
    finds an open browser must not shut its owner out."""
    _require_password(request, body)
    secret, uri, svg = second.begin(request.user)  # type: ignore[arg-type]
    return Status(201, Begun(secret=secret, uri=uri, svg=svg))


@router.put("/second", response={200: Recovery, **WRITE}, auth=ONESELF, operation_id="confirm_second")
def confirm_second(request: HttpRequest, body: Confirming) -> Any:
    """Let the second factor count, once its code was typed; the recovery codes are shown this once."""
    return Recovery(codes=second.confirm(request.user, body.code))  # type: ignore[arg-type]


@router.delete("/second", response={200: Session, **WRITE}, auth=ONESELF, operation_id="end_second")
@sensitive_variables()
def end_second(request: HttpRequest, body: OwnPassword) -> Any:
    """Switch the second factor off; one's own password is asked for."""
    _require_password(request, body)
    second.switch_off(request.user)  # type: ignore[arg-type]
    return _session(request.user)


def _require_password(request: HttpRequest, body: OwnPassword) -> None:
    if not request.user.check_password(body.password):
        raise WriteRejected("That is not your password.", [("password", "wrong")])


@router.delete("/everywhere", response=Session, auth=ONESELF, operation_id="sign_out_everywhere")
def sign_out_everywhere(request: HttpRequest) -> Any:
    """Close every session of whoever asks, on every device."""
    services.end_sessions(request.user)  # type: ignore[arg-type]
    logout(request)
    return Session(user=None)


@router.delete("", response=Session, auth=ONESELF, operation_id="sign_out")
def sign_out(request: HttpRequest) -> Any:
    """Close the session."""
    logout(request)
    return Session(user=None)


def locked_out(_request: HttpRequest, *_: object, **__: object) -> JsonResponse:
    """Answer who tried too often, with how long it lasts."""
    message = "Too many wrong passwords; from this machine the name is shut for a minute."
    return JsonResponse({"message": message, "faults": []}, status=429)
