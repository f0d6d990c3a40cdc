"""Where on this machine each device of the pretend site stands.

Site address a.b.c.d becomes 127.b.c.d; a network whose image would collide is moved, and the map says so.
Port p becomes 20000 + p below 10000 and stays as it is above. The subnets in which new devices wake find room after
those of the site.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from ipaddress import IPv4Network
from typing import Any

from tutelar.core.addressing.ranges import Span
from tutelar.core.addressing.subnet import subnet_members
from tutelar.core.run.chain import address_in_force, factory_network
from tutelar.core.site.types import Site
from tutelar.core.site.values import dotted

_LOOPBACK = 127 << 24
_LOW = 0x00FFFFFF


class NoRoomError(ValueError):
    """The site's networks do not all fit onto loopback."""


def loopback_port(port: int) -> int:
    """Return the loopback port of a site port."""
    return port + 20000 if port < 10000 else port


@dataclass(frozen=True)
class LoopbackMap:
    """Loopback address of every device that has one, by key.

    `shifts` holds the distance of each ground's image and `spans` its first and last address; both know the factory
    subnets too, under their range.
    """

    addresses: dict[str, str]
    site_addresses: dict[str, str]
    ports: dict[int, int]
    moved: tuple[str, ...] = ()
    shifts: dict[str, int] = field(default_factory=dict)
    spans: dict[str, Span] = field(default_factory=dict)

    def ground_of(self, home: str, number: int) -> str:
        """Return the ground on which an address is found: a device's own, else the first that holds it."""
        holding = (key for key in (home, *self.spans) if self.spans[key][0] <= number <= self.spans[key][1])
        return next(holding, home)

    def image(self, ground: str, number: int) -> str:
        """Return where a site address of a ground stands on loopback."""
        return dotted(number + self.shifts[ground])

    def as_dict(self) -> dict[str, Any]:
        """Return the map as the contract prints it."""
        return {
            "devices": {
                key: {"site_address": self.site_addresses[key], "address": address}
                for key, address in self.addresses.items()
            },
            "ports": {str(port): image for port, image in self.ports.items()},
            "moved": list(self.moved),
        }


def loopback_map(site: Site, occupied: Iterable[Span] = ()) -> LoopbackMap:
    """Return the map of all devices with an address, clear of what others occupy on this machine's loopback.

    Raises NoRoomError where loopback is too small.
    """
    addresses: dict[str, str] = {}
    originals: dict[str, str] = {}
    shifts: dict[str, int] = {}
    moved: list[str] = []
    taken: list[Span] = list(occupied)
    spans: dict[str, Span] = {}
    for standing in subnet_members(site):
        ground = standing.ground
        start = _place(ground.bounds, taken)
        if start is None:
            raise NoRoomError(
                f"The network {ground.label} ({ground.cidr}) finds no room beside the others on 127.0.0.0/8."
            )
        if start != _usual(ground.base):
            moved.append(f"{ground.label} ({ground.cidr}) stands at {dotted(start)}/{ground.prefix}")
        shift = shifts[ground.key] = start - ground.base
        spans[ground.key] = ground.bounds
        for _, device in standing.devices:
            if device.address is not None:
                addresses[device.key] = dotted((int(device.address) + shift) & _LOW | _LOOPBACK)
                originals[device.key] = str(device.address)
    for subnet in _factory_subnets(site):
        base = int(subnet.network_address)
        span = (base, base + subnet.num_addresses - 1)
        start = _place(span, taken)
        if start is not None:
            shifts[str(subnet)], spans[str(subnet)] = start - base, span
    services = {port for device in site.devices for port in site.services_of(device).values()}
    ports = {port: loopback_port(port) for port in sorted(services)}
    return LoopbackMap(addresses, originals, ports, tuple(moved), shifts, spans)


def _factory_subnets(site: Site) -> list[IPv4Network]:
    """Return the subnets outside of the site in which new devices wake."""
    models = {device.model: site.model_of(device) for device in site.devices}
    factories = [address_in_force(model, site.policy.bench) for model in models.values()]
    inside = [network.cidr for network in site.networks]
    away = [item for item in factories if item and not any(item.address in cidr for cidr in inside)]
    return sorted({factory_network(factory) for factory in away})


def _usual(base: int) -> int:
    return _LOOPBACK | (base & _LOW)


def _place(bounds: Span, taken: list[Span]) -> int | None:
    """Return where the image of a range begins, which is free on loopback and now taken; None without room."""
    size = bounds[1] - bounds[0]
    for start in _candidates(_usual(bounds[0]), size + 1):
        span = (start, start + size)
        if span[1] < _LOOPBACK + (1 << 24) and all(span[1] < first or span[0] > last for first, last in taken):
            taken.append(span)
            return start
    return None


def _candidates(usual: int, size: int) -> Iterator[int]:
    yield usual
    step = max(size, 1 << 16)
    first = _LOOPBACK | (usual & _LOW & (step - 1) & ~(size - 1))
    yield from range(first + step, _LOOPBACK + (1 << 24) - size + 1, step)
