"""Keeping a firm's own cards."""

import json
from typing import Any

from django.db import transaction

from tutelar.core.cards import FORMAT, UnreadableCards, read_cards
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.store.writes import Stale, WriteRejected

MOST_BYTES = 1_000_000


def firm_row() -> models.FirmCards:
    """Return the firm's file; an empty one where there is none yet."""
    return models.FirmCards.objects.first() or models.FirmCards(file={"format": FORMAT, "version": 1})


def keep(actor: Actor, edition: int, items: list[dict[str, Any]], off: list[str]) -> models.FirmCards:
    """Keep the whole file, all or nothing. Raises WriteRejected for what is wrong in it, Stale where somebody else
    changed it meanwhile."""
    file = {"format": FORMAT, "version": 1, "items": items, "off": sorted(set(off))}
    try:
        read_cards(file)
    except UnreadableCards as error:
        raise WriteRejected(error.faults[0][1], error.faults) from None
    with transaction.atomic():
        row = firm_row()
        if row.edition != edition:
            raise Stale("The cards", {"edition": edition}, {"edition": row.edition}, row.edition)
        row.file, row.by, row.edition = file, actor.name, row.edition + 1
        row.save()
    return row


def bring(actor: Actor, content: bytes) -> models.FirmCards:
    """Bring a file of cards in, in the place of what stands there. Raises WriteRejected for what is no such file."""
    if len(content) > MOST_BYTES:
        raise WriteRejected(f"The file has {len(content) / 1e6:.1f} MB; at most 1 is taken.")
    try:
        raw = json.loads(content.decode("utf-8-sig"))
    except (UnicodeDecodeError, ValueError, RecursionError):
        raise WriteRejected("The file is not JSON; a file of cards that was taken away here is expected.") from None
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise WriteRejected(f"This is no file of cards: its format is not '{FORMAT}'.", [("format", FORMAT)])
    try:
        read_cards(raw)
    except UnreadableCards as error:
        raise WriteRejected(error.faults[0][1], error.faults) from None
    return keep(actor, firm_row().edition, raw.get("items", []), raw.get("off", []))
