"""Reads of secrets, by what they are known: never the secrets themselves."""

from collections.abc import Collection

from tutelar.server import models


def all_secret_marks(row: models.Site) -> dict[tuple[str, str], str]:
    """Return what every kept secret of a site is known by, by (device key, slot)."""
    uses = models.SecretUse.objects.filter(site=row).values_list("device_key", "slot", "secret")
    return {(device, slot): secret_mark(pk) for device, slot, pk in uses}


def secret_marks(row: models.Site, device_keys: Collection[str]) -> dict[tuple[str, str], str]:
    """Return what a tick of each stored secret refers to by (device key, slot); a new secret has another mark."""
    uses = models.SecretUse.objects.filter(site=row, device_key__in=device_keys)
    return {(device, slot): secret_mark(pk) for device, slot, pk in uses.values_list("device_key", "slot", "secret")}


def secret_mark(pk: int | None) -> str:
    return f"secret {pk}" if pk else "no secret"


def open_tellings(row: models.Site) -> list[models.PendingUpdate]:
    return list(models.PendingUpdate.objects.select_related("device", "about").filter(site=row, done_at__isnull=True))
