"""Reads of secrets, by what they are known: never the secrets themselves."""

from collections.abc import Collection
from functools import lru_cache

from tutelar.core.credentials.slots import slots_of
from tutelar.server import models
from tutelar.server.store import documents
from tutelar.server.store.secret_marks import secret_mark


def secret_marks(row: models.Site, device_keys: Collection[str]) -> dict[tuple[str, str], str]:
    """Return what a tick of each stored secret refers to by (device key, slot); a new secret has another mark."""
    uses = models.SecretUse.objects.filter(site=row, device_key__in=device_keys)
    return {(device, slot): secret_mark(pk) for device, slot, pk in uses.values_list("device_key", "slot", "secret")}


def open_tellings(row: models.Site) -> list[models.PendingUpdate]:
    return list(models.PendingUpdate.objects.select_related("device", "about").filter(site=row, done_at__isnull=True))


@lru_cache(maxsize=32)
def with_administrator(pk: int, stamp: str) -> frozenset[str]:
    """Return the keys of the site's devices that have an administrator password."""
    site = documents.document_at(pk, stamp)
    return frozenset(
        device.key for device in site.devices if any(slot.key == "administrator" for slot in slots_of(site, device))
    )
