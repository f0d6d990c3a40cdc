"""Which address should every device have, and what is wrong with the result."""

from tutelar.core.addressing.assignment import Plan
from tutelar.core.addressing.placing import assignments, place_all
from tutelar.core.addressing.rules import Addresses, room, set_addresses
from tutelar.core.addressing.subnet import subnet_members
from tutelar.core.check import problems_with
from tutelar.core.problems import in_order
from tutelar.core.site.types import Site


def placed(site: Site) -> Plan:
    """Return the addresses of the whole site alone, for whoever asks for nothing else of the plan: its networks are not
    counted and nothing is said of what is wrong."""
    addresses, grounds = set_addresses(site), subnet_members(site)
    found, _ = place_all(site, grounds, addresses)
    return Plan(assignments(site, grounds, addresses, found), (), ())


def plan(site: Site) -> Plan:
    """Return the address plan of the whole site with the problems of its result."""
    addresses = set_addresses(site)
    grounds = subnet_members(site)
    room_found, notes = place_all(site, grounds, addresses)
    result: Addresses = list(addresses)
    for position, number in room_found.numbers.items():
        result[position] = number
    found = problems_with(site, grounds, result)
    fulls = {item.subjects for item in found if item.code == "network.full"}
    notes = [item for item in notes if item.code != "network.full" or item.subjects not in fulls]
    rows = []
    for standing in grounds:
        wanted, outside, in_pool = room(standing, addresses)
        rows.append(
            {
                "key": standing.ground.key,
                "usable": standing.ground.usable_count,
                "fixed_free": outside + min(in_pool, max(0, min(standing.reserved, wanted - outside))),
                "fixed_wanted": wanted,
            }
        )
    return Plan(assignments(site, grounds, addresses, room_found), tuple(rows), tuple(in_order([*found, *notes])))
