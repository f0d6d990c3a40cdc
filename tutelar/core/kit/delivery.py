"""What a delivery note does to the kit, row by row, said before anything is stored."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Any, Literal

from tutelar.core.kit.columns import FIELDS, plain
from tutelar.core.kit.names import Stickers
from tutelar.core.kit.note_rows import Entry, entries
from tutelar.core.site.model import Model
from tutelar.core.site.types import Device, Site
from tutelar.core.site.values import as_address, eleven_digits, plain_key, read_mac
from tutelar.core.wording import listed, sentence

Action = Literal["add", "change", "same", "skip", "refuse"]
MOST = 5_000
LONGEST_NAME = 200
_IDENTITIES = ("key", "mac", "serial", "address")
_ADDRESSING = {
    "fixed": "fixed",
    "static": "fixed",
    "manual": "fixed",
    "fest": "fixed",
    "reserved": "reserved",
    "reservation": "reserved",
    "reserviert": "reserved",
    "leased": "leased",
    "dhcp": "leased",
    "automatic": "leased",
    "auto": "leased",
    "dynamic": "leased",
}
_YES = {"yes", "y", "true", "1", "x", "ja", "oui", "si", "used", "secondhand", "gebraucht", "refurbished", "occasion"}
_NO = {"", "no", "n", "false", "0", "nein", "non", "new", "neu", "neuf", "nieuw", "nuevo"}


@dataclass(frozen=True, slots=True)
class Row:
    """What becomes of one row: `line` counts from 1 in the note, `parts` are the devices as in the document."""

    line: int
    action: Action
    sentence: str
    parts: tuple[dict[str, Any], ...] = ()


class _Reader:
    """What every row is compared with, looked up once: the kit, the models, what rows before it claimed."""

    def __init__(self, site: Site, models: Sequence[Model], defaults: Mapping[str, str]) -> None:
        self.site, self.defaults = site, defaults
        self.devices: dict[str, dict[str, Device]] = {name: {} for name in _IDENTITIES}
        for device in site.devices:
            for name in _IDENTITIES:
                private = name == "address" and device.behind is not None  # it means another address there
                if (value := getattr(device, name)) and not private:
                    self.devices[name].setdefault(str(value), device)
        self.claimed: dict[tuple[str, str], int] = {}
        self.stickers = Stickers(device.key for device in site.devices)
        self.models: dict[str, list[Model]] = {}
        for model in {model.key: model for model in models}.values():
            for word in dict.fromkeys(map(plain, (model.key, model.label, model.name or ""))):
                if word:
                    self.models.setdefault(word, []).append(model)


class _Refused(ValueError):
    pass


def delivery(
    site: Site,
    fields: Sequence[str | None],
    rows: Sequence[tuple[int, Sequence[str]]],
    defaults: Mapping[str, str],
    catalogue: Sequence[Model] = (),
) -> list[Row]:
    """Return what becomes of each (line, cells) of a delivery note whose columns hold `fields`.

    A row whose sticker, hardware address or serial number is known changes that device, every other adds one;
    `defaults` (model, place, network, addressing) stand in for empty cells; models may come from the catalogue.
    """
    reader = _Reader(site, (*catalogue, *site.models), defaults)
    found = []
    for entry in entries([(line, _cells(fields, row)) for line, row in rows], reader.models):
        found.append(_outcome(reader, entry))
        found += [Row(line, "skip", f"Goes on from row {entry.line}.") for line in entry.goes_on]
    return found


def _outcome(reader: _Reader, entry: Entry) -> Row:
    """Return what becomes of an entry: of one that names its devices one by one, of all of them alike."""
    if entry.skip or entry.refused:
        return Row(entry.line, "skip" if entry.skip else "refuse", entry.skip or entry.refused)
    if not entry.lists:
        return _row(reader, entry.line, entry.cells, entry.many)
    each = [_row(reader, entry.line, cells, 1) for cells in entry.each()]
    actions = {row.action for row in each}
    if "refuse" in actions:
        return next(row for row in each if row.action == "refuse")
    if len(actions) > 1:
        return Row(entry.line, "refuse", "Some of these stand in the kit already; give each a row of its own.")
    sentences = " ".join(row.sentence for row in each)
    return Row(entry.line, each[0].action, sentences, tuple(part for row in each for part in row.parts))


def _cells(fields: Sequence[str | None], row: Sequence[str]) -> dict[str, str]:
    return {name: row[at].strip() for at, name in enumerate(fields) if name in FIELDS and at < len(row)}


def _row(reader: _Reader, line: int, cells: dict[str, str], many: int) -> Row:
    try:
        values = _values(reader, cells)
        device = _known(reader, values, cells)
        if device is not None:
            return _changed(reader, line, device, values)
        given = {name: text for name, text in cells.items() if text}
        full = {**{name: text for name, text in reader.defaults.items() if text}, **given}
        return _added(reader, line, full, _values(reader, full), many)
    except _Refused as error:
        return Row(line, "refuse", str(error))


def _values(reader: _Reader, cells: dict[str, str]) -> dict[str, Any]:
    """Return the values of a row as the document writes them; what is not said is left out."""
    found: dict[str, Any] = {}
    if cells.get("mac"):
        mac, meant = read_mac(cells["mac"]), eleven_digits(cells["mac"])
        if meant is not None:
            raise _Refused(f"“{cells['mac']}” has eleven digits; {meant} may be meant. Read the label.")
        if mac is None:
            raise _Refused(f"“{cells['mac']}” is not a hardware address; twelve digits 0–9 and a–f are expected.")
        found["mac"] = mac
    if cells.get("serial"):
        found["serial"] = cells["serial"]
    if cells.get("name"):
        if len(cells["name"]) > LONGEST_NAME:
            raise _Refused(f"The name has {len(cells['name'])} characters; up to {LONGEST_NAME} are taken.")
        found["name"] = cells["name"]
    if cells.get("address"):
        try:
            found["address"] = str(as_address(cells["address"]))
        except ValueError as error:
            raise _Refused(sentence(error)) from None
    if cells.get("used"):
        word = plain(cells["used"])
        if word not in _YES | _NO:
            raise _Refused(f"“{cells['used']}” says neither that it is used nor that it is new; write yes or no.")
        found["used"] = word in _YES
    if place := _place(reader, cells):
        found["place"] = place
    if network := _network(reader, cells):
        found["network"] = network
    if addressing := _addressing(reader, cells):
        found["addressing"] = addressing
    return found


def _known(reader: _Reader, values: dict[str, Any], cells: dict[str, str]) -> Device | None:
    """Return the device that a row is about. Raises _Refused where its identities belong to different devices."""
    said_key = plain_key(cells.get("key", ""))
    identities = {"key": said_key, "mac": values.get("mac", ""), "serial": values.get("serial", "")}
    hits = {name: hit for name, value in identities.items() if (hit := reader.devices[name].get(value))}
    devices = {device.key: device for device in hits.values()}
    if len(devices) > 1:
        said = listed(
            [f"{FIELDS[name].lower()} {getattr(device, name)} is {device.label}" for name, device in hits.items()]
        )
        raise _Refused(f"Two devices in one row: {said}.")
    return next(iter(devices.values()), None)


def _changed(reader: _Reader, line: int, device: Device, values: dict[str, Any]) -> Row:
    fresh = {}
    for name, value in values.items():
        now = getattr(device, name)
        now = str(now) if name == "address" and now is not None else now
        if name == "network" and device.behind is not None:
            raise _Refused(f"{device.label} hangs on {reader.site.label_of(device.behind)}; take it off there first.")
        if now != value and not (name == "used" and not value and not now):
            fresh[name] = value
    if "address" in fresh and device.locked:
        raise _Refused(f"{device.label} is locked at {device.address}; unlock it first.")
    _claim(reader, line, values, device)
    if not fresh:
        return Row(line, "same", f"{device.label} stands so already.")
    said = listed([f"{FIELDS[name].lower()} {_said(value)}" for name, value in fresh.items()], 9)
    return Row(line, "change", f"{device.label} gets {said}.", ({"key": device.key, **fresh},))


def _said(value: object) -> str:
    return "yes" if value is True else "no" if value is False else str(value)


def _added(reader: _Reader, line: int, cells: dict[str, str], values: dict[str, Any], many: int) -> Row:
    model = _model(reader, cells)
    shared = next((name for name in ("mac", "serial", "address") if name in values), None)
    if many > 1 and shared:
        raise _Refused(f"{many} devices cannot share one {FIELDS[shared].lower()}; give each a row.")
    _claim(reader, line, values)
    if "network" not in values and len(reader.site.networks) == 1:
        values["network"] = reader.site.networks[0].key
    parts = []
    for _ in range(many):
        key = plain_key(cells.get("key", "")) if many == 1 and cells.get("key") else ""
        if cells.get("key") and many == 1 and not key:
            raise _Refused(f"“{cells['key']}” cannot be a sticker; small letters, digits and - are expected.")
        if key in reader.stickers:
            raise _Refused(f"The sticker {key} is taken in this note already.")
        key = key or reader.stickers.next(model.family)
        reader.stickers.take(key)
        parts.append({"key": key, "model": model.key, **values})
    keys = parts[0]["key"] if many == 1 else f"{parts[0]['key']} to {parts[-1]['key']}"
    where = f" at {values['place']}" if values.get("place") else ""
    missing = (
        "" if values.get("mac") else "; its label is still to be scanned" if many == 1 else "; labels to be scanned"
    )
    return Row(line, "add", f"{model.label} as {keys}{where}{missing}.", tuple(parts))


def _claim(reader: _Reader, line: int, values: dict[str, Any], device: Device | None = None) -> None:
    """Note what a row takes for itself. Raises _Refused for what a row before it took, or another device has."""
    for name in ("mac", "serial", "address"):
        value = values.get(name)
        if not value:
            continue
        if (first := reader.claimed.setdefault((name, value), line)) != line:
            raise _Refused(f"The {FIELDS[name].lower()} {value} stands in row {first} already.")
        holder = reader.devices[name].get(value)
        if holder is not None and holder is not device:
            raise _Refused(f"The {FIELDS[name].lower()} {value} belongs to {holder.label} already.")


def _model(reader: _Reader, cells: dict[str, str]) -> Model:
    said = cells.get("model", "")
    if not said:
        raise _Refused("No model stands in it; choose one for all rows without.")
    maker = plain(cells.get("maker", ""))
    names, word = reader.models, plain(said)
    hits = (
        names.get(word)
        or names.get(plain(cells.get("maker", "") + said))
        or [model for name, models in names.items() if len(name) >= 4 and name in word for model in models]
    )
    hits = list({model.key: model for model in hits}.values())
    if len(hits) > 1 and maker:
        hits = [model for model in hits if plain(model.maker or "") == maker] or hits
    if len(hits) > 1:
        longest = max(len(plain(model.name or model.key)) for model in hits)
        hits = [model for model in hits if len(plain(model.name or model.key)) == longest]
    if len(hits) == 1:
        return hits[0]
    if hits:
        raise _Refused(f"“{said}” may be {listed([model.label for model in hits])}; write the maker too.")
    near = get_close_matches(word, names, 1, 0.6)
    hint = f"; {names[near[0]][0].label} is the nearest" if near else ""
    raise _Refused(f"No model is called “{said}”{hint}. Add it to the catalogue or correct it.")


def _place(reader: _Reader, cells: dict[str, str]) -> str | None:
    said = cells.get("place", "")
    return next((place for place in reader.site.about.places if plain(place) == plain(said)), said) or None


def _network(reader: _Reader, cells: dict[str, str]) -> str | None:
    said = cells.get("network", "")
    if not said:
        return None
    for network in reader.site.networks:
        if plain(said) in (plain(network.key), plain(network.label)) or said == str(network.vlan):
            return network.key
    names = listed([network.label for network in reader.site.networks], 6)
    raise _Refused(f"No network is called “{said}”; there is {names}.")


def _addressing(reader: _Reader, cells: dict[str, str]) -> str | None:
    said = cells.get("addressing", "")
    if said and plain(said) not in _ADDRESSING:
        raise _Refused(f"“{said}” is no way of addressing; write fixed, reserved or leased.")
    return _ADDRESSING.get(plain(said))
