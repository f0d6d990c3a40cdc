"""What can be judged of an item: a rating against the place, a region against the time zone, a packet size against the
line, a signal, so many screws of so many. And what is listed below an item of the site's own facts."""

from collections import Counter
from collections.abc import Callable, Iterator
from functools import cache
from importlib.resources import files
from typing import NamedTuple

from tutelar.core.site.closing import WHOM
from tutelar.core.site.types import Device, Site
from tutelar.core.wording import capital, count

_WHOLE_PACKET = 1500  # Ethernet, IEEE 802.3
_PPP = 1492  # less the 8 bytes of RFC 2516
_IP_AND_ICMP, _IP_AND_TCP = 28, 40  # IPv4 without options (RFC 791, 792, 9293)
_WEAK_DBM = -70.0


class Verdict(NamedTuple):
    """Whether what is there is right, and why in a sentence."""

    right: bool
    said: str


def rating(site: Site, device: Device | None, _value: str | float | None, _of: float | None) -> Verdict | None:
    """Judge the rating of a device against its place."""
    model = site.model_of(device) if device is not None else None
    if device is None or model is None or model.outdoor is None or device.outdoors is None:
        return None
    if device.outdoors and not model.outdoor:
        return Verdict(False, f"{model.label} is made for indoors; {device.label} stands outdoors.")
    return Verdict(True, f"{model.label} may stand there.")


@cache
def _countries() -> dict[str, str]:
    text = (files("tzdata") / "zoneinfo" / "iso3166.tab").read_text("utf-8")
    rows = (line.split("\t") for line in text.splitlines() if line and not line.startswith("#"))
    return {name.casefold(): code for code, name in rows}


@cache
def _codes_of_zones() -> dict[str, frozenset[str]]:
    found: dict[str, set[str]] = {}
    for name in ("zone.tab", "zone1970.tab"):
        for line in (files("tzdata") / "zoneinfo" / name).read_text("utf-8").splitlines():
            if line and not line.startswith("#"):
                codes, _, zone, *_ = line.split("\t")
                found.setdefault(zone, set()).update(codes.split(","))
    return {zone: frozenset(codes) for zone, codes in found.items()}


def region(site: Site, _device: Device | None, value: str | float | None, _of: float | None) -> Verdict | None:
    """Judge the country that was chosen at the first start against the site's time zone (IANA zone.tab)."""
    zone, typed = site.about.time_zone, str(value or "").strip()
    codes = _codes_of_zones().get(zone or "")
    if codes is None or not typed:
        return None
    code = typed.upper() if typed.upper() in _countries().values() else _countries().get(typed.casefold())
    if code is None:
        return None
    if code in codes:
        return Verdict(True, f"{typed} keeps the time of {zone}.")
    wrong = "it hides functions and sets another mains frequency and broadcast standard"
    return Verdict(False, f"{typed} does not keep the time of {zone}; a wrong region is hard to undo: {wrong}.")


def packet(site: Site, _device: Device | None, value: str | float | None, _of: float | None) -> Verdict | None:
    """Judge a packet size against the kind of line."""
    if not isinstance(value, int | float):
        return None
    size = int(value)
    sums = f"ping payload {size - _IP_AND_ICMP}, TCP segment {size - _IP_AND_TCP}"
    if size > _WHOLE_PACKET:
        return Verdict(False, f"{size} is more than the {_WHOLE_PACKET} of an ordinary network.")
    told = site.internet.mtu if site.internet is not None else None
    if told is not None and size > told:
        return Verdict(False, f"The line passes {told} at most; {size} is broken up or lost.")
    if size < 1280:
        return Verdict(False, f"{size} is less than any usual line passes ({_PPP} over PPP, 1280 at least).")
    return Verdict(True, f"{size}: {sums}.")


