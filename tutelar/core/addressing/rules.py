"""The rules that addresses and networks must keep, each broken one said as a problem.

Source: docs/sources.md, addressing; levels as the site file's contract lists them.
"""

from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator

from tutelar.core.addressing.ranges import Span, all_inside, holds, merged, size, without
from tutelar.core.addressing.subnet import Subnet, SubnetMembers, network_ground, private_ground
from tutelar.core.problems import Problem, problem
from tutelar.core.site.types import Device, Network, Site
from tutelar.core.site.values import dotted
from tutelar.core.wording import family_plural, listed

Addresses = list[int | None]
Better = Callable[[int], str | None]  # position of a device in the file -> the address that the plan would give

_WHY = {
    "address.network": "is the network's own address",
    "address.broadcast": "is the broadcast address of the network",
    "address.gateway": "is the gateway's address",
    "address.dns": "is a DNS server's address",
}


def set_addresses(site: Site) -> Addresses:
    """Return the address of every device as a number, in the order of the file; None where none is set."""
    wired = site.wired
    return [None if device.address is None or device.key in wired else int(device.address) for device in site.devices]


def to_come(site: Site, addresses: Addresses) -> dict[int, list[Device]]:
    """Return factory and fall-back addresses with the devices that still have to wake at them."""
    at_model = {
        model.key: int(model.factory.address) for model in site.models if model.factory and model.factory.address
    }
    waiting: dict[int, list[Device]] = defaultdict(list)
    for device, address in zip(site.devices, addresses, strict=True):
        if address is None and device.model in at_model:
            waiting[at_model[device.model]].append(device)
    return waiting


def network_problems(site: Site) -> Iterator[Problem]:
    """Yield what is wrong with the networks themselves."""
    for network in site.networks:
        yield from _range_problems(network)
    yield from _overlaps(site)
    for rule in site.policy.blocks if site.policy.blocks != "auto" else ():
        names = listed([family_plural(family) for family in rule.families], 9)
        if rule.first > rule.last:
            yield problem(
                "range.backward",
                (),
                f"The block rule {rule.first}–{rule.last} for {names} runs backward.",
                f"Write it as {rule.last}–{rule.first}.",
            )
        elif site.networks and all(rule.first >= network.cidr.num_addresses for network in site.networks):
            yield problem(
                "policy.block-outside",
                (),
                f"The block rule {rule.first}–{rule.last} for {names} begins beyond the end of every network.",
                "Offsets count from the first address of a network.",
            )


def _range_problems(network: Network) -> Iterator[Problem]:
    name, cidr, key = network.label, network.cidr, (network.key,)
    if network.gateway is not None:
        if network.gateway not in cidr:
            yield problem(
                "network.gateway-outside",
                key,
                f"The gateway {network.gateway} of {name} lies outside {cidr}.",
                f"Give a gateway inside {cidr}, or correct the network's range.",
            )
        elif cidr.prefixlen < 31 and network.gateway in (cidr.network_address, cidr.broadcast_address):
            which = "network" if network.gateway == cidr.network_address else "broadcast"
            yield problem(
                "network.gateway-outside",
                key,
                f"The gateway {network.gateway} of {name} is the {which} address of {cidr}, which no router can have.",
                "Ask for the gateway's address again.",
            )
    for what, code, ranges in (
        ("DHCP pool", "network.pool-outside", network.pools),
        ("reserved range", "network.reserved-outside", network.reserved),
    ):
        for item in ranges:
            if item.first > item.last:
                yield problem(
                    "range.backward",
                    key,
                    f"The {what} {item.first}–{item.last} of {name} runs backward.",
                    f"Write it as {item.last}–{item.first}.",
                )
            elif item.first not in cidr or item.last not in cidr:
                amount = "partly" if item.first in cidr or item.last in cidr else "wholly"
                yield problem(
                    code,
                    key,
                    f"The {what} {item.first}–{item.last} of {name} lies {amount} outside {cidr}.",
                    "Ask for the range again; the plan uses the part inside.",
                )
    for pool in network.pools:
        for kept in network.reserved:
            if max(pool.first, kept.first) <= min(pool.last, kept.last):
                yield problem(
                    "pool.overlaps-reserved",
                    key,
                    f"The lease pool {pool.first}–{pool.last} of {name} overlaps the reserved range "
                    f"{kept.first}–{kept.last}.",
                    "Ask IT which of the two holds; the plan avoids both.",
                )
        if network.gateway is not None and pool.first <= network.gateway <= pool.last:
            yield problem(
                "pool.holds-gateway",
                key,
                f"The lease pool {pool.first}–{pool.last} of {name} holds the gateway {network.gateway}.",
                "Ask IT to take the gateway out of the pool.",
            )


