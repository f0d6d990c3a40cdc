"""Keeping the pretend site up to practise on, as planned or as out of the box."""

import json
from typing import Any

from django.db import transaction

from tutelar.core.site import UnreadableSite
from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.practice.keeper import KEEPER
from tutelar.server.store import documents, lookup
from tutelar.server.store.writes import WriteRejected, log, site_for_update
from tutelar.standin.faults import read_faults
from tutelar.standin.loopback import NoRoomError
from tutelar.standin.site import CannotListen, Handling

_HANDLED: dict[Handling, str] = {
    "box": "was put back into its box",
    "plug": "was plugged in",
    "unplug": "was unplugged",
}


def start(key: str, actor: Actor, faults: list[dict[str, Any]], *, fresh: bool) -> models.Pretend:
    """Start the pretend site with faults; `fresh`: every device is still in its box, as it left the factory, and is
    plugged in one by one. Raises Rejected where no device has an address or the machine has no room for it."""
    row = lookup.site_row(key)
    site = documents.document(row)
    if not any(device.address for device in site.devices):
        raise WriteRejected("No device has an address yet; plan the addresses first.")
    if fresh and faults:
        said = "A device in its box has no faults; let them be played at a site that stands as planned."
        raise WriteRejected(said, [("faults", said)])
    try:
        read = read_faults(json.dumps({"faults": faults}), site)
    except UnreadableSite as error:
        raise WriteRejected(error.faults[0][1], error.faults) from None
    try:
        pretend = KEEPER.start(key, site, read, boxed=fresh)
    except (CannotListen, NoRoomError, TimeoutError) as error:
        raise WriteRejected(str(error) or "The pretend site did not start in time.", status=409) from None
    targets = {name: [address, user] for name, (address, user, _) in pretend.targets.items()}
    with transaction.atomic():
        row = site_for_update(key)
        kept, _ = models.Pretend.objects.update_or_create(
            site=row,
            defaults={
                "targets": targets,
                "relay": pretend.relay or "",
                "faults": len(faults),
                "fresh": fresh,
                "by": actor.name,
            },
        )
        how = "every device in its box" if fresh else f"as planned: {count(len(targets), 'device')} answer"
        also = f", {count(len(faults), 'fault')} played" if faults else ""
        log(row, actor, "pretend.up", key, f"The pretend site is up, {how}{also}.")
    return kept


def handle_pretend(key: str, device: str, actor: Actor, what: Handling) -> None:
    """Put a pretend device into its box, plug it in, or pull its plug. Raises Rejected where it is not up."""
    row = lookup.site_row(key)
    if not models.Pretend.objects.filter(site=row).exists():
        raise WriteRejected("The pretend site is not up; keep it up first.", status=409)
    try:
        KEEPER.handle(key, device, what)
    except KeyError:
        raise WriteRejected(f"The pretend site has no device '{device}' with an address.", status=404) from None
    with transaction.atomic():
        log(site_for_update(key), actor, f"pretend.{what}", device, f"At the pretend site it {_HANDLED[what]}.")


def stop(key: str, actor: Actor) -> None:
    """Take the pretend site down; what was set on it is gone."""
    KEEPER.stop(key)
    with transaction.atomic():
        row = site_for_update(key)
        if models.Pretend.objects.filter(site=row).delete()[0]:
            log(row, actor, "pretend.down", key, "The pretend site is down again.")
