"""Writing what a delivery note brings."""

import json
from collections.abc import Mapping, Sequence
from hashlib import sha256

from django.db import transaction

from tutelar.core.kit.delivery import Row, delivery
from tutelar.core.wording import count, spoken_date
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.catalogue.services import catalogue_models
from tutelar.server.kit.services import change_parts, put_on
from tutelar.server.models.fields import text_in
from tutelar.server.store import documents
from tutelar.server.store.writes import Stale, WriteRejected, bump, checked, log, log_all, site_for_update

Lines = Sequence[tuple[int, Sequence[str]]]


def preview_delivery(
    row: models.Site, fields: Sequence[str | None], lines: Lines, defaults: Mapping[str, str]
) -> list[Row]:
    """Return what becomes of each row of a delivery note; nothing is stored."""
    twice = next((field for field in fields if field and list(fields).count(field) > 1), None)
    if twice:
        raise WriteRejected(f"Two columns are “{twice}”; choose one of them.", [("fields", twice)])
    return delivery(documents.document(row), fields, lines, defaults, catalogue_models())


def digest_of(rows: Sequence[Sequence[str]]) -> str:
    """Return what tells a note from others, however it was saved: a digest of its cells, 64 hexadecimal digits."""
    filled = [[cell for cell in row if cell] for row in rows if any(row)]
    return sha256(json.dumps(filled, ensure_ascii=False).encode()).hexdigest()


def imported_before(row: models.Site, digest: str) -> str | None:
    """Return a sentence where a note of this digest was imported already, None where it was not."""
    imports = models.Event.objects.filter(site_key=row.key, kind="kit.imported").alias(note=text_in("after__note"))
    found = imports.filter(note=digest).order_by("pk").last()
    if found is None:
        return None
    day = spoken_date(found.at.date())
    return f"This note was imported already, on {day} by {found.by}: {found.sentence}"


def import_delivery(
    key: str,
    actor: Actor,
    revision: int,
    fields: Sequence[str | None],
    lines: Lines,
    defaults: Mapping[str, str],
    digest: str = "",
) -> dict[str, list[str]]:
    """Add and change devices as the preview said, all or nothing; return the keys added and changed.

    Raises Rejected where a row is refused, Stale where the site is no longer what the preview saw.
    """
    with transaction.atomic():
        row = site_for_update(key)
        if row.revision != revision:
            raise Stale("The kit", {"revision": revision}, {"revision": row.revision}, row.revision)
        rows = preview_delivery(row, fields, lines, defaults)
        refused = [item for item in rows if item.action == "refuse"]
        if refused:
            faults = [(f"row {item.line}", item.sentence) for item in refused]
            said = count(len(refused), "row cannot be read", "rows cannot be read")
            raise WriteRejected(f"{said}; correct them or leave them out.", faults)
        fresh = [part for item in rows if item.action == "add" for part in item.parts]
        others = [part for item in rows if item.action == "change" for part in item.parts]
        if not fresh and not others:
            raise WriteRejected("Nothing in this note is new.")
        revisions = dict(models.Device.objects.filter(site=row).values_list("key", "revision"))
        changes = [
            {"device": part["key"], "revision": revisions[part["key"]]}
            | {name: value for name, value in part.items() if name != "key"}
            for part in others
        ]
        changed, _ = change_parts(row, changes)
        _, added = put_on(row, fresh)
        checked(row)
        bump(row)
        sentence = f"Delivery note: {count(len(fresh), 'device')} added, {len(others)} changed."
        log_all(
            row,
            actor,
            [*changed, *added],
            log(row, actor, "kit.imported", key, sentence, after={"note": digest} if digest else None),
        )
    return {"added": [part["key"] for part in fresh], "changed": [part["key"] for part in others]}
