"""What every write shares: refusals, the log, locking and revisions."""

from typing import Any

from django.utils import timezone

from tutelar.core.check import UNSTORABLE, check
from tutelar.core.site import Site, UnreadableSite
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.store import lookup
from tutelar.server.store.document import site_of

Faults = list[tuple[str, str]]
FIRM = ""  # where lines of the log stand that are about no site
Event = tuple[str, str, str, Any, Any]  # kind, subject, sentence, before, after


class WriteRejected(ValueError):
    """A write that cannot be done as asked. `faults` is a list of (path, sentence); nothing was stored."""

    def __init__(self, message: str, faults: Faults | None = None, status: int = 422) -> None:
        self.message, self.faults, self.status = message, faults or [], status
        super().__init__(message)


class Stale(ValueError):
    """A write based on an old revision. Holds the version that was sent and the one that stands now."""

    def __init__(self, what: str, yours: Any, current: Any, revision: int) -> None:
        self.message = f"{what} was changed by somebody else meanwhile; look at both versions and decide."
        self.yours, self.current, self.revision = yours, current, revision
        super().__init__(self.message)


def log(
    site: models.Site, actor: Actor, kind: str, subject: str, sentence: str, before: Any = None, after: Any = None
) -> models.Event:
    """Add a line to the log of the site, at its present revision, and return it."""
    line = _line(site, actor, (kind, subject, sentence, before, after))
    line.save()
    return line


def log_of_firm(
    actor: Actor, kind: str, subject: str, sentence: str, before: Any = None, after: Any = None
) -> models.Event:
    """Add a line to the log that is about no site: people, keys, archives. Only who sees every site finds it."""
    line = _line(models.Site(key=FIRM, revision=0), actor, (kind, subject, sentence, before, after))
    line.save()
    return line


def log_all(site: models.Site, actor: Actor, events: list[Event], part_of: models.Event | None = None) -> None:
    """Add several lines to the log of the site, at its present revision, each for itself or under a line."""
    models.Event.objects.bulk_create(
        (_line(site, actor, event, part_of.pk if part_of else None) for event in events), batch_size=100
    )


def _line(site: models.Site, actor: Actor, event: Event, part_of: int | None = None) -> models.Event:
    kind, subject, sentence, before, after = event
    return models.Event(
        site_key=site.key,
        revision=site.revision,
        at=actor.at or timezone.now(),
        by=actor.name,
        right=actor.right,
        origin=actor.origin,
        kind=kind,
        subject=subject,
        sentence=sentence,
        before=before,
        after=after,
        part_of=part_of,
    )


def site_for_update(key: str) -> models.Site:
    """Return the row of a site to write to. Raises Http404."""
    return lookup.site_row(key)  # transactions begin IMMEDIATE, so this one writes alone


def site_at_revision(key: str, revision: int) -> models.Site:
    """Return the row of a site to write to. Raises Stale where it is not at this revision any more."""
    row = site_for_update(key)
    if row.revision != revision:
        raise Stale("The site", {"revision": revision}, {"revision": row.revision}, row.revision)
    return row


def bump(site: models.Site) -> None:
    """Give a site its next revision and a new version_token."""
    site.revision += 1
    site.version_token = models.fresh_version_token()
    site.save()


def checked(site: models.Site) -> Site:
    """Return the document as it stands now, or raise Rejected where it could not be read again."""
    try:
        document = site_of(site)
    except UnreadableSite as error:
        raise WriteRejected(error.faults[0][1], error.faults) from None
    faults = [(", ".join(item.subjects), item.message) for item in check(document) if item.code in UNSTORABLE]
    if faults:
        raise WriteRejected(faults[0][1], faults)
    return document
