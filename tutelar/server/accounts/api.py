"""Signing in and out. The session is a cookie; the answer says who is signed in."""

from typing import Any

from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.http import HttpRequest, JsonResponse
from django.middleware.csrf import get_token
from django.views.decorators.debug import sensitive_variables
from ninja import Router, Status

from tutelar.server.accounts import services
from tutelar.server.http import WRITE
from tutelar.server.schemas import ApiError
from tutelar.server.site.schemas import FirstAccount, Login, NewPassword, Session

router = Router(tags=["accounts"])


@router.get("", response=Session, auth=None, operation_id="session")
def session(request: HttpRequest) -> Any:
    """Return who is signed in; the answer brings the token that later writes need."""
    get_token(request)
    return Session(user=request.user.get_username() or None, first=services.nobody_yet())


@router.post(
    "", response={200: Session, 401: ApiError, 415: ApiError, 429: ApiError}, auth=None, operation_id="sign_in"
)
def sign_in(request: HttpRequest, who: Login) -> Any:
    """Open a session for name and password. Only JSON is taken, which no page of another site can send unasked."""
    if request.content_type != "application/json":
        return Status(415, ApiError(message="Name and password are sent as JSON.", faults=[]))
    user = authenticate(request, username=who.username, password=who.password)
    if user is None:
        if getattr(request, "axes_locked_out", False):
            return locked_out(request)
        return Status(401, ApiError(message="This name and password do not belong together.", faults=[]))
    login(request, user)
    return Session(user=user.get_username())


@router.post("/first", response={200: Session, 403: ApiError, **WRITE}, auth=None, operation_id="make_first_account")
@sensitive_variables()
def make_first_account(request: HttpRequest, body: FirstAccount) -> Any:
    """Make the first account with what the server printed at its first start, and sign in."""
    user = services.make_first(body.token, body.username, body.password)
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return Session(user=user.get_username())


@router.put("/password", response={200: Session, **WRITE}, operation_id="change_own_password")
@sensitive_variables()
def change_own_password(request: HttpRequest, body: NewPassword) -> Any:
    """Change one's own password; every other session of it ends."""
    user = request.user
    services.change_password(user, body.old_password, body.password)  # type: ignore[arg-type]
    update_session_auth_hash(request, user)  # type: ignore[arg-type]
    return Session(user=user.get_username())


@router.delete("/everywhere", response=Session, operation_id="sign_out_everywhere")
def sign_out_everywhere(request: HttpRequest) -> Any:
    """Close every session of whoever asks, on every device."""
    services.end_sessions(request.user)  # type: ignore[arg-type]
    logout(request)
    return Session(user=None)


@router.delete("", response=Session, operation_id="sign_out")
def sign_out(request: HttpRequest) -> Any:
    """Close the session."""
    logout(request)
    return Session(user=None)


def locked_out(_request: HttpRequest, *_: object, **__: object) -> JsonResponse:
    """Answer who tried too often, with how long it lasts."""
    message = "Too many wrong passwords; this name is shut for 15 minutes from this machine."
    return JsonResponse({"message": message, "faults": []}, status=429)
