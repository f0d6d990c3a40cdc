"""The site's range changes: everything moves, host parts are kept where they fit, and every partner is told.

Host part = address AND NOT old mask. Devices change from the ones that others point at to the ones that point,
so that a setting is typed only when the address in it is already true.
"""

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter
from ipaddress import AddressValueError, IPv4Address, IPv4Network
from typing import Any

from tutelar.core.addressing.assignment import Plan
from tutelar.core.addressing.subnet import network_ground
from tutelar.core.links.holding import holder_and_held
from tutelar.core.links.registry import kind_of
from tutelar.core.planning.plan import plan
from tutelar.core.problems import Problem, in_order, problem
from tutelar.core.site.types import Device, Network, Site


@dataclass(frozen=True, slots=True)
class Partner:
    """A setting in a device that holds another one's address; `after` are devices that change before it is typed."""

    device: str
    setting: str
    old: str
    new: str
    after: tuple[str, ...]

    def as_dict(self) -> dict[str, Any]:
        """Return the setting as the contract prints it."""
        return {
            "device": self.device,
            "setting": self.setting,
            "old": self.old,
            "new": self.new,
            "after": list(self.after),
        }


@dataclass(frozen=True, slots=True)
class Moved:
    """A device of the renumbered network: its address before and after (None: no room), why, host part kept or not."""

    device: str
    old: str
    new: str | None
    why: str
    kept: bool


@dataclass(frozen=True)
class Renumbering:
    """The new plan, the site with its new network, its devices that had an address (in walking order), and the
    partner settings in a safe order."""

    plan: Plan
    site: Site
    moved: tuple[Moved, ...]
    partners: tuple[Partner, ...]

    def as_dict(self) -> dict[str, Any]:
        """Return the renumbering as the contract prints it."""
        return self.plan.as_dict() | {"partners": [item.as_dict() for item in self.partners]}


def renumber(site: Site, network: Network, to: IPv4Network, gateway: IPv4Address | None) -> Renumbering:
    """Return the site moved from one of its networks' ranges to another; `gateway` None moves by the same offset."""
    notes: list[Problem] = []
    moved = _moved_network(network, to, gateway, notes)
    networks = tuple(moved if item.key == network.key else item for item in site.networks)
    fresh = site.model_copy(update={"networks": networks, "devices": _moved_devices(site, network, moved)})
    result = plan(fresh)
    old = {item.key: str(item.address) for item in site.devices if item.address is not None}
    new = result.addresses()
    rows = {
        key: _moved(key, old[key], new.get(key), network)
        for key in (device.key for device in site.devices if _moves(device, network))
    }
    said = tuple(
        item._replace(why=rows[item.device].why) if item.device in rows else item for item in result.assignments
    )
    result = Plan(said, result.networks, tuple(in_order([*result.problems, *notes])))
    changes = {key: (before, new[key]) for key, before in old.items() if key in new and new[key] != before}
    partners = (*partner_settings(site, changes), *_elsewhere(site, network, moved))
    walked = tuple(rows[device.key] for device in site.walking_order(list(site.devices)) if device.key in rows)
    return Renumbering(result, fresh, walked, partners)


def _moves(device: Device, network: Network) -> bool:
    return device.network == network.key and device.behind is None and device.address is not None


def _moved(key: str, before: str, after: str | None, network: Network) -> Moved:
    if after is None:
        return Moved(key, before, None, "There is no room for it in the new range.", kept=False)
    mask = int(network.cidr.hostmask)
    if int(IPv4Address(before)) & mask == int(IPv4Address(after)) & mask:
        return Moved(key, before, after, f"Keeps its host part: {before} becomes {after}.", kept=True)
    why = f"The host part of {before} is not free for it in the new range; next legal address in block order."
    return Moved(key, before, after, why, kept=False)


