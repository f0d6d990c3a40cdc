"""Starting, ending and keeping measurements."""

import json
import re
from collections.abc import Callable
from datetime import datetime
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

from tutelar.core.links.known import Known
from tutelar.core.links.measured import link_readings
from tutelar.core.proof import Observation, check_title, device_state
from tutelar.core.proof.checks import short_mark
from tutelar.core.site import Reading, UnreadableSite
from tutelar.core.wording import count, listed
from tutelar.server import models
from tutelar.server.live.services import require_authority
from tutelar.server.proof import queries
from tutelar.server.secrets import queries as secrets_queries
from tutelar.server.secrets.services import count_refused
from tutelar.server.store import documents, lookup
from tutelar.server.store.writes import Rejected, bump, lock, log


def start_proof(
    key: str,
    by: str,
    faults: list[dict[str, Any]],
    only: list[str] | None,
    checks: list[str] | None = None,
    *,
    live: bool = False,
) -> models.Proof:
    """Queue a measuring, of the stand-in or `live` of the real devices, of `only` some and of some `checks` where they
    are given. Raises Rejected where one is under way, the faults do not fit, or nobody answers for live work."""
    from tutelar.server.proof.tasks import measure  # noqa: PLC0415  the task itself calls this module
    from tutelar.standin.faults import read_faults  # noqa: PLC0415

    row = lookup.site_row(key)
    document = documents.document(row)
    authority = require_authority(row) if live else None
    if live and faults:
        raise Rejected("Faults are played by the stand-in only; real devices have their own.", [("faults", "not live")])
    if faults and not live and models.Pretend.objects.filter(site=row).exists():
        raise Rejected("The pretend site is kept up as it is; take it down to play other faults.", [("faults", "kept")])
    try:
        read_faults(json.dumps({"faults": faults}), document)
    except UnreadableSite as error:
        raise Rejected(error.faults[0][1], error.faults) from None
    if not any(device.address for device in document.devices):
        raise Rejected("No device has an address yet; plan the addresses first.")
    unknown = next((name for name in only or [] if name not in document.device_by_key), None)
    if unknown is not None:
        raise Rejected(f"The site has no device '{unknown}'.", [("only", unknown)])
    wanted = queries.measured_expectations(row, checks)
    asked = [name for name in (only if only is not None else document.device_by_key) if wanted[name]]
    for name in checks or []:
        if not any(item.check == name for device in asked for item in wanted[device]):
            raise Rejected(f"The check '{name}' is not measured at any of these devices.", [("checks", name)])
    try:
        with transaction.atomic():
            total = len(asked)
            proof = models.Proof.objects.create(
                site=row, faults=faults, only=only, checks=checks, by=by, total=total, live=live
            )
            said = f"Measuring {count(total, 'device')} begins"
            if checks is not None:
                said += f" ({listed([check_title(name, document.about.date_order) for name in checks])})"
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
        proof = lookup.proof_row(row, number)
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
        site = documents.document(proof.site)
        known = Known(
            site, documents.planned(proof.site).addresses(), None, secrets_queries.all_secret_marks(proof.site)
        )
        readings = [*readings, *link_readings(known, readings)]
    keys = {item.device for item in readings}
    devices = {device.key: device for device in models.Device.objects.filter(site=proof.site, key__in=keys)}
    models.Reading.objects.bulk_create(
        models.Reading(
            site=proof.site,
            device=devices[item.device],
            proof=proof,
            check_name=item.check,
            result=item.result,
            at=at,
            rest={
                "expected": item.expected,
                "measured": item.measured,
                "took_ms": item.took_ms,
                "at": at.isoformat(timespec="seconds"),
                "by": proof.by,
                **({} if item.offset_s is None else {"offset_s": item.offset_s}),
                **({} if item.basis is None else {"basis": item.basis}),
            },
        )
        for item in readings
        if item.device in devices
    )
    if proof.live:  # a real device counts the passwords that it refused
        for item in readings:
            if item.check == "login" and item.result in ("pass", "fail"):
                _count(proof, item.device, taken=item.result == "pass")
            elif item.check == "factory-login" and item.result == "pass":
                _count(proof, item.device, taken=False)


def _count(proof: models.Proof, device: str, *, taken: bool) -> None:
    """Count what a real device counts: a refused login, or that it took one where it had refused some."""
    if not taken or models.Refusals.objects.filter(device__site=proof.site, device__key=device, number__gt=0).exists():
        count_refused(proof.site.key, device, proof.by, taken=taken)


def keep_seen(proof: models.Proof, readings: list[Reading], seen: dict[str, Observation]) -> None:
    """Store what came over the wire of each device in place of what came before, and pin the certificate that a device
    showed at first contact, where it is surely the device."""
    at = timezone.now()
    devices = {device.key: device for device in models.Device.objects.filter(site=proof.site, key__in=seen)}
    rows = [
        models.Evidence(site=proof.site, device=devices[key], source=source, text=text, at=at)
        for key, item in seen.items()
        if key in devices
        for source, text in item.evidence.items()
    ]
    models.Evidence.objects.bulk_create(
        rows, update_conflicts=True, unique_fields=["device", "source"], update_fields=["text", "at"]
    )
    right = {item.device for item in readings if item.check == "right-device" and item.result == "pass"}
    first = {
        key: mark.fingerprint
        for key, item in seen.items()
        if key in right and (mark := item.certificate) is not None and "certificate" not in devices[key].rest
    }
    if first:
        pin(proof.site.key, first, proof.by)


def pin(key: str, marks: dict[str, str], by: str) -> None:
    """Keep the fingerprints (SHA-256) by which devices are known from now on."""
    with transaction.atomic():
        row = lock(key)
        found = list(models.Device.objects.filter(site=row, key__in=marks))
        for device in found:
            before, device.rest["certificate"] = device.rest.get("certificate"), marks[device.key]
            device.revision += 1
            sentence = (
                f"{device.name or device.key}: the certificate {short_mark(marks[device.key])} is the pinned one now."
            )
            log(row, by, "certificate.pinned", device.key, sentence, before, marks[device.key])
        models.Device.objects.bulk_update(found, ["rest", "revision"], batch_size=300)
        bump(row)


def accept_certificate(key: str, device: str, by: str) -> None:
    """Pin the certificate that a device showed last. Raises Rejected where it showed none."""
    row = lookup.site_row(key)
    stored = lookup.device_row(row, device)
    last = queries.evidence(row, device, "certificate")
    mark = re.search(r"(?:[0-9A-F]{2}:){31}[0-9A-F]{2}", last.text) if last is not None else None
    if mark is None:
        raise Rejected(f"{stored.name or device} has shown no certificate yet; measure it first.")
    pin(key, {device: mark[0]}, by)


def lock_proven(proof: models.Proof) -> int:
    """Lock the address of every device whose readings are all fresh and passed; return how many were open before."""
    with transaction.atomic():
        row = lock(proof.site.key)
        site = documents.document(row)
        wanted = queries.measured_expectations(row)
        last = queries.readings(row)
        proven = [
            device.key
            for device in site.devices
            if not device.locked and device.address and device_state(True, True, wanted[device.key], last) == "proven"
        ]
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
