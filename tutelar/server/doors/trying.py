"""Trying a door at a pretend site that is kept up: its panel is asked over the network, and says what is seen."""

from collections.abc import Collection

from asgiref.sync import async_to_sync

from tutelar.core.doors.circuit import DoorFault
from tutelar.core.site.doors import Door
from tutelar.field.connect import ConnectError
from tutelar.field.doors import try_door
from tutelar.field.guard import Guard
from tutelar.field.http import ProtocolError
from tutelar.server import models
from tutelar.server.practice.keeper import KEEPER
from tutelar.server.proof import targets
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected

_PAGES = (("web-tls", True), ("web", False))


def asked_at_panel(row: models.Site, door: Door, does: str, faults: Collection[DoorFault]) -> str | None:
    """Return what a panel that is kept up says when something is done at its door; None where none is kept up or it has
    no page. `faults` are planted there first. Raises WriteRejected where it does not
    answer as a panel does."""
    kept = models.Pretend.objects.filter(site=row).first()
    if kept is None or door.panel is None or door.number is None or door.panel not in kept.targets:
        return None
    site = documents.document(row)
    services = site.services_of(site.device_by_key[door.panel])
    page = next(((services[name], secure) for name, secure in _PAGES if name in services), None)
    target = targets.kept_up(kept, site)[1].get(door.panel)
    if page is None or target is None or target.account is None:
        return None
    KEEPER.plant(row.key, door.panel, door.number, faults)
    try:
        return async_to_sync(try_door)(
            Guard(),
            target.address,
            target.port(page[0]),
            target.account,
            door.number,
            does,
            secure=page[1],
            reached=target.port,
        )
    except (ConnectError, ProtocolError) as error:
        said = f"The panel of the pretend site does not say it: {error}."
        raise WriteRejected(said, [("panel", str(error))], status=409) from None
