"""Starting a measuring: what is asked for is looked at, and the worker is told."""

import json
from typing import Any

from django.db import IntegrityError, transaction

from tutelar.core.proof import check_title
from tutelar.core.site import UnreadableSite
from tutelar.core.wording import count, listed
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.live.services import require_authority
from tutelar.server.proof import queries
from tutelar.server.proof.tasks import measure
from tutelar.server.store import documents, lookup
from tutelar.server.store.writes import WriteRejected, log
from tutelar.standin.faults import read_faults


def start_proof(
    key: str,
    actor: Actor,
    faults: list[dict[str, Any]],
    only: list[str] | None,
    checks: list[str] | None = None,
    *,
    live: bool = False,
) -> models.Proof:
    """Queue a measuring, of the stand-in or `live` of the real devices, of `only` some and of some `checks` where they
    are given. Raises Rejected where one is under way, the faults do not fit, or nobody answers for live work."""
    row = lookup.site_row(key)
    document = documents.document(row)
    authority = require_authority(row) if live else None
    if live and faults:
        raise WriteRejected(
            "Faults are played by the stand-in only; real devices have their own.", [("faults", "not live")]
        )
    if faults and not live and models.Pretend.objects.filter(site=row).exists():
        raise WriteRejected(
            "The pretend site is kept up as it is; take it down to play other faults.", [("faults", "kept")]
        )
    try:
        read_faults(json.dumps({"faults": faults}), document)
    except UnreadableSite as error:
        raise WriteRejected(error.faults[0][1], error.faults) from None
    if not any(device.address for device in document.devices):
        raise WriteRejected("No device has an address yet; plan the addresses first.")
    unknown = next((name for name in only or [] if name not in document.device_by_key), None)
    if unknown is not None:
        raise WriteRejected(f"The site has no device '{unknown}'.", [("only", unknown)])
    wanted = queries.measured_expectations(row, checks)
    asked = [name for name in (only if only is not None else document.device_by_key) if wanted[name]]
    for name in checks or []:
        if not any(item.check == name for device in asked for item in wanted[device]):
            raise WriteRejected(f"The check '{name}' is not measured at any of these devices.", [("checks", name)])
    try:
        with transaction.atomic():
            total = len(asked)
            proof = models.Proof.objects.create(
                site=row, faults=faults, only=only, checks=checks, by=actor.name, total=total, live=live
            )
            said = f"Measuring {count(total, 'device')} begins"
            if checks is not None:
                said += f" ({listed([check_title(name, document.about.date_order) for name in checks])})"
            if authority is not None:
                said += f" on the real networks {', '.join(authority.networks)}; {authority.person} answers for it"
            log(row, actor, "proof.started", key, f"{said}.")
    except IntegrityError:
        raise WriteRejected("This site is being measured already.", status=409) from None
    measure.enqueue(proof.pk)
    return proof
