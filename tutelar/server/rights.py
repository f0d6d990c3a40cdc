"""Who may do what: five roles and the rights they have. Every operation of the API names its right, as its `auth`; it
is asked for here and nowhere else, together with the site that it is about.
"""

from collections.abc import Collection
from typing import Any, ClassVar

from django.contrib.auth.models import AnonymousUser, User
from django.db.models import QuerySet
from django.http import Http404, HttpRequest
from ninja.errors import HttpError
from ninja.security import SessionAuth

from tutelar.server import models
from tutelar.server.models.fields import text_in

OWNER, LEAD, TECHNICIAN, TRAINEE, SUPPORT = ROLES = models.ROLES
EVERY_SITE = frozenset({OWNER, SUPPORT})  # whose role is for every site


class Right(SessionAuth):
    """A right that an operation asks for: who has it, and what it lets people do, in words that follow "to". The
    description of the API calls each by the name of its class."""

    roles: ClassVar[Collection[str]] = ()
    does: ClassVar[str] = "do this"

    @property
    def name(self) -> str:
        """Its name, in small letters."""
        return type(self).__name__.lower()

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        """Return who asks, None where nobody is signed in. Raises HttpError 403 without the right, Http404 for a site
        that is none of his."""
        if super().authenticate(request, key) is None:
            return None
        match = request.resolver_match
        self.ask(request.user, match.kwargs.get("key") if match is not None else None)
        return request.user

    def ask(self, user: User | AnonymousUser, site: str | None = None) -> None:
        """Raise HttpError 403 with a sentence where somebody lacks the right, Http404 where the site is none of his."""
        role = role_of(user)
        if site is not None and not sees_every_site(user) and not sites_of(user).filter(key=site).exists():
            raise Http404(f"There is no site '{site}' among yours.")
        if role not in self.roles:
            raise HttpError(403, f"To {self.does}, ask {self.who}; your account is {_with_article(role)}'s")

    @property
    def who(self) -> str:
        """Those who have it: "an owner or a lead"."""
        return " or ".join(_with_article(role) for role in ROLES if role in self.roles and role != TRAINEE)


class Oneself(Right):
    """One's own account."""

    roles, does = (*ROLES, ""), "look after your own account"


class See(Right):
    """To read, and to ask what would be if."""

    roles, does = ROLES, "look at it"


class Work(Right):
    """What a technician does at a site."""

    roles, does = (OWNER, LEAD, TECHNICIAN, TRAINEE), "change anything here"


class Reveal(Right):
    """To look at one secret; how many and with which reason is asked where it is shown."""

    roles, does = ROLES, "look at a secret"


class Decide(Right):
    """What somebody answers for: policy, exceptions, the signature; trainees only come as far as practice sites."""

    roles, does = (OWNER, LEAD, TRAINEE), "decide this for the site"


class Leading(Right):
    """What is about more than one site, or about whether a real network is touched."""

    roles, does = (OWNER, LEAD), "do this"


class People(Right):
    """Accounts, keys, backups."""

    roles, does = (OWNER,), "look after accounts, keys and backups"


class Nobody(Right):
    """Of an operation that names no right of its own."""


ONESELF, SEE, WORK, REVEAL, DECIDE, LEADING, PEOPLE, NOBODY = (
    *(Oneself(), See(), Work(), Reveal()),
    *(Decide(), Leading(), People(), Nobody()),
)
RIGHTS = (ONESELF, SEE, WORK, REVEAL, DECIDE, LEADING, PEOPLE)


def role_of(user: User | AnonymousUser) -> str:
    """Return somebody's role; "" for an account that nobody gave one."""
    person = person_of(user)
    if person is not None:
        return person.role
    return OWNER if user.is_active and user.is_superuser else ""


def person_of(user: User | AnonymousUser) -> models.Person | None:
    """Return what was said of an account, None where nothing was; it is read once a request."""
    if "_standing" not in user.__dict__:
        user.__dict__["_standing"] = models.Person.objects.filter(user=user.pk).first() if user.is_active else None
    found: models.Person | None = user.__dict__["_standing"]
    return found


def rights_of(role: str) -> list[str]:
    """Return the names of the rights that a role has."""
    return [right.name for right in RIGHTS if role in right.roles]


def sites_of(user: User | AnonymousUser) -> QuerySet[models.Site]:
    """Return the sites that somebody may see, the removed ones among them."""
    every, person = models.Site.objects.all(), person_of(user)
    if sees_every_site(user):
        return every
    if person is None:
        return every.none()
    if person.role == TRAINEE:
        return every.alias(practice=text_in("about__practice")).filter(practice="true")
    return every.filter(pk__in=person.sites.all())


def sees_every_site(user: User | AnonymousUser) -> bool:
    """Return whether somebody may see every site that there is and will be."""
    role, person = role_of(user), person_of(user)
    return role in EVERY_SITE or (person is not None and person.every_site and role != TRAINEE)


def give_site(user: User | AnonymousUser, site: models.Site) -> None:
    """Count a site among those of whoever made it."""
    person = person_of(user)
    if person is not None and not sees_every_site(user):
        person.sites.add(site)


def _with_article(role: str) -> str:
    if role == SUPPORT:
        return "the support desk"
    return f"{'an' if role[:1] == 'o' else 'a'} {role}" if role else "nobody"
