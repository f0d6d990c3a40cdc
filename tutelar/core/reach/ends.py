"""The ends of a way: devices as they are really set, a laptop in a network, and the outside."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from ipaddress import IPv4Address

from tutelar.core.addressing.assignment import Assignment, Plan
from tutelar.core.site.types import Device, Network, Site

OUTSIDE, LAPTOP = "outside", "laptop@"
NONE_SET = IPv4Address(0)


class UnknownEnd(ValueError):
    """An end that the site does not have."""


@dataclass(frozen=True, slots=True)
class End:
    """An end as it is really set: its ground (a network's key, or the recorder in whose own port it is), address,
    prefix and gateway; None where there is none. `device` is None for a laptop."""

    key: str
    name: str
    ground: str
    address: IPv4Address | None
    prefix: int
    gateway: IPv4Address | None
    device: Device | None

    def sees(self, other: IPv4Address | None) -> bool:
        """Return whether its own mask puts an address inside its subnet."""
        if self.address is None or other is None:
            return False
        return not (int(self.address) ^ int(other)) >> (32 - self.prefix)


class Ends:
    """The ends of a site, as planned but for what is known to be set otherwise."""

    def __init__(self, site: Site, planned: Plan) -> None:
        self.site = site
        self._planned: dict[str, Assignment] = {item.device: item for item in planned.assignments}
        self._known: dict[str, End] = {}

    @classmethod
    def at(cls, site: Site, addresses: Mapping[str, str]) -> "Ends":
        """Return the ends at these addresses, with the mask and gateway of their networks."""
        found = cls(site, Plan((), (), ()))
        for key, address in addresses.items():
            device = site.device_by_key.get(key)
            network = site.network_by_key.get(device.network or "") if device is not None else None
            if device is None:
                continue
            ground = device.behind or device.network or ""
            prefix = network.cidr.prefixlen if network is not None else 24
            gateway = str(network.gateway) if network is not None and network.gateway is not None else None
            found._planned[key] = Assignment(key, ground, address, prefix, gateway, (), "kept", "")
        return found

    def changed(self, ends: Iterable[End]) -> "Ends":
        """Return a copy in which these ends are set otherwise."""
        copy = Ends(self.site, Plan((), (), ()))
        copy._planned = self._planned
        copy._known = self._known | {end.key: end for end in ends}
        return copy

    def hides(self, key: str) -> bool:
        """Return whether cameras hang in a device's own ports."""
        return key in self._recorders

    @cached_property
    def _recorders(self) -> set[str]:
        return {device.behind for device in self.site.devices if device.behind is not None}

    def of(self, key: str) -> End:
        """Return a device, or a laptop with the first free address of a network ("laptop@NETWORK"). Raises
        UnknownEnd."""
        found = self._known.get(key)
        if found is None:
            found = self._known[key] = self._laptop(key) if key.startswith(LAPTOP) else self._device(key)
        return found

    def _device(self, key: str) -> End:
        device = self.site.device_by_key.get(key)
        if device is None:
            raise UnknownEnd(f"The site has no device '{key}'")
        plan, found = self._planned.get(key), device.found
        address = IPv4Address(plan.address) if plan is not None else None
        prefix = plan.prefix if plan is not None else 24
        gateway = IPv4Address(plan.gateway) if plan is not None and plan.gateway else None
        if found is not None:
            address = address if found.address is None else found.address
            prefix = prefix if found.prefix is None else found.prefix
            gateway = gateway if found.gateway is None else found.gateway
        address, gateway = (None if item == NONE_SET else item for item in (address, gateway))
        ground = device.behind or device.network or (plan.network if plan is not None else "")
        return End(key, device.label, ground, address, prefix, None if device.behind else gateway, device)

    def _laptop(self, key: str) -> End:
        network = self.site.network_by_key.get(key.removeprefix(LAPTOP))
        if network is None:
            raise UnknownEnd(f"The site has no network '{key.removeprefix(LAPTOP)}'")
        address = next(self._free(network), None)
        prefix = network.cidr.prefixlen
        return End(key, f"a laptop at {address}", network.key, address, prefix, network.gateway, None)

    def _free(self, network: Network) -> Iterator[IPv4Address]:
        kept = [(item.first, item.last) for item in network.pools]
        kept += [(item.first, item.last) for item in network.reserved]
        taken = self._taken | {network.gateway, *network.dns}
        for address in network.cidr.hosts():
            if address not in taken and not any(first <= address <= last for first, last in kept):
                yield address

    @cached_property
    def _taken(self) -> set[IPv4Address | None]:
        found: set[IPv4Address | None] = {IPv4Address(item.address) for item in self._planned.values()}
        return found | {device.found.address for device in self.site.devices if device.found is not None}
