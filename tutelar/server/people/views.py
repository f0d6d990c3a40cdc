"""Who works here, as it is shown."""

from collections import Counter

from django.contrib.auth.models import User
from django.utils import timezone

from tutelar.server import models
from tutelar.server.accounts.services import account_of, open_sessions
from tutelar.server.people import schemas as shapes
from tutelar.server.rights import ROLES, role_of

_MAY = {
    "owner": "Everything, at every site: also accounts, keys and backups.",
    "lead": "Everything at the sites given: also what is decided there, exceptions, the signature, who gets papers; "
    "brings sites in and removes them.",
    "technician": "Bench, links, proof, log and papers of the sites given; the secrets of the devices in hand.",
    "trainee": "Practice sites, and nothing else.",
    "support": "Looks at every site and changes nothing; shows a secret when a reason is given.",
}


def people(you: str) -> shapes.People:
    """Return everybody with an account, the invitations that wait, and what can be chosen."""
    sessions = Counter(account_of(session) for session in open_sessions())
    users = User.objects.order_by("-is_active", "username").select_related("person", "second_factor")
    waiting = models.Invitation.objects.order_by("pk").select_related("user").prefetch_related("sites")
    names = models.Site.objects.filter(removed_at=None).order_by("name").values_list("key", "name")
    return shapes.People(
        people=[_person(user, sessions[str(user.pk)], you) for user in users.prefetch_related("person__sites")],
        invitations=[
            shapes.InvitationRow(
                number=item.pk,
                role=item.role,
                note=item.note,
                every_site=item.every_site,
                sites=sorted(site.key for site in item.sites.all()),
                until=item.until,
                ended=item.until <= timezone.now(),
                made_by=item.made_by,
                user=item.user.get_username() if item.user else None,
            )
            for item in waiting
        ],
        roles=[shapes.RoleRow(role=role, word=role.capitalize(), may=_MAY[role]) for role in ROLES],
        sites=[shapes.SiteChoice(key=key, name=name) for key, name in names],
    )


def _person(user: User, sessions: int, you: str) -> shapes.PersonRow:
    person, factor = getattr(user, "person", None), getattr(user, "second_factor", None)
    return shapes.PersonRow(
        name=user.get_username(),
        role=person.role if person else role_of(user),
        every_site=person.every_site if person else user.is_superuser,
        sites=sorted(site.key for site in person.sites.all()) if person else [],
        active=user.is_active,
        second=factor is not None and factor.confirmed,
        last_login=user.last_login,
        sessions=sessions,
        you=user.get_username() == you,
    )
