"""Writing devices and their addresses."""

import json
from collections import Counter
from collections.abc import Mapping
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import Q
from pydantic import ValidationError

from tutelar.core.links.rules import camera_port_refuses
from tutelar.core.site import UnreadableSite, read_site
from tutelar.core.site.base import OUTSIDE_ENDS
from tutelar.core.site.types import Link
from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.catalogue.services import take_over
from tutelar.server.store import lookup
from tutelar.server.store.changes import added, changed, removed
from tutelar.server.store.document import device_document, link_document, new_device, new_link
from tutelar.server.store.writes import Event, Stale, WriteRejected, bump, checked, log, log_all, site_for_update

_TIDIED = ("name", "place", "mac", "serial", "wifi_mac")
_APART = 3  # so many devices at once stand in the log each for itself


def change_device(key: str, device_key: str, actor: Actor, revision: int, changes: dict[str, Any]) -> models.Device:
    """Change keys of one device as in the document (not its key). Raises Rejected, Stale."""
    return change_devices(key, actor, [{"device": device_key, "revision": revision, **changes}])[0]


def change_devices(key: str, actor: Actor, changes: list[dict[str, Any]]) -> list[models.Device]:
    """Change several devices at once, all or nothing; each change names its `device` and the `revision` it is
    based on. Values may be exchanged between devices. Raises Rejected, Stale."""
    with transaction.atomic():
        row = site_for_update(key)
        events, devices = change_parts(row, changes)
        checked(row)
        bump(row)
        _log_together(row, actor, "kit.changed", "changed", devices, events)
    return devices


def _log_together(
    row: models.Site, actor: Actor, kind: str, done: str, devices: list[models.Device], events: list[Event]
) -> None:
    """Write lines about devices; of many of them under a line that says how many."""
    many = len(devices) > _APART
    deed = log(row, actor, kind, row.key, f"{count(len(devices), 'device')} {done}.") if many else None
    log_all(row, actor, events, deed)


def change_parts(row: models.Site, changes: list[dict[str, Any]]) -> tuple[list[Event], list[models.Device]]:
    """Change devices within the caller's transaction; return the lines for the log and the devices."""
    shelf = Shelf(row)
    found = {
        device.key: device
        for device in models.Device.objects.select_related("model", "network", "behind").filter(
            site=row, key__in=[item["device"] for item in changes]
        )
    }
    events, devices = [], []
    for item in changes:
        device = found.get(item["device"]) or lookup.device_row(row, item["device"])
        fresh = {name: value for name, value in item.items() if name not in ("device", "revision")}
        whole = device_document(device)
        fresh = _fed(device, whole, fresh)
        before = {name: whole.get(name) for name in fresh}
        if device.revision != item["revision"]:
            raise Stale(device.name or device.key, fresh, before, device.revision)
        moved = fresh.get("address", device.address) != device.address
        if device.locked and moved and fresh.get("locked", True):
            raise WriteRejected(f"{device.name or device.key} is locked at {device.address}; unlock it first.")
        _set(shelf, device, {**whole, **fresh})
        device.revision += 1
        devices.append(device)
        now = device_document(device)
        events.extend(changed(device, before, {name: now.get(name) for name in fresh}))
    if len(devices) > 1:  # what is exchanged between devices must not meet on the way
        models.Device.objects.filter(pk__in=[device.pk for device in devices]).update(address=None, mac=None)
    for device in devices:
        _save(device)
    return events, devices


def _fed(device: models.Device, whole: Mapping[str, Any], fresh: dict[str, Any]) -> dict[str, Any]:
    """Return changes with what feeds the device, and by which port, as the document has it."""
    if not {"feeder", "feeder_port"} & set(fresh):
        return fresh
    now = whole.get("powered_by") or {}
    feeder = fresh.pop("feeder", now.get("device"))
    port = fresh.pop("feeder_port", now.get("port") if feeder == now.get("device") else None)
    if feeder is None and port is not None:
        sentence = f"Say first what feeds {device.name or device.key}; port {port} is a port of that."
        raise WriteRejected(sentence, [("feeder_port", sentence)])
    if feeder == device.key:
        sentence = f"{device.name or device.key} cannot feed itself; choose the switch, recorder or injector that does."
        raise WriteRejected(sentence, [("feeder", sentence)])
    if feeder is not None and feeder != now.get("device"):
        lookup.device_row(device.site, feeder)
    return {**fresh, "powered_by": {"device": feeder, "port": port} if feeder else None}


