"""Printing a sealed sheet of credentials: once, logged, split by who may know what. It is never stored."""

from django.db import transaction
from django.utils import timezone
from django.views.decorators.debug import sensitive_variables

from tutelar.core.credentials.sealed import PARTS, part_of
from tutelar.core.credentials.slots import slots_of
from tutelar.core.links.partner_values import administrator_of
from tutelar.core.wording import count, spoken_date
from tutelar.paper.sealed import SealedCover, SealedRow, sealed_pdf
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.secrets.sealing import opened, place_of
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected, log, site_for_update
from tutelar.server.vault import VaultLocked


@sensitive_variables()
def print_sheet(key: str, actor: Actor, part: str, for_whom: str, reason: str) -> tuple[bytes, str]:
    """Return a sheet (PDF) and its name.

    Raises WriteRejected for nobody, a part that has nothing in it, a second print without a reason, and where the key
    at hand does not open what is kept.
    """
    if part not in PARTS:
        raise WriteRejected(f"'{part}' is no part of the sheet; there are {', '.join(PARTS)}.", [("part", part)])
    for_whom, reason = for_whom.strip(), reason.strip()
    if not for_whom:
        raise WriteRejected("Say for whom it is.", [("for_whom", "empty")])
    with transaction.atomic():
        row = site_for_update(key)
        printed = models.SealedSheet.objects.filter(site=row, part=part)
        if printed.exists() and not reason:
            last = printed[0]
            day = spoken_date(timezone.localtime(last.at).date())
            said = f"It was printed for {last.for_whom} by {last.by} on {day}; say why it is printed again."
            raise WriteRejected(said, [("reason", "empty")], status=409)
        rows = _rows(row, part)
        if not rows:
            raise WriteRejected("No credential of this part is kept.", [("part", part)])
        number = models.SealedSheet.objects.filter(site=row).count() + 1
        models.SealedSheet.objects.create(
            site=row, number=number, for_whom=for_whom, part=part, slots=len(rows), reason=reason, by=actor.name
        )
        title, says = PARTS[part]
        again = f" Again: {reason}." if reason else ""
        said = (
            f"Sealed sheet {number} printed for {for_whom}: {title.lower()}, {count(len(rows), 'credential')}.{again}"
        )
        log(row, actor, "sealed.printed", row.key, said)
        cover = SealedCover(documents.document(row).about.title, title, says, for_whom, number, actor.name, reason)
    return sealed_pdf(cover, rows, timezone.localdate()), f"{row.key}-sealed-{number}.pdf"


@sensitive_variables()
def _rows(row: models.Site, part: str) -> list[SealedRow]:
    site, vault = documents.document(row), opened()
    addresses = documents.planned(row).addresses()
    uses = models.SecretUse.objects.select_related("secret").filter(site=row)
    kept = {(use.device_key, use.slot): use.secret for use in uses}
    found = []
    for device in site.walking_order(list(site.devices)):
        for slot in slots_of(site, device):
            secret = kept.get((device.key, slot.key))
            if secret is None or part_of(slot.key) != part:
                continue
            try:
                text = vault.open(bytes(secret.sealed), place_of(secret))
            except VaultLocked as error:
                raise WriteRejected(str(error), status=503) from None
            at = addresses.get(device.key, "")
            user = slot.user or (administrator_of(site, device) if slot.key == "administrator" else "")
            found.append(SealedRow(device.label, device.place or "", at, slot.title, user, text))
    return found


def counted(row: models.Site) -> dict[str, int]:
    """Return how many credentials of each part are kept."""
    site = documents.document(row)
    kept = set(models.SecretUse.objects.filter(site=row).values_list("device_key", "slot"))
    found = dict.fromkeys(PARTS, 0)
    for device in site.devices:
        for slot in slots_of(site, device):
            if (device.key, slot.key) in kept:
                found[part_of(slot.key)] += 1
    return found
