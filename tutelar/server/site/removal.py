"""Removing a site: kept for a while, then gone for good; the log stays."""

import shutil
from datetime import datetime, timedelta
from pathlib import Path

from django.conf import settings
from django.db import transaction
from django.http import Http404
from django.utils import timezone

from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.store.writes import WriteRejected, bump, log, site_at_revision

KEPT_DAYS = 30
SERVER = Actor("Tutelar", "server", "server")


def remove_site(key: str, actor: Actor, revision: int) -> None:
    """Take a site off the list; it can be put back for `KEPT_DAYS`. Raises Stale where it was changed meanwhile, and
    WriteRejected while it is measured or its pretend site is up."""
    with transaction.atomic():
        row = site_at_revision(key, revision)
        if models.Proof.objects.filter(site=row, state__in=("queued", "running")).exists():
            raise WriteRejected(f"{row.name} is being measured; stop that first.", status=409)
        if models.Pretend.objects.filter(site=row).exists():
            raise WriteRejected(f"The pretend site of {row.name} is up; take it down first.", status=409)
        row.removed_at, row.removed_by = timezone.now(), actor.name
        bump(row)
        log(row, actor, "site.removed", key, f"{row.name} removed; it can be restored for {count(KEPT_DAYS, 'day')}.")


def put_back(key: str, actor: Actor) -> models.Site:
    """Put a removed site back as it was. Raises Http404 where none of this key is kept."""
    with transaction.atomic():
        row = models.Site.objects.filter(key=key).exclude(removed_at=None).first()
        if row is None:
            raise Http404(f"No removed site '{key}' can be restored.")
        row.removed_at, row.removed_by = None, ""
        bump(row)
        log(row, actor, "site.put-back", key, f"{row.name} put back.")
    return row


def gone_at(removed_at: datetime) -> datetime:
    """Return when a site that was removed then goes for good."""
    return removed_at + timedelta(days=KEPT_DAYS)


def forget_removed(now: datetime) -> list[str]:
    """Delete what was removed long enough ago, with its photographs; return the keys. The log keeps that it was."""
    gone = []
    due = models.Site.objects.filter(removed_at__lte=now - timedelta(days=KEPT_DAYS))
    for pk in list(due.values_list("pk", flat=True)):
        with transaction.atomic():
            row = due.filter(pk=pk).first()
            if row is None:  # put back meanwhile
                continue
            log(row, SERVER, "site.gone", row.key, f"{row.name} is gone for good, with its photographs.")
            gone.append(row.key)
            models.Device.objects.filter(site=row, behind__isnull=False).delete()
            models.Device.objects.filter(site=row).delete()
            row.delete()
        shutil.rmtree(Path(settings.DATA_DIR) / "photos" / gone[-1], ignore_errors=True)
    return gone
