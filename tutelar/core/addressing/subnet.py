"""The ground an address can stand on: a site network, or the private range behind a recorder's own ports.

A ground knows which of its addresses a fixed or a reserved device may have, and what stands in the way of
every other one (docs/sources.md, addressing; RFC 4632 for prefixes, RFC 3021 for /31).
"""

from dataclasses import dataclass, field
from functools import cached_property
from ipaddress import AddressValueError, IPv4Address
from operator import attrgetter

from tutelar.core.addressing.ranges import Span, holds, merged, size, within, without
from tutelar.core.site.types import Device, Network, Site
from tutelar.core.site.values import dotted


@dataclass(frozen=True)
class Subnet:
    """One broadcast domain. `key` is a network's key, or the recorder's for its private range."""

    key: str
    label: str
    base: int
    prefix: int
    gateway: int | None = None
    dns: tuple[int, ...] = ()
    time_source: int | None = None
    pools: tuple[Span, ...] = ()
    reserved: tuple[tuple[int, int, str | None], ...] = ()
    recorder: str | None = None
    dns_texts: tuple[str, ...] = field(default=(), compare=False)

    @property
    def cidr(self) -> str:
        """The range in the usual notation."""
        return f"{dotted(self.base)}/{self.prefix}"

    @property
    def top(self) -> int:
        """The last address of the range (the broadcast address up to /30)."""
        return self.base | ((1 << (32 - self.prefix)) - 1)

    @property
    def bounds(self) -> Span:
        """The first and the last address of the range, as numbers."""
        return (self.base, self.top)

    @cached_property
    def usable(self) -> list[Span]:
        """All host addresses: without network and broadcast address up to /30, both at /31, none at /32."""
        if self.prefix == 32:
            return []
        return [self.bounds] if self.prefix == 31 else [(self.base + 1, self.top - 1)]

    @cached_property
    def infrastructure(self) -> list[Span]:
        """Gateway, DNS servers and ranges that IT keeps: never ours, fixed or reserved."""
        points = [number for number in (self.gateway, *self.dns) if number is not None]
        return merged([(number, number) for number in points] + [(first, last) for first, last, _ in self.reserved])

    @cached_property
    def open_to_reserved(self) -> list[Span]:
        """What a device with a reservation in the router may have: pools included."""
        return without(self.usable, self.infrastructure)

    @cached_property
    def open_to_fixed(self) -> list[Span]:
        """What a device with a hand-set address may have: outside every lease pool."""
        return without(self.open_to_reserved, self.pools)

    @cached_property
    def usable_count(self) -> int:
        """How many addresses devices can have (RFC 950, RFC 3021)."""
        return size(self.usable)

    def contains(self, number: int) -> bool:
        """Return whether an address lies in the range."""
        return self.base <= number <= self.top

    def obstacle(self, number: int, *, reserved: bool = False) -> str | None:
        """Return the problem code of the rule that the address breaks, or None for a legal one."""
        if holds(self.open_to_reserved if reserved else self.open_to_fixed, number):
            return None
        if not self.contains(number):
            return "address.outside"
        if self.recorder is not None and number == self.gateway:
            return "address.duplicate"  # in a private range the first address is the recorder's own
        if number == self.gateway:
            return "address.gateway"
        if number in self.dns:
            return "address.dns"
        if self.prefix < 31 and number in self.bounds:
            return "address.network" if number == self.base else "address.broadcast"
        if any(first <= number <= last for first, last, _ in self.reserved):
            return "address.reserved"
        return "address.in-pool"


def network_ground(network: Network) -> Subnet:
    """Return the ground of a site network. Backward and outside parts of ranges hold nothing."""
    base, prefix = int(network.cidr.network_address), network.cidr.prefixlen
    bounds = (base, int(network.cidr.broadcast_address))
    reserved = tuple(
        (max(int(item.first), bounds[0]), min(int(item.last), bounds[1]), item.why) for item in network.reserved
    )
    return Subnet(
        key=network.key,
        label=network.label,
        base=base,
        prefix=prefix,
        gateway=None if network.gateway is None else int(network.gateway),
        dns=tuple(int(address) for address in network.dns),
        time_source=_number(network.time_source),
        pools=tuple(within(merged((int(pool.first), int(pool.last)) for pool in network.pools), bounds)),
        reserved=tuple(item for item in reserved if item[0] <= item[1]),
        dns_texts=tuple(str(address) for address in network.dns),
    )


def _number(text: str | None) -> int | None:
    try:
        return int(IPv4Address(text)) if text else None
    except AddressValueError:  # a host name: it takes no address of ours
        return None


def private_ground(site: Site, recorder: Device) -> Subnet | None:
    """Return the private range behind a recorder's own camera ports; its first usable address is the recorder's."""
    model = site.model_of(recorder)
    if model is None or model.camera_ports is None:
        return None
    cidr = model.camera_ports.cidr
    base, prefix = int(cidr.network_address), cidr.prefixlen
    own = base if prefix >= 31 else base + 1
    return Subnet(recorder.key, f"behind {recorder.label}", base, prefix, gateway=own, recorder=recorder.key)


@dataclass(frozen=True)
class SubnetMembers:
    """A ground and the devices of the document that stand on it, as (position in the file, device)."""

    ground: Subnet
    devices: list[tuple[int, Device]]

    @cached_property
    def leased(self) -> list[tuple[int, Device]]:
        """The devices that take a lease, with their place in the file."""
        return [entry for entry in self.devices if entry[1].addressing == "leased"]

    @cached_property
    def wanted(self) -> int:
        """How many devices want an address that stays: fixed and reserved ones."""
        return len(self.devices) - len(self.leased)

    @cached_property
    def reserved(self) -> int:
        """For how many devices the router reserves an address."""
        return sum(1 for _, device in self.devices if device.addressing == "reserved")


def subnet_members(site: Site) -> list[SubnetMembers]:
    """Return every ground with its devices: the site networks in order, then private ranges that are in use."""
    found: dict[str | None, SubnetMembers] = {
        network.key: SubnetMembers(network_ground(network), []) for network in site.network_by_key.values()
    }
    private: dict[str, SubnetMembers | None] = {}
    homes = map(attrgetter("network", "behind"), site.devices)
    wired = site.wired
    for position, (device, (network, behind)) in enumerate(zip(site.devices, homes, strict=True)):
        if wired and device.key in wired:
            continue
        if behind is not None:
            if behind not in private:
                recorder = site.device_by_key.get(behind)
                ground = private_ground(site, recorder) if recorder else None
                private[behind] = SubnetMembers(ground, []) if ground else None
            standing = private[behind]
        else:
            standing = found.get(network)
        if standing is not None:
            standing.devices.append((position, device))
    return [*found.values(), *(standing for standing in private.values() if standing)]