def signal(_site: Site, _device: Device | None, value: str | float | None, _of: float | None) -> Verdict | None:
    """Judge a Wi-Fi signal in dBm."""
    if not isinstance(value, int | float):
        return None
    if value > 0:
        return Verdict(False, f"{value:g} dBm cannot be: a signal is below 0.")
    if value < _WEAK_DBM:
        return Verdict(False, f"{value:g} dBm is weak; better than {_WEAK_DBM:g} is wanted for a picture.")
    return Verdict(True, f"{value:g} dBm is enough.")


def number(_site: Site, _device: Device | None, value: str | float | None, of: float | None) -> Verdict | None:
    """Judge so many of so many."""
    if not isinstance(value, int | float) or of is None:
        return None
    if value == of:
        return Verdict(True, f"All {of:g} are in.")
    wrong = f"{of - value:g} missing" if value < of else f"{value - of:g} too many"
    return Verdict(False, f"{value:g} of {of:g}: {wrong}.")


JUDGES: dict[str, Callable[[Site, Device | None, str | float | None, float | None], Verdict | None]] = {
    "rating": rating,
    "region": region,
    "packet": packet,
    "signal": signal,
    "count": number,
}


def listing(site: Site, device: Device | None, what: str | None) -> list[str]:
    """Return what is listed below an item."""
    return list(_LISTS[what](site, device)) if what else []


def _apps(site: Site, _device: Device | None) -> Iterator[str]:
    used = {device.model for device in site.devices}
    for model in site.models:
        for app in (model.apps or ()) if model.key in used else ():
            system = f" on {app.system}" if app.system else ""
            source = f"from {app.from_}" if app.from_ else "nobody wrote where from"
            yield f"{app.for_}{system}, {source} ({model.label})"


def _signs(site: Site, device: Device | None) -> Iterator[str]:
    model = site.model_of(device) if device is not None else None
    for sign in (model.signs or ()) if model is not None else ():
        lasts = f", {sign.seconds:g} s" if sign.seconds else ""
        yield f"{sign.sign}: {sign.means}{lasts}"


def _firmware(site: Site, _device: Device | None) -> Iterator[str]:
    used = {device.model for device in site.devices if device.key not in site.wired}
    for model in site.models:
        if model.key in used and model.services:
            yield model.label


def _licences(site: Site, _device: Device | None) -> Iterator[str]:
    channels = Counter(link.to for link in site.links if link.kind == "records")
    for device in site.devices:
        model = site.model_of(device)
        if model is not None and model.licence_per is not None:
            number_ = channels[device.key] if model.licence_per == "channel" else 1
            yield f"{device.label}: {count(number_, 'licence')}, one a {model.licence_per}"
        elif model is not None and model.capacity is not None and model.capacity.licences is not None:
            wanted = count(channels[device.key], "channel")
            yield f"{device.label}: {wanted}, {model.capacity.licences} included"


def _packet(site: Site, _device: Device | None) -> Iterator[str]:
    size = site.internet.mtu if site.internet is not None else None
    if size is not None:
        yield f"Packet {size} bytes, ping payload {size} − {_IP_AND_ICMP} = {size - _IP_AND_ICMP}"
        yield f"TCP segment {size} − {_IP_AND_TCP} = {size - _IP_AND_TCP}"


def _questions(site: Site, _device: Device | None) -> Iterator[str]:
    for item in site.asked:
        if item.open:
            yield f"{capital(WHOM[item.of])}: {item.question}"


def _codes(site: Site, _device: Device | None) -> Iterator[str]:
    for device in site.devices:
        if device.key not in site.wired and any(link.kind == "relays" for link in site.links_of(device.key)):
            yield device.label


def _disks(_site: Site, device: Device | None) -> Iterator[str]:
    for at, disk in enumerate((device.disks or ()) if device is not None else (), 1):
        yield f"Bay {disk.bay or at}: {disk.tb:g} TB" + (f", {disk.model}" if disk.model else "")


_LISTS: dict[str, Callable[[Site, Device | None], Iterator[str]]] = {
    "apps": _apps,
    "signs": _signs,
    "firmware": _firmware,
    "licences": _licences,
    "packet": _packet,
    "questions": _questions,
    "codes": _codes,
    "disks": _disks,
}
