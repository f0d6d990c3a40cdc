"""Signing in and out. The session is a cookie; the answer says who is signed in."""

from typing import Any

from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest, JsonResponse
from django.middleware.csrf import get_token
from ninja import Router, Status

from tutelar.server.schemas import ApiError
from tutelar.server.site.schemas import Login, Session

router = Router(tags=["accounts"])


@router.get("", response=Session, auth=None, operation_id="session")
def session(request: HttpRequest) -> Any:
    """Return who is signed in; the answer brings the token that later writes need."""
    get_token(request)
    return Session(user=request.user.get_username() or None)


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


@router.delete("", response=Session, operation_id="sign_out")
def sign_out(request: HttpRequest) -> Any:
    """Close the session."""
    logout(request)
    return Session(user=None)


def locked_out(_request: HttpRequest, *_: object, **__: object) -> JsonResponse:
    """Answer who tried too often, with how long it lasts."""
    message = "Too many wrong passwords; this name is shut for 15 minutes from this machine."
    return JsonResponse({"message": message, "faults": []}, status=429)
