"""Making, opening and withdrawing links to one paper."""

from datetime import timedelta

from django.db import transaction
from django.db.models import F
from django.utils import timezone

from tutelar.core.wording import listed
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.files import exports
from tutelar.server.store.words import fresh_word, hashed_word
from tutelar.server.store.writes import WriteRejected, log, site_for_update


def make(key: str, actor: Actor, paper: str, ending: str, for_whom: str, days: int) -> tuple[models.GuestLink, str]:
    """Return a link to a paper of a site, and its word, which is shown this once. Raises WriteRejected for a paper that
    there is none of, a form that it does not come in, and for nobody."""
    for_whom, known = " ".join(for_whom.split()), exports().get(paper)
    if not for_whom:
        raise WriteRejected("Say for whom it is.", [("for_whom", "empty")])
    with transaction.atomic():
        row = site_for_update(key)
        if known is None or not known.offered(row):
            raise WriteRejected(f"The site {row.name} has no paper '{paper}'.", [("paper", paper)], status=404)
        if ending not in known.endings:
            raise WriteRejected(
                f"{known.title} comes as {listed(known.endings)}, not as '{ending}'.", [("ending", ending)]
            )
        word, hashed = fresh_word()
        made = models.GuestLink.objects.create(
            site=row,
            hashed=hashed,
            paper=paper,
            ending=ending,
            for_whom=for_whom,
            until=timezone.now() + timedelta(days=days),
            made_by=actor.name,
        )
        until = made.until.date().isoformat()
        log(row, actor, "guest.made", row.key, f"{known.title} may be opened by {for_whom} until {until}, by a link.")
    return made, word


def withdraw(key: str, actor: Actor, number: int) -> None:
    """Make a link open nothing any more. Raises WriteRejected where the site has none of that number."""
    with transaction.atomic():
        row = site_for_update(key)
        found = models.GuestLink.objects.filter(site=row, pk=number, withdrawn_at=None).first()
        if found is None:
            raise WriteRejected(f"The site {row.name} has no link {number}.", status=404)
        found.withdrawn_at = timezone.now()
        found.save()
        log(row, actor, "guest.withdrawn", row.key, f"The link for {found.for_whom} was withdrawn.")


def opened(word: str) -> models.GuestLink | None:
    """Return the link of a word, and write down that it was opened; None where it opens nothing (any more)."""
    with transaction.atomic():
        now = timezone.now()
        links = models.GuestLink.objects.select_related("site").filter(withdrawn_at=None, until__gt=now)
        found = links.filter(hashed=hashed_word(word), site__removed_at=None).first()
        if found is None:
            return None
        models.GuestLink.objects.filter(pk=found.pk).update(opened=F("opened") + 1, last_opened_at=now)
        if found.opened == 0:
            guest = Actor(found.for_whom, "guest")
            log(found.site, guest, "guest.opened", found.site.key, f"{found.for_whom} opened {found.paper} by a link.")
    return found
