"""What the server puts in order by itself, at its start and while it runs: sites removed long ago, lost photographs,
the backup of the day."""

import logging
import threading
import time
from pathlib import Path

from django.conf import settings
from django.db import connection
from django.utils import timezone

from tutelar.server import models
from tutelar.server.backup import BackupError, daily
from tutelar.server.models.fields import text_in
from tutelar.server.site.removal import forget_removed

_LOG = logging.getLogger(__name__)
_EVERY_S, _LOST_AFTER_S, _FIRST_S = 6 * 3600.0, 24 * 3600.0, 60.0


def tidy() -> None:
    """Let go what was removed long enough ago; photographs that no line of the log names, and packs that belong to no
    site, since a day."""
    forget_removed(timezone.now())
    forget_photos(Path(settings.DATA_DIR) / "photos", time.time())
    forget_packs(Path(settings.DATA_DIR) / "packs", time.time())


def back_up() -> None:
    """Make the backup of the day; where that fails the log says why, and it is tried again."""
    try:
        daily(Path(settings.DATA_DIR), settings.BACKUPS, timezone.now(), settings.DATABASE_URL)
    except BackupError as error:
        _LOG.warning("The backup of the day: %s", error)


def forget_photos(folder: Path, now: float) -> int:
    """Remove photographs that were sent but never written down; return how many. `now` in seconds since 1970."""
    left = 0
    for path in folder.glob("*/*.jpg"):
        if now - path.stat().st_mtime < _LOST_AFTER_S:
            continue
        lines = models.Event.objects.filter(site_key=path.parent.name).alias(photo=text_in("after__photo"))
        if not lines.filter(photo=path.name).exists():
            path.unlink(missing_ok=True)
            left += 1
    return left


def forget_packs(folder: Path, now: float) -> int:
    """Remove packs that broke off while they were written, or whose site is gone; return how many. `now` in seconds
    since 1970."""
    kept = set(models.PackJob.objects.values_list("file", flat=True))
    left = [path for path in folder.glob("*.zip") if path.name not in kept]
    left = [path for path in left if now - path.stat().st_mtime >= _LOST_AFTER_S]
    for path in left:
        path.unlink(missing_ok=True)
    return len(left)


def keep_tidy() -> None:
    """Put in order what is left, now and every few hours, in a thread that ends with the server."""
    tidy()
    threading.Thread(target=_go_on, daemon=True).start()


def _go_on() -> None:
    wait_s = _FIRST_S  # the first page comes first
    while True:
        time.sleep(wait_s)
        wait_s = _EVERY_S
        try:
            tidy()
            back_up()
        except Exception:  # it is tried again; whatever is wrong now, the server goes on
            _LOG.exception("What is left over could not be put in order.")
        finally:
            connection.close()
