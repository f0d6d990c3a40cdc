"""Keeping secrets: set, changed, shown one at a time, told on. No sentence, event or refusal ever quotes one."""

import secrets
from collections.abc import Sequence
from typing import Any

from django.db import transaction
from django.utils import timezone
from django.views.decorators.debug import sensitive_variables
from pydantic import SecretStr

from tutelar.core.credentials import (
    SLOTS,
    Slot,
    Strength,
    faults,
    holders,
    known_words,
    make,
    rivals,
    rule_for,
    slots_of,
    strength,
    told_of_change,
    tries,
)
from tutelar.core.keypad import Typing, keypad
from tutelar.core.site import Site
from tutelar.core.site.types import Device
from tutelar.core.wording import count, listed
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.rights import SUPPORT
from tutelar.server.secrets.in_hand import refuse_too_many
from tutelar.server.secrets.sealing import opened, place_of, work_out_alike
from tutelar.server.store import documents, lookup
from tutelar.server.store.writes import Event, Stale, WriteRejected, log, log_all, site_for_update
from tutelar.server.vault import VaultLocked


def _place(row: models.Site, device_key: str, slot_key: str) -> tuple[Site, Device, Slot]:
    site = documents.document(row)
    device = site.device_by_key.get(device_key)
    if device is None:
        raise WriteRejected(f"The site {row.name} has no device '{device_key}'.", status=404)
    slot = next((item for item in slots_of(site, device) if item.key == slot_key), None)
    if slot is None:
        have = listed([item.key for item in slots_of(site, device)], 9)
        raise WriteRejected(f"{device.label} has no slot '{slot_key}'; it has {have}.", status=404)
    return site, device, slot


def _use(row: models.Site, device_key: str, slot_key: str) -> models.SecretUse | None:
    uses = models.SecretUse.objects.select_related("secret")
    return uses.filter(site=row, device_key=device_key, slot=slot_key).first()


def _stored_use(row: models.Site, device: Device, slot: Slot) -> models.SecretUse:
    use = _use(row, device.key, slot.key)
    if use is None:
        raise WriteRejected(f"{slot.title} of {device.label} is not stored.", status=404)
    return use


def check_secret(key: str, device_key: str, slot_key: str, candidate: SecretStr) -> tuple[list[str], Strength | None]:
    """Return what a secret would break, and how strong it is (None for codes and addresses). Nothing is kept."""
    site, device, slot = _place(lookup.site_row(key), device_key, slot_key)
    text = candidate.get_secret_value()
    judged = strength(text, known_words(site, device)) if slot.kind == "password" else None
    return faults(site, device, slot, text), judged


@sensitive_variables()
def set_secret(
    key: str,
    device_key: str,
    slot_key: str,
    actor: Actor,
    version: int,
    candidate: SecretStr | None,
    reason: str = "",
) -> models.Secret:
    """Keep a secret for a slot and for all that share it; None makes one. Where it replaces another, every device
    that has the old one typed in is told. `version` is that of the secret on which this is based, 0 for none.

    Raises WriteRejected for one that breaks the rule, and for a typed password that would be guessed within a day
    unless a reason is given for it; Stale where somebody changed it meanwhile.
    """
    with transaction.atomic():
        row = site_for_update(key)
        site, device, slot = _place(row, device_key, slot_key)
        use = _use(row, device_key, slot_key)
        now = use.secret.version if use else 0
        if now != version:
            raise Stale(f"{slot.title} of {device.label}", {"version": version}, {"version": now}, now)
        text = candidate.get_secret_value() if candidate else _made(site, device, slot)
        wrong = faults(site, device, slot, text)
        if wrong:
            raise WriteRejected(f"{slot.title} of {device.label}: {wrong[0]}", [("secret", fault) for fault in wrong])
        reason = _why_weak(site, device, slot, text, reason) if candidate else ""
        group = holders(site, device, slot.key)
        _least_privilege(row, site, group, slot, text)
        uses = models.SecretUse.objects.filter(site=row, device_key__in=[item.key for item in group], slot=slot.key)
        had = set(uses.values_list("device_key", flat=True))
        stored = models.Secret.objects.create(site=row, sealed=b"", version=now + 1, reason=reason, by=actor.name)
        vault = opened()
        stored.sealed, stored.alike = vault.seal(text, place_of(stored)), vault.alike(text)
        stored.save()
        _work_out_alike(row)
        uses.delete()
        models.SecretUse.objects.bulk_create(
            models.SecretUse(site=row, device_key=item.key, slot=slot.key, secret=stored) for item in group
        )
        models.Secret.objects.filter(site=row, uses__isnull=True).delete()
        models.OpenSlot.objects.filter(site=row, device_key__in=[item.key for item in group], slot=slot.key).delete()
        told = tell(row, actor, f"secret:{slot.key}", told_of_change(site, device, slot, had)) if had else 0
        _log_set(row, actor, device, slot, len(group), now, told, reason)
    return stored


