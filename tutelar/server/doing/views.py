"""How the installation is doing, as it is shown."""

from datetime import datetime, timedelta
from pathlib import Path

from django.conf import settings
from django.contrib.auth.models import User
from django.utils import timezone

from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.accounts.services import open_sessions
from tutelar.server.doing import queries
from tutelar.server.doing import schemas as shapes
from tutelar.server.rights import OWNER

_BACKUP_LATE = timedelta(hours=36)
_SHOWN = 8


def doing() -> shapes.Doing:
    """Return how the installation is doing."""
    room, backups, tasks = queries.room(), queries.backups(), queries.tasks()
    people = User.objects.filter(is_active=True)
    second = models.SecondFactor.objects.filter(confirmed=True, user__is_active=True).count()
    figures = (
        ("served since", f"{queries.STARTED:%d %B %Y, %H:%M} UTC"),
        ("sites", str(models.Site.objects.filter(removed_at=None).count())),
        ("database", size(room.database)),
        ("photographs", f"{room.photograph_count}, {size(room.photographs)}"),
        ("room left on its disk", size(room.left)),
        ("tasks", f"{tasks['waiting']} waiting, {tasks['running']} running, {tasks['failed']} failed since yesterday"),
        ("people", f"{people.count()}, {second} with a second factor"),
        ("open sessions", str(open_sessions().count())),
        ("lines in the log", f"{models.Event.objects.count():,}".replace(",", " ")),
        ("reached", _reached()),
    )
    return shapes.Doing(
        worries=list(_worries(room, backups, tasks)),
        figures=[shapes.Figure(name=name, value=value) for name, value in figures],
        versions=[shapes.Figure(name=name, value=value) for name, value in queries.versions()],
        backups=[shapes.BackupRow(name=name, at=at, size=bytes_) for name, at, bytes_ in backups[:_SHOWN]],
        backup_folder=str(settings.BACKUPS),
        fingerprint=settings.FINGERPRINT or None,
    )


def size(number: int) -> str:
    """Return a number of bytes as people say it ("12.4 MB")."""
    for unit, factor in (("GB", 1e9), ("MB", 1e6)):
        if number >= factor:
            return f"{number / factor:.1f} {unit}"
    return f"{number / 1000:.0f} kB"


def _reached() -> str:
    if not settings.LAN_ADDRESSES:
        return "from this machine only" + (", encrypted" if settings.TLS else "")
    return f"at {', '.join(settings.LAN_ADDRESSES)}, {'encrypted' if settings.TLS else 'UNENCRYPTED'}"


def _worries(room: queries.Room, backups: list[tuple[str, datetime, int]], tasks: dict[str, int]) -> list[shapes.Worry]:
    found = [(said, "Stop it and start it again; the log says more.") for said in queries.unready()]
    if room.left < queries.ROOM_LEAST:
        found.append((f"Only {size(room.left)} are left on the disk of the data folder.", "Make room."))
    folder, data = Path(settings.BACKUPS), Path(settings.DATA_DIR)
    up_s = timezone.now() - queries.STARTED
    late = not backups or timezone.now() - backups[0][1] > _BACKUP_LATE
    if late and up_s > timedelta(hours=1):
        found.append(("There is no backup of the last day and a half.", f"Look whether {folder} can be written."))
    if folder.is_relative_to(data):
        said = "Backups lie on the disk of the data folder: what takes the one takes both."
        found.append((said, "Name a folder elsewhere in TUTELAR_BACKUPS, and keep the vault's key apart."))
    if tasks["failed"]:
        found.append((f"{count(tasks['failed'], 'task')} failed since yesterday.", "The server's log says why."))
    if settings.LAN_ADDRESSES and not settings.TLS:
        found.append(("What is typed on phones travels unencrypted.", "Start it without --plain."))
    owners = models.Person.objects.filter(role=OWNER, user__is_active=True).select_related("user__second_factor")
    bare = [item for item in owners if not getattr(getattr(item.user, "second_factor", None), "confirmed", False)]
    if bare:
        names = ", ".join(sorted(item.user.get_username() for item in bare))
        found.append((f"Owners without a second factor: {names}.", "Each sets it up behind his own name."))
    return [shapes.Worry(says=says, fix=fix) for says, fix in found]
