"""Writing devices and their addresses."""

import json
from typing import Any

from django.db import IntegrityError, transaction

from tutelar.core.addressing import plan
from tutelar.core.site import UnreadableSite, read_site
from tutelar.core.wording import count
from tutelar.server.sites import models, queries
from tutelar.server.sites.document import device_document, new_device
from tutelar.server.sites.services.base import Rejected, Stale, bump, checked, lock, log


def apply_plan(key: str, by: str, revision: int) -> models.Site:
    """Give every device its planned address; what is set stays."""
    with transaction.atomic():
        row = lock(key)
        if row.revision != revision:
            raise Stale("The site", {"revision": revision}, {"revision": row.revision}, row.revision)
        fresh = {
            item.device: item.address for item in plan(queries.document(row)).assignments if item.source == "planned"
        }
        devices = list(models.Device.objects.filter(site=row, key__in=fresh))
        for device in devices:
            device.address = fresh[device.key]
            device.revision += 1
        models.Device.objects.bulk_update(devices, ["address", "revision"], batch_size=300)
        if devices:
            bump(row)
            sentence = f"{count(len(devices), 'address', 'addresses')} planned."
            log(row, by, "plan.applied", key, sentence, None, fresh)
    return row


def change_device(key: str, device_key: str, by: str, revision: int, changes: dict[str, Any]) -> models.Device:
    """Change keys of one device as in the document (not its key). Raises Rejected, Stale."""
    with transaction.atomic():
        row = lock(key)
        device = queries.device_row(row, device_key)
        whole = device_document(device)
        before = {name: whole.get(name) for name in changes}
        if device.revision != revision:
            raise Stale(device.name or device.key, changes, before, device.revision)
        if (
            device.locked
            and "address" in changes
            and changes["address"] != device.address
            and changes.get("locked", True)
        ):
            raise Rejected(f"{device.name or device.key} is locked at {device.address}; unlock it first.")
        _set(row, device, {**whole, **changes})
        device.revision += 1
        _save(device)
        checked(row)
        bump(row)
        log(row, by, "device.changed", device_key, _changed(device, before, changes), before, changes)
    return device


def _changed(device: models.Device, before: dict[str, Any], after: dict[str, Any]) -> str:
    parts = [f"{name} {_plain(before[name])} → {_plain(after[name])}" for name in after]
    return f"{device.name or device.key}: {'; '.join(parts)}."


def _plain(value: Any) -> str:
    return "nothing" if value in (None, "") else "yes" if value is True else "no" if value is False else str(value)


def _set(row: models.Site, device: models.Device, part: dict[str, Any]) -> None:
    """Set a device row from a device of the document, after reading it the way a site file is read."""
    _readable(row, part)
    networks = {item.key: item for item in models.Network.objects.filter(site=row)}
    kinds = {item.key: item for item in models.DeviceModel.objects.filter(site=row)}
    if part["model"] not in kinds:
        raise Rejected(f"The site has no model '{part['model']}'.", [("model", "unknown")])
    if part.get("network") is not None and part["network"] not in networks:
        raise Rejected(f"The site has no network '{part['network']}'.", [("network", "unknown")])
    if part.get("network") and part.get("behind"):
        raise Rejected("A device is in a network or behind a recorder, not both.", [("network", "both given")])
    fresh = new_device(row, device.position, part, networks, kinds)
    for name in ("model", "network", "name", "place", "mac", "serial", "addressing", "locked", "rest"):
        setattr(device, name, getattr(fresh, name))
    device.address = part.get("address")
    device.behind = queries.device_row(row, part["behind"]) if part.get("behind") else None


def _readable(row: models.Site, part: dict[str, Any]) -> None:
    frame = {"format": "tutelar-site", "version": 1, "site": {"key": row.key, "name": row.name}, "devices": [part]}
    try:
        tidy = read_site(json.dumps(frame)).devices[0]
    except UnreadableSite as error:
        faults = [(path.removeprefix("devices[0]."), reason) for path, reason in error.faults]
        raise Rejected(faults[0][1], faults) from None
    if tidy.mac is not None:
        part["mac"] = tidy.mac


def _save(device: models.Device) -> None:
    try:
        with transaction.atomic():
            device.save()
    except IntegrityError:
        same = models.Device.objects.filter(site=device.site).exclude(pk=device.pk)
        holder = same.filter(behind=device.behind, address=device.address).exclude(address=None).first()
        if holder is not None:
            sentence = f"{device.address} belongs to {holder.name or holder.key} already; choose a free address."
            raise Rejected(sentence, [("address", sentence)]) from None
        holder = same.filter(mac=device.mac).exclude(mac=None).first()
        if holder is not None:
            sentence = f"The hardware address {device.mac} is on {holder.name or holder.key} already; read both labels."
            raise Rejected(sentence, [("mac", sentence)]) from None
        raise Rejected(f"There is a device '{device.key}' already; choose another key.", [("key", "taken")]) from None


def add_device(key: str, by: str, part: dict[str, Any]) -> models.Device:
    """Add a device as in the document. Raises Rejected."""
    with transaction.atomic():
        row = lock(key)
        last = models.Device.objects.filter(site=row).order_by("-position").first()
        device = models.Device(site=row, position=last.position + 1 if last else 0, key=str(part.get("key", "")))
        _set(row, device, part)
        _save(device)
        checked(row)
        bump(row)
        log(row, by, "device.added", device.key, f"{device.name or device.key} added.", None, part)
    return device


def remove_device(key: str, device_key: str, by: str, revision: int) -> None:
    """Remove a device with its links and readings; the log keeps what it was."""
    with transaction.atomic():
        row = lock(key)
        device = queries.device_row(row, device_key)
        whole = device_document(device)
        if device.revision != revision:
            raise Stale(device.name or device.key, None, whole, device.revision)
        hidden = models.Device.objects.filter(behind=device).count()
        if hidden:
            raise Rejected(
                f"{count(hidden, 'camera hangs', 'cameras hang')} on {device.name or device.key}; move them first."
            )
        device.delete()
        bump(row)
        log(row, by, "device.removed", device_key, f"{device.name or device.key} removed.", whole, None)