def _overlaps(site: Site) -> Iterator[Problem]:
    grounds = sorted((network_ground(network) for network in site.networks), key=lambda item: (item.base, item.prefix))
    for index, one in enumerate(grounds):
        for other in grounds[index + 1 :]:
            if other.base > one.top:
                break
            yield problem(
                "network.overlap",
                (one.key, other.key),
                f"The networks {one.label} ({one.cidr}) and {other.label} ({other.cidr}) overlap.",
                "Correct one of the two ranges: no device could tell which network an address is in.",
            )
    with_ports = {model.key for model in site.models if model.camera_ports}
    recorders = [device for device in site.devices if device.model in with_ports] if with_ports else []
    privates = [ground for device in recorders if (ground := private_ground(site, device))]
    for private in privates:
        for ground in grounds:
            if private.base <= ground.top and ground.base <= private.top:
                recorder = site.label_of(private.key)
                same = "is the same as" if private.cidr == ground.cidr else "overlaps"
                yield problem(
                    "network.overlap",
                    (private.key, ground.key),
                    f"The private camera range {private.cidr} of {recorder} {same} the network {ground.label} "
                    f"({ground.cidr}): the recorder cannot tell its own cameras from devices of the site.",
                    f"Change the camera range in {recorder} before any camera is plugged into it.",
                    level="warning",
                )


def rule_breakers(standing: SubnetMembers, addresses: Addresses) -> list[tuple[int, Device, str]]:
    """Return (position, device, problem code) of every set address that the ground does not allow."""
    ground = standing.ground
    if all_inside(ground.open_to_fixed, _held(standing, addresses)):
        return []
    found = []
    fixed, reserved = ground.open_to_fixed, ground.open_to_reserved
    for position, device in standing.devices:
        address = addresses[position]
        if address is None or device.addressing == "leased":
            continue
        may_be_reserved = device.addressing == "reserved"
        if not holds(reserved if may_be_reserved else fixed, address):
            code = ground.obstacle(address, reserved=may_be_reserved)
            if code:
                found.append((position, device, code))
    return found


def _held(standing: SubnetMembers, addresses: Addresses) -> list[int]:
    return [number for position, _ in standing.devices if (number := addresses[position]) is not None]


def held_twice(standing: SubnetMembers, addresses: Addresses) -> list[list[tuple[int, Device]]]:
    """Return the groups of devices on one ground that have the same address."""
    held = _held(standing, addresses)
    if len(set(held)) == len(held):
        return []
    holders: dict[int, list[tuple[int, Device]]] = {}
    for entry in standing.devices:
        address = addresses[entry[0]]
        if address is not None:
            holders.setdefault(address, []).append(entry)
    return [group for group in holders.values() if len(group) > 1]


def address_problems(
    site: Site, standing: SubnetMembers, addresses: Addresses, waiting: dict[int, list[Device]], better: Better
) -> Iterator[Problem]:
    """Yield what is wrong with the addresses set on one ground. `better` names the address a plan would give."""
    ground = standing.ground

    def report(code: str, subjects: list[str], message: str, position: int, device: Device) -> Problem:
        """Return the problem with the fix that gives the device at this position its planned address."""
        address = better(position)
        if address is None:
            return problem(
                code, subjects, message, f"Make room first: {ground.label} has no address for {device.label}."
            )
        return problem(code, subjects, message, f"Move {device.label} to {address}.", move=(device.key, address))

    for position, device, code in rule_breakers(standing, addresses):
        address = addresses[position] or 0
        yield report(code, [device.key], _broken(ground, device, address, code), position, device)
    for group in held_twice(standing, addresses):
        position, mover = min(group, key=lambda entry: (entry[1].locked, -entry[0]))
        names = listed([device.label for _, device in group])
        message = f"{names} have the same address {dotted(addresses[position] or 0)}."
        yield report("address.duplicate", [device.key for _, device in group], message, position, mover)
    if not waiting:
        return
    for position, device in standing.devices:
        comers = waiting.get(addresses[position] or -1, ())
        others = [item for item in comers if item.key != device.key]
        if others:
            message = (
                f"{device.label} has {dotted(addresses[position] or 0)}, the factory address at which "
                f"{listed([item.label for item in others])} will wake."
            )
            subjects = [device.key, *(item.key for item in others)]
            yield report("address.factory-clash", subjects, message, position, device)
    for what, number in (("gateway", ground.gateway), *(("DNS server", number) for number in ground.dns)):
        comers = waiting.get(number or -1, ())
        if comers and ground.recorder is None:
            yield problem(
                "address.factory-clash",
                (ground.key, *(item.key for item in comers)),
                f"The {what} {dotted(number or 0)} of {ground.label} is the factory address at which "
                f"{listed([item.label for item in comers])} will wake.",
                "Give these devices their addresses on a bench switch that is not connected to the site.",
            )