@sensitive_variables()
def _why_weak(site: Site, device: Device, slot: Slot, text: str, reason: str) -> str:
    """Return the reason for a password that would be guessed within a day, "" for one that would not."""
    if slot.kind != "password":
        return ""
    judged = strength(text, known_words(site, device))
    reason = " ".join(reason.split())
    if not judged.weak:
        return ""
    if not reason:
        said = f"{slot.title} of {device.label}: {judged.sentence} Take another, or say why this one is used."
        raise WriteRejected(said, [("secret", judged.sentence), ("reason", "No reason is given.")])
    if text.casefold() in reason.casefold():
        raise WriteRejected(
            "The reason says the password itself; say it without.", [("reason", "It has the password.")]
        )
    return reason


@sensitive_variables()
def _work_out_alike(row: models.Site) -> None:
    try:
        work_out_alike(row)
    except VaultLocked as error:
        raise WriteRejected(str(error), status=503) from None


def make_missing(key: str, actor: Actor, device_key: str | None = None) -> tuple[int, int]:
    """Make every password and code that Tutelar can make and that is missing, at one device or at all of the site.

    Each is kept by itself, so that a large site does not hold up everybody else; what somebody set meanwhile stays.
    Returns how many were made, and how many devices have to be told of one.
    """
    row = lookup.site_row(key)
    site = documents.document(row)
    devices = site.devices if device_key is None else (_device_of(site, device_key),)
    kept = set(models.SecretUse.objects.filter(site=row).values_list("device_key", "slot"))
    pending = models.PendingUpdate.objects.filter(site=row, done_at__isnull=True)
    before, made = pending.count(), 0
    for device in devices:
        for slot in slots_of(site, device):
            if not slot.makeable or (device.key, slot.key) in kept or rule_for(site, device, slot).conflicts:
                continue
            kept |= {(item.key, slot.key) for item in holders(site, device, slot.key)}
            try:
                set_secret(key, device.key, slot.key, actor, 0, None)
            except Stale:
                continue
            made += 1
    return made, pending.count() - before


def _device_of(site: Site, key: str) -> Device:
    if key not in site.device_by_key:
        raise WriteRejected(f"The site has no device '{key}'.", [("device", key)], status=404)
    return site.device_by_key[key]


def leave_open(key: str, device_key: str, slot_key: str, actor: Actor, reason: str, *, everywhere: bool) -> int:
    """Leave a slot empty that is somebody's to fill (a recovery address), with a reason; `everywhere`: at every
    device of the site that has none and no reason yet. Returns at how many.

    Raises WriteRejected without a reason, for a slot that has to be filled, and where something is kept in it.
    """
    reason = " ".join(reason.split())
    with transaction.atomic():
        row = site_for_update(key)
        site, device, slot = _place(row, device_key, slot_key)
        if slot.makeable:
            raise WriteRejected(f"{slot.title} of {device.label} cannot be left open: make one.", [("slot", slot.key)])
        if not reason:
            raise WriteRejected("Say why it is left open.", [("reason", "No reason is given.")])
        kept = set(models.SecretUse.objects.filter(site=row, slot=slot.key).values_list("device_key", flat=True))
        if device.key in kept:
            raise WriteRejected(f"{slot.title} of {device.label} is saved already.", [("slot", slot.key)], status=409)
        said = set(models.OpenSlot.objects.filter(site=row, slot=slot.key).values_list("device_key", flat=True))
        others = [item for item in site.devices if everywhere and item.key not in kept | said | {device.key}]
        chosen = [device, *(item for item in others if slot in slots_of(site, item))]
        for item in chosen:
            models.OpenSlot.objects.update_or_create(
                defaults={"reason": reason, "by": actor.name}, site=row, device_key=item.key, slot=slot.key
            )
        log_all(
            row,
            actor,
            [
                ("secret.left-open", item.key, f"{slot.title} of {item.label} is left open: {reason}.", None, None)
                for item in chosen
            ],
        )
    return len(chosen)


def _made(site: Site, device: Device, slot: Slot) -> str:
    try:
        return make(site, device, slot, secrets.choice)
    except ValueError as error:
        raise WriteRejected(str(error), [("secret", str(error))]) from None


@sensitive_variables()
def _least_privilege(row: models.Site, site: Site, group: Sequence[Device], slot: Slot, text: str) -> None:
    """Refuse one password for an administrator and for an account with few rights of the same device."""
    uses = models.SecretUse.objects.select_related("secret").filter(
        site=row, device_key__in=[item.key for item in group], slot__in=rivals(slot)
    )
    for use in uses:
        if secrets.compare_digest(_opened(use.secret).encode(), text.encode()):
            title = f"{SLOTS[use.slot].title} of {site.label_of(use.device_key)}"
            sentence = f"{title} is the same: who knows one has all rights. Take another."
            raise WriteRejected(sentence, [("secret", sentence)])


