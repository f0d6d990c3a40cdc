"""Changing a device step by step: begun, each step ticked in its order, the new unit written down, given up."""

from typing import Any

from django.db import transaction

from tutelar.core.later import KINDS, change_steps
from tutelar.core.later.change import OF_SITE
from tutelar.core.site.values import mac_or_none
from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.kit.services import change_parts
from tutelar.server.later.queries import CHANGES, changes, unit_names
from tutelar.server.store import documents, lookup
from tutelar.server.store.checklist import CHANGE, drop_tick, now_text, set_tick
from tutelar.server.store.writes import WriteRejected, bump, checked, log, log_all, site_for_update

_TYPED_ANEW = {("reset", "reset"), ("replace", "old-off")}  # after which nothing that was typed is in the device


def begin(key: str, actor: Actor, kind: str, device: str | None) -> models.Site:
    """Begin a change. Raises WriteRejected for a kind that is not known, a device that is not there, and a second
    change of the same kind beside one that is not over."""
    if kind not in KINDS:
        raise WriteRejected(f"'{kind}' is no change; there are {', '.join(KINDS)}.", [("kind", kind)])
    if kind in OF_SITE:
        device = None
    elif device is None:
        raise WriteRejected("Say which device changes.", [("device", "empty")])
    with transaction.atomic():
        row = site_for_update(key)
        site = documents.document(row)
        found = site.device_by_key.get(device or "")
        if device is not None and found is None:
            raise WriteRejected(f"The site has no device '{device}'.", [("device", device)], status=404)
        if any(one["over"] is None and (one["kind"], one["device"]) == (kind, device) for one in changes(row)):
            raise WriteRejected("This is under way already; go on with it.", [("kind", kind)], status=409)
        steps = change_steps(site, documents.planned(row), kind, found)
        change: dict[str, Any] = {
            "id": max((one["id"] for one in changes(row)), default=0) + 1,
            "kind": kind,
            "device": device,
            "begun": now_text(),
            "by": actor.name,
            "over": None,
            "was": {"mac": found.mac, "serial": found.serial, "wifi_mac": found.wifi_mac} if found is not None else {},
            "steps": [
                {
                    "key": step.key,
                    "title": step.title,
                    "why": step.why,
                    "at": step.at,
                    "after": list(step.after),
                    "caution": step.caution,
                    "by": None,
                    "done": None,
                    "note": "",
                }
                for step in steps
            ],
        }
        _keep(row, [*changes(row), change])
        _say_open(row, actor, change)
        said = f"{_name(row, change)}: {KINDS[kind].split(':')[0].lower()}, {count(len(steps), 'step')}."
        log(row, actor, "change.begun", device or row.key, said, None, {"kind": kind, "was": change["was"]})
    return row


def _name(row: models.Site, change: dict[str, Any]) -> str:
    return documents.document(row).label_of(change["device"]) if change["device"] else row.name


def _keep(row: models.Site, kept: list[dict[str, Any]]) -> None:
    row.extra = {**row.extra, CHANGES: kept}
    bump(row)


def _found(row: models.Site, number: int) -> dict[str, Any]:
    found = next((one for one in changes(row) if one["id"] == number), None)
    if found is None:
        raise WriteRejected(f"The site has no change {number}.", [("change", str(number))], status=404)
    if found["over"] is not None:
        raise WriteRejected("This change is over.", [("change", str(number))], status=409)
    return found


def _say_open(row: models.Site, actor: Actor, change: dict[str, Any]) -> None:
    """Write into the checklist how many steps are open: a loose end until none is."""
    open_ = sum(1 for step in change["steps"] if step["done"] is None)
    word = KINDS[change["kind"]].split(":")[0].lower()
    subject, item = change["device"] or "site", f"{CHANGE}{change['id']}"
    if open_:
        set_tick(row, actor, subject, item, "open", f"{word}, {count(open_, 'step')} open")
    else:
        set_tick(row, actor, subject, item, "done", word)


