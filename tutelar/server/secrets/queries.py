"""Reads of secrets, by what they are known: never the secrets themselves."""

from collections.abc import Collection
from functools import lru_cache

from tutelar.core.credentials.slots import SLOTS, slots_of
from tutelar.core.wording import listed
from tutelar.server import models
from tutelar.server.store import documents
from tutelar.server.store.reads import asked_once
from tutelar.server.store.secret_marks import secret_mark


def secret_marks(row: models.Site, device_keys: Collection[str]) -> dict[tuple[str, str], str]:
    """Return what a tick of each stored secret refers to by (device key, slot); a new secret has another mark."""
    uses = models.SecretUse.objects.filter(site=row, device_key__in=device_keys)
    return {(device, slot): secret_mark(pk) for device, slot, pk in uses.values_list("device_key", "slot", "secret")}


def equal_passwords(row: models.Site) -> dict[tuple[str, str], str]:
    """Return for each (device, slot) which other devices have the same password, in words, where each is to have one
    of its own."""
    site = documents.document(row)
    if site.policy.passwords != "device":
        return {}
    slots = [key for key, slot in SLOTS.items() if slot.kind == "password"]
    uses = models.SecretUse.objects.filter(site=row, slot__in=slots).exclude(secret__alike="")
    held: dict[str, list[tuple[str, str]]] = {}
    for device, slot, alike in uses.values_list("device_key", "slot", "secret__alike"):
        if device in site.device_by_key:
            held.setdefault(alike, []).append((device, slot))
    found = {}
    for places in held.values():
        devices = tuple(dict.fromkeys(key for key, _ in places))
        for place in places:
            if others := [key for key in devices if key != place[0]]:
                tail = [""] * (len(others) - 4)  # only how many they are is said
                found[place] = listed([*map(site.label_of, others[:4]), *tail])
    return found


def open_slots(row: models.Site) -> dict[tuple[str, str], models.OpenSlot]:
    """Return the slots that somebody decided to leave empty, by (device, slot)."""
    return {(item.device_key, item.slot): item for item in models.OpenSlot.objects.filter(site=row)}


@asked_once
def open_tellings(row: models.Site) -> list[models.PendingUpdate]:
    """Return what has to be typed into other devices after a change, and was not yet."""
    return list(models.PendingUpdate.objects.select_related("device", "about").filter(site=row, done_at__isnull=True))


@lru_cache(maxsize=32)
def with_administrator(pk: int, version_token: str) -> frozenset[str]:
    """Return the keys of the site's devices that have an administrator password."""
    site = documents.document_at(pk, version_token)
    return frozenset(
        device.key for device in site.devices if any(slot.key == "administrator" for slot in slots_of(site, device))
    )
