"""Everything of a firm in one file of open formats: a firm can leave at any time, and come back.

A ZIP with a site file, its log (JSON, a line each) and its photographs for each site, the firm's models and cards, the
log of the firm itself. What is not in it: credentials (the sealed sheet and the backup are for that), and how far a run
at the bench is. It is read back before it counts, and brought in all or nothing.
"""

import json
import re
import secrets
import shutil
import zipfile
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated, Any

from annotated_types import Ge, Le
from django.db import transaction
from django.db.models import QuerySet
from pydantic import AwareDatetime, BaseModel, StringConstraints, ValidationError

from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.backup import BROKEN_ZIP
from tutelar.server.catalogue.services import import_catalogue
from tutelar.server.catalogue.shipped import FORMAT as CATALOGUE
from tutelar.server.firmcards.services import bring, firm_row
from tutelar.server.private import write_private
from tutelar.server.site.services import import_site
from tutelar.server.store import documents
from tutelar.server.store.photos import photo_folder, photo_path
from tutelar.server.store.reads import one_state
from tutelar.server.store.writes import WriteRejected, log_of_firm

FORMAT, VERSION = "tutelar-archive", 1
HEAD, LOG, MODELS, CARDS = "archive.json", "log.jsonl", "models.json", "cards.json"
_SITE = re.compile(r"sites/([a-z0-9][a-z0-9._-]{0,79})/site\.json")
_MOST_BYTES = 2_000_000_000  # of all that is in it, unpacked


class Line(BaseModel):
    """A line of a log as an archive has it."""

    id: int
    site: Annotated[str, StringConstraints(max_length=80)]
    at: AwareDatetime
    part_of: int | None = None
    revision: Annotated[int, Ge(0), Le(2**31 - 1)]
    by: Annotated[str, StringConstraints(max_length=150)]
    right: Annotated[str, StringConstraints(max_length=20)] = ""
    origin: Annotated[str, StringConstraints(max_length=10)] = ""
    kind: Annotated[str, StringConstraints(max_length=40)]
    subject: Annotated[str, StringConstraints(max_length=200)]
    sentence: str
    before: Any = None
    after: Any = None


_COPIED = tuple(name for name in Line.model_fields if name not in ("id", "site"))


class ArchiveError(Exception):
    """An archive that cannot be written or brought in; a sentence."""


def write(out: Path) -> dict[str, int]:
    """Write an archive of every site; return how many sites, lines and photographs are in it. Raises ArchiveError;
    nothing is left of one that was not finished."""
    fresh = out.with_name(f"{out.name}.{secrets.token_hex(4)}.new")
    try:
        with zipfile.ZipFile(fresh, "w", zipfile.ZIP_DEFLATED) as packed, one_state():
            counts = _fill(packed)
        with zipfile.ZipFile(fresh) as packed:
            if (bent := packed.testzip()) is not None:
                raise ArchiveError(f"{out} did not come out whole: {bent} is bent. Write it again, on another disk.")
        fresh.replace(out)
    except OSError as error:
        raise ArchiveError(f"{out} cannot be written: {error.strerror or error}.") from None
    finally:
        fresh.unlink(missing_ok=True)
    return counts


def _fill(packed: zipfile.ZipFile) -> dict[str, int]:
    counts = {"sites": 0, "lines": 0, "photographs": 0}
    rows = list(models.Site.objects.filter(removed_at=None).order_by("key"))
    for row in rows:
        _store(packed, f"sites/{row.key}/site.json", documents.export(row))
        counts["lines"] += _store_lines(packed, f"sites/{row.key}/{LOG}", models.Event.objects.filter(site_key=row.key))
        for photo in sorted(photo_folder(row.key).glob("*.jpg")):
            packed.write(photo, f"sites/{row.key}/photos/{photo.name}", zipfile.ZIP_STORED)
            counts["photographs"] += 1
        counts["sites"] += 1
    others = models.Event.objects.exclude(site_key__in=[row.key for row in rows])
    counts["lines"] += _store_lines(packed, LOG, others)
    _store(
        packed,
        MODELS,
        {"format": CATALOGUE, "version": 1, "models": [row.part for row in models.Profile.objects.order_by("key")]},
    )
    _store(packed, CARDS, firm_row().file)
    made = datetime.now(UTC).isoformat(timespec="seconds")
    _store(packed, HEAD, {"format": FORMAT, "version": VERSION, "made": made, **counts})
    return counts


def _store(packed: zipfile.ZipFile, name: str, value: Any) -> None:
    packed.writestr(name, json.dumps(value, ensure_ascii=False, indent=1) + "\n")