def tick_step(key: str, actor: Actor, number: int, step: str, done: bool, note: str) -> models.Site:
    """Tick a step of a change, or open it again. Raises WriteRejected where another step comes first."""
    with transaction.atomic():
        row = site_for_update(key)
        change = _found(row, number)
        found = next((one for one in change["steps"] if one["key"] == step), None)
        if found is None:
            raise WriteRejected(f"The change has no step '{step}'.", [("step", step)], status=404)
        first = next((o for o in change["steps"] if o["key"] in found["after"] and o["done"] is None), None)
        if done and first is not None:
            raise WriteRejected(f"First: {first['title']}.", [("step", first["key"])], status=409)
        later = [o["title"] for o in change["steps"] if step in o["after"] and o["done"] is not None]
        if not done and later:
            raise WriteRejected(f"First open again: {later[0]}.", [("step", step)], status=409)
        if done and step == "identity" and not _has_unit(row, change):
            raise WriteRejected("Write hardware address or serial number of the new unit down first.", [("unit", "")])
        fresh = {**found, "done": now_text() if done else None, "by": actor.name if done else None}
        fresh["note"] = note.strip() if done else ""
        change = {**change, "steps": [fresh if one is found else one for one in change["steps"]]}
        if all(one["done"] is not None for one in change["steps"]):
            change["over"] = now_text()
        _keep(row, [change if one["id"] == number else one for one in changes(row)])
        if done and change["device"] and (change["kind"], step) in _TYPED_ANEW:
            _typed_anew(row, change["device"])
        _say_open(row, actor, change)
        word = "done" if done else "open again"
        said = (
            f"{_name(row, change)}, {found['title'].rstrip('.')}: {word}{f', {note.strip()}' if note.strip() else ''}."
        )
        log(row, actor, "change.step", change["device"] or row.key, said)
        if change["over"] is not None:
            log(row, actor, "change.over", change["device"] or row.key, f"{_name(row, change)}: every step is done.")
    return row


def _has_unit(row: models.Site, change: dict[str, Any]) -> bool:
    device = documents.document(row).device_by_key.get(change["device"] or "")
    if device is None or change["kind"] != "replace":
        return True
    names = unit_names(change["kind"], device)
    now, was = [getattr(device, name) for name in names], [change["was"][name] for name in names]
    return now != was and any(now)


def _typed_anew(row: models.Site, device: str) -> None:
    """Nothing that was typed is in the device any more: its values and steps of remote access begin anew."""
    models.ValueTick.objects.filter(site=row, subject=device).delete()
    models.FailedLogins.objects.filter(device__site=row, device__key=device).delete()
    ticks = [one for one in row.extra.get("checklist", []) if one["subject"] == device]
    for one in ticks:
        if one["item"].startswith(("remote-", "used-")):
            drop_tick(row, device, one["item"])


def write_unit(key: str, actor: Actor, number: int, given: dict[str, str]) -> models.Site:
    """Write down what tells the new unit apart (or, on Wi-Fi, its other hardware address). Its certificate and whose it
    is at the relay are those of the old one, and go. Raises WriteRejected for a change that has no new unit, an address
    that is none, and the old one."""
    with transaction.atomic():
        row = site_for_update(key)
        change = _found(row, number)
        site = documents.document(row)
        device = site.device_by_key.get(change["device"] or "")
        names = unit_names(change["kind"], device)
        given = {name: value.strip() for name, value in given.items() if value.strip() and name in names}
        if not given:
            wanted = " or ".join(name.replace("_", " ") for name in names)
            raise WriteRejected(
                f"Give {wanted} of the new unit." if names else "This change has no new unit.", [("unit", "empty")]
            )
        for name in given.keys() & {"mac", "wifi_mac"}:
            if mac_or_none(given[name]) is None:
                said = f"'{given[name]}' is no hardware address; twelve digits 0-9 and A-F are expected."
                raise WriteRejected(said, [(name, said)])
        if device is None:
            raise WriteRejected(f"The site has no device '{change['device']}' any more.", status=404)
        parts: dict[str, Any] = {"device": device.key, "revision": lookup.device_row(row, device.key).revision, **given}
        if change["kind"] == "replace":
            parts |= {name: None for name in names if name not in given}
            parts |= {"certificate": None}
        else:
            parts |= {"medium": "wifi"}
        events, _ = change_parts(row, [parts])
        if change["kind"] == "replace":
            kept = [one for one in row.extra.get("ownership", []) if one["device"] != device.key]
            row.extra = {**row.extra, **({"ownership": kept} if "ownership" in row.extra else {})}
            again = documents.document(row, fresh=True).device_by_key[device.key]
            if again.unit == device.unit:
                raise WriteRejected(
                    "That is the old unit; look at the label of the new one.", [("unit", "the old one")]
                )
        checked(row)
        bump(row)
        log_all(row, actor, events)
    return row


def give_up(key: str, actor: Actor, number: int, reason: str) -> models.Site:
    """Give a change up, with the reason. Raises WriteRejected without one."""
    if not reason.strip():
        raise WriteRejected("Say why it is given up.", [("reason", "empty")])
    with transaction.atomic():
        row = site_for_update(key)
        change = {**_found(row, number), "over": now_text(), "given_up": reason.strip()}
        _keep(row, [change if one["id"] == number else one for one in changes(row)])
        drop_tick(row, change["device"] or "site", f"{CHANGE}{number}")
        checked(row)
        log(
            row,
            actor,
            "change.given-up",
            change["device"] or row.key,
            f"{_name(row, change)}: given up, {reason.strip()}.",
        )
    return row
