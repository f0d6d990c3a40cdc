"""Starting, ending and keeping measurements."""

import re
from collections.abc import Callable
from datetime import datetime

from django.db import transaction
from django.utils import timezone

from tutelar.core.links.measured import link_readings
from tutelar.core.links.registry import link_index
from tutelar.core.proof import Observation, device_state, proving_sources, short_mark
from tutelar.core.site import Reading
from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.proof import queries
from tutelar.server.secrets.services import count_refused
from tutelar.server.store import documents, lookup
from tutelar.server.store.readings import reading_row
from tutelar.server.store.secret_marks import all_secret_marks
from tutelar.server.store.writes import Event, WriteRejected, bump, log, log_all, site_for_update


def cancel_proof(key: str, number: int, actor: Actor) -> models.Proof:
    """Stop a measuring; what was read until then is kept."""
    with transaction.atomic():
        row = site_for_update(key)
        proof = lookup.proof_row(row, number)
        if proof.state in ("waiting", "running"):
            end_proof(proof, "cancelled", f"Stopped by {actor.name}.")
    return proof


def _worker(proof: models.Proof) -> Actor:
    """Return who measures: the worker, for the person who asked for it."""
    return Actor(proof.by, origin="worker")


def end_proof(proof: models.Proof, state: str, message: str, now: Callable[[], datetime] = timezone.now) -> None:
    """Close a measuring with its result, and say so in the log."""
    proof.state, proof.message, proof.finished_at = state, message, now()
    proof.save(update_fields=["state", "message", "finished_at"])
    log(proof.site, _worker(proof), f"proof.{state}", proof.site.key, message)


def keep_readings(proof: models.Proof, readings: list[Reading]) -> None:
    """Store readings of a measuring as they come, and what they prove of links."""
    at = timezone.now()
    if any(item.check in ("linked", "records", "relay") for item in readings):
        site = documents.document(proof.site)
        known = link_index(site, documents.planned(proof.site).addresses(), None, all_secret_marks(proof.site))
        readings = [*readings, *link_readings(known, readings)]
    keys = {item.device for item in readings}
    devices = {device.key: device for device in models.Device.objects.filter(site=proof.site, key__in=keys)}
    models.Reading.objects.bulk_create(
        reading_row(
            proof.site, devices[item.device], item.model_copy(update={"from_": _source(proof)}), at, proof.by, proof
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
    if (
        not taken
        or models.FailedLogins.objects.filter(device__site=proof.site, device__key=device, number__gt=0).exists()
    ):
        count_refused(proof.site.key, device, _worker(proof), taken=taken)


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
        if key in right and (mark := item.certificate) is not None and "certificate" not in devices[key].extra
    }
    if first and _source(proof) in proving_sources(documents.document(proof.site)):
        pin(proof.site.key, first, _worker(proof))


def _source(proof: models.Proof) -> str:
    """Return where the readings of a measuring are from."""
    return "site" if proof.live else "pretend"


def pin(key: str, marks: dict[str, str], actor: Actor) -> None:
    """Keep the fingerprints (SHA-256) by which devices are known from now on."""
    with transaction.atomic():
        row = site_for_update(key)
        found = list(models.Device.objects.filter(site=row, key__in=marks))
        events: list[Event] = []
        for device in found:
            before, device.extra["certificate"] = device.extra.get("certificate"), marks[device.key]
            device.revision += 1
            sentence = (
                f"{device.name or device.key}: the certificate {short_mark(marks[device.key])} is the pinned one now."
            )
            events.append(("certificate.pinned", device.key, sentence, before, marks[device.key]))
        models.Device.objects.bulk_update(found, ["extra", "revision"], batch_size=300)
        bump(row)
        said = f"{count(len(found), 'certificate')} pinned."
        deed = log(row, actor, "certificates.pinned", row.key, said) if len(found) > 1 else None
        log_all(row, actor, events, deed)


def accept_certificate(key: str, device: str, actor: Actor) -> None:
    """Pin the certificate that a device showed last. Raises Rejected where it showed none."""
    row = lookup.site_row(key)
    stored = lookup.device_row(row, device)
    last = queries.evidence(row, device, "certificate")
    mark = re.search(r"(?:[0-9A-F]{2}:){31}[0-9A-F]{2}", last.text) if last is not None else None
    if mark is None:
        raise WriteRejected(f"{stored.name or device} has shown no certificate yet; measure it first.")
    pin(key, {device: mark[0]}, actor)


def lock_proven(proof: models.Proof) -> int:
    """Lock the address of every device whose readings are all fresh and passed; return how many were open before.

    What the pretend site showed counts on a practice site only (see `queries.readings`).
    """
    with transaction.atomic():
        row = site_for_update(proof.site.key)
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
            deed = log(row, _worker(proof), "addresses.locked", row.key, sentence, None, proven)
            lines: list[Event] = [
                ("address.locked", item.key, f"{item.name or item.key}: {item.address} proven, locked.", None, None)
                for item in rows
            ]
            log_all(row, _worker(proof), lines, deed)
    return len(rows)