class Shelf:
    """The networks, models and recorders of a site, looked up once for many devices."""

    def __init__(self, row: models.Site) -> None:
        self.row = row
        self.networks = {item.key: item for item in models.Network.objects.filter(site=row)}
        self.kinds = {item.key: item for item in models.DeviceModel.objects.filter(site=row)}

    def kind(self, key: str) -> models.DeviceModel:
        """Return the site's model, taken over from the catalogue where the site lacks it."""
        if key not in self.kinds:
            self.kinds[key] = take_over(self.row, key)
        return self.kinds[key]


def _set(shelf: Shelf, device: models.Device, part: dict[str, Any]) -> None:
    """Set a device row from a device of the document, after reading it the way a site file is read."""
    row = shelf.row
    _readable(row, part)
    shelf.kind(part["model"])
    if part.get("network") is not None and part["network"] not in shelf.networks:
        raise WriteRejected(f"The site has no network '{part['network']}'.", [("network", "unknown")])
    if part.get("network") and part.get("behind"):
        raise WriteRejected("A device is in a network or behind a recorder, not both.", [("network", "both given")])
    fresh = new_device(row, device.position, part, shelf.networks, shelf.kinds)
    hung = device.behind_id if device.pk else None
    for name in ("model", "network", "name", "place", "mac", "serial", "addressing", "locked", "extra"):
        setattr(device, name, getattr(fresh, name))
    device.address = part.get("address")
    device.behind = lookup.device_row(row, part["behind"]) if part.get("behind") else None
    if device.behind is not None and device.behind.pk != hung:
        name, recorder = device.name or device.key, device.behind.name or device.behind.key
        if refused := camera_port_refuses(device.model.family, name, recorder):
            raise WriteRejected(" ".join(refused), [("behind", refused[0])])


def _readable(row: models.Site, part: dict[str, Any]) -> None:
    if part.get("addressing", "") is None:
        del part["addressing"]  # as the site's policy says
    frame = {"format": "tutelar-site", "version": 1, "site": {"key": row.key, "name": row.name}, "devices": [part]}
    try:
        tidy = read_site(json.dumps(frame)).devices[0]
    except UnreadableSite as error:
        faults = [(path.removeprefix("devices[0]."), reason) for path, reason in error.faults]
        raise WriteRejected(faults[0][1], faults) from None
    part.update({name: getattr(tidy, name) for name in _TIDIED if part.get(name) is not None})


def _save(device: models.Device) -> None:
    try:
        with transaction.atomic():
            device.save()
    except IntegrityError:
        same = models.Device.objects.filter(site=device.site).exclude(pk=device.pk)
        holder = same.filter(behind=device.behind, address=device.address).exclude(address=None).first()
        if holder is not None:
            sentence = f"{device.address} belongs to {holder.name or holder.key} already; choose a free address."
            raise WriteRejected(sentence, [("address", sentence)]) from None
        holder = same.filter(mac=device.mac).exclude(mac=None).first()
        if holder is not None:
            sentence = f"The hardware address {device.mac} is on {holder.name or holder.key} already; read both labels."
            raise WriteRejected(sentence, [("mac", sentence)]) from None
        raise WriteRejected(
            f"There is a device '{device.key}' already; choose another key.", [("key", "taken")]
        ) from None


def add_device(key: str, actor: Actor, part: dict[str, Any]) -> models.Device:
    """Add a device as in the document. Raises Rejected."""
    with transaction.atomic():
        row = site_for_update(key)
        devices, events = put_on(row, [part])
        checked(row)
        bump(row)
        log_all(row, actor, events)
    return devices[0]


