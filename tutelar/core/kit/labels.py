"""What a scanned label says: hardware address, serial number, and which device it belongs to."""

import re
from dataclasses import dataclass

from tutelar.core.site.types import Device, Site
from tutelar.core.site.values import mac_or_none, read_mac

_NAMED = re.compile(
    r"\b(?P<name>mac(?:[ _-]?(?:address|id|addr))?|s/?n|serial(?:[ _-]?(?:no|number|nr))?)\b[\s:=#.]*"
    r"(?P<value>[0-9A-Za-z][0-9A-Za-z:.\-_/]*)",
    re.IGNORECASE,
)
_MAC_IN = re.compile(r"(?<![0-9A-Fa-f])(?:[0-9A-Fa-f]{2}([:\-]))(?:[0-9A-Fa-f]{2}\1){4}[0-9A-Fa-f]{2}(?![0-9A-Fa-f])")


@dataclass(frozen=True, slots=True)
class Label:
    """What one code on a label says; both are None for a code that holds neither."""

    mac: str | None
    serial: str | None


@dataclass(frozen=True, slots=True)
class Scan:
    """What a scan means for the device in hand: values to write down, the device that has them already, a sentence."""

    label: Label
    device: str | None
    sentence: str
    fits: bool


def read_label(text: str) -> Label:
    """Return what a code says. A bare hardware address, "SN: … MAC: …" in any order, or a bare serial number."""
    typed = text.strip()
    if (mac := read_mac(typed, closed_up=False)) is not None:
        return Label(mac, None)
    found: dict[str, str] = {}
    for match in _NAMED.finditer(typed):
        kind = "mac" if match["name"].lower().startswith("mac") else "serial"
        found.setdefault(kind, match["value"].rstrip(".:;,-"))
    within = _MAC_IN.search(typed)
    mac = read_mac(found.get("mac", "")) or (mac_or_none(within[0]) if within else None)
    serial = found.get("serial")
    if mac is None and serial is None and re.fullmatch(r"(?=.*\d)[0-9A-Za-z][0-9A-Za-z\-_/.]{3,39}", typed):
        serial = typed
    return Label(mac, serial)


def scan(site: Site, in_hand: Device | None, text: str) -> Scan:
    """Return what scanning `text` means while `in_hand` is the device in hand (None: find out which it is)."""
    label = read_label(text)
    if label.mac is None and label.serial is None:
        shown = text.strip()[:60]
        return Scan(label, None, f"“{shown}” is no hardware address and no serial number; scan the other code.", False)
    holder = next(
        (
            device
            for device in site.devices
            if (label.mac and label.mac in device.macs) or (label.serial and device.serial == label.serial)
        ),
        None,
    )
    said = " and ".join(filter(None, (label.mac, label.serial)))
    if holder is not None:
        here = in_hand is not None and holder.key == in_hand.key
        sentence = f"{said} is {holder.label}{', as written down' if here else ''}."
        if in_hand is not None and not here:
            sentence = f"{said} is on {holder.label} already, not on {in_hand.label}; look which box this is."
        return Scan(label, holder.key, sentence, here or in_hand is None)
    if in_hand is None:
        return Scan(label, None, f"{said} is on no device yet; choose which one it is.", True)
    if label.mac and in_hand.mac and label.mac not in in_hand.macs:
        return Scan(label, None, f"{in_hand.label} has {in_hand.mac} written down, the label says {label.mac}.", False)
    if label.serial and in_hand.serial and in_hand.serial != label.serial:
        return Scan(
            label, None, f"{in_hand.label} has {in_hand.serial} written down, the label says {label.serial}.", False
        )
    return Scan(label, None, f"{said} goes to {in_hand.label}.", True)
