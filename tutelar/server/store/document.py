"""Rows to document and back. The document is the core's; nothing is decided here."""

from collections.abc import Iterable, Mapping
from typing import Any

from django.db.models import Model

from tutelar.core.site import Site, site_from
from tutelar.core.site.base import OUTSIDE_ENDS
from tutelar.core.site.writing import as_document
from tutelar.server import models
from tutelar.server.store.readings import last_readings, reading_parts, store_given

_DEVICE_COLUMNS = ("name", "place", "mac", "serial", "addressing", "address", "locked")
_DEVICE_KEYS = ("model__key", "network__key", "behind__key")
_LINK_COLUMNS = ("kind", "outside", "slot", "side")
_LINK_KEYS = ("start__key", "end__key")


def document_of(row: models.Site, *, readings: bool = True) -> dict[str, Any]:
    """Return the whole site document from its rows, with the last reading of each check if wanted."""
    site_id = row.pk
    devices = models.Device.objects.filter(site=site_id).values("key", *_DEVICE_KEYS, *_DEVICE_COLUMNS, "extra")
    taken = models.Reading.objects.filter(site=site_id) if readings else models.Reading.objects.none()
    links = models.Link.objects.filter(site=site_id).values(*_LINK_KEYS, *_LINK_COLUMNS, "extra")
    return {
        "format": "tutelar-site",
        "version": 1,
        "site": {"key": row.key, "name": row.name, **row.about},
        "internet": row.internet,
        "networks": [part.extra | {"key": part.key, "cidr": part.cidr} for part in _parts(models.Network, row)],
        "models": [part.extra | {"key": part.key, "family": part.family} for part in _parts(models.DeviceModel, row)],
        "devices": [_device(device) for device in devices],
        "links": [_link(link) for link in links],
        "policy": row.policy,
        **({"survey": row.survey} if row.survey else {}),
        "readings": list(reading_parts(site_of(row), last_readings(taken))) if readings and taken.exists() else [],
        "exceptions": row.exceptions,
        **({"doors": row.doors} if row.doors else {}),
        **row.extra,
    }


def _parts(kind: Any, row: models.Site) -> Iterable[Any]:
    return kind.objects.filter(site=row).order_by("position")  # type: ignore[no-any-return]


def device_document(device: models.Device) -> dict[str, Any]:
    """Return a device row as in the document."""
    return _device(_values(device, ("key", *_DEVICE_KEYS, *_DEVICE_COLUMNS, "extra")))


def _device(values: Mapping[str, Any]) -> dict[str, Any]:
    return {
        "key": values["key"],
        "model": values["model__key"],
        "network": values["network__key"],
        "behind": values["behind__key"],
        **{name: values[name] for name in _DEVICE_COLUMNS if name != "addressing"},
        **({"addressing": values["addressing"]} if values["addressing"] else {}),
        **values["extra"],
    }


def link_document(link: models.Link) -> dict[str, Any]:
    """Return a link row as in the document."""
    return _link(_values(link, (*_LINK_KEYS, *_LINK_COLUMNS, "extra")))


def _link(values: Mapping[str, Any]) -> dict[str, Any]:
    to = values["end__key"] or values["outside"]
    side = {"side": values["side"]} if values["side"] else {}
    return {
        "kind": values["kind"],
        "from": values["start__key"],
        "to": to,
        "slot": values["slot"],
        **side,
        **values["extra"],
    }


def _values(item: Model, names: Iterable[str]) -> dict[str, Any]:
    """Return columns of a row by the names of a query: `model__key` is the key of its model, None where it has none."""
    found = {}
    for name in names:
        here: Any = item
        for part in name.split("__"):
            here = getattr(here, part) if here is not None else None
        found[name] = here
    return found


def site_of(row: models.Site) -> Site:
    """Return the core's site for the rows, without its readings: they are many, and are looked up where they count."""
    return site_from(document_of(row, readings=False))


# parts of the document without a column of their own
_WHOLE = ("recording", "supplies", "access", "alarm", "routing", "ownership", "checklist", "asked", "sign_off")


def store_parts(row: models.Site, site: Site) -> None:
    """Write the parts of a new site's document as rows. The caller has a transaction open.

    Expects a document whose references all lead somewhere; the database refuses doubled addresses and slots.
    """
    whole = as_document(site)
    row.about = {name: value for name, value in whole["site"].items() if name not in ("key", "name")}
    row.internet, row.policy = whole.get("internet"), whole.get("policy", {})
    row.survey, row.exceptions = whole.get("survey", {}), whole.get("exceptions", [])
    row.doors = whole.get("doors", [])
    row.extra = {name: value for name, value in whole.items() if name.startswith("x-") or name in _WHOLE}
    row.save()
    networks = _store(models.Network, row, whole.get("networks", []), ("key", "cidr"))
    kinds = _store(models.DeviceModel, row, whole.get("models", []), ("key", "family"))
    devices: dict[str, models.Device] = {}
    for position, part in enumerate(whole.get("devices", [])):
        devices[part["key"]] = new_device(row, position, part, networks, kinds)
    models.Device.objects.bulk_create(devices.values())
    hidden = [part for part in whole.get("devices", []) if part.get("behind")]
    for part in hidden:
        devices[part["key"]].behind = devices[part["behind"]]
        devices[part["key"]].address = part.get("address")
    models.Device.objects.bulk_update([devices[part["key"]] for part in hidden], ["behind", "address"], batch_size=300)
    models.Link.objects.bulk_create(
        new_link(row, position, part, devices) for position, part in enumerate(whole.get("links", []))
    )
    store_given(row, devices, whole.get("readings", []))


def _store(kind: Any, row: models.Site, parts: list[dict[str, Any]], columns: tuple[str, ...]) -> dict[str, Any]:
    rows = [
        kind(
            site=row,
            position=position,
            extra={name: value for name, value in part.items() if name not in columns},
            **{name: part[name] for name in columns},
        )
        for position, part in enumerate(parts)
    ]
    kind.objects.bulk_create(rows)
    return {item.key: item for item in rows}


def new_device(
    row: models.Site, position: int, part: dict[str, Any], networks: dict[str, Any], kinds: dict[str, Any]
) -> models.Device:
    """Return an unsaved device row; who it is behind is set by the caller."""
    known = {"key", "model", "network", "behind", *_DEVICE_COLUMNS}
    columns = {name: part[name] for name in _DEVICE_COLUMNS if name in part}
    if part.get("behind"):
        columns["address"] = None  # set together with `behind`: it is unique among that recorder's cameras only
    return models.Device(
        site=row,
        position=position,
        key=part["key"],
        model=kinds[part["model"]],
        network=networks[part["network"]] if part.get("network") else None,
        extra={name: value for name, value in part.items() if name not in known},
        **columns,
    )


def new_link(row: models.Site, position: int, part: dict[str, Any], devices: dict[str, Any]) -> models.Link:
    """Return an unsaved link row."""
    outside = part["to"] if part["to"] in OUTSIDE_ENDS and part["to"] not in devices else ""
    return models.Link(
        site=row,
        position=position,
        kind=part["kind"],
        start=devices[part["from"]],
        end=None if outside else devices[part["to"]],
        outside=outside,
        slot=part.get("slot"),
        side=part.get("side") or "",
        extra={name: value for name, value in part.items() if name not in ("kind", "from", "to", "slot", "side")},
    )
