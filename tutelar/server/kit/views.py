"""What the kit shows."""

from tutelar.core.kit.names import PREFIXES, Stickers
from tutelar.core.kit.used import used_steps
from tutelar.core.loads.budget import can_feed
from tutelar.core.progress import unidentified
from tutelar.core.site import Model, Site
from tutelar.server import models
from tutelar.server.catalogue.services import catalogue_models
from tutelar.server.kit import schemas as shapes
from tutelar.server.sheet import problem_rows, shaped
from tutelar.server.store import documents

# Families of problems that are put right in the kit: what is on labels, and what is fed, cabled, kept.
_SHOWN = (
    "mac",
    "serial",
    "name",
    "device",
    "key",
    "switch",
    "cable",
    "uplink",
    "supply",
    "panel",
    "recording",
    "stream",
)


def kit(row: models.Site) -> shapes.Kit:
    """Return the kit: devices, models, networks and places to choose from."""
    site = documents.document(row)
    rows = {
        key: (revision, own)
        for key, revision, own in models.Device.objects.filter(site=row).values_list("key", "revision", "addressing")
    }
    stickers = Stickers(rows)
    return shapes.Kit(
        revision=row.revision,
        devices=[
            shaped(
                shapes.KitDevice,
                device,
                family=site.family_of(device),
                revision=rows[device.key][0],
                addressing=rows[device.key][1],
                address=None if device.address is None else str(device.address),
                feeder=device.powered_by and device.powered_by.device,
                feeder_port=device.powered_by and device.powered_by.port,
                used_steps=list(used_steps(site, device)),
            )
            for device in site.devices
        ],
        models=_choices(site),
        unread=unidentified(site),
        networks=[shapes.NetworkChoice(key=network.key, label=network.label) for network in site.networks],
        places=list(site.about.places),
        addressing=site.policy.addressing or "fixed",
        next_keys={family: stickers.next(family) for family in PREFIXES},
        problems=problem_rows(documents.planned(row).problems, *_SHOWN),
    )


def _choices(site: Site) -> list[shapes.ModelRow]:
    here = [_choice(model, here=True) for model in site.models]
    return here + [_choice(model, here=False) for model in catalogue_models() if model.key not in site.model_by_key]


def _choice(model: Model, *, here: bool) -> shapes.ModelRow:
    return shapes.ModelRow(
        key=model.key,
        family=model.family,
        label=model.label,
        here=here,
        camera_ports=model.camera_ports is not None,
        feeds=can_feed(model),
    )
