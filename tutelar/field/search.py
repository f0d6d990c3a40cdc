"""Who is there? A search over the shared device interface, put together with the laptop's neighbour table."""

from collections.abc import Iterable

from tutelar.core.sightings import Sighting
from tutelar.field.guard import Guard
from tutelar.field.interface import DISCOVERY_PORT, GROUP, Found, discover
from tutelar.field.neighbours import hardware_by_address, laptop_table

Answers = tuple[list[Sighting], list[Found]]


async def search_live(guard: Guard, wait_s: float = 2.0) -> Answers:
    """Return who answered a search on the laptop's own network: as sightings where its neighbour table knows the
    hardware address, and the rest. Raises Refused."""
    found = await discover(guard, GROUP, DISCOVERY_PORT, wait_s=wait_s)
    return paired(found, await laptop_table())


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
