"""The chain of steps of one device, and which laptop setting each step needs (the run model of the contract)."""

from dataclasses import dataclass
from ipaddress import IPv4Network

from tutelar.core.site.model import Factory, Model
from tutelar.core.site.types import Bench, Device, Site
from tutelar.core.site.values import dotted

# kind, occupies a hand, title with {name}
KINDS = (
    ("connect", True, "Plug in {name}"),
    ("boot", False, "{name} boots"),
    ("activate", True, "Wake {name} for the first time"),
    ("update", False, "{name} updates its firmware"),
    ("configure", True, "Give {name} its address and settings"),
    ("restart", False, "{name} restarts"),
    ("confirm", True, "Look at {name} at its new address"),
    ("format", False, "{name} formats its disk"),
)
FROM_FACTORY = frozenset({"activate", "configure"})  # needs the laptop where the device is from the factory


@dataclass(frozen=True, slots=True)
class Setting:
    """An adapter setting of the laptop. None stands for the site network."""

    address: str
    prefix: int

    @property
    def network(self) -> IPv4Network:
        return IPv4Network((self.address, self.prefix), strict=False)


@dataclass(frozen=True, slots=True)
class Piece:
    kind: str
    hands: bool
    seconds: float


def chain_of(site: Site, device: Device) -> list[Piece]:
    """Return the steps of a device in order with their seconds; steps whose timing is missing or 0 are left out."""
    model = site.model_of(device)
    bench = site.policy.bench
    timings = model.timings if model else None
    seconds = {
        "connect": bench.connect_s,
        "boot": timings.boot_s if timings else None,
        "activate": timings.activate_s if timings else None,
        "update": timings.firmware_s if timings and bench.update_firmware else None,
        "configure": timings.configure_s if timings else None,
        "restart": timings.restart_s if timings else None,
        "confirm": bench.confirm_s,
        "format": timings.format_s if timings and model and model.family == "recorder" else None,
    }
    return [Piece(kind, hands, seconds[kind] or 0) for kind, hands, _ in KINDS if seconds[kind]]


def address_in_force(model: Model | None, bench: Bench) -> Factory | None:
    """Return the factory setting at which every new device of this model wakes, None where it takes a lease."""
    factory = model.factory if model else None
    if factory is None or factory.address is None:
        return None
    if factory.mode in ("fixed", "link-local") or (factory.mode == "leased-then-fixed" and not bench.leases):
        return factory
    return None


def factory_network(factory: Factory) -> IPv4Network:
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


def laptop_address(subnet: IPv4Network, taken: set[int]) -> Setting:
    """Return a setting for a laptop in the subnet: the first host from .9 on that is not taken, else any free host."""
    base, top = int(subnet.network_address), int(subnet.broadcast_address)
    start = base + 9 + (256 if subnet.prefixlen <= 16 else 0)
    for number in (*range(start, min(top, start + 2000)), *range(base + 1, min(top, base + 2000))):
        if base < number < top and number not in taken:
            return Setting(dotted(number), subnet.prefixlen)
    return Setting(dotted(base), subnet.prefixlen)