@sensitive_variables()
def _opened(secret: models.Secret) -> str:
    try:
        return opened().open(bytes(secret.sealed), place_of(secret))
    except VaultLocked as error:
        raise WriteRejected(str(error), status=503) from None


def tell(row: models.Site, actor: Actor, code: str, wanted: dict[tuple[str, str], str]) -> int:
    """Keep one telling open for each (device, device that changed); return how many."""
    names = {key for pair in wanted for key in pair}
    rows = {item.key: item for item in models.Device.objects.filter(site=row, key__in=names)}
    open_now = models.PendingUpdate.objects.filter(site=row, code=code, done_at__isnull=True)
    pairs = open_now.values_list("pk", "device__key", "about__key")
    models.PendingUpdate.objects.filter(pk__in=[pk for pk, *pair in pairs if tuple(pair) in wanted]).delete()
    models.PendingUpdate.objects.bulk_create(
        models.PendingUpdate(
            site=row, device=rows[device], about=rows[about], code=code, sentence=sentence, by=actor.name
        )
        for (device, about), sentence in wanted.items()
    )
    return len(wanted)


def _log_set(
    row: models.Site, actor: Actor, device: Device, slot: Slot, shared: int, before: int, told: int, reason: str
) -> None:
    word = "changed" if before else "set"
    common = f" for {count(shared, 'device')}" if shared > 1 else ""
    tail = f"; to be typed in {count(told, 'other place')} too" if told else ""
    weak = f"; it would soon be guessed, and is used because: {reason}" if reason else ""
    sentence = f"{slot.title} of {device.label} {word}{common}{tail}{weak}."
    versions: list[Any] = [{"version": before} if before else None, {"version": before + 1}]
    log(row, actor, f"secret.{word}", device.key, sentence, *versions)


def reveal(key: str, device_key: str, slot_key: str, actor: Actor, reason: str = "") -> tuple[str, Typing | None]:
    """Return one secret and how it is typed on a desk's keys (None where no desk is involved); it is logged with the
    reason.

    Raises Rejected where the slot is empty, the key at hand does not open it, support gives no reason, or whoever asks
    looked at as many devices lately as a person can have in hand.
    """
    reason = " ".join(reason.split())
    if actor.right == SUPPORT and not reason:
        raise WriteRejected("Say why you look at it: support shows a secret with a reason.", [("reason", "empty")])
    with transaction.atomic():
        row = site_for_update(key)
        refuse_too_many(actor, (row.key, device_key))
        site, device, slot = _place(row, device_key, slot_key)
        use = _stored_use(row, device, slot)
        text = _opened(use.secret)
        log(
            row,
            actor,
            "secret.revealed",
            device.key,
            f"{slot.title} of {device.label} shown{f': {reason}' if reason else ''}.",
            None,
            {"version": use.secret.version},
        )
    desk = slot.kind == "password" and rule_for(site, device, slot).keypad_of is not None
    return text, keypad(text) if desk else None


def forget(key: str, device_key: str, slot_key: str, actor: Actor) -> None:
    """Take a secret out of a slot. Raises Rejected where it is empty."""
    with transaction.atomic():
        row = site_for_update(key)
        _, device, slot = _place(row, device_key, slot_key)
        _stored_use(row, device, slot).delete()
        models.Secret.objects.filter(site=row, uses__isnull=True).delete()
        log(row, actor, "secret.forgotten", device.key, f"{slot.title} of {device.label} is no longer saved.")


def told(key: str, numbers: list[int], actor: Actor) -> None:
    """Close tellings: the new value was typed there. Raises Rejected for one that the site does not have."""
    with transaction.atomic():
        row = site_for_update(key)
        found = {
            item.pk: item
            for item in models.PendingUpdate.objects.select_related("device").filter(site=row, pk__in=numbers)
        }
        missing = next((number for number in numbers if number not in found), None)
        if missing is not None:
            raise WriteRejected(f"The site {row.name} has nothing to tell under the number {missing}.", status=404)
        events: list[Event] = []
        for item in found.values():
            if item.done_at is None:
                item.done_by, item.done_at = actor.name, timezone.now()
                item.save()
                events.append(("told", item.device.key, f"Done: {item.sentence}", None, None))
        log_all(row, actor, events)


def count_refused(key: str, device_key: str, actor: Actor, *, taken: bool) -> models.FailedLogins:
    """Count a password that the device refused, or begin anew after one that it took."""
    with transaction.atomic():
        row = site_for_update(key)
        device = lookup.device_row(row, device_key)
        counter, _ = models.FailedLogins.objects.get_or_create(device=device, defaults={"by": actor.name})
        counter.number, counter.by = 0 if taken else counter.number + 1, actor.name
        counter.save()
        site = documents.document(row)
        model = site.model_of(site.device_by_key[device_key])
        said = tries(model.password_rule if model else None, counter.number).sentence
        name = device.name or device.key
        sentence = f"{name} took the password." if taken else f"{name} refused a password. {said}"
        log(row, actor, "password.taken" if taken else "password.refused", device.key, sentence)
    return counter