def _moved_network(network: Network, to: IPv4Network, gateway: IPv4Address | None, notes: list[Problem]) -> Network:
    offset = int(to.network_address) - int(network.cidr.network_address)

    def drop(what: str) -> None:
        notes.append(
            problem(
                "renumber.dropped",
                (network.key,),
                f"The {what} of {network.label} does not fit into {to} and is dropped.",
                "Ask IT for the new one.",
            )
        )

    def shift(address: IPv4Address, what: str) -> IPv4Address | None:
        if address not in network.cidr:
            return address  # a server elsewhere stays where it is
        number = int(address) + offset
        if 0 <= number < 1 << 32 and IPv4Address(number) in to:
            return IPv4Address(number)
        drop(f"{what} {address}")
        return None

    def ranges(items: tuple[Any, ...], what: str) -> tuple[Any, ...]:
        kept = []
        for item in items:
            first, last = int(item.first) + offset, int(item.last) + offset
            low, high = max(first, int(to.network_address)), min(last, int(to.broadcast_address))
            if low > high:
                drop(f"{what} {item.first}–{item.last}")
                continue
            if (low, high) != (first, last):
                drop(f"part of the {what} {item.first}–{item.last} beyond {IPv4Address(high)}")
            kept.append(item.model_copy(update={"first": IPv4Address(low), "last": IPv4Address(high)}))
        return tuple(kept)

    new_gateway = gateway or (shift(network.gateway, "gateway") if network.gateway else None)
    dns = tuple(address for item in network.dns if (address := shift(item, "DNS server")) is not None)
    if dns and network.gateway in network.dns and new_gateway is not None and new_gateway not in dns:
        notes.append(
            problem(
                "renumber.dns-was-gateway",
                (network.key,),
                f"The DNS server of {network.label} was its gateway {network.gateway}; "
                f"the new gateway is {new_gateway}, but DNS was moved by the offset.",
                f"Ask IT whether {new_gateway} answers DNS now.",
            )
        )
    return network.model_copy(
        update={
            "cidr": to,
            "gateway": new_gateway,
            "dns": dns,
            "pools": ranges(network.pools, "DHCP pool"),
            "reserved": ranges(network.reserved, "reserved range"),
            "time_source": _moved_text(network.time_source, lambda address: shift(address, "time source")),
        }
    )


def _moved_text(text: str | None, shift: Any) -> str | None:
    """Return a time source moved where it is an address; a host name stays."""
    try:
        address = IPv4Address(text) if text else None
    except AddressValueError:
        return text
    moved = shift(address) if address is not None else None
    return None if moved is None else str(moved)


def _moved_devices(site: Site, network: Network, moved: Network) -> tuple[Device, ...]:
    """Return the devices with their host parts in the new range; where one does not fit, without an address."""
    ground, mask = network_ground(moved), int(network.cidr.hostmask)
    taken: set[int] = set()
    rows = []
    for device in site.devices:
        if not _moves(device, network):
            rows.append(device)
            continue
        number = ground.base + (int(device.address or 0) & mask)
        legal = ground.obstacle(number, reserved=device.addressing != "fixed") is None and number not in taken
        taken.add(number)
        update = {"address": IPv4Address(number)} if legal else {"address": None, "locked": False}
        rows.append(device.model_copy(update=update))
    return tuple(rows)


def partner_settings(site: Site, changes: dict[str, tuple[str, str]]) -> list[Partner]:
    """Return the settings to type when devices change from one address to another (by key), in a safe order:
    each after the devices it depends on have changed."""
    links = [(link, *holder_and_held(link)) for link in site.links]
    told = [
        (link, holder, target) for link, holder, target in links if holder in site.device_by_key and target in changes
    ]
    rank = {key: at for at, key in enumerate(_safe_order(site, [(holder, target) for _, holder, target in told]))}
    found = []
    for link, holder, target in told:
        after = sorted({key for key in (target, holder) if key in changes}, key=lambda key: rank[key])
        setting = kind_of(site, link).renumbered.format(slot=link.slot if link.slot is not None else "not chosen yet")
        found.append(Partner(holder, setting, *changes[target], tuple(after)))
    return sorted(found, key=lambda item: max(rank[key] for key in (item.device, *item.after)))


def _elsewhere(site: Site, network: Network, moved: Network) -> Iterator[Partner]:
    """Yield what devices of other networks have typed in that lay in the old range: time source and DNS."""
    shifted = {str(old): str(new) for old, new in zip(network.dns, moved.dns, strict=False)}
    if network.gateway is not None and moved.gateway is not None:
        shifted[str(network.gateway)] = str(moved.gateway)
    if network.time_source and moved.time_source:
        shifted.setdefault(network.time_source, moved.time_source)
    typed = {
        key: [
            (setting, value)
            for setting, value in (
                ("time server", other.time_source),
                *(("DNS server", str(item)) for item in other.dns),
            )
            if value in shifted and shifted[value] != value
        ]
        for key, other in site.network_by_key.items()
        if key != network.key
    }
    for device in site.devices:
        if device.behind is None:
            for setting, value in typed.get(device.network or "", ()):
                yield Partner(device.key, setting, value, shifted[value], ())


def _safe_order(site: Site, pairs: list[tuple[str, str]]) -> list[str]:
    """Return all device keys so that each target comes before those that hold its address; a circle breaks nothing."""
    before: dict[str, set[str]] = defaultdict(set)
    for holder, target in pairs:
        before[holder].add(target)
    graph = {device.key: sorted(before[device.key]) for device in site.devices}
    try:
        return list(TopologicalSorter(graph).static_order())
    except CycleError:
        return [device.key for device in site.devices]
