"""The chain of steps of one device, and which laptop setting each step needs (the run model of the contract)."""

from dataclasses import dataclass
from ipaddress import IPv4Network

from tutelar.core.run.hand_times import ASSUMED, HandTimes, hand_times
from tutelar.core.site.model import Factory, Model
from tutelar.core.site.policy import Bench
from tutelar.core.site.types import Device, Site
from tutelar.core.site.values import dotted

STAGES = ("connect", "activate", "configure", "confirm")  # work of a hand
ALONE = ("boot", "update", "restart", "format")  # what a device does by itself after each of them
KINDS = tuple(kind for pair in zip(STAGES, ALONE, strict=True) for kind in pair)
TITLES = {
    "connect": "Plug in {name}",
    "boot": "{name} is booting",
    "activate": "First login: {name}",
    "update": "{name} is updating its firmware",
    "configure": "Give {name} its address and settings",
    "configure-anew": "Type the settings of {name} again",
    "restart": "{name} is restarting",
    "confirm": "Look at {name} at its new address",
    "format": "{name} is formatting its disk",
}
TIMED = {
    "boot": "boot_s",
    "activate": "activate_s",
    "update": "firmware_s",
    "configure": "configure_s",
    "restart": "restart_s",
    "format": "format_s",
}


@dataclass(frozen=True, slots=True)
class AdapterConfig:
    """An adapter setting of the laptop. None stands for the site network."""

    address: str
    prefix: int

    @property
    def network(self) -> IPv4Network:
        """The subnet that the laptop then stands in."""
        return IPv4Network((self.address, self.prefix), strict=False)


@dataclass(frozen=True, slots=True)
class Operation:
    """One step of a device's chain: what it is, whether a hand does it, and its seconds."""

    kind: str
    manual: bool
    seconds: float


def at_bench(site: Site) -> list[Device]:
    """Return the devices that go over the bench, in walking order: all that have a network."""
    return site.walking_order([device for device in site.device_by_key.values() if device.key not in site.wired])


def chain_of(site: Site, device: Device, assumed: HandTimes | None = None) -> list[Operation]:
    """Return the steps of a device in order with their seconds. A missing time of what is done by hand is `assumed`
    (see `hand_times`); other steps whose time is missing, and all whose time is 0, are left out."""
    model = site.model_of(device)
    bench = site.policy.bench
    timings = model.timings if model else None
    seconds = {kind: getattr(timings, name, None) for kind, name in TIMED.items()}
    times = hand_times(site) if assumed is None else assumed
    for kind in ("activate", "configure"):
        if seconds[kind] is None:
            seconds[kind] = times.get((site.family_of(device), TIMED[kind]), ASSUMED[TIMED[kind]])
    seconds |= {"connect": bench.connect_s, "confirm": bench.confirm_s}
    if not bench.update_firmware:
        seconds["update"] = None
    if site.family_of(device) != "recorder":
        seconds["format"] = None
    return [Operation(kind, kind in STAGES, seconds[kind] or 0) for kind in KINDS if seconds[kind]]


def address_in_force(model: Model | None, bench: Bench) -> Factory | None:
    """Return the factory setting at which every new device of this model wakes, None where it takes a lease."""
    factory = model.factory if model else None
    if factory is None or factory.address is None:
        return None
    if factory.mode in ("fixed", "link-local") or (factory.mode == "leased-then-fixed" and not bench.leases):
        return factory
    return None


def factory_network(factory: Factory) -> IPv4Network:
    """Return the subnet of a factory address; a missing mask counts as /24, link-local as /16."""
    prefix = factory.prefix if factory.prefix is not None else 16 if factory.mode == "link-local" else 24
    return IPv4Network((int(factory.address or 0), prefix), strict=False)


def subnet_needed(site: Site, device: Device) -> IPv4Network | None:
    """Return the factory subnet in which the laptop must stand to reach the new device; None = the site network.

    A factory subnet that overlaps a site network needs no change.
    """
    factory = address_in_force(site.model_of(device), site.policy.bench)
    if factory is None:
        return None
    subnet = factory_network(factory)
    if any(subnet.overlaps(network.cidr) for network in site.networks):
        return None
    return subnet


def laptop_address(subnet: IPv4Network, taken: set[int]) -> AdapterConfig:
    """Return a setting for a laptop in the subnet: the first host from .9 on that is not taken, else any free host."""
    base, top = int(subnet.network_address), int(subnet.broadcast_address)
    start = base + 9 + (256 if subnet.prefixlen <= 16 else 0)
    for number in (*range(start, min(top, start + 2000)), *range(base + 1, min(top, base + 2000))):
        if base < number < top and number not in taken:
            return AdapterConfig(dotted(number), subnet.prefixlen)
    return AdapterConfig(dotted(base), subnet.prefixlen)
