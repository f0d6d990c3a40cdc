"""The pretend bench: a device goes back into its box, is plugged in, and wakes as it left the factory."""

from dataclasses import dataclass
from time import monotonic
from typing import Literal

from tutelar.core.proof import factory_login
from tutelar.core.run.chain import address_in_force, factory_network
from tutelar.core.site.types import Device, Site
from tutelar.standin.device import PretendDevice
from tutelar.standin.world import World

State = Literal["boxed", "unplugged", "busy", "no-address", "outside", "shadowed", "up"]
_SINCE_MADE_S = 6 * 365 * 86400.0


def into_box(device: PretendDevice, world: World) -> None:
    """Set a pretend device as it left the factory, unplugged. What was typed into it of others is gone as well."""
    site = world.site
    planned = site.device_by_key[device.key]
    model = site.model_of(planned)
    device.on, device.down, device.restarting = False, False, False
    device.name = device.model_name
    device.clock_offset_s = -_SINCE_MADE_S
    device.date_order = "YMD" if site.about.date_order != "YMD" else "MDY"
    device.services = dict(model.services) if model else device.services
    device.factory = factory_login(site, planned)
    device.password, device.refused = "", 0
    device.sessions.clear()
    device.site_address, device.prefix, device.gateway, device.dns = 0, None, None, ()
    device.time_source, device.code, device.secure_only, device.leased = None, "", False, False
    device.relay = "off"
    device.number = None
    device.intrudes, device.lost, device.drops, device.flaps_s = False, False, 0.0, 0.0
    device.slow_s, device.mute, device.disk, device.writes = 0.0, False, "ok", True
    if device.key in world.homes:
        home = world.homes[device.key]
        home.ground, home.address, home.port, home.password = "", 0, None, ""
    world.entries.pop(device.key, None)


def wake(device: PretendDevice, world: World) -> None:
    """Give a device from the box its first address: its own from the factory, else one that is handed out.

    Where nothing hands one out it has none (address 0).
    """
    site = world.site
    planned = site.device_by_key[device.key]
    factory = address_in_force(site.model_of(planned), site.policy.bench)
    if factory is not None and factory.address is not None:
        device.site_address, device.prefix = int(factory.address), factory_network(factory).prefixlen
        return
    network = site.network_by_key.get(planned.network or "")
    device.site_address = _lease(planned, site, world)
    device.leased = device.site_address != 0
    if device.site_address and network is not None:
        device.prefix = network.cidr.prefixlen
        device.gateway = str(network.gateway) if network.gateway else None
        device.dns = tuple(map(str, network.dns))


def _lease(planned: Device, site: Site, world: World) -> int:
    """Return the address that a router hands to a new device: its reservation, else the first free of the pools."""
    network = site.network_by_key.get(planned.network or "")
    if planned.behind is not None:  # the recorder hands it out on its own ports
        return int(planned.address or 0)
    if network is None or not site.policy.bench.leases:
        return 0
    if planned.addressing == "reserved" and planned.address is not None:
        return int(planned.address)
    held = {item.site_address for item in world.devices.values() if item.on}
    pools = (range(int(pool.first), int(pool.last) + 1) for pool in network.pools)
    return next((number for pool in pools for number in pool if number not in held), 0)


@dataclass(frozen=True)
class SimulatedStatus:
    """How a pretend device stands: in how many seconds it is ready while it is busy, else at which address of the site
    or of its factory it is, and on which page of this machine it is set."""

    state: State
    seconds: int = 0
    address: str | None = None
    page: str | None = None


def state_of(device: PretendDevice, *, listens: bool, inside: bool) -> State:
    """Return how a pretend device stands. `outside`: its address is in no range of the site, nor in its factory's;
    `shadowed`: another one answers at its address."""
    if not device.on:
        return "unplugged" if device.site_address else "boxed"
    if device.down:
        return "busy"
    if not device.site_address:
        return "no-address"
    if not inside:
        return "outside"
    return "up" if listens else "shadowed"


def seconds_left(device: PretendDevice) -> int:
    """Return how long a device still boots or restarts, in seconds."""
    return max(1, round(device.ready_at - monotonic()))
