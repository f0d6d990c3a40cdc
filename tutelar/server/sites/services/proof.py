"""Starting, ending and keeping measurements."""

import json
from collections.abc import Callable
from datetime import datetime
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

from tutelar.core.links.measured import link_readings
from tutelar.core.proof import device_state, latest
from tutelar.core.site import Reading, UnreadableSite
from tutelar.core.wording import count
from tutelar.server.sites import models, queries
from tutelar.server.sites.services.base import Rejected, bump, lock, log
from tutelar.server.sites.services.live import require_authority
from tutelar.server.sites.services.secrets import count_refused


def start_proof(
    key: str, by: str, faults: list[dict[str, Any]], only: list[str] | None, *, live: bool = False
) -> models.Proof:
    """Queue a measuring, of the stand-in or `live` of the real devices. Raises Rejected where one is under way, the
    faults do not fit, or nobody answers for live work."""
    from tutelar.server.sites.tasks import measure  # noqa: PLC0415  the task itself calls this module
    from tutelar.standin.faults import read_faults  # noqa: PLC0415

    row = queries.site_row(key)
    document = queries.document(row)
    authority = require_authority(row) if live else None
    if live and faults:
        raise Rejected("Faults are played by the stand-in only; real devices have their own.", [("faults", "not live")])
    try:
        read_faults(json.dumps({"faults": faults}), document)
    except UnreadableSite as error:
        raise Rejected(error.faults[0][1], error.faults) from None
    if not any(device.address for device in document.devices):
        raise Rejected("No device has an address yet; plan the addresses first.")
    unknown = next((name for name in only or [] if name not in document.device_by_key), None)
    if unknown is not None:
        raise Rejected(f"The site has no device '{unknown}'.", [("only", unknown)])
    try:
        with transaction.atomic():
            total = len(only) if only is not None else len(document.devices)
            proof = models.Proof.objects.create(site=row, faults=faults, only=only, by=by, total=total, live=live)
            said = f"Measuring {count(total, 'device')} begins"
            if authority is not None:
                said += f" on the real networks {', '.join(authority.networks)}; {authority.person} answers for it"
            log(row, by, "proof.started", key, f"{said}.")
    except IntegrityError:
        raise Rejected("This site is being measured already.", status=409) from None
    measure.enqueue(proof.pk)
    return proof


def cancel_proof(key: str, number: int, by: str) -> models.Proof:
    """Stop a measuring; what was read until then is kept."""
    with transaction.atomic():
        row = lock(key)
        proof = queries.proof_row(row, number)
        if proof.state in ("waiting", "running"):
            end_proof(proof, "cancelled", f"Stopped by {by}.")
    return proof


def end_proof(proof: models.Proof, state: str, message: str, now: Callable[[], datetime] = timezone.now) -> None:
    """Close a measuring with its result, and say so in the log."""
    proof.state, proof.message, proof.finished_at = state, message, now()
    proof.save(update_fields=["state", "message", "finished_at"])
    log(proof.site, proof.by, f"proof.{state}", proof.site.key, message)


def keep_readings(proof: models.Proof, readings: list[Reading]) -> None:
    """Store readings of a measuring as they come, and what they prove of links."""
    at = timezone.now()
    if any(item.check in ("linked", "records", "relay") for item in readings):
        readings = [*readings, *link_readings(queries.links_known(proof.site), readings)]
    devices = {device.key: device for device in models.Device.objects.filter(site=proof.site)}
    models.Reading.objects.bulk_create(
        models.Reading(
            site=proof.site, device=devices[item.device], proof=proof, check_name=item.check, result=item.result, at=at,
            rest={"expected": item.expected, "measured": item.measured, "took_ms": item.took_ms,
                  "at": at.isoformat(timespec="seconds"), "by": proof.by,
                  **({} if item.offset_s is None else {"offset_s": item.offset_s}),
                  **({} if item.basis is None else {"basis": item.basis})},
        )
        for item in readings if item.device in devices
    )  # fmt: skip
    if proof.live:  # a real device counts the passwords that it refused
        for item in readings:
            if item.check == "login" and item.result == "fail":
                count_refused(proof.site.key, item.device, proof.by, taken=False)


def lock_proven(proof: models.Proof) -> int:
    """Lock the address of every device whose readings are all fresh and passed; return how many were open before."""
    with transaction.atomic():
        row = lock(proof.site.key)
        site = queries.document(row, fresh=True)
        wanted = queries.expectations(row)
        last = latest(site.readings)
        proven = [
            device.key for device in site.devices
            if not device.locked and device.address
            and device_state(True, True, wanted[device.key], last) == "proven"
        ]  # fmt: skip
        rows = list(models.Device.objects.filter(site=row, key__in=proven))
        for device in rows:
            device.locked = True
            device.revision += 1
        models.Device.objects.bulk_update(rows, ["locked", "revision"], batch_size=300)
        if rows:
            bump(row)
            sentence = f"{count(len(rows), 'proven address', 'proven addresses')} locked."
            log(row, proof.by, "address.locked", row.key, sentence, None, proven)
    return len(rows)
