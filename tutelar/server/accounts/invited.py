"""What a link lets somebody do who has no account here, or forgot his password."""

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone
from django.views.decorators.debug import sensitive_variables

from tutelar.server import models
from tutelar.server.accounts.services import check_name, choose_password, end_sessions
from tutelar.server.actor import Actor
from tutelar.server.store.words import hashed_word
from tutelar.server.store.writes import WriteRejected, log_of_firm


def offer(word: str) -> models.Invitation:
    """Return the invitation of a word. Raises WriteRejected where there is none, or it has ended."""
    found = models.Invitation.objects.filter(hashed=hashed_word(word)).first()
    if found is None or found.until <= timezone.now():
        raise WriteRejected("This link was used already, has ended, or was withdrawn; ask for a new one.", status=404)
    return found


@sensitive_variables()
def accept(word: str, username: str, password: str) -> User:
    """Make the account of an invitation, or give the one it is about a new password; the link ends with that. Raises
    WriteRejected where there is no such link, or name or password will not do."""
    with transaction.atomic():
        found = offer(word)
        user = found.user
        if user is None:
            username = " ".join(username.split())
            check_name(username)
            user = User(username=username)
        choose_password(user, password)
        end_sessions(user)
        if found.user is None:
            person = models.Person.objects.create(user=user, role=found.role, every_site=found.every_site)
            person.sites.set(found.sites.all())
        said = "chose a new password" if found.user else f"took the invitation of {found.made_by}"
        actor = Actor(user.get_username(), found.role)
        log_of_firm(actor, "person.came", user.get_username(), f"{user.get_username()} {said}.")
        found.delete()
    return user
