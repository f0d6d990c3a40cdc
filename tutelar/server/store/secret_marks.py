"""What a kept secret is known by: a mark that changes with it, and that nobody can read it from."""

from tutelar.server import models
from tutelar.server.store.reads import asked_once


@asked_once
def all_secret_marks(row: models.Site) -> dict[tuple[str, str], str]:
    """Return what every kept secret of a site is known by, by (device key, slot)."""
    uses = models.SecretUse.objects.filter(site=row).values_list("device_key", "slot", "secret")
    return {(device, slot): secret_mark(pk) for device, slot, pk in uses}


def secret_mark(pk: int | None) -> str:
    """Return the mark of the secret in a row, and of none."""
    return f"secret {pk}" if pk else "no secret"
