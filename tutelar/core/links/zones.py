"""Paging zones: which multicast address and port each has, and where two would mix.

Addresses of a site: 239.0.0.0/8 (RFC 2365). On the cable only the last 23 bits count (RFC 1112, section 6.4), so two
zones must differ in these or in the port.
"""

from collections import defaultdict
from ipaddress import IPv4Address, IPv4Network
from typing import TYPE_CHECKING

from tutelar.core.site.types import Link, Site

if TYPE_CHECKING:
    from tutelar.core.links.index import LinkIndex

LOCAL = IPv4Network("239.0.0.0/8")
_ON_CABLE = (1 << 23) - 1

ZoneAddress = tuple[IPv4Address, int]


def zone_address(site: Site, link: Link) -> ZoneAddress:
    """Return the multicast address and port of a link's zone: the link's own, or the plan's for that zone."""
    paging, zone = site.policy.numbering.paging, link.slot or 0
    address = link.address or IPv4Address(min(int(paging.base) + zone, (1 << 32) - 1))
    return address, link.port or paging.port + zone * paging.port_step


def zones(site: Site) -> dict[int, dict[ZoneAddress, list[Link]]]:
    """Return the zones of a site: number to the grounds on which its links stand; one each where all is well."""
    found: dict[int, dict[ZoneAddress, list[Link]]] = defaultdict(dict)
    for link in site.links:
        if link.kind == "pages" and link.slot is not None:
            found[link.slot].setdefault(zone_address(site, link), []).append(link)
    return found


def zone_faults(site: Site) -> dict[int, str]:
    """Return what is wrong with a zone, by its number; no entry where nothing is."""
    found: dict[int, str] = {}
    holders: dict[tuple[int, int], int] = {}
    for number, grounds in zones(site).items():
        if len(grounds) > 1:
            said = " and ".join(f"{address}:{port}" for address, port in grounds)
            found[number] = f"zone {number} stands on {said}; all of a zone listen to one"
            continue
        ((address, port),) = grounds
        if address not in LOCAL:
            found[number] = (
                f"{address} of zone {number} is no multicast address of a site (239.0.0.0 to 239.255.255.255)"
            )
            continue
        other = holders.setdefault((int(address) & _ON_CABLE, port), number)
        if other != number:
            found[number] = f"zone {number} and zone {other} meet on {address} port {port}"
    return found


def zone_problem(known: "LinkIndex", link: Link) -> str | None:
    """Return what is wrong with the zone of a link, None where nothing is."""
    return known.zone_faults.get(link.slot or 0)
