"""What is known of the installation itself: room, backups, tasks, versions."""

import platform
import shutil
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

import django
from django.conf import settings
from django.db import DatabaseError, connection
from django.utils import timezone
from django_tasks import TaskResultStatus
from django_tasks_db.models import DBTaskResult

from tutelar import VERSION
from tutelar.server.secrets import sealing
from tutelar.server.store import engine
from tutelar.server.versions import KNOWN

STARTED = timezone.now()
ROOM_LEAST = 500_000_000  # bytes below which a disk is short


@dataclass(frozen=True, slots=True)
class Room:
    """How much lies in the data folder, and how much room is left on its disk, in bytes."""

    database: int
    photographs: int
    photograph_count: int
    left: int


def room() -> Room:
    """Return what the data folder holds and what its disk has left."""
    folder = Path(settings.DATA_DIR)
    photos = [path.stat().st_size for path in (folder / "photos").glob("*/*.jpg")]
    return Room(engine.size_bytes(), sum(photos), len(photos), shutil.disk_usage(folder).free)


def backups() -> list[tuple[str, datetime, int]]:
    """Return the backups that are kept where they are made by themselves: name, when, size in bytes; newest first."""
    found = [(path.name, path.stat()) for path in Path(settings.BACKUPS).glob("*.zip")]
    rows = [(name, datetime.fromtimestamp(told.st_mtime, UTC), told.st_size) for name, told in found]
    return sorted(rows, key=lambda row: row[1], reverse=True)


def tasks() -> dict[str, int]:
    """Return how many tasks of the background wait, run, and failed within a day."""
    day = timezone.now() - timedelta(days=1)
    rows = DBTaskResult.objects
    return {
        "waiting": rows.filter(status=TaskResultStatus.READY).count(),
        "running": rows.filter(status=TaskResultStatus.RUNNING).count(),
        "failed": rows.filter(status=TaskResultStatus.FAILED, finished_at__gte=day).count(),
    }


def versions() -> list[tuple[str, str]]:
    """Return what runs here, and in which version."""
    return [
        ("Tutelar", VERSION),
        ("database of", KNOWN),
        ("Python", platform.python_version()),
        ("Django", django.get_version()),
        engine.engine(),
        ("system", f"{platform.system()} {platform.release()}"),
    ]


def unready() -> list[str]:
    """Return why the server is not ready for work, in sentences; [] where it is."""
    said = []
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT name FROM django_migrations WHERE app = 'tutelar' ORDER BY name DESC LIMIT 1")
            found = cursor.fetchone()
    except DatabaseError as error:
        return [f"The database does not answer: {error}."]
    if found is None or found[0] != KNOWN:
        said.append(f"The database is of {found[0] if found else 'no version'}; this Tutelar is of {KNOWN}.")
    if shutil.disk_usage(settings.DATA_DIR).free < ROOM_LEAST / 10:
        said.append("The disk of the data folder is all but full.")
    if (locked := sealing.trouble()) is not None:
        said.append(locked)
    return said
