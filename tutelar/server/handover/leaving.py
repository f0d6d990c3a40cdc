"""Leaving the site: what is open, left open by decision, and the signature."""

from typing import Any

from django.db import transaction

from tutelar.core.loose_ends import CODES, LEFT_OPEN, NOTED, SITE, name_of
from tutelar.core.site.values import free_key
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.handover.queries import ends_of, holding_of, left_open
from tutelar.server.store import documents
from tutelar.server.store.checklist import CHANGE, now_text, set_tick, ticks_of
from tutelar.server.store.writes import WriteRejected, bump, checked, log, site_for_update

SIGNED = "x-signed"  # of a site: at which revision it was signed off


def note_open(key: str, actor: Actor, code: str, subject: str, note: str) -> models.Site:
    """Write down that something is open that nothing else tells of. Raises WriteRejected for an end that is worked out,
    a subject that the site does not have, and an item of one's own without words."""
    if code not in NOTED:
        raise WriteRejected(f"'{code}' is not written down by hand; it is worked out.", [("code", code)])
    if code == "checklist-open" and not note.strip():
        raise WriteRejected("Say what is open.", [("note", "empty")])
    with transaction.atomic():
        row = site_for_update(key)
        site = documents.document(row)
        if subject not in (SITE, *site.device_by_key, *(door.key for door in site.doors)):
            raise WriteRejected(f"The site has no '{subject}'.", [("subject", subject)], status=404)
        item = code
        if code == "checklist-open":
            taken = {one["item"] for one in ticks_of(row) if one["subject"] == subject}
            item = free_key(note, {*CODES, *taken}, "item")
        set_tick(row, actor, subject, item, "open", note)
        log(row, actor, "end.noted", subject, f"Open: {CODES[code].says.replace('{name}', name_of(site, subject))}.")
    return row


def close_item(key: str, actor: Actor, code: str, subject: str) -> models.Site:
    """Write down that what was noted as open is done. Raises WriteRejected where nothing of the kind is open."""
    with transaction.atomic():
        row = site_for_update(key)
        end = next((item for item in ends_of(row) if (item.code, item.subject) == (code, subject)), None)
        if end is None or code not in NOTED:
            raise WriteRejected(f"'{code}' is not closed by a tick for '{subject}'.", [("code", code)], status=404)
        items = [code]
        if code == "checklist-open":
            noted = [one for one in ticks_of(row) if one["subject"] == subject and one["state"] == "open"]
            items = [one["item"] for one in noted if one["item"] not in CODES]
            if any(item.startswith(CHANGE) for item in items):
                raise WriteRejected("A change is under way there; finish its steps, or give it up.", [("code", code)])
        for item in items:
            set_tick(row, actor, subject, item, "done", "")
        log(row, actor, "end.done", subject, f"Done: {end.message}")
    return row


def leave_open(key: str, actor: Actor, code: str, subject: str, reason: str) -> models.Site:
    """Leave an end open with a reason, or take that back where the reason is empty. Raises WriteRejected where nothing
    of the kind is open."""
    with transaction.atomic():
        row = site_for_update(key)
        end = next((item for item in ends_of(row) if (item.code, item.subject) == (code, subject)), None)
        if end is None:
            known = f"'{code}' is not open for '{subject}'." if code in CODES else f"'{code}' is no loose end."
            raise WriteRejected(known, [("code", code)], status=404)
        before = left_open(row).get((code, subject))
        kept = [item for name, item in left_open(row).items() if name != (code, subject)]
        now = None
        if reason.strip():
            now = {"code": code, "subject": subject, "reason": reason.strip(), "by": actor.name, "at": now_text()}
            kept.append(now)
        row.extra = {**row.extra, LEFT_OPEN: kept}
        bump(row)
        said = f"Left open: {end.message} {reason.strip()}" if now else f"No longer left open: {end.message}"
        log(row, actor, "end.left-open", subject if subject != "site" else row.key, said, before, now)
    return row


def sign_off(key: str, actor: Actor, for_whom: str) -> models.Site:
    """Sign the site off. Raises WriteRejected while something is open that nobody left open, or for nobody."""
    if not for_whom.strip():
        raise WriteRejected("Say for whom it is signed.", [("for", "empty")])
    with transaction.atomic():
        row = site_for_update(key)
        site = documents.document(row)
        if not site.devices:
            raise WriteRejected("There is nothing to sign off: the kit is empty.", status=409)
        ends = ends_of(row)
        holding = holding_of(row, ends)
        if holding:
            more = f" and {len(holding) - 1} more" if len(holding) > 1 else ""
            raise WriteRejected(f"Still open: {holding[0].message}{more}", [("open", holding[0].code)], status=409)
        open_ = [f"{item.code}:{item.subject}" for item in ends if item.blocks]
        signed = {"by": actor.name, "for": for_whom.strip(), "at": now_text(), "open": open_}
        row.extra = {**row.extra, "sign_off": signed, SIGNED: {"revision": row.revision + 1}}
        checked(row)
        bump(row)
        said = f"Signed off for {for_whom.strip()}{f', {len(open_)} left open' if open_ else ''}."
        log(row, actor, "site.signed", row.key, said, None, signed)
    return row


def open_again(key: str, actor: Actor) -> models.Site:
    """Take a signature back. Raises WriteRejected where there is none."""
    with transaction.atomic():
        row = site_for_update(key)
        before: Any = row.extra.get("sign_off")
        if not before:
            raise WriteRejected("The site is not signed off.", status=409)
        row.extra = {name: part for name, part in row.extra.items() if name not in ("sign_off", SIGNED)}
        bump(row)
        log(row, actor, "site.reopened", row.key, "The signature was taken back.", before, None)
    return row


def changed_since(row: models.Site) -> bool:
    """Return whether the site was changed since it was signed off."""
    signed = row.extra.get(SIGNED)
    return bool(row.extra.get("sign_off")) and isinstance(signed, dict) and signed.get("revision") != row.revision
