"""How do I reach this one out of the box? The way that usually wastes least time (docs/sources.md, first contact)."""

from dataclasses import asdict, dataclass
from ipaddress import IPv4Address, IPv4Network
from typing import Any, Literal

from tutelar.core.addressing.assignment import Assignment, Plan
from tutelar.core.planning import placed
from tutelar.core.reach import Ends, reach
from tutelar.core.run.advice import keep_off, web_address
from tutelar.core.run.chain import AdapterConfig, address_in_force, factory_network, laptop_address, subnet_needed
from tutelar.core.site.model import Model
from tutelar.core.site.types import Device, Site
from tutelar.core.site.values import netmask
from tutelar.core.wording import listed

Laptop = Literal["windows", "macos", "linux"]
LAPTOPS: tuple[Laptop, ...] = ("windows", "macos", "linux")
Way = Literal["own-address", "recorder-port", "lease", "factory-address", "link-local", "unknown"]


@dataclass(frozen=True, slots=True)
class Contact:
    """The way to a device: the adapter setting it needs (None = the site network), where to open it, the commands
    that set the laptop and set it back, which devices must stay unplugged meanwhile, and the steps in words."""

    way: Way
    adapter: AdapterConfig | None
    open: str | None
    set_commands: tuple[str, ...]
    back_commands: tuple[str, ...]
    keep_off: tuple[str, ...]
    steps: tuple[str, ...]

    def as_dict(self) -> dict[str, Any]:
        """Return the contact as the contract prints it."""
        return {
            "way": self.way,
            "adapter": None if self.adapter is None else asdict(self.adapter),
            "open": self.open,
            "commands": {"set": list(self.set_commands), "back": list(self.back_commands)},
            "keep_off": list(self.keep_off),
            "steps": list(self.steps),
        }


def contact(site: Site, device: Device, laptop: Laptop = "linux", addresses: Plan | None = None) -> Contact:
    """Return how to reach a device of the site for the first time, or at its own address once that is locked.

    `addresses` is the plan of the site where it is known already.
    """
    whole = addresses or placed(site)
    planned = next((item for item in whole.assignments if item.device == device.key), None)
    if device.locked and planned is not None:
        there = f"{device.label} is proven at {planned.address}: open it there."
        steps = (there, *_held_back(site, device, whole))
        return _plain("own-address", web_address(site.services_of(device), planned.address), steps)
    if device.behind is not None:
        return _plain("recorder-port", None, _behind_steps(site, device, planned))
    model = site.model_of(device)
    if model is None or model.factory is None:
        return _plain("unknown", None, _unknown_steps(device))
    factory = address_in_force(model, site.policy.bench)
    if factory is None:
        return _plain("lease", None, _lease_steps(site, device, model))
    address, subnet = str(factory.address), factory_network(factory)
    adapter = None
    if subnet_needed(site, device) is not None:
        adapter = laptop_address(subnet, _taken(site, subnet))
    off = keep_off(site, device, frozenset())
    commands: tuple[tuple[str, ...], tuple[str, ...]] = adapter_commands(adapter, laptop) if adapter else ((), ())
    way: Way = "link-local" if factory.mode == "link-local" else "factory-address"
    url = web_address(model.services, address)
    steps = _factory_steps(site, device, address, url, adapter, off)
    return Contact(way, adapter, url, *commands, off, steps)


def _held_back(site: Site, device: Device, planned: Plan) -> list[str]:
    """Return from which networks of the site a device is not reached at its page, and why: its own first."""
    services = site.services_of(device)
    port = services.get("web-tls") or services.get("web")
    if port is None or device.network is None:
        return []
    ends, found = Ends(site, planned), []
    for network in sorted(site.networks, key=lambda item: item.key != device.network):
        stop = reach(ends, f"laptop@{network.key}", device.key, port).reason
        if stop is not None and stop.code != "no-service":
            found.append(f"From {network.label} it is not reached: {stop.message}")
    return found


def _plain(way: Way, url: str | None, steps: tuple[str, ...]) -> Contact:
    return Contact(way, None, url, (), (), (), steps)


def _taken(site: Site, subnet: IPv4Network) -> set[int]:
    """Return addresses in the subnet that the laptop must not take: factory ones, set ones, a likely gateway."""
    factory = {int(model.factory.address) for model in site.models if model.factory and model.factory.address}
    held = {int(item.address) for item in site.devices if item.address is not None}
    gateways = {int(network.gateway) for network in site.networks if network.gateway is not None}
    base = int(subnet.network_address)
    return {number for number in factory | held | gateways | {base + 1} if IPv4Address(number) in subnet}