def _broken(ground: Subnet, device: Device, address: int, code: str) -> str:
    name, text = device.label, dotted(address)
    if code == "address.outside":
        return f"{name} has {text}, outside {ground.label} ({ground.cidr})."
    if code == "address.duplicate":
        return f"{name} has {text}, the recorder's own address in its private range {ground.cidr}."
    if code == "address.reserved":
        first, last, why = next(item for item in ground.reserved if item[0] <= address <= item[1])
        because = f" ({why})" if why else ""
        return f"{name} has {text}, inside the range {dotted(first)}–{dotted(last)} that IT keeps{because}."
    if code == "address.in-pool":
        first, last = next(item for item in ground.pools if item[0] <= address <= item[1])
        return f"{name} has the fixed address {text}, inside the DHCP pool {dotted(first)}–{dotted(last)}."
    return f"{name} has {text}, which {_WHY[code]} ({ground.label}, {ground.cidr})."


def room(standing: SubnetMembers, addresses: Addresses) -> tuple[int, int, int]:
    """Return (wanted by fixed and reserved devices, free outside the pools, free inside them) of a ground.

    Free leaves out what devices with leased addressing hold; the wanting devices' own addresses count as free.
    """
    ground = standing.ground
    others = [(number, number) for position, _ in standing.leased if (number := addresses[position]) is not None]
    outside = size(without(ground.open_to_fixed, others))
    everywhere = size(without(ground.open_to_reserved, others))
    return standing.wanted, outside, everywhere - outside


def full_problem(standing: SubnetMembers, addresses: Addresses) -> Problem | None:
    """Return the network.full problem of a ground where its devices cannot all have an address, else None."""
    wanted, outside, in_pool = room(standing, addresses)
    fixed = wanted - standing.reserved
    if fixed <= outside and wanted <= outside + in_pool:
        return None
    pool_counts = standing.reserved > 0 and fixed <= outside
    free = outside + in_pool if pool_counts else outside
    return problem("network.full", (standing.ground.key,), *_full_words(standing.ground, wanted, free, pool_counts))


def _full_words(ground: Subnet, wanted: int, free: int, pool_counts: bool) -> tuple[str, str]:
    where = "" if pool_counts or not ground.pools else " outside the pool"
    message = f"{wanted} fixed addresses wanted in {ground.label} ({ground.cidr}), {free} free{where}."
    lost = ground.usable_count - free
    prefix = ground.prefix
    while prefix > 1 and (1 << (32 - prefix)) - 2 - lost < wanted:
        prefix -= 1
    larger = f"use /{prefix}" if prefix < ground.prefix else "use a larger network"
    shrunk = None if pool_counts else _smaller_pool(ground, wanted - free)
    return message, f"Shrink the pool to {shrunk} or {larger}." if shrunk else f"{larger[0].upper()}{larger[1:]}."


def _smaller_pool(ground: Subnet, missing: int) -> str | None:
    """Return the pool that remains when `missing` legal addresses are cut off its lower end, if one remains."""
    for first, last in sorted(ground.pools, key=lambda pool: pool[0] - pool[1]):
        legal: list[Span] = without(merged([(first, last)]), ground.infrastructure)
        cut = missing
        for low, high in legal:
            if cut < high - low + 1:
                return f"{dotted(low + cut)}–{dotted(last)}"
            cut -= high - low + 1
    return None


def all_network_problems(site: Site, grounds: Iterable[SubnetMembers], addresses: Addresses) -> Iterator[Problem]:
    """Yield network problems and, for each ground, whether its devices fit."""
    yield from network_problems(site)
    for standing in grounds:
        full = full_problem(standing, addresses)
        if full:
            yield full
