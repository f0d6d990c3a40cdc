"""Inviting people, changing what they may do, and shutting accounts."""

from collections.abc import Collection
from datetime import timedelta

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from tutelar.core.wording import listed
from tutelar.server import models
from tutelar.server.accounts import second
from tutelar.server.accounts.services import end_sessions
from tutelar.server.actor import Actor
from tutelar.server.rights import OWNER, ROLES, TRAINEE
from tutelar.server.store.words import fresh_word
from tutelar.server.store.writes import WriteRejected, log_of_firm


def invite(
    actor: Actor, role: str, *, every_site: bool, sites: Collection[str], days: int, note: str = ""
) -> tuple[models.Invitation, str]:
    """Return an invitation and its word, which is shown this once. Raises WriteRejected for a role or a site that there
    is none of."""
    rows = _sites(role, every_site=every_site, keys=sites)
    with transaction.atomic():
        made, word = _link(actor, days, role=role, every_site=every_site, note=note)
        made.sites.set(rows)
        log_of_firm(
            actor,
            "person.invited",
            note or role,
            f"A {role} was invited{f': {note}' if note else ''}; until {_day(made)}.",
        )
    return made, word


def let_choose_password(actor: Actor, name: str, days: int) -> tuple[models.Invitation, str]:
    """Return a link by which somebody chooses a new password, and its word, which is shown this once."""
    user = account(name)
    with transaction.atomic():
        made, word = _link(actor, days, role=_person(user).role, user=user)
        log_of_firm(
            actor, "person.new-password", name, f"{name} may choose a new password by a link until {_day(made)}."
        )
    return made, word


def withdraw(actor: Actor, number: int) -> None:
    """Make a link open nothing any more. Raises WriteRejected where there is none."""
    with transaction.atomic():
        found = models.Invitation.objects.filter(pk=number).first()
        if found is None:
            raise WriteRejected(f"There is no invitation {number}.", status=404)
        log_of_firm(actor, "person.uninvited", found.note or found.role, "An invitation was withdrawn.")
        found.delete()


def change(actor: Actor, name: str, role: str, *, every_site: bool, sites: Collection[str], active: bool) -> None:
    """Change what somebody may do and where, or shut the account; whoever is shut out or may do less is signed out.
    Raises WriteRejected for a role or a site that there is none of, and where nobody would be left to own it."""
    rows = _sites(role, every_site=every_site, keys=sites)
    with transaction.atomic():
        user = account(name)
        person = _person(user)
        before = _standing(person, user)
        if (role != OWNER or not active) and before["active"] and person.role == OWNER and not _other_owner(user):
            raise WriteRejected(
                "Somebody has to be left who owns it: make another owner first.", [("role", role)], status=409
            )
        person.role, person.every_site = role, every_site
        person.save()
        person.sites.set(rows)
        user.is_active, user.is_superuser = active, False
        user.save(update_fields=["is_active", "is_superuser"])
        after = _standing(person, user)
        if before == after:
            return
        if not active or before["role"] != role:
            end_sessions(user)
        log_of_firm(actor, "person.changed", name, f"{name}: {_words(after)}.", before, after)


def sign_out(actor: Actor, name: str) -> None:
    """End every session of somebody."""
    with transaction.atomic():
        end_sessions(account(name))
        log_of_firm(actor, "person.signed-out", name, f"{name} was signed out everywhere.")


def without_second(actor: Actor, name: str) -> None:
    """Take away the second factor of somebody who lost it, and end every session of his."""
    with transaction.atomic():
        user = account(name)
        if not second.has_second(user):
            raise WriteRejected(f"{name} has no second factor.", status=409)
        second.switch_off(user)
        end_sessions(user)
        log_of_firm(actor, "person.second-off", name, f"The second factor of {name} was switched off.")


def account(name: str) -> User:
    """Return the account of a name. Raises WriteRejected (404) where there is none."""
    found = User.objects.filter(username=name).first()
    if found is None:
        raise WriteRejected(f"Nobody here is called '{name}'.", status=404)
    return found


def _person(user: User) -> models.Person:
    """Return what somebody may do: with nothing said, an owner's rights for the framework's superuser, else none."""
    found = models.Person.objects.filter(user=user).first()
    return found or models.Person(user=user, role=OWNER if user.is_superuser else "")


def _other_owner(user: User) -> bool:
    others = User.objects.filter(is_active=True).exclude(pk=user.pk)
    return others.filter(person__role=OWNER).exists() or others.filter(person=None, is_superuser=True).exists()


def _sites(role: str, *, every_site: bool, keys: Collection[str]) -> list[models.Site]:
    if role not in ROLES:
        raise WriteRejected(f"There is no role '{role}'; there are {listed(ROLES)}.", [("role", role)])
    if every_site or role == TRAINEE:
        return []
    rows = {row.key: row for row in models.Site.objects.filter(key__in=keys)}
    missing = next((key for key in keys if key not in rows), None)
    if missing is not None:
        raise WriteRejected(f"There is no site '{missing}'.", [("sites", missing)])
    return list(rows.values())


def _link(actor: Actor, days: int, **more: object) -> tuple[models.Invitation, str]:
    word, hashed = fresh_word()
    until = timezone.now() + timedelta(days=days)
    made = models.Invitation.objects.create(hashed=hashed, until=until, made_by=actor.name, **more)
    return made, word


def _standing(person: models.Person, user: User) -> dict[str, object]:
    keys = sorted(person.sites.values_list("key", flat=True)) if person.pk and not person._state.adding else []
    return {"role": person.role, "every_site": person.every_site, "sites": keys, "active": user.is_active}


def _words(standing: dict[str, object]) -> str:
    keys = standing["sites"]
    where = "every site" if standing["every_site"] else f"{len(keys)} sites" if isinstance(keys, list) else ""
    return f"{standing['role']}, {where}{'' if standing['active'] else ', shut'}"


def _day(made: models.Invitation) -> str:
    return made.until.date().isoformat()
