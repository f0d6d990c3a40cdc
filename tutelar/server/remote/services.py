"""Writing down remote access: the way that is chosen, steps in their order, whose a device is."""

from typing import Any

from django.db import transaction

from tutelar.core.reach import Ends
from tutelar.core.remote import METHODS, standing_of
from tutelar.core.remote.methods import CHOSEN
from tutelar.core.remote.steps import Known, StepStanding
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.remote import queries
from tutelar.server.store import documents
from tutelar.server.store.checklist import now_text, set_tick
from tutelar.server.store.writes import WriteRejected, bump, checked, log, site_for_update

_OWNERS = {"unknown": "nobody knows whose", "released": "released", "ours": "ours", "bound": "bound to somebody"}


def choose_method(key: str, actor: Actor, method: str, why: str) -> models.Site:
    """Choose a way of remote access for a site. Raises WriteRejected where ports are forwarded without a reason."""
    if method == "forwarding" and not why.strip():
        raise WriteRejected("Forwarding needs a reason: say why nothing else will do, and until when.", [("why", "")])
    with transaction.atomic():
        row = site_for_update(key)
        before = row.extra.get(CHOSEN)
        chosen = {"method": method, "why": why.strip(), "by": actor.name, "at": now_text()}
        row.extra = {**row.extra, CHOSEN: chosen}
        checked(row)
        bump(row)
        said = f"Remote access: {METHODS[method].title.lower()}{f', {why.strip()}' if why.strip() else ''}."
        log(row, actor, "remote.method", row.key, said, before, chosen)
    return row


def tick_step(key: str, device: str, item: str, actor: Actor, state: str, note: str) -> models.Site:
    """Tick a step of a device, open it again, or say that it is not needed. Raises WriteRejected where the step is not
    its turn yet, is done elsewhere, or what has to be written down is missing."""
    with transaction.atomic():
        row = site_for_update(key)
        step = _step(row, device, item)
        name = documents.document(row).label_of(device)
        if state != "open":
            _allowed(step, note, state)
        before, tick = set_tick(row, actor, device, item, state, note)
        word = {"done": "done", "open": "open again", "not-needed": "not needed"}[state]
        said = f"{name}, {step.step.title.lower()}: {word}{f', {note.strip()}' if note.strip() else ''}."
        log(row, actor, "remote.step", device, said, before, tick)
    return row


def _step(row: models.Site, device: str, item: str) -> StepStanding:
    site = documents.document(row)
    found = site.device_by_key.get(device)
    if found is None:
        raise WriteRejected(f"The site has no device '{device}'.", [("device", device)], status=404)
    known = queries.known_of(row).get(device, Known())
    steps = standing_of(site, found, Ends(site, documents.planned(row)), known).steps
    step = next((one for one in steps if one.item == item), None)
    if step is None:
        raise WriteRejected(f"{found.label} has no step '{item}'.", [("item", item)], status=404)
    return step


def _allowed(step: StepStanding, note: str, state: str) -> None:
    if step.waits_for is not None:
        raise WriteRejected(f"First: {step.waits_for.lower()}. One step holds the next.", [("item", step.item)], 409)
    if step.step.only_so:
        raise WriteRejected(
            f"{step.step.title}: this is not ticked; it is done where it is set.", [("item", step.item)]
        )
    if state == "not-needed" and not note.strip():
        raise WriteRejected("Say why it is not needed.", [("note", "empty")])
    if step.step.asks and not note.strip():
        raise WriteRejected(f"Write down {step.step.asks}.", [("note", step.step.asks)])


def say_owner(key: str, device: str, actor: Actor, state: str, account: str | None, note: str) -> models.Site:
    """Write down whose a device is at its maker's relay. Raises WriteRejected where it would be ours in somebody else's
    account."""
    if state == "ours" and account == "former":
        raise WriteRejected("In the former owner's account it is not ours; it is bound.", [("account", "former")])
    with transaction.atomic():
        row = site_for_update(key)
        site = documents.document(row)
        if device not in site.device_by_key:
            raise WriteRejected(f"The site has no device '{device}'.", [("device", device)], status=404)
        said: dict[str, Any] = {"device": device, "state": state, "by": actor.name, "at": now_text()}
        said |= {name: value for name, value in (("account", account), ("note", note.strip() or None)) if value}
        before = [one for one in row.extra.get("ownership", []) if one["device"] == device]
        others = [one for one in row.extra.get("ownership", []) if one["device"] != device]
        row.extra = {**row.extra, "ownership": [*others, said]}
        checked(row)
        bump(row)
        where = f", in the account of the {account}" if account else ""
        log(
            row, actor, "remote.owner", device, f"{site.label_of(device)}: {_OWNERS[state]}{where}.",
            before[-1] if before else None, said,
        )  # fmt: skip
    return row
