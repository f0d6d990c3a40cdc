"""Before the server starts: is the database whole and of this version? It is backed up before it is migrated."""

from datetime import UTC, datetime
from pathlib import Path

from tutelar.server.backup import DATABASE, BackupError, damage, last_migration, make, newest_good
from tutelar.server.postgres import dump
from tutelar.server.versions import KNOWN


def ready(folder: Path, backups: Path, url: str = "") -> str | None:
    """Return why the server does not start, None where it may. A database of an earlier version is backed up first.
    `url`: where the rows are, in PostgreSQL; "" where they are in the folder."""
    if url:
        place = "of TUTELAR_DATABASE_URL"
        try:
            seen = dump.last_migration(url)
        except dump.DumpError as error:
            return f"The database {place} does not answer: {error}."
    else:
        database, place = folder / DATABASE, f"in {folder}"
        if not database.exists():
            return None
        wrong = damage(database)
        if wrong is not None:
            return _damaged(folder, backups, wrong)
        seen = last_migration(database)
    if seen > KNOWN:
        return f"The database {place} is of a newer Tutelar ({seen}); this one knows {KNOWN}. Start the newer one."
    if seen and seen < KNOWN:
        out = backups / f"before-{KNOWN}-{datetime.now(UTC):%Y%m%dT%H%M%S}.zip"
        try:
            make(folder, out, url=url)
        except BackupError as error:
            return f"The database has to be brought up to date, and is not before a backup is made. {error}"
    return None


def _damaged(folder: Path, backups: Path, wrong: str) -> str:
    said = f"The database in {folder} is damaged: {wrong}. Nothing was changed."
    good = newest_good(backups) if backups.exists() else None
    if good is None:
        return f"{said} There is no backup in {backups}; restore one of yours: tutelar restore FILE."
    made = datetime.fromtimestamp(good.stat().st_mtime, UTC)
    return (
        f"{said} The newest good backup is {good}, made {made:%d %B %Y, %H:%M} UTC. Move the damaged file away, then: "
        f"tutelar restore {good}"
    )
