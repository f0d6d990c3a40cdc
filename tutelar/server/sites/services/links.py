"""Writing links."""

from typing import Any

from django.db import IntegrityError, transaction

from tutelar.core.links.rules import slot_word
from tutelar.core.site.base import OUTSIDE_ENDS
from tutelar.server.sites import models, queries
from tutelar.server.sites.document import link_document, new_link
from tutelar.server.sites.services.base import Rejected, Stale, bump, checked, lock, log


def change_link(key: str, number: int, by: str, revision: int, to: str | None, slot: int | None) -> models.Link:
    """Move a link to another slot, and to another target where `to` is given. Raises Rejected, Stale."""
    with transaction.atomic():
        row = lock(key)
        link = queries.link_row(row, number)
        before = link_document(link)
        if link.revision != revision:
            raise Stale("The link", {"to": to, "slot": slot}, before, link.revision)
        if to is not None:
            outside = to in OUTSIDE_ENDS and not models.Device.objects.filter(site=row, key=to).exists()
            link.end = None if outside else queries.device_row(row, to)
            link.outside = to if outside else ""
        link.slot = slot
        link.revision += 1
        _save_link(link)
        checked(row)
        bump(row)
        after = link_document(link)
        where = link.end.name or link.end.key if link.end else link.outside
        place = f"{slot_word(link.kind)} {slot}" if slot is not None else f"no {slot_word(link.kind)}"
        sentence = f"{link.start.name or link.start.key} is now on {place} of {where}."
        log(row, by, "link.changed", link.start.key, sentence, before, after)
    return link


def add_link(key: str, by: str, part: dict[str, Any]) -> models.Link:
    """Add a link as in the document: kind, from, to, slot. Raises Rejected."""
    with transaction.atomic():
        row = lock(key)
        devices = {device.key: device for device in models.Device.objects.filter(site=row)}
        for end in (part["from"], part["to"]):
            if end not in devices and (end == part["from"] or end not in OUTSIDE_ENDS):
                raise Rejected(
                    f"The site has no device '{end}'.", [("from" if end == part["from"] else "to", "unknown")]
                )
        last = models.Link.objects.filter(site=row).order_by("-position").first()
        link = new_link(row, last.position + 1 if last else 0, part, devices)
        _save_link(link)
        checked(row)
        bump(row)
        log(
            row,
            by,
            "link.added",
            link.start.key,
            f"Link added: {part['from']} {part['kind']} {part['to']}.",
            None,
            part,
        )
    return link


def _save_link(link: models.Link) -> None:
    try:
        with transaction.atomic():
            link.save()
    except IntegrityError:
        held = models.Link.objects.filter(end=link.end, kind=link.kind, slot=link.slot).exclude(pk=link.pk).first()
        who = (held.start.name or held.start.key) if held else "another device"
        word = slot_word(link.kind)
        sentence = f"{word.capitalize()} {link.slot} is taken by {who}; choose a free one."
        raise Rejected(sentence, [("slot", sentence)]) from None
