"""The demo: an invented ferry terminal and a login for this machine."""

import secrets
from pathlib import Path

from django.conf import settings
from django.contrib.auth.models import User

from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.demo import mornings
from tutelar.server.private import kept_or_made
from tutelar.server.rights import LEAD, OWNER, SUPPORT, TECHNICIAN
from tutelar.server.site import services as site_services

USER = "demo"
SITE_FILE = Path(__file__).with_name("brackwater.json")


def load() -> tuple[str, str]:
    """Create what is missing of the demo and return (user, password); the password is made once a machine."""
    password = kept_or_made(settings.DATA_DIR / "demo-login", "-".join(secrets.token_hex(2) for _ in range(3)))
    user, created = User.objects.get_or_create(username=USER)
    if created:
        user.set_password(password)
        user.save()
        models.Person.objects.create(user=user, role=OWNER, every_site=True)
    elif not user.check_password(password):  # somebody chose another one; it stays
        password = "the one that was chosen for it"  # noqa: S105 - words, not a secret
    kept = set(models.Site.objects.values_list("key", flat=True))
    if "brackwater" not in kept:
        site_services.import_site(SITE_FILE.read_bytes(), Actor(USER, origin="server"))
    if mornings.HALF_WAY not in kept:
        mornings.load_half_way()
    if mornings.FINISHED not in kept:
        mornings.load_finished()
    if created:
        _others()
    return USER, password


def _others() -> None:
    """Store who else works there; nobody signs in under these names."""
    for name, role, keys in (
        ("ines.varga", LEAD, ()),
        ("tomas.lind", TECHNICIAN, ("brackwater", mornings.HALF_WAY)),
        ("odile.brandt", SUPPORT, ()),
    ):
        user, created = User.objects.get_or_create(username=name)
        if created:
            user.set_unusable_password()
            user.save()
            person = models.Person.objects.create(user=user, role=role, every_site=not keys)
            person.sites.set(models.Site.objects.filter(key__in=keys))