def _store_lines(packed: zipfile.ZipFile, name: str, lines: QuerySet[models.Event]) -> int:
    number = 0
    with packed.open(name, "w") as out:
        for line in lines.order_by("pk").iterator(chunk_size=500):
            told = {part: getattr(line, part) for part in _COPIED}
            text = Line(id=line.pk, site=line.site_key, **told).model_dump_json()
            out.write(text.encode() + b"\n")
            number += 1
    return number


def bring_in(file: Path) -> dict[str, int]:
    """Bring an archive into an installation without sites, all or nothing; return how many sites, lines and photographs
    that were. Raises ArchiveError."""
    folders: list[Path] = []
    try:
        with zipfile.ZipFile(file) as packed:
            keys = _checked(packed, file)
            with transaction.atomic():
                if models.Site.objects.exists():
                    raise ArchiveError(
                        "There are sites here already; an archive is brought into an empty installation."
                    )
                folders += [photo_folder(key) for key in keys]
                counts = _take(packed, keys)
        folders.clear()  # what lies there stays
    except WriteRejected as error:
        raise ArchiveError(f"{file} cannot be brought in: {error.message}") from None
    except (*BROKEN_ZIP, OSError, TypeError) as error:
        raise ArchiveError(f"{file} cannot be read as an archive: {error}.") from None
    finally:
        for folder in folders:
            shutil.rmtree(folder, ignore_errors=True)
    return counts


def _checked(packed: zipfile.ZipFile, file: Path) -> list[str]:
    """Return the keys of the sites in an archive. Raises ArchiveError for what is none."""
    head = json.loads(packed.read(HEAD)) if HEAD in packed.namelist() else None
    if not isinstance(head, dict) or head.get("format") != FORMAT:
        raise ArchiveError(f"{file} is no archive of Tutelar: it has no {HEAD} that says so.")
    if head.get("version") != VERSION:
        raise ArchiveError(
            f"{file} is an archive of version {head.get('version')}; this Tutelar reads version {VERSION}."
        )
    size = sum(item.file_size for item in packed.infolist())
    if size > _MOST_BYTES:
        raise ArchiveError(f"{file} would unpack to {size / 1e9:.1f} GB; at most {_MOST_BYTES / 1e9:.0f} are taken.")
    return [found[1] for name in sorted(packed.namelist()) if (found := _SITE.fullmatch(name))]


def _take(packed: zipfile.ZipFile, keys: list[str]) -> dict[str, int]:
    actor = Actor("archive", "owner", "server")
    counts = {"sites": 0, "lines": 0, "photographs": 0}
    names = set(packed.namelist())
    if MODELS in names:
        import_catalogue(packed.read(MODELS), actor)
    if CARDS in names:
        bring(actor, packed.read(CARDS))
    counts["lines"] += _take_lines(packed, LOG) if LOG in names else 0
    for key in keys:
        if f"sites/{key}/{LOG}" in names:
            counts["lines"] += _take_lines(packed, f"sites/{key}/{LOG}", key)
        import_site(packed.read(f"sites/{key}/site.json"), actor, key)
        counts["sites"] += 1
        for name in sorted(names):
            if name.startswith(f"sites/{key}/photos/"):
                path = photo_path(key, name.rsplit("/", 1)[1])
                if path is None:
                    raise ArchiveError(f"{name} is no photograph of Tutelar's; nothing was brought in.")
                path.parent.mkdir(parents=True, exist_ok=True)
                write_private(path, packed.read(name))
                counts["photographs"] += 1
    log_of_firm(actor, "archive.brought-in", "archive", f"An archive was brought in: {said_of(counts)}.")
    return counts


def _take_lines(packed: zipfile.ZipFile, name: str, key: str | None = None) -> int:
    """Write the lines of a log as they were; lines of one deed stay together. Return how many."""
    numbers: dict[int, int] = {}
    total = 0
    for told in _lines(packed, name):
        row = models.Event(
            site_key=told.site if key is None else key, **{part: getattr(told, part) for part in _COPIED}
        )
        row.part_of = numbers.get(told.part_of) if told.part_of is not None else None
        row.save()
        numbers[told.id] = row.pk
        total += 1
    return total


def _lines(packed: zipfile.ZipFile, name: str) -> Iterator[Line]:
    with packed.open(name) as lines:
        for number, line in enumerate(lines, 1):
            try:
                told = Line.model_validate_json(line)
            except ValidationError as error:
                first = error.errors()[0]
                where = ".".join(str(step) for step in first["loc"])
                raise ArchiveError(f"Line {number} of {name} is no line of a log: {where} {first['msg']}.") from None
            yield told


def said_of(counts: dict[str, int]) -> str:
    """Return what was counted, in words."""
    return ", ".join(count(number, what.removesuffix("s")) for what, number in counts.items())
