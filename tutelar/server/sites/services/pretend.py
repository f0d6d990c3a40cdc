"""Keeping the pretend site up to practise on, as planned or as out of the box."""

import json
from typing import Any

from django.db import transaction

from tutelar.core.site import UnreadableSite
from tutelar.core.wording import count
from tutelar.server.sites import models, queries
from tutelar.server.sites.pretending import KEEPER
from tutelar.server.sites.services.base import Rejected, lock, log
from tutelar.standin.faults import read_faults
from tutelar.standin.loopback import NoRoomError
from tutelar.standin.site import CannotListen

_OUT_OF_THE_BOX = ("wrong-name", "clock-offset", "wrong-date-order")


def keep_up(key: str, by: str, faults: list[dict[str, Any]], *, fresh: bool) -> models.Pretend:
    """Start the pretend site with faults; `fresh`: every device has its factory name, date order and clock, so that it
    can be set on its page. Raises Rejected where no device has an address or the machine has no room for it."""
    row = queries.site_row(key)
    site = queries.document(row)
    if not any(device.address for device in site.devices):
        raise Rejected("No device has an address yet; plan the addresses first.")
    if fresh:
        placed = [device.key for device in site.devices if device.address is not None]
        faults = [*({"kind": kind, "device": name} for name in placed for kind in _OUT_OF_THE_BOX), *faults]
    try:
        read = read_faults(json.dumps({"faults": faults}), site)
    except UnreadableSite as error:
        raise Rejected(error.faults[0][1], error.faults) from None
    try:
        pretend = KEEPER.start(key, site, read)
    except (CannotListen, NoRoomError, TimeoutError) as error:
        raise Rejected(str(error) or "The pretend site did not start in time.", status=409) from None
    targets = {name: [address, user] for name, (address, user, _) in pretend.targets().items()}
    with transaction.atomic():
        row = lock(key)
        kept, _ = models.Pretend.objects.update_or_create(
            site=row,
            defaults={
                "targets": targets,
                "relay": pretend.relay or "",
                "faults": len(faults),
                "fresh": fresh,
                "by": by,
            },
        )
        how = "as out of the box" if fresh else "as planned"
        also = f", {count(len(faults), 'fault')} played" if faults and not fresh else ""
        log(row, by, "pretend.up", key, f"The pretend site is up, {how}{also}: {count(len(targets), 'device')} answer.")
    return kept


def take_down(key: str, by: str) -> None:
    """Take the pretend site down; what was set on it is gone."""
    KEEPER.stop(key)
    with transaction.atomic():
        row = lock(key)
        if models.Pretend.objects.filter(site=row).delete()[0]:
            log(row, by, "pretend.down", key, "The pretend site is down again.")
