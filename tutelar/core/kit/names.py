"""Keys and names for devices: the next free sticker of a family, names from place and kind by a pattern."""

import re
from collections.abc import Iterable, Mapping, Sequence

from tutelar.core.site.model import NameRule
from tutelar.core.site.types import Device, Site
from tutelar.core.wording import capital

PREFIXES = {
    "camera": "cam",
    "recorder": "rec",
    "software-recorder": "soft",
    "encoder": "enc",
    "joystick-desk": "desk",
    "door-station": "gate",
    "indoor-monitor": "mon",
    "call-server": "call",
    "panel": "door",
    "reader": "read",
    "keypad": "pad",
    "alarm-hub": "hub",
    "doorbell": "bell",
    "switch": "switch",
    "router": "router",
    "injector": "inj",
    "other": "dev",
}
KINDS = {
    "camera": "camera",
    "recorder": "recorder",
    "software-recorder": "recorder",
    "encoder": "encoder",
    "joystick-desk": "desk",
    "door-station": "door station",
    "indoor-monitor": "monitor",
    "call-server": "call server",
    "panel": "door panel",
    "reader": "reader",
    "keypad": "keypad",
    "alarm-hub": "alarm hub",
    "doorbell": "doorbell",
    "switch": "switch",
    "router": "router",
    "injector": "injector",
    "other": "device",
}
TOKENS = ("place", "kind", "n", "nn", "key", "model")


class Stickers:
    """The keys in use; gives the next one of a family, one above its highest: "cam-25"."""

    def __init__(self, taken: Iterable[str]) -> None:
        self._taken: set[str] = set()
        self._highest = dict.fromkeys(PREFIXES.values(), 0)
        self._width = {prefix: 2 if prefix == PREFIXES["camera"] else 1 for prefix in PREFIXES.values()}
        for key in taken:
            self.take(key)

    def __contains__(self, key: str) -> bool:
        return key in self._taken

    def take(self, key: str) -> None:
        """Note a key as taken, so that the next one is higher."""
        self._taken.add(key)
        prefix, _, number = key.rpartition("-")
        if prefix in self._highest and number.isascii() and number.isdigit() and len(number) < 10:
            self._highest[prefix] = max(self._highest[prefix], int(number))
            self._width[prefix] = max(self._width[prefix], len(number))

    def next(self, family: str) -> str:
        """Return the next free key of a family, numbered as wide as those there are."""
        prefix = PREFIXES.get(family, PREFIXES["other"])
        return f"{prefix}-{self._highest[prefix] + 1:0{self._width[prefix]}d}"


def names_by_pattern(site: Site, keys: Sequence[str], pattern: str) -> dict[str, str]:
    """Return a name for each device by the pattern: unique at the site, within each model's length.

    Tokens: {place} {kind} {n} {nn} {key} {model}; {n} counts devices with otherwise the same name, in the order
    given. A name longer than its device takes loses the end of its place. Raises ValueError for a pattern
    with an unknown token, or one that cannot tell two devices apart.
    """
    unknown = next((token for token in re.findall(r"\{([^}]*)\}", pattern) if token not in TOKENS), None)
    if unknown is not None or pattern.count("{") != pattern.count("}"):
        token = "{" + (unknown or "") + "}"
        raise ValueError(f"'{token}' is not known in a name pattern; use {', '.join('{' + t + '}' for t in TOKENS)}")
    chosen = set(keys)
    taken = {device.name for device in site.devices if device.name and device.key not in chosen}
    numbers: dict[str, int] = {}
    result: dict[str, str] = {}
    for key in keys:
        device = site.device_by_key[key]
        values = _values(site, device)
        stem = _filled(pattern, {**values, "n": "", "nn": ""})
        number = numbers.get(stem, 0)
        while True:
            number += 1
            name = _within(_rule(site, device), pattern, {**values, "n": str(number), "nn": f"{number:02d}"})
            if name not in taken:
                break
            if "{n}" not in pattern and "{nn}" not in pattern:
                raise ValueError(f"the pattern '{pattern}' gives '{name}' twice; put {{n}} into it")
        numbers[stem] = number
        taken.add(name)
        result[key] = name
    return result


def _values(site: Site, device: Device) -> dict[str, str]:
    model = site.model_of(device)
    return {
        "place": device.place or "",
        "kind": KINDS.get(site.family_of(device), "device"),
        "key": device.key,
        "model": (model.name or model.key) if model else device.model,
    }


def _rule(site: Site, device: Device) -> NameRule | None:
    model = site.model_of(device)
    return model.name_rule if model else None


def _filled(pattern: str, values: Mapping[str, str]) -> str:
    name = re.sub(r"\{(\w+)\}", lambda match: values[match[1]], pattern)
    name = " ".join(name.split())
    return capital(name)


def _within(rule: NameRule | None, pattern: str, values: dict[str, str]) -> str:
    name = _filled(pattern, values)
    while rule is not None and rule.max is not None and len(name) > rule.max and values["place"]:
        values = values | {"place": values["place"][:-1].rstrip()}
        name = _filled(pattern, values)
    return name[: rule.max].rstrip() if rule is not None and rule.max is not None else name
