"""What is tried out of recordings, disks and feeding before it is kept: the site as it would be, and keeping it."""

import json
from collections.abc import Mapping
from datetime import date
from typing import Any

from django.db import transaction
from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator

from tutelar.core.doors.typed import INPUT_SETTINGS, INPUTS
from tutelar.core.loads.earth import KEY as EARTH
from tutelar.core.site import Site
from tutelar.core.site.base import Amount
from tutelar.core.site.connection import PoweredBy
from tutelar.core.site.feeding import Disk, Fed, PluggedInto, Raid, Supply
from tutelar.core.site.reading import sentences
from tutelar.core.site.recording import Recording
from tutelar.core.site.types import Device
from tutelar.core.site.writing import as_document
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.store import lookup
from tutelar.server.store.writes import Event, Stale, WriteRejected, bump, checked, log, log_all, site_for_update

Draft = Mapping[str, Any]  # recording, supplies, devices (by key), retention_days: what is absent stays

DEVICE_PARTS = ("disks", "raid", "fed", "plugged_into", "powered_by", "cable_m", EARTH, INPUTS)
_OWN = {EARTH: "earth", INPUTS: "inputs"}  # extensions of the document, by their names here
_WORDS = {
    "raid": "RAID level",
    "fed": "supply cable",
    "plugged_into": "data cable",
    "powered_by": "fed by",
    "cable_m": "cable length",
    EARTH: "earth conductor",
    INPUTS: "supervision inputs",
}


class _Earth(BaseModel):
    """The earth conductor of a device (core.loads.earth)."""

    model_config = ConfigDict(extra="forbid", strict=True)

    mm2: Amount | None = None
    m: Amount | None = None
    least_mm2: Amount | None = None
    most_m: Amount | None = None


def _as_day(value: str) -> str | None:
    try:
        return date.fromisoformat(value).isoformat()
    except ValueError:
        return None


class _Input(BaseModel):
    """A supervision input that is switched by decision (core.doors.typed)."""

    model_config = ConfigDict(extra="forbid", strict=True)

    on: bool
    reason: str = Field(min_length=1, max_length=500)
    review: str | None = None

    @field_validator("review")
    @classmethod
    def _is_day(cls, value: str | None) -> str | None:
        if value is None or value == _as_day(value):
            return value
        raise ValueError(f"'{value}' is no day of the calendar; one such as '2027-05-01' is expected.")


class _Parts(BaseModel):
    """The parts of a device that a draft may change, as the document has them."""

    model_config = ConfigDict(extra="forbid", strict=True)

    disks: tuple[Disk, ...] | None = None
    raid: Raid = "none"
    fed: Fed | None = None
    plugged_into: PluggedInto | None = None
    powered_by: PoweredBy | None = None
    cable_m: Amount | None = None
    earth: _Earth | None = Field(default=None, alias=EARTH)
    inputs: dict[str, _Input] | None = Field(default=None, alias=INPUTS)


class _Draft(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True)

    recording: Recording | None = None
    supplies: tuple[Supply, ...] | None = None
    devices: dict[str, _Parts] = Field(default_factory=dict)
    retention_days: int | None = None


def trial(site: Site, draft: Draft) -> Site:
    """Return the site as it would be with a draft. Raises WriteRejected for what cannot be read, with its path."""
    try:
        read = _Draft.model_validate_json(json.dumps(draft))
    except ValidationError as error:
        faults = sentences(error.errors(include_url=False))
        raise WriteRejected(faults[0][1], faults) from None
    update: dict[str, Any] = {}
    if "recording" in draft:
        update["recording"] = read.recording
    if read.supplies is not None:
        update["supplies"] = read.supplies
    if read.devices:
        strange = next((key for key in read.devices if key not in site.device_by_key), None)
        if strange is not None:
            raise WriteRejected(f"The site has no device '{strange}'.", [(f"devices.{strange}", "unknown")])
        update["devices"] = tuple(_device(item, read.devices.get(item.key)) for item in site.devices)
    if read.retention_days is not None:
        if read.retention_days < 1:
            said = f"'{read.retention_days}' is no number of days; 1 or more is expected."
            raise WriteRejected(said, [("retention_days", said)])
        update["survey"] = site.survey.model_copy(update={"retention_days": read.retention_days})
    return site.model_copy(update=update) if update else site


def _device(device: Device, parts: _Parts | None) -> Device:
    if parts is None:
        return device
    whole = parts.model_dump(mode="json", exclude_none=True)
    update = {name: getattr(parts, name) for name in parts.model_fields_set if name not in _OWN.values()}
    for key, name in _OWN.items():
        if name in parts.model_fields_set:
            update[key] = whole.get(name)
    return device.model_copy(update=update)


def parts_of(site: Site, draft: Draft) -> dict[str, Any]:
    """Return what stands in the site now of everything that a draft touches, in the shape of a draft."""
    now: dict[str, Any] = {}
    if "recording" in draft:
        now["recording"] = as_document(site.recording) if site.recording is not None else None
    if "supplies" in draft:
        now["supplies"] = [as_document(item) for item in site.supplies]
    if draft.get("devices"):
        now["devices"] = {
            key: {name: whole.get(name, "none" if name == "raid" else None) for name in parts}
            for key, parts in draft["devices"].items()
            if (device := site.device_by_key.get(key)) is not None
            for whole in (as_document(device),)
        }
    if draft.get("retention_days") is not None:
        now["retention_days"] = site.survey.retention_days
    return now


