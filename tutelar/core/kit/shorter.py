"""The name as a device can show it: within its length and characters, still distinct and readable."""

from collections.abc import Iterable

from anyascii import anyascii

from tutelar.core.site.model import NameRule
from tutelar.core.site.types import Device, Site

_LEAST = 3  # a word is cut down to this many letters before a whole word goes


def shown_names(site: Site) -> dict[str, str]:
    """Return by device key the name to type on each device that has one; where a name does not fit, a shorter one.

    Names that fit stay as they are. Two that become the same are told apart by a number at the end.
    """
    rules = {model.key: model.name_rule for model in site.models if model.name_rule}
    named = [(device.key, device.name, rules.get(device.model)) for device in site.devices if device.name]
    fits = {key: name for key, name, rule in named if rule is None or fitted(name, rule) == name}
    taken = set(fits.values())
    found: dict[str, str] = {}
    for key, name, rule in named:
        if rule is None or key in fits:
            found[key] = name
            continue
        found[key] = _distinct(fitted(name, rule), rule.max, taken)
        taken.add(found[key])
    return found


def shown_name(site: Site, device: Device) -> str | None:
    """Return the name to type on one device, None where it has none."""
    model = site.model_of(device)
    rule = model.name_rule if model else None
    if not device.name or rule is None or fitted(device.name, rule) == device.name:
        return device.name
    return shown_names(site)[device.key]


def fitted(name: str, rule: NameRule) -> str:
    """Return the name in the device's characters and within its length; letters it lacks become their nearest."""
    text = " ".join(writable(name, rule.charset).split())
    return text if rule.max is None or len(text) <= rule.max else _cut(text, rule.max)


def writable(text: str, charset: str) -> str:
    """Return the text with each letter that the character set lacks written in plain letters (AnyAscii)."""
    return "".join(letter if shows(letter, charset) else anyascii(letter) for letter in text)


def shows(letter: str, charset: str) -> bool:
    """Return whether a letter is in a device's character set."""
    return charset == "any" or ord(letter) < (128 if charset == "ascii" else 256)


def _cut(text: str, most: int) -> str:
    """Return the text shortened: the longest words lose their ends first; then the middle goes, the last word stays,
    for it tells neighbours apart ("east", "3")."""
    words = text.split()
    while len(" ".join(words)) > most:
        at = max(range(len(words)), key=lambda index: (_spare(words[index]), -index))
        if _spare(words[at]) == 0:
            break
        words[at] = words[at][:-1]
    while len(" ".join(words)) > most and len(words) > 2:
        del words[-2]
    short = " ".join(words)
    if len(short) > most and len(words) == 2 and len(words[1]) + 2 <= most:
        short = f"{words[0][: most - len(words[1]) - 1]} {words[1]}"
    return short[:most].rstrip()


def _spare(word: str) -> int:
    return 0 if any(letter.isdigit() for letter in word) else max(0, len(word) - _LEAST)


def _distinct(name: str, most: int | None, taken: Iterable[str]) -> str:
    if name not in taken:
        return name
    for number in range(2, 10_000):
        ending = f" {number}" if most is None or most > len(f" {number}") else str(number)
        head = name if most is None else name[: max(0, most - len(ending))].rstrip()
        if (other := f"{head}{ending}".strip()) not in taken and (most is None or len(other) <= most):
            return other
    return name