def put_on(
    row: models.Site, parts: list[dict[str, Any]], positions: dict[str, int] | None = None
) -> tuple[list[models.Device], list[Event]]:
    """Add devices as in the document within the caller's transaction, at the end or where they stood.

    Raises Rejected.
    """
    shelf = Shelf(row)
    if positions is None:  # another device under a key that was used before has none of what that one had
        keys = [part.get("key") for part in parts]
        models.SecretUse.objects.filter(site=row, device_key__in=keys).delete()
        models.ValueTick.objects.filter(site=row, subject__in=keys).delete()
    last = models.Device.objects.filter(site=row).order_by("-position").first()
    position = last.position + 1 if last else 0
    devices, events = [], []
    for at, part in enumerate(parts):
        place = (positions or {}).get(str(part.get("key")), position + at)
        device = models.Device(site=row, position=place, key=str(part.get("key", "")))
        _set(shelf, device, dict(part))
        _save(device)
        devices.append(device)
        events.append(added(device, part))
    return devices, events


def restore(
    key: str, actor: Actor, parts: list[dict[str, Any]], links: list[dict[str, Any]], positions: dict[str, int]
) -> models.Site:
    """Put devices and links back as they were when they were removed, all or nothing. Raises Rejected."""
    with transaction.atomic():
        row = site_for_update(key)
        devices, events = put_on(row, sorted(parts, key=lambda part: bool(part.get("behind"))), positions)
        ends = {device.key: device for device in models.Device.objects.filter(site=row)}
        last = models.Link.objects.filter(site=row).order_by("-position").first()
        for at, part in enumerate(links):
            link = _link_of(part)
            missing = next((end for end in (link.from_, link.to) if end not in ends and end not in OUTSIDE_ENDS), None)
            if missing is not None:
                raise WriteRejected(f"The site has no device '{missing}' any more; its link cannot come back.")
            new_link(row, (last.position if last else 0) + 1 + at, part, ends).save()
        checked(row)
        bump(row)
        _log_together(row, actor, "kit.restored", "put back", devices, events)
    return row


def _link_of(part: dict[str, Any]) -> Link:
    try:
        return Link.model_validate(part)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(step) for step in first["loc"])
        raise WriteRejected(
            f"A link cannot come back: its '{where}' is missing or wrong.", [(where, first["msg"])]
        ) from None


def remove_devices(key: str, actor: Actor, devices: list[tuple[str, int]]) -> dict[str, Any]:
    """Remove devices (key, revision) with their links and readings, all or nothing; the log keeps what they were.

    Return {"devices", "links"} as in the document and {"positions"} by key, so that they can be put back.
    """
    with transaction.atomic():
        row = site_for_update(key)
        found = {
            device.key: device
            for device in models.Device.objects.select_related("model", "network", "behind").filter(
                site=row, key__in=[device_key for device_key, _ in devices]
            )
        }
        gone = [found.get(device_key) or lookup.device_row(row, device_key) for device_key, _ in devices]
        names = {device.pk for device in gone}
        left_behind = Counter(
            models.Device.objects.filter(site=row, behind__in=names)
            .exclude(pk__in=names)
            .values_list("behind", flat=True)
        )
        parts, events = [], []
        for device, (_, revision) in zip(gone, devices, strict=True):
            whole = device_document(device)
            if device.revision != revision:
                raise Stale(device.name or device.key, None, whole, device.revision)
            if hidden := left_behind[device.pk]:
                said = count(hidden, "camera hangs", "cameras hang")
                raise WriteRejected(f"{said} on {device.name or device.key}; move them first.")
            parts.append(whole)
            events.append(removed(device, whole))
        cut = models.Link.objects.select_related("start", "end").filter(Q(start__in=names) | Q(end__in=names), site=row)
        links = [link_document(link) for link in cut]
        models.Device.objects.filter(pk__in=names, behind__isnull=False).delete()
        models.Device.objects.filter(pk__in=names).delete()
        row.exceptions = [item for item in row.exceptions if item["device"] not in found]
        bump(row)
        _log_together(row, actor, "kit.removed", "removed", gone, events)
    return {"devices": parts, "links": links, "positions": {device.key: device.position for device in gone}}
