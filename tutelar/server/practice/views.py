"""The pretend site that is kept up to practise on."""

from django.http import Http404

from tutelar.core.site import Site
from tutelar.core.site.types import Device
from tutelar.server import models
from tutelar.server.practice import schemas as shapes
from tutelar.server.practice.keeper import KEEPER
from tutelar.server.sheet import shaped
from tutelar.server.store import documents
from tutelar.standin.device import pretend_code, pretend_password
from tutelar.standin.unboxed import SimulatedStatus


def pretend(row: models.Site) -> shapes.PretendSheet:
    """Return how the pretend site that is kept up stands. Raises Http404 where none is."""
    kept = models.Pretend.objects.filter(site=row).first()
    if kept is None:
        raise Http404(f"The pretend site of {row.name} is not running.")
    site, stand = documents.document(row), KEEPER.standings(row.key)
    return shapes.PretendSheet(
        fresh=kept.fresh,
        faults=kept.faults,
        by=kept.by,
        at=kept.at,
        relay=kept.relay or None,
        devices=[
            _device(site, device, stand[device.key], kept)
            for device in site.walking_order(list(site.devices))
            if device.key in stand
        ],
    )


def practised(row: models.Site, site: Site, device: Device) -> shapes.PretendRow | None:
    """Return how one device of the pretend site stands, None where the site is not running."""
    stand = KEEPER.standings(row.key).get(device.key)
    kept = models.Pretend.objects.filter(site=row).first() if stand else None
    return None if stand is None or kept is None else _device(site, device, stand, kept)


def _device(site: Site, device: Device, stand: SimulatedStatus, kept: models.Pretend) -> shapes.PretendRow:
    relayed = any(link.kind == "relays" for link in site.links_of(device.key))
    return shaped(
        shapes.PretendRow,
        stand,
        device=device.key,
        name=device.label,
        place=device.place or "No place",
        user=kept.targets[device.key][1],
        password=pretend_password(site, device.key),
        code=pretend_code(site, device.key) if relayed else None,
    )
