"""The vault of this database: opened with the key at hand, and sealed anew under another one."""

from collections.abc import Callable

from django.conf import settings
from django.db import transaction

from tutelar.server import models, vault
from tutelar.server.store import engine
from tutelar.server.store.writes import WriteRejected


def opened() -> vault.Vault:
    """Return the vault, made at the first use. Raises Rejected (503) where the key at hand is another one, or is gone:
    no new one is made where something is sealed with the old one."""
    with transaction.atomic():
        row = models.Vault.objects.first()
        if row is not None and vault.key_is_missing():
            raise WriteRejected(vault.MISSING_KEY.replace("{path}", str(settings.VAULT_KEY_FILE)), status=503)
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


def trouble() -> str | None:
    """Return why what is sealed does not open, None where it does or nothing is sealed yet."""
    if not models.Vault.objects.exists():
        return None
    try:
        opened()
    except WriteRejected as error:
        return error.message
    return None


def work_out_alike(site: models.Site) -> None:
    """Work out for the secrets of a site that were kept before equal ones were looked for, what equal ones share.

    Raises WriteRejected where the key at hand is another one, VaultLocked where one of them does not open.
    """
    waiting = list(models.Secret.objects.filter(site=site, alike=""))
    if not waiting:
        return
    found = opened()
    for row in waiting:
        row.alike = found.alike(found.open(bytes(row.sealed), place_of(row)))
    models.Secret.objects.bulk_update(waiting, ["alike"], batch_size=300)


def place_of(secret: models.Secret) -> str:
    """Return the place for which a secret is sealed."""
    return f"secret {secret.pk} of site {secret.site_id}"


def place_of_factor(factor: models.SecondFactor) -> str:
    """Return the place for which the secret of a second factor is sealed."""
    return f"second factor of account {factor.user_id}"


def seal_anew(make: Callable[[bytes], vault.Vault]) -> int:
    """Seal every secret under another key, all or nothing, those of second factors too; return how many secrets of
    sites. `make` gets the new salt.

    Raises Rejected where the key at hand does not open what is stored.
    """
    old = opened()
    with transaction.atomic():
        salt = vault.fresh_salt()
        new = make(salt)
        rows = list(models.Secret.objects.all())
        for row in rows:
            place = place_of(row)
            secret = old.open(bytes(row.sealed), place)
            row.sealed, row.alike = new.seal(secret, place), new.alike(secret)
        models.Secret.objects.bulk_update(rows, ["sealed", "alike"], batch_size=300)
        for factor in models.SecondFactor.objects.all():
            place = place_of_factor(factor)
            factor.sealed = new.seal(old.open(bytes(factor.sealed), place), place)
            factor.save(update_fields=["sealed"])
        models.Vault.objects.update(salt=salt, proof=new.proof())
    for model in (models.Secret, models.SecondFactor):
        engine.write_anew(model._meta.db_table)  # nothing sealed under the old key is left in free pages
    return len(rows)
