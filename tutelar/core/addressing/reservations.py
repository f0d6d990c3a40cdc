"""Reservations by hardware address, ready to load into the common open DHCP servers.

Formats: dnsmasq's dhcp-host lines, ISC dhcpd's host declarations, Kea's "reservations" list (JSON).
"""

import json
from collections.abc import Callable
from dataclasses import dataclass

from tutelar.core.addressing.assignment import Assignment
from tutelar.core.site.types import Site
from tutelar.core.site.values import is_tidy_mac


@dataclass(frozen=True, slots=True)
class Reservation:
    """One device whose address the router reserves. `host` is its key, which every server takes as a name."""

    host: str
    name: str
    mac: str
    address: str
    network: str


def reservations(site: Site, assignments: tuple[Assignment, ...]) -> tuple[list[Reservation], list[str]]:
    """Return the reservations of all devices with reserved addressing, and the keys of those that cannot be
    reserved yet because their hardware address is missing or wrong."""
    found, missing = [], []
    for item in assignments:
        device = site.device_by_key[item.device]
        if device.addressing != "reserved":
            continue
        mac = device.network_mac
        if mac is None or not is_tidy_mac(mac):
            missing.append(device.key)
            continue
        host = device.key.replace(".", "-").replace("_", "-")
        found.append(Reservation(host, device.label, mac, item.address, item.network))
    return found, missing


def _dnsmasq(rows: list[Reservation]) -> str:
    return "".join(f"# {_one_line(row.name)}\ndhcp-host={row.mac},{row.address},{row.host}\n" for row in rows)


def _isc(rows: list[Reservation]) -> str:
    declaration = "# {}\nhost {} {{\n  hardware ethernet {};\n  fixed-address {};\n}}\n"
    return "".join(declaration.format(_one_line(row.name), row.host, row.mac, row.address) for row in rows)


def _kea(rows: list[Reservation]) -> str:
    entries = [{"hw-address": row.mac, "ip-address": row.address, "hostname": row.host} for row in rows]
    return json.dumps({"reservations": entries}, indent=2) + "\n"


def _one_line(text: str) -> str:
    return " ".join(text.split())


WRITERS: dict[str, Callable[[list[Reservation]], str]] = {"dnsmasq": _dnsmasq, "isc-dhcpd": _isc, "kea": _kea}
SERVERS = {"dnsmasq": "dnsmasq", "isc-dhcpd": "ISC dhcpd", "kea": "Kea"}
ENDINGS = {"dnsmasq": "conf", "isc-dhcpd": "conf", "kea": "json"}