def touchable(site: Site) -> dict[str, Any]:
    """Return everything that stands in the site now and that a draft may change, in the shape of a draft."""
    devices = {}
    for device in site.devices:
        whole = as_document(device)
        parts = {name: whole[name] for name in DEVICE_PARTS if whole.get(name) not in (None, "none")}
        if parts:
            devices[device.key] = parts
    return parts_of(site, {"recording": 0, "supplies": 0}) | {
        "devices": devices,
        "retention_days": site.survey.retention_days,
    }


def keep(key: str, actor: Actor, draft: Draft, was: Draft) -> models.Site:
    """Keep a draft, all or nothing, with a line in the log for each thing that changes. `was` is what stood in its
    place when it was begun. Raises WriteRejected, and Stale where something else stands there by now."""
    with transaction.atomic():
        row = site_for_update(key)
        site = checked(row)
        then = trial(site, draft)
        before, after = parts_of(site, draft), parts_of(then, draft)
        if _plain(before) != _plain(was):
            raise Stale("What you changed", after, before, row.revision)
        events: list[Event] = []
        for name in ("recording", "supplies"):
            if name in after and after[name] != before[name]:
                others = {part: value for part, value in row.extra.items() if part != name}
                row.extra = others | ({name: after[name]} if after[name] else {})
                events.append((f"{name}.changed", row.key, _said(name, before, after), before[name], after[name]))
        if after.get("retention_days") != before.get("retention_days"):
            row.survey = {**row.survey, "retention_days": after["retention_days"]}
            days = f"Days promised: {before['retention_days'] or 'unknown'} → {after['retention_days']}."
            part = "retention_days"
            events.append(("survey.changed", row.key, days, {part: before[part]}, {part: after[part]}))
        for device, parts in after.get("devices", {}).items():
            events.extend(_keep_device(row, site, device, before["devices"][device], parts))
        checked(row)
        bump(row)
        if not events:
            return row
        many = len(events) > _APART
        deed = log(row, actor, "recording.changed", row.key, f"{len(events)} things changed.") if many else None
        log_all(row, actor, events, deed)
    return row


_APART = 3  # so many changes at once stand in the log each for itself


def _plain(parts: Draft) -> Any:
    """Return parts with what is absent and what is null alike, as JSON has them."""
    if isinstance(parts, Mapping):
        return {name: _plain(item) for name, item in parts.items() if item is not None}
    if isinstance(parts, list | tuple):
        return [_plain(item) for item in parts]
    return parts


def _keep_device(
    row: models.Site, site: Site, key: str, before: Mapping[str, Any], after: Mapping[str, Any]
) -> list[Event]:
    changed = {name: value for name, value in after.items() if before.get(name) != value}
    if not changed:
        return []
    stored = lookup.device_row(row, key)
    extra = {**stored.extra, **changed}
    stored.extra = {
        name: value
        for name, value in extra.items()
        if name not in changed or (value is not None and (name, value) != ("raid", "none"))
    }
    stored.revision += 1
    stored.save()
    label = site.label_of(key)
    return [
        (
            "device.changed",
            key,
            f"{label}: {_WORDS.get(name, name)} {_words(name, before.get(name))} → {_words(name, value)}.",
            {name: before.get(name)},
            {name: value},
        )
        for name, value in changed.items()
    ]


def _words(part: str, value: Any) -> str:
    if value is None or value == []:
        return "nothing"
    if part in _OWN:  # what a file brought there may be anything
        found = value if isinstance(value, Mapping) else {}
        said = [
            _input_words(name, item) if part == INPUTS else _earth_words(name, item) for name, item in found.items()
        ]
        return ", ".join(said) or "nothing that can be read"
    if isinstance(value, list):
        return ", ".join(f"{item['tb']:g} TB" for item in value)
    if isinstance(value, Mapping):
        where = value.get("device") or value.get("supply")
        port = f" port {value['port']}" if value.get("port") else ""
        size = f"{value['mm2']:g} mm²" if value.get("mm2") else f"AWG {value['awg']}" if value.get("awg") else ""
        metres = f", {value['m']:g} m" if value.get("m") else ""
        return f"{where}{port}{metres}{f' of {size}' if size else ''}"
    return f"{value:g} m" if isinstance(value, float) else str(value)


def _said(name: str, before: Mapping[str, Any], after: Mapping[str, Any]) -> str:
    """Return what of the recordings or supplies changed, by the words that the view has for its parts."""
    if name == "supplies":
        names = [item.get("name") or item["key"] for item in after[name]]
        return f"Power supplies: {', '.join(names) or 'none'}."
    old, new = before[name] or {}, after[name] or {}
    touched = [part for part in dict.fromkeys((*old, *new)) if old.get(part) != new.get(part)]
    words = [_PARTS.get(part, part.replace("_", " ")) for part in touched]
    return f"Recording changed: {', '.join(words) or 'all day everywhere'}."


_PARTS = {
    "usual": "usual pattern",
    "file_min": "file length",
    "disk_full": "what happens when the disk is full",
    "audio": "sound",
}


def _earth_words(name: str, figure: Any) -> str:
    units = {"mm2": "mm²", "m": "m", "least_mm2": "mm² asked for", "most_m": "m allowed"}
    return f"{figure:g} {units.get(name, name)}" if isinstance(figure, (int, float)) else f"{name} unknown"


def _input_words(name: str, decided: Any) -> str:
    label = INPUT_SETTINGS.get(f"supervise-{name}", name)
    if not isinstance(decided, Mapping) or not isinstance(decided.get("on"), bool):
        return f"{label} unknown"
    return f"{label} {'on' if decided['on'] else 'off'} ({decided.get('reason') or 'no reason'})"
