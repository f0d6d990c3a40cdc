"""The pack of a site: what goes into it, made at once or in the background, a file at a time."""

import secrets
from collections.abc import Callable, Collection
from pathlib import Path
from typing import BinaryIO

from django.conf import settings
from django.db import IntegrityError, transaction
from django.utils import timezone

from tutelar.core.loose_ends import may_sign
from tutelar.core.site.reading import site_from
from tutelar.paper.pack import pieces, write_zip
from tutelar.paper.pack_tables import Photo
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.handover.queries import ends_of
from tutelar.server.later.queries import looks
from tutelar.server.store import documents, lookup
from tutelar.server.store.photos import photo_path
from tutelar.server.store.writes import WriteRejected, log

_KEPT = 3  # packs of a site that stay


def write_pack(
    row: models.Site, out: BinaryIO, told: Callable[[str, float, float], None] = lambda _name, _done, _all: None
) -> bool:
    """Write the pack of a site with its readings, log and photographs; return whether nothing holds the signature.
    Credentials are no part of it."""
    site = site_from(documents.export(row))
    events = models.Event.objects.filter(site_key=row.key).order_by("pk")
    lines = [
        (at.isoformat(timespec="seconds"), by, kind, subject, sentence)
        for at, by, kind, subject, sentence in events.values_list("at", "by", "kind", "subject", "sentence")
    ]
    ends = ends_of(row)
    parts = pieces(
        site, documents.planned(row), ends, timezone.localdate(), lines, looks=looks(row), photos=_photos(row)
    )
    write_zip(parts, out, told)
    return may_sign(ends)


def _photos(row: models.Site) -> list[Photo]:
    found: dict[str, Photo] = {}
    for event in models.Event.objects.filter(site_key=row.key, after__photo__isnull=False).order_by("pk"):
        name = event.after.get("photo") if isinstance(event.after, dict) else None
        path = photo_path(row.key, name) if isinstance(name, str) and name else None
        if path is not None and path.exists():
            about = event.subject or row.key
            found.setdefault(path.name, Photo(path, about, event.at.isoformat(), event.by, event.sentence))
    return list(found.values())


def pack_file(row: models.Site) -> Path:
    """Return a fresh file with the pack; whoever takes it removes it."""
    path = _folder() / f"{row.key}-{secrets.token_hex(8)}.zip"
    with path.open("wb") as out:
        write_pack(row, out)
    return path


def _folder() -> Path:
    found = Path(settings.DATA_DIR) / "packs"
    found.mkdir(parents=True, exist_ok=True)
    return found


def ask_for(key: str, actor: Actor) -> models.PackJob:
    """Ask for a pack to be made in the background. Raises WriteRejected where one is being made."""
    row = lookup.site_row(key)
    try:
        with transaction.atomic():
            job = models.PackJob.objects.create(site=row, by=actor.name, revision=row.revision)
            log(row, actor, "pack.asked", row.key, "The handover pack is made.")
    except IntegrityError:
        raise WriteRejected("The pack of this site is being made already.", status=409) from None
    return job


def make(number: int) -> None:
    """Make a pack that was asked for; its row says how far it is."""
    job = models.PackJob.objects.select_related("site").get(pk=number)
    if job.state != "waiting":
        return
    job.state, job.begun_at = "running", timezone.now()
    job.save()
    try:
        _make(job)
    except BaseException:
        models.PackJob.objects.filter(pk=job.pk).update(
            state="failed", ended_at=timezone.now(), message="Making the pack broke off; the server's log says why."
        )
        raise


def _make(job: models.PackJob) -> None:
    path = _folder() / f"{job.site.key}-{job.pk}.zip"

    def told(name: str, done: float, whole: float) -> None:
        models.PackJob.objects.filter(pk=job.pk).update(part=name, share=done / whole if whole else 1.0)

    with path.open("wb") as out:
        ready = write_pack(job.site, out, told)
    models.PackJob.objects.filter(pk=job.pk).update(
        state="done", ended_at=timezone.now(), share=1.0, file=path.name, size=path.stat().st_size, ready=ready
    )
    for old in models.PackJob.objects.filter(site=job.site).exclude(state__in=("waiting", "running"))[_KEPT:]:
        if old.file:
            (_folder() / old.file).unlink(missing_ok=True)
        old.delete()


def last_job(row: models.Site) -> models.PackJob | None:
    """Return the last pack that was asked for."""
    return models.PackJob.objects.filter(site=row).first()


def made_file(row: models.Site, number: int) -> Path:
    """Return the file of a pack that was made. Raises WriteRejected where it is not there."""
    job = models.PackJob.objects.filter(site=row, pk=number, state="done").first()
    path = _folder() / job.file if job is not None else None
    if path is None or not path.exists():
        raise WriteRejected(f"The site {row.name} has no pack {number}; have it made again.", status=404)
    return path


def end_left(message: str, numbers: Collection[int] | None) -> None:
    """End the packs of these numbers that were not finished; None: every one that was not."""
    left = models.PackJob.objects.filter(state__in=("waiting", "running"))
    left = left if numbers is None else left.filter(pk__in=numbers)
    left.update(state="failed", ended_at=timezone.now(), message=message)
