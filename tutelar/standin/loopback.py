"""Where on this machine each device of the pretend site stands.

Site address a.b.c.d becomes 127.b.c.d; a network whose image would collide is moved, and the map says so.
Port p becomes 20000 + p below 10000 and stays as it is above.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any

from tutelar.core.addressing.ground import Standing, standings
from tutelar.core.addressing.ranges import Span
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
    """Loopback address of every device that has one, by key; `shifts` holds the distance of each ground's image."""

    addresses: dict[str, str]
    site_addresses: dict[str, str]
    ports: dict[int, int]
    moved: tuple[str, ...] = ()
    shifts: dict[str, int] = field(default_factory=dict)

    def image(self, ground: str, number: int) -> str:
        """Return where a site address of a ground stands on loopback."""
        return dotted(number + self.shifts[ground])

    def as_dict(self) -> dict[str, Any]:
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
    for standing in standings(site):
        shift = _place(standing, taken, moved)
        shifts[standing.ground.key] = shift
        for _, device in standing.devices:
            if device.address is not None:
                addresses[device.key] = dotted((int(device.address) + shift) & _LOW | _LOOPBACK)
                originals[device.key] = str(device.address)
    services = {port for device in site.devices for port in site.services_of(device).values()}
    return LoopbackMap(
        addresses, originals, {port: loopback_port(port) for port in sorted(services)}, tuple(moved), shifts
    )


def _place(standing: Standing, taken: list[Span], moved: list[str]) -> int:
    """Return the distance from the ground to its image, which is free on loopback, and remember the image."""
    ground = standing.ground
    size = ground.top - ground.base
    usual = _LOOPBACK | (ground.base & _LOW)
    for start in _candidates(usual, size + 1):
        span = (start, start + size)
        if span[1] < _LOOPBACK + (1 << 24) and all(span[1] < first or span[0] > last for first, last in taken):
            taken.append(span)
            if start != usual:
                moved.append(f"{ground.label} ({ground.cidr}) stands at {dotted(start)}/{ground.prefix}")
            return start - ground.base
    raise NoRoomError(f"The network {ground.label} ({ground.cidr}) finds no room beside the others on 127.0.0.0/8.")


def _candidates(usual: int, size: int) -> Iterator[int]:
    yield usual
    step = max(size, 1 << 16)
    first = _LOOPBACK | (usual & _LOW & (step - 1) & ~(size - 1))
    yield from range(first + step, _LOOPBACK + (1 << 24) - size + 1, step)
