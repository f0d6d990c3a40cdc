"""Who is there? A search over the shared device interface, put together with the laptop's neighbour table."""

from collections.abc import Collection, Iterable
from ipaddress import IPv4Address, IPv4Network

import ifaddr

from tutelar.core.sightings import Sighting
from tutelar.core.wording import listed
from tutelar.field.guard import LOOPBACK, Forbidden, Guard
from tutelar.field.interface import DISCOVERY_PORT, GROUP, Found, discover
from tutelar.field.neighbours import hardware_by_address, laptop_table

Answers = tuple[list[Sighting], list[Found]]


async def search_live(guard: Guard, wait_s: float = 2.0) -> Answers:
    """Return who answered a search on those of the laptop's networks that the guard lets through: as sightings where
    its neighbour table knows the hardware address, and the rest. Raises Forbidden where it stands in none of them: a
    search goes out on no other one."""
    found: list[Found] = []
    own = own_addresses(guard.networks)
    if not own:
        named = listed([str(network) for network in guard.networks])
        raise Forbidden(f"This machine has no address in {named}; a search would go out on another network.")
    for address in own:
        found += await discover(guard, GROUP, DISCOVERY_PORT, wait_s=wait_s, out_of=address)
    return paired(dict.fromkeys(found), await laptop_table())


def own_addresses(networks: Collection[IPv4Network]) -> list[str]:
    """Return this machine's addresses in these networks."""
    known = {ip.ip for adapter in ifaddr.get_adapters() for ip in adapter.ips if ip.is_IPv4}
    inside = [network for network in networks if not network.subnet_of(LOOPBACK)]
    found = sorted(str(address) for address in known if any(IPv4Address(str(address)) in one for one in inside))
    return found + (["127.0.0.1"] if len(inside) < len(networks) else [])


async def search_at(places: Iterable[str], port: int, table: str, wait_s: float = 0.3) -> Answers:
    """Return who answered at the loopback addresses that stand for the group of a search, with this neighbour table."""
    found: list[Found] = []
    for at in places:
        found += await discover(Guard(), at, port, wait_s=wait_s)
    return paired(dict.fromkeys(found), table)


def paired(found: Iterable[Found], table: str) -> Answers:
    """Return (sightings, those whose hardware address the table does not know)."""
    hardware = hardware_by_address(table)
    seen, rest = [], []
    for item in found:
        mac = hardware.get(item.address)
        if mac is None:
            rest.append(item)
        else:
            seen.append(Sighting(item.address, mac, item.name or item.hardware))
    return seen, rest
