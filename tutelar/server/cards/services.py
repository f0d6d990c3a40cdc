"""Ticking an item of a card."""

from django.db import transaction

from tutelar.core.cards import Card, NotTickable, Row, Tick, card_of, shown_with
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.cards import queries
from tutelar.server.store import documents
from tutelar.server.store.checklist import drop_tick, set_tick
from tutelar.server.store.photos import photo_path
from tutelar.server.store.writes import WriteRejected, log, site_for_update

_WORDS = {"done": "done", "not-needed": "not needed", "open": "left to be done"}


def card(row: models.Site, subject: str) -> Card:
    """Return the card of a device, or of the site ("site"). Raises WriteRejected for a subject that is not there."""
    site = documents.document(row)
    device = site.device_by_key.get(subject)
    if device is None and subject != "site":
        raise WriteRejected(f"The site has no device '{subject}'.", [("subject", subject)], status=404)
    return card_of(site, device, queries.items())


def tick_item(key: str, actor: Actor, subject: str, item: str, tick: Tick) -> models.Site:
    """Write down how an item stands. Raises WriteRejected where the card has no such item now, another one comes first,
    or something that it wants is missing."""
    with transaction.atomic():
        row = site_for_update(key)
        found = card(row, subject)
        line: Row | None = next((one for one in found.rows if one.item.key == item), None)
        if line is None:
            raise WriteRejected(f"The card has no item '{item}' now.", [("item", item)], status=404)
        if tick.photo and not _is_there(row.key, tick.photo):
            raise WriteRejected(f"The photograph '{tick.photo}' was not stored; send it first.", [("photo", "")], 404)
        site = documents.document(row)
        try:
            shown = shown_with(site, found.device, line, tick)
        except NotTickable as error:
            raise WriteRejected(str(error), [(error.field, str(error))]) from None
        name = found.device.label if found.device is not None else site.about.name
        if tick.state == "open" and not tick.note.strip():
            before, now = drop_tick(row, subject, item), None
            word = "open again"
        else:
            before, now = set_tick(row, actor, subject, item, tick.state, tick.note, shown)
            word = _WORDS[tick.state]
        said = f"{name}, {line.item.text.rstrip('.')}: {word}{_in_words(tick)}."
        after = now | {"photo": tick.photo} if now is not None and tick.photo else now  # by which it is kept
        log(row, actor, "card.ticked", subject if subject != "site" else row.key, said, before, after)
    return row


def _is_there(key: str, photo: str) -> bool:
    path = photo_path(key, photo)
    return path is not None and path.exists()


def _in_words(tick: Tick) -> str:
    value = f"{tick.value:g}" if isinstance(tick.value, float) else str(tick.value or "")
    if value and tick.of is not None:
        value += f" of {tick.of:g}"
    return "".join(f", {part}" for part in (value, tick.note.strip()) if part)
