"""The patch map: which plug is in which port of a switch, a recorder or an injector."""

from typing import Literal, NamedTuple

from tutelar.core.loads.budget import can_feed
from tutelar.core.site.types import Device, Site

Role = Literal["powers", "data", "uplink"]


class Plug(NamedTuple):
    """A plug: its port (None: nobody says which), the device at the other end, and what the port does for it."""

    port: int | None
    device: str
    role: Role


class Patch(NamedTuple):
    """What has ports, how many (None: not known), where its own uplink goes, and its plugs by port."""

    device: str
    ports: int | None
    uplink: str | None
    plugs: tuple[Plug, ...]


def patches(site: Site) -> list[Patch]:
    """Return the patch map of everything with ports, in the order of the document; plugs without a number last."""
    plugs: dict[str, list[Plug]] = {}
    for device in site.devices:
        for end, plug in _ends(site, device):
            plugs.setdefault(end, []).append(plug)
    found = []
    for device in site.devices:
        model = site.model_of(device)
        own = model.ports if model else None
        if own is None and model is not None and model.camera_ports is not None:
            own = model.camera_ports.count
        if own is None and not can_feed(model) and device.key not in plugs:
            continue
        mine = sorted(plugs.get(device.key, ()), key=lambda item: (item.port is None, item.port or 0))
        up = device.plugged_into.device if site.family_of(device) == "switch" and device.plugged_into else None
        found.append(Patch(device.key, own, up, tuple(mine)))
    return found


def _ends(site: Site, device: Device) -> list[tuple[str, Plug]]:
    """Return where a device is plugged: one plug a port, as what powers it where that port does both."""
    fed, data = device.powered_by, device.plugged_into
    role: Role = "uplink" if site.family_of(device) == "switch" else "data"
    found = []
    if fed is not None:
        found.append((fed.device, Plug(fed.port, device.key, "powers")))
    same = fed is not None and data is not None and fed.device == data.device and data.port in (None, fed.port)
    if data is not None and not same:
        found.append((data.device, Plug(data.port, device.key, role)))
    if fed is None and data is None and device.behind is not None:
        found.append((device.behind, Plug(None, device.key, "data")))
    return found
