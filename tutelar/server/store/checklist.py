"""The checklist of a site: what was noted or ticked by hand, one row for an item of a subject."""

from collections.abc import Mapping
from typing import Any

from django.utils import timezone

from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.store.writes import bump, checked

Tick = dict[str, Any]
CHANGE = "change-"  # begins the items that a change of a device keeps by itself


def now_text() -> str:
    """Return the time now as documents keep it."""
    return timezone.now().isoformat(timespec="seconds")


def ticks_of(row: models.Site) -> list[Tick]:
    """Return the rows of a site's checklist."""
    found = row.extra.get("checklist")
    return found if isinstance(found, list) else []


def set_tick(
    row: models.Site,
    actor: Actor,
    subject: str,
    item: str,
    state: str,
    note: str,
    shown: Mapping[str, Any] | None = None,
) -> tuple[Tick | None, Tick]:
    """Write down how an item of a subject stands, and what was `shown` with it, in place of what stood there; return
    what stood there and what stands there now. Raises WriteRejected where the document would not be valid."""
    before, kept = None, []
    for one in ticks_of(row):
        if (one["subject"], one["item"]) == (subject, item):
            before = one
        else:
            kept.append(one)
    now: Tick = {"subject": subject, "item": item, "state": state, "by": actor.name, "at": now_text()}
    if note.strip():
        now["note"] = note.strip()
    now |= shown or {}
    row.extra = {**row.extra, "checklist": [*kept, now]}
    checked(row)
    bump(row)
    return before, now


def drop_tick(row: models.Site, subject: str, item: str) -> Tick | None:
    """Take back what was written down of an item; return what stood there."""
    found = next((one for one in ticks_of(row) if (one["subject"], one["item"]) == (subject, item)), None)
    row.extra = {**row.extra, "checklist": [one for one in ticks_of(row) if one is not found]}
    bump(row)
    return found
