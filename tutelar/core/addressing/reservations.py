"""Reservations by hardware address, ready to load into the common open DHCP servers.

Formats: dnsmasq's dhcp-host lines, ISC dhcpd's subnet and host declarations, Kea's "Dhcp4" configuration (JSON). Each
loads as it is; merged into a running configuration it is the part that concerns our devices.
"""

import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from tutelar.core.addressing.assignment import Assignment
from tutelar.core.site.types import Network, Site
from tutelar.core.site.values import free_key, is_tidy_mac


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
    found: list[Reservation] = []
    missing, hosts = [], set[str]()
    for item in assignments:
        device = site.device_by_key[item.device]
        if device.addressing != "reserved":
            continue
        mac = device.network_mac
        if mac is None or not is_tidy_mac(mac):
            missing.append(device.key)
            continue
        host = free_key(device.key, hosts, "device")
        hosts.add(host)
        found.append(Reservation(host, device.label, mac, item.address, item.network))
    return found, missing


@dataclass(frozen=True, slots=True)
class ReservedNetwork:
    """A network with its reservations, and the names of devices whose hardware address is not known yet."""

    network: Network
    rows: tuple[Reservation, ...]
    missing: tuple[str, ...]

    @property
    def heading(self) -> tuple[str, ...]:
        """The lines that say which network it is and what is missing."""
        lines = [f"{_one_line(self.network.label)}, {self.network.cidr}"]
        if self.missing:
            lines.append(f"No hardware address yet: {', '.join(map(_one_line, self.missing))}")
        return tuple(lines)


def by_network(site: Site, assignments: tuple[Assignment, ...]) -> list[ReservedNetwork]:
    """Return the reservations of each network that has any, or a device that waits for one, in the site's order."""
    found, missing = reservations(site, assignments)
    waiting = [site.device_by_key[key] for key in missing]
    networks = [
        ReservedNetwork(
            network,
            tuple(row for row in found if row.network == network.key),
            tuple(f"{device.label} ({device.key})" for device in waiting if device.network == network.key),
        )
        for network in site.networks
    ]
    return [item for item in networks if item.rows or item.missing]


def _dnsmasq(networks: list[ReservedNetwork]) -> str:
    lines = []
    for item in networks:
        lines += [f"# {line}" for line in item.heading]
        for row in item.rows:
            lines += [f"# {_one_line(row.name)}", f"dhcp-host={row.mac},{row.address},{row.host}"]
    return "".join(f"{line}\n" for line in lines)


def _isc(networks: list[ReservedNetwork]) -> str:
    return "".join(_isc_subnet(item) for item in networks)


def _isc_subnet(item: ReservedNetwork) -> str:
    network = item.network
    lines = [f"# {line}" for line in item.heading]
    lines += [f"subnet {network.cidr.network_address} netmask {network.cidr.netmask} {{"]
    lines += [f"  option routers {network.gateway};"] if network.gateway else []
    lines += [f"  option domain-name-servers {', '.join(map(str, network.dns))};"] if network.dns else []
    lines += [f"  range {pool.first} {pool.last};" for pool in network.pools]
    for row in item.rows:
        lines += [f"  # {_one_line(row.name)}", f"  host {row.host} {{", f"    hardware ethernet {row.mac};"]
        lines += [f"    fixed-address {row.address};", "  }"]
    return "\n".join([*lines, "}", ""])


def _kea(networks: list[ReservedNetwork]) -> str:
    whole = {"Dhcp4": {"subnet4": [_kea_subnet(number, item) for number, item in enumerate(networks, 1)]}}
    return json.dumps(whole, indent=2, ensure_ascii=False) + "\n"


def _kea_subnet(number: int, item: ReservedNetwork) -> dict[str, Any]:
    network = item.network
    options = [{"name": "routers", "data": str(network.gateway)}] if network.gateway else []
    if network.dns:
        options.append({"name": "domain-name-servers", "data": ", ".join(map(str, network.dns))})
    return {
        "id": number,
        "subnet": str(network.cidr),
        "comment": ". ".join(item.heading),
        "pools": [{"pool": f"{pool.first} - {pool.last}"} for pool in network.pools],
        "option-data": options,
        "reservations": [
            {"hw-address": row.mac, "ip-address": row.address, "hostname": row.host, "comment": _one_line(row.name)}
            for row in item.rows
        ],
    }


def _one_line(text: str) -> str:
    return " ".join(text.split())


@dataclass(frozen=True, slots=True)
class DhcpServer:
    """A server whose notation is written: what people call it, the ending of its file, and how it is written."""

    title: str
    ending: str
    write: Callable[[list[ReservedNetwork]], str]


SERVERS = {
    "dnsmasq": DhcpServer("dnsmasq", "conf", _dnsmasq),
    "isc-dhcpd": DhcpServer("ISC dhcpd", "conf", _isc),
    "kea": DhcpServer("Kea", "json", _kea),
}