def adapter_commands(adapter: AdapterConfig, laptop: Laptop) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Return the commands that set a laptop's cable adapter by hand, and those that set it back to automatic.

    The adapter bears its usual name: "Ethernet", en0, eth0.
    """
    address, mask = adapter.address, netmask(adapter.prefix)
    if laptop == "windows":
        name = 'netsh interface ipv4 set address name="Ethernet"'
        return (f"{name} static {address} {mask}",), (f"{name} dhcp",)
    if laptop == "macos":
        return (f"sudo ifconfig en0 alias {address} {mask}",), (f"sudo ifconfig en0 -alias {address}",)
    return (
        (f"sudo ip address add {address}/{adapter.prefix} dev eth0",),
        (f"sudo ip address del {address}/{adapter.prefix} dev eth0",),
    )


def _behind_steps(site: Site, device: Device, planned: Assignment | None) -> tuple[str, ...]:
    recorder = site.label_of(device.behind or "")
    at = f" It gives it {planned.address}." if planned else ""
    if _found_by_itself(site, device):
        found = f"{recorder} finds it by itself.{at}"
    else:
        found = (
            f"It is of another maker than {recorder}: add it there by hand, with its login and its protocol, "
            f"and look at its picture.{at}"
        )
    return (
        f"Plug {device.label} into a camera port of {recorder}, never into a switch of the site.",
        found,
        f"It is reached only through {recorder}: open that one.",
    )


def _found_by_itself(site: Site, device: Device) -> bool:
    """Whether a recorder takes the camera on its own ports in by itself: of its own maker, or as its profile says."""
    camera = site.model_of(device)
    holder = site.device_by_key.get(device.behind or "")
    recorder = site.model_of(holder) if holder else None
    if camera is None or recorder is None or not camera.maker or not recorder.maker:
        return True  # nobody says that it does not
    others = recorder.camera_ports.finds_makers if recorder.camera_ports else None
    return camera.maker in (recorder.maker, *(others or ()))


def _unknown_steps(device: Device) -> tuple[str, ...]:
    return (
        f"Nothing is known of how {device.label} comes from the factory.",
        "Read the label and the leaflet: address, user, first password.",
        "Look for its hardware address in the router's lease table.",
    )


def _lease_steps(site: Site, device: Device, model: Model) -> tuple[str, ...]:
    network = site.network_by_key.get(device.network or "")
    steps = [f"Plug {device.label} in and let it boot; it takes an address from the router."]
    if not site.policy.bench.leases:
        steps.insert(0, "Put a router that leases addresses on the bench first: nothing there hands any out.")
    elif network is not None and not network.pools:
        steps.append(f"No DHCP pool of {network.label} is known: ask whether that network leases addresses at all.")
    mac = device.network_mac or "its hardware address (read it off the label)"
    page = web_address(model.services, "that address")
    at = f" ({page})" if page not in (None, "http://that address/", "https://that address/") else ""
    steps.append(f"Find {mac} in the router's lease table, and open the address beside it{at}.")
    if model.factory and model.factory.address:
        steps.append(f"Where nothing leases an address it falls back to {model.factory.address}.")
    steps.append("If it is nowhere: another VLAN, a filtered port or isolated Wi-Fi; after that a factory reset, once.")
    return tuple(steps)


def _factory_steps(
    site: Site, device: Device, address: str, url: str | None, adapter: AdapterConfig | None, off: tuple[str, ...]
) -> tuple[str, ...]:
    steps = []
    if off:
        names = listed([site.label_of(key) for key in off])
        steps.append(f"Leave {names} unplugged: {'it starts' if len(off) == 1 else 'they start'} at {address} too.")
    steps.append(f"Plug {device.label} in and let it boot; it starts at {address}.")
    if adapter:
        steps.append(f"Set this laptop to {adapter.address}, mask {netmask(adapter.prefix)}.")
    else:
        steps.append(f"{address} lies in a network of the site: the laptop can stay as it is.")
    steps.append(f"Open {url or address}; a warning about a certificate it signed itself is usual now.")
    steps.append(
        "If nothing answers: wait for the boot to end, look at the lamp of the port, then a factory reset, once."
    )
    if adapter:
        steps.append("Set the laptop back when this device has its own address.")
    return tuple(steps)
