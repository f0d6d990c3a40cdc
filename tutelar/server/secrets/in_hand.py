"""How many devices a person has in hand: nobody looks at the secrets of a whole site in a minute."""

from datetime import datetime, timedelta
from math import ceil

from django.utils import timezone

from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.rights import LEAD, OWNER, SUPPORT, TECHNICIAN, TRAINEE
from tutelar.server.store.writes import WriteRejected

IN_HAND = timedelta(minutes=10)
# so many boot at once on one bench; owners and leads hand over papers, where there is a sealed sheet for more
MOST = {OWNER: 100, LEAD: 30, TECHNICIAN: 12, TRAINEE: 12, SUPPORT: 6}


def refuse_too_many(actor: Actor, device: tuple[str, str]) -> None:
    """Raise WriteRejected (429) where somebody looked at secrets of as many devices lately as he may, and this one (the
    keys of site and device) is none of them."""
    most = MOST.get(actor.right)
    if most is None:  # the server itself
        return
    since = timezone.now() - IN_HAND
    shown = models.Event.objects.filter(kind="secret.revealed", by=actor.name, at__gte=since).order_by("pk")
    seen: dict[tuple[str, str], datetime] = {}
    for site, subject, at in shown.values_list("site_key", "subject", "at"):
        seen[site, subject] = at
    if device in seen or len(seen) < most:
        return
    left = (min(seen.values()) + IN_HAND - timezone.now()).total_seconds()
    minutes = round(IN_HAND.total_seconds() / 60)
    raise WriteRejected(
        f"You looked at secrets of {count(most, 'device')} within {count(minutes, 'minute')}; nobody has more in hand. "
        f"The next is shown in {count(max(1, ceil(left / 60)), 'minute')}.",
        status=429,
    )
