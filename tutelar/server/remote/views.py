"""Remote access as it is shown."""

from typing import cast

from tutelar.core.reach import Ends
from tutelar.core.remote import METHODS, Standing, method_of, standing_of, tied_devices
from tutelar.core.remote.steps import Known
from tutelar.core.site.types import Site
from tutelar.server import models
from tutelar.server.remote import queries
from tutelar.server.remote import schemas as shapes
from tutelar.server.store import documents


def remote_sheet(row: models.Site) -> shapes.RemoteSheet:
    """Return the remote access of a site: the chosen way and every device's steps."""
    site = documents.document(row)
    known, ends = queries.known_of(row), Ends(site, documents.planned(row))
    chosen = method_of(site)
    return shapes.RemoteSheet(
        method=cast(shapes.MethodKey, chosen[0]) if chosen is not None else None,
        why=chosen[1]["why"] if chosen is not None else "",
        by=chosen[1]["by"] if chosen is not None else "",
        methods=[
            shapes.MethodRow(key=cast(shapes.MethodKey, key), title=way.title, reason=way.reason, risk=way.risk)
            for key, way in METHODS.items()
        ],
        wanted_by=list(site.survey.remote_viewing or ()),
        devices=[
            _device(site, standing_of(site, device, ends, known.get(device.key, Known())))
            for device in tied_devices(site)
        ],
    )


def _device(site: Site, standing: Standing) -> shapes.RemoteDevice:
    device, owner = standing.device, standing.owner
    model = site.model_of(device)
    return shapes.RemoteDevice(
        key=device.key,
        name=device.label,
        place=device.place,
        serial=device.serial,
        used=device.used,
        tied=any(link.kind == "relays" for link in site.links_of(device.key)),
        owner=owner.state if owner is not None else "unknown",
        account=owner.account if owner is not None else None,
        owner_note=owner.note if owner is not None else None,
        owner_by=owner.by if owner is not None else None,
        steps=[
            shapes.RemoteStep(
                item=item.item,
                title=item.step.title,
                do=item.step.do,
                asks=item.step.asks,
                state=item.state,
                waits_for=item.waits_for,
                ticked=not item.step.only_so,
                by=item.tick.by if item.tick is not None else None,
                at=item.tick.at if item.tick is not None else None,
                note=item.tick.note if item.tick is not None else None,
            )
            for item in standing.steps
        ],
        open=sum(1 for item in standing.steps if item.state in ("open", "waits")),
        apps=[shapes.AppRow(for_=app.for_, system=app.system, source=app.from_) for app in (model.apps or ()) if model]
        if model is not None
        else [],
    )
