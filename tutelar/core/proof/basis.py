"""What a proof depends on besides what it expects in words: whose change makes exactly the proofs on it stale.

A measured picture on a channel depends on the camera's address, port and password and on both units; a clock depends
on the unit and the time zone. Every proof depends on the unit itself: another one has proven nothing yet.
"""

from collections.abc import Mapping

from tutelar.core.links.base import login_slot
from tutelar.core.links.registry import kind_of
from tutelar.core.proof.ties import recordings, registration
from tutelar.core.site.types import Device, Link, Site

Marks = Mapping[tuple[str, str], str]  # what a kept secret is known by, by (device key, slot)
_PARTNERED = {
    "test-call": frozenset({"registers-at", "extends", "calls"}),
    "door-opens": frozenset({"registers-at", "reads-for", "manages"}),
    "egress": frozenset({"registers-at", "reads-for", "manages"}),
}
WORDS = {
    "hardware": "another unit is there now",
    "password": "the password was changed",
    "account": "the account was changed",
    "time-zone": "the time zone was changed",
    "camera": "the camera's address or port was changed",
    "recorder": "another recorder is there now",
    "home": "the main station's address, port or unit was changed",
    "way-out": "the gateway or DNS server was changed",
    "address": "the address was changed",
    "channels": "other channels are recorded now",
    "partners": "it is linked to others now",
    "certificate": "another certificate was accepted",
}


def basis(
    site: Site, device: Device, checks: list[str], addresses: Mapping[str, str], marks: Marks
) -> dict[str, dict[str, str]]:
    """Return by check what it depends on today; what is not known is left out."""
    unit = {"hardware": device.mac or device.serial or ""}
    found = {}
    for check in checks:
        more = _more(site, device, check, addresses, marks)
        found[check] = {key: value for key, value in (unit | more).items() if value}
    return found


def _more(site: Site, device: Device, check: str, addresses: Mapping[str, str], marks: Marks) -> dict[str, str]:
    own = site.links_of(device.key)
    at = addresses.get(device.key, "")
    if check == "login":
        slot = login_slot(site, device)
        return {"account": slot, "password": marks.get((device.key, slot), "")}
    if check == "certificate":
        return {"certificate": device.certificate or ""}
    if check == "clock":
        return {"time-zone": site.about.time_zone or ""}
    if check in ("linked", "records"):
        links = recordings(site, device)
        held = {"camera": f"{at} {_port(site, links[0], device)}", "password": _login(site, device, marks)}
        return {"recorder": " ".join(_unit(site, link.to) for link in links)} | (held if check == "linked" else {})
    if check == "registered":
        home = registration(site, device)
        if home is None:
            return {}
        port = _port(site, home, site.device_by_key[home.to])
        where = f"{addresses.get(home.to, '')} {port} {_unit(site, home.to)}"
        return {"home": where, "password": marks.get((home.to, "registration"), "")}
    if check in ("relay", "phone-picture"):
        network = site.network_by_key.get(device.network or "")
        way = f"{network.gateway} {' '.join(map(str, network.dns))}" if network else ""
        return {"address": at, "way-out": way}
    if check == "plays-back":
        recorded = sorted(f"{link.from_}:{link.slot}" for link in own if link.kind == "records")
        return {"channels": " ".join(recorded)}
    if check in _PARTNERED:
        ends = {end for link in own if link.kind in _PARTNERED[check] for end in (link.from_, link.to)}
        return {"partners": " ".join(sorted(ends - {device.key}))}
    return {}


def _port(site: Site, link: Link, held: Device) -> str:
    services = site.services_of(held)
    return str(next((services[name] for name in kind_of(site, link).asks if name in services), ""))


def _login(site: Site, device: Device, marks: Marks) -> str:
    return marks.get((device.key, login_slot(site, device)), "")


def _unit(site: Site, key: str) -> str:
    device = site.device_by_key.get(key)
    return (device.mac or device.serial or key) if device else key
