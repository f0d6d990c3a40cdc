"""The vault of this database: opened with the key at hand, and sealed anew under another one."""

from collections.abc import Callable

from django.db import connection, transaction

from tutelar.server import models, vault
from tutelar.server.store.writes import WriteRejected


def opened() -> vault.Vault:
    """Return the vault, made at the first use. Raises Rejected (503) where the key at hand is another one."""
    with transaction.atomic():
        row = models.Vault.objects.first()
        salt = bytes(row.salt) if row else vault.fresh_salt()
        try:
            found = vault.at_hand(salt)
        except vault.VaultLocked as error:
            raise WriteRejected(str(error), status=503) from None
        if row is None:
            models.Vault.objects.create(salt=salt, proof=found.proof())
        elif not found.fits(bytes(row.proof)):
            raise WriteRejected(vault.WRONG_KEY, status=503)
    return found


def place_of(secret: models.Secret) -> str:
    return f"secret {secret.pk} of site {secret.site_id}"


def seal_anew(make: Callable[[bytes], vault.Vault]) -> int:
    """Seal every secret under another key, all or nothing; return how many. `make` gets the new salt.

    Raises Rejected where the key at hand does not open what is stored.
    """
    old = opened()
    with transaction.atomic():
        salt = vault.fresh_salt()
        new = make(salt)
        rows = list(models.Secret.objects.all())
        for row in rows:
            place = place_of(row)
            row.sealed = new.seal(old.open(bytes(row.sealed), place), place)
        models.Secret.objects.bulk_update(rows, ["sealed"], batch_size=300)
        models.Vault.objects.update(salt=salt, proof=new.proof())
    _tidy()
    return len(rows)


def _tidy() -> None:
    """Write the database file anew, so that nothing sealed under the old key is left in free pages."""
    with connection.cursor() as cursor:
        cursor.execute("VACUUM")
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
