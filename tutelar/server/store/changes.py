"""What was changed of devices as lines of the log: one a device and value, old and new."""

from collections.abc import Iterator, Mapping
from typing import Any

from tutelar.server import models
from tutelar.server.store.writes import Event

_WORDS = {"mac": "hardware address", "wifi_mac": "Wi-Fi address", "behind": "recorder it hangs on", "services": "port"}
_TOLD = ("address", "serial", "mac")


def changed(device: models.Device, before: Mapping[str, Any], after: Mapping[str, Any]) -> list[Event]:
    """Return a line for each value of `after` that `before` does not hold; a value that stays gives none."""
    label, found = device.name or before.get("name") or device.key, []
    then, now = dict(_flat(before)), dict(_flat(after))
    for path in dict.fromkeys((*then, *now)):
        if path[0] not in after or then.get(path) == now.get(path):
            continue
        old, new = then.get(path), now.get(path)
        word = " ".join((_WORDS.get(path[0], path[0].replace("_", " ")), *path[1:]))
        sentence, name = f"{label}: {word} {_plain(old)} → {_plain(new)}.", path[0]
        found.append(("device.changed", device.key, sentence, {name: before.get(name)}, {name: after[name]}))
    return found


def moved(devices: list[models.Device], before: Mapping[str, str | None]) -> list[Event]:
    """Return a line for each device whose address is another one than before (by key)."""
    return [
        line
        for device in devices
        for line in changed(device, {"address": before.get(device.key)}, {"address": device.address})
    ]


def added(device: models.Device, part: Mapping[str, Any]) -> Event:
    """Return the line of a device that came to the site, with all by which it may be looked for."""
    return ("device.added", device.key, f"{device.name or device.key} added{_known_by(part)}.", None, dict(part))


def removed(device: models.Device, part: Mapping[str, Any]) -> Event:
    """Return the line of a device that left the site, with all by which it may be looked for."""
    return ("device.removed", device.key, f"{device.name or device.key} removed{_known_by(part)}.", dict(part), None)


def _known_by(part: Mapping[str, Any]) -> str:
    known = [f"{_WORDS.get(name, name)} {part[name]}" for name in _TOLD if part.get(name)]
    return f": {', '.join(known)}" if known else ""


def _flat(values: Mapping[str, Any]) -> Iterator[tuple[tuple[str, ...], Any]]:
    for name, value in values.items():
        if isinstance(value, Mapping) and value:
            yield from (((name, *path), inner) for path, inner in _flat(value))
        else:
            yield (name,), value


def _plain(value: Any) -> str:
    if isinstance(value, list):
        return ", ".join(map(_plain, value)) or "nothing"
    return "nothing" if value in (None, "", {}) else "yes" if value is True else "no" if value is False else str(value)
