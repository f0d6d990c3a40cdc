"""What is typed into a device, named as most devices name it on their own pages."""

from dataclasses import dataclass

from tutelar.core.addressing.plan import Assignment
from tutelar.core.site.types import Device, Site
from tutelar.core.site.values import netmask


@dataclass(frozen=True, slots=True)
class Value:
    label: str
    value: str
    secret: bool = False


def values_to_type(site: Site, device: Device, assignment: Assignment | None, kind: str) -> tuple[Value, ...]:
    """Return the values that a step of this kind asks for; () where nothing is typed or compared."""
    if kind == "connect":
        return _given(("Serial number", device.serial), ("Hardware address", device.mac), ("Place", device.place))
    if kind == "activate":
        factory = model.factory if (model := site.model_of(device)) else None
        at = str(factory.address) if factory and factory.address else None
        return _given(("Factory address", at), ("User", factory.user if factory else None))
    if kind == "configure":
        return _settings(site, device, assignment)
    if kind == "confirm":
        return _given(("Address", assignment.address if assignment else None), ("Device name", device.name))
    return ()


def _settings(site: Site, device: Device, assignment: Assignment | None) -> tuple[Value, ...]:
    network = site.network_by_key.get(device.network or "")
    about = site.about
    typed = [("Device name", device.name), ("Time zone", about.time_zone), ("Date order", _ORDERS[about.date_order])]
    if assignment is None:
        return _given(("Addressing", "Automatic (DHCP)" if device.addressing == "leased" else None), *typed)
    return _given(
        ("IPv4 address", assignment.address),
        ("Subnet mask", netmask(assignment.prefix)),
        ("Default gateway", assignment.gateway),
        ("DNS server", ", ".join(assignment.dns)),
        ("Time server", network.time_source if network else None),
        *typed,
    )


_ORDERS = {"DMY": "Day, month, year", "MDY": "Month, day, year", "YMD": "Year, month, day"}


def _given(*pairs: tuple[str, str | None]) -> tuple[Value, ...]:
    return tuple(Value(label, value) for label, value in pairs if value)
