"""Where does each device take its time from, can it reach that, and which one source would do for all?

Network time is 123/udp (RFC 5905). A source in the device's own network needs nothing; another network's needs both
gateways; one on the internet needs a gateway and a connection; a name needs a DNS server besides.
"""

from dataclasses import dataclass
from ipaddress import AddressValueError, IPv4Address

from tutelar.core.addressing.assignment import Plan
from tutelar.core.addressing.subnet import private_ground
from tutelar.core.site.types import Device, Network, Site
from tutelar.core.site.values import dotted

TIME_SERVICE = "time"
_CLOCKLESS = frozenset({"injector", "reader"})


@dataclass(frozen=True, slots=True)
class DeviceTime:
    """A device's time source as it is typed (None: there is none), whether it is reached, and why or why not."""

    device: str
    source: str | None
    reached: bool
    why: str


@dataclass(frozen=True, slots=True)
class TimePlan:
    """The one source that every device reaches (None: there is none), one sentence about it, and each device's."""

    source: str | None
    sentence: str
    devices: tuple[DeviceTime, ...]


def has_clock(site: Site, device: Device) -> bool:
    """Return whether a device keeps a time of its own."""
    return site.family_of(device) not in _CLOCKLESS


def time_of(site: Site, device: Device) -> DeviceTime:
    """Return where one device takes its time from today."""
    model = site.model_of(device)
    kept = model.clock.time if model and model.clock else "network"
    if kept == "hand":
        return DeviceTime(device.key, None, False, "It keeps its own clock: set it by hand, and check its drift.")
    if kept == "linked":
        return DeviceTime(device.key, None, True, "It takes the time from the device it is linked to.")
    if device.behind is not None:
        recorder = site.device_by_key.get(device.behind)
        ground = private_ground(site, recorder) if recorder else None
        if recorder is None or ground is None or ground.gateway is None:
            return DeviceTime(device.key, None, False, "Nothing is known of the recorder it hangs on.")
        at = dotted(ground.gateway)
        return DeviceTime(device.key, at, True, f"{recorder.label} serves the time on its own camera ports.")
    network = site.network_by_key.get(device.network or "")
    if network is None:
        return DeviceTime(device.key, None, False, "It stands in no network.")
    if network.time_source is None:
        return DeviceTime(device.key, None, False, f"No time server is known for {network.label}.")
    reached, why = reach(site, network, network.time_source)
    return DeviceTime(device.key, network.time_source, reached, why)


def reach(site: Site, network: Network, source: str) -> tuple[bool, str]:
    """Return whether devices of a network reach a time source, and in one sentence why or why not."""
    try:
        address = IPv4Address(source)
    except AddressValueError:
        if network.gateway is None:
            return False, f"{source} is a name, and {network.label} has no gateway towards it."
        if not network.dns:
            return False, f"{source} is a name, and {network.label} has no DNS server to ask."
        return _outside(site, network, source)
    home = site.network_of(address)
    if home is None:
        return _outside(site, network, source)
    if home.key == network.key:
        return True, f"{source} is in its own network."
    if network.gateway is None or home.gateway is None:
        closed = network if network.gateway is None else home
        return False, f"{source} is in {home.label}, and {closed.label} has no gateway."
    return True, f"{source} is in {home.label}, through the router."


def _outside(site: Site, network: Network, source: str) -> tuple[bool, str]:
    if network.gateway is None:
        return False, f"{source} lies outside, and {network.label} has no gateway."
    if site.internet is not None and site.internet.connection == "none":
        return False, f"{source} lies outside, and this site has no internet."
    if site.internet is None:
        return True, f"{source} lies outside; whether there is internet is not known yet."
    return True, f"{source} lies outside, through the router."


def time_plan(site: Site, planned: Plan) -> TimePlan:
    """Return the site's time: what each device follows, and the one source that all of them reach.

    Looked at in this order: sources that networks name, devices that serve the time, and with internet a public one.
    """
    rows = tuple(time_of(site, device) for device in site.devices if has_clock(site, device))
    used = [network for network in site.networks if any(item.network == network.key for item in site.devices)]
    declared = dict.fromkeys(network.time_source for network in used if network.time_source)
    addresses = planned.addresses()
    serving = {
        addresses[device.key]: device.label
        for device in site.devices
        if TIME_SERVICE in site.services_of(device) and device.key in addresses and device.behind is None
    }
    for source in (*declared, *serving):
        if used and all(reach(site, network, source)[0] for network in used):
            who = f" ({serving[source]})" if source in serving else ""
            if len(declared) > 1:
                return TimePlan(source, f"{source}{who} would do for all; today {len(declared)} are used.", rows)
            missing = [network.label for network in used if network.time_source is None]
            said = f"; {' and '.join(missing)} should follow it too" if missing else ""
            return TimePlan(source, f"{source}{who} is reached from every network{said}.", rows)
    return TimePlan(None, _no_source(site, used), rows)


def _no_source(site: Site, used: list[Network]) -> str:
    if site.internet is not None and site.internet.connection == "none":
        return (
            "No source is reached from every network, and there is no internet: let a recorder or a station that "
            "serves the time do it, or set the clocks by hand and check their drift."
        )
    closed = [network.label for network in used if network.gateway is None]
    if closed:
        return f"No source is reached from every network: {' and '.join(closed)} has no gateway."
    return "No time source is known: ask IT which time server the site follows."
