"""Accounts: the first one, one's own password, and signing out everywhere."""

import hmac
import secrets
from datetime import timedelta

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth import SESSION_KEY, get_user_model
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import transaction
from django.db.models import Max, QuerySet, Sum
from django.utils import timezone
from django.views.decorators.debug import sensitive_variables

from tutelar.server import models
from tutelar.server.private import kept_or_made
from tutelar.server.rights import OWNER
from tutelar.server.store.writes import WriteRejected

_LATELY_S, _MOST_WRONG, _PAUSE_S = 600, 20, 20  # of one machine, whatever names it tries
_FIRST = "first-start"  # the file whose text lets somebody make the first account; gone once that is done


def nobody_yet() -> bool:
    """Return whether nobody has an account here."""
    return not get_user_model().objects.exists()


def first_token() -> str | None:
    """Return what lets somebody make the first account, None where there is one."""
    return kept_or_made(settings.DATA_DIR / _FIRST, secrets.token_urlsafe(24)) if nobody_yet() else None


@sensitive_variables()
def make_first(token: str, username: str, password: str) -> User:
    """Make the first account. Raises WriteRejected where there is one, the token is not the server's, or name or
    password will not do."""
    username = " ".join(username.split())
    with transaction.atomic():
        expected = first_token()
        if expected is None:
            raise WriteRejected("There is an account here already; sign in with it.", status=409)
        if not hmac.compare_digest(token, expected):
            raise WriteRejected(
                "This is not what the server printed at its start; open the link that it printed.", status=403
            )
        check_name(username)
        user = User(username=username)
        choose_password(user, password)
        models.Person.objects.create(user=user, role=OWNER, every_site=True)
    (settings.DATA_DIR / _FIRST).unlink(missing_ok=True)
    return user


@sensitive_variables()
def change_password(user: User, old: str, password: str) -> None:
    """Change one's own password; every other session of it ends. Raises WriteRejected where the old one is wrong or the
    new one will not do."""
    if not user.check_password(old):
        raise WriteRejected("The present password is another one.", [("old_password", "wrong")])
    if old == password:
        raise WriteRejected("That is the password you have.", [("password", "the same")])
    with transaction.atomic():
        choose_password(user, password)


def check_name(username: str) -> None:
    """Raise WriteRejected for a name that will not do, or that somebody has."""
    if not username:
        raise WriteRejected("Choose a name.", [("username", "empty")])
    if User.objects.filter(username__iexact=username).exists():
        raise WriteRejected(
            f"Somebody here is called '{username}' already; choose another name.", [("username", "taken")]
        )


def choose_password(user: User, password: str) -> None:
    """Give an account a password and store both. Raises WriteRejected where it will not do."""
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise WriteRejected(" ".join(error.messages), [("password", error.messages[0])]) from None
    user.set_password(password)
    user.save()


def too_many_from(address: str) -> int:
    """Return how many seconds a machine has to wait that tried many names and passwords: none below a limit, then at
    most as long as after its last wrong one, so that nobody who shares its address is shut out for long."""
    lately = timezone.now() - timedelta(seconds=_LATELY_S)
    tried = AccessAttempt.objects.filter(ip_address=address, attempt_time__gte=lately)
    found = tried.aggregate(wrong=Sum("failures_since_start"), last=Max("attempt_time"))
    if (found["wrong"] or 0) < _MOST_WRONG:
        return 0
    return max(0, _PAUSE_S - int((timezone.now() - found["last"]).total_seconds()))


def end_sessions(user: User) -> None:
    """End every session of somebody."""
    for session in open_sessions():
        if account_of(session) == str(user.pk):
            session.delete()


def open_sessions() -> QuerySet[Session]:
    """Return the sessions that are open."""
    return Session.objects.filter(expire_date__gt=timezone.now())


def account_of(session: Session) -> str:
    """Return the number of the account of a session, "" where nobody is signed in."""
    return str(session.get_decoded().get(SESSION_KEY, ""))
