"""Who feeds whom over the network cable, and does the budget hold?

Watts a switch reserves at its port for each class: IEEE 802.3-2022, clauses 33 and 145.
"""

from collections import defaultdict
from collections.abc import Iterator, Mapping

from tutelar.core.problems import Problem, problem
from tutelar.core.site.model import Model
from tutelar.core.site.types import Device, Site
from tutelar.core.wording import listed

PORT_WATTS = {0: 15.4, 1: 4.0, 2: 7.0, 3: 15.4, 4: 30.0, 5: 45.0, 6: 60.0, 7: 75.0, 8: 90.0}


def reserved_watts(model: Model | None) -> float:
    """Return the watts that a switch reserves for a device of this model; 0.0 where it is fed otherwise."""
    if model is None or model.power is None or model.power.poe_class is None:
        return 0.0
    return PORT_WATTS[model.power.poe_class]


def can_feed(model: Model | None) -> bool:
    """Return whether devices of this model feed others over the network cable: powered ports, a switch, an injector."""
    if model is None:
        return False
    own = model.camera_ports is not None and model.camera_ports.poe_budget_w is not None
    return own or model.poe_budget_w is not None or model.family in ("switch", "injector")


def feeder_of(site: Site, device: Device) -> str | None:
    """Return the key of what feeds a device over its network cable: what is written down, else the recorder whose own
    powered ports it hangs on; None where nothing does or nobody says."""
    if device.powered_by is not None:
        return device.powered_by.device
    recorder = site.device_by_key.get(device.behind or "")
    model = site.model_of(recorder) if recorder else None
    powered = model is not None and model.camera_ports is not None and model.camera_ports.poe_budget_w is not None
    return device.behind if powered and reserved_watts(site.model_of(device)) else None


def supply_problems(site: Site) -> Iterator[Problem]:
    """Yield switches and recorders whose powered ports are asked for more than they give, and doubly used ports."""
    fed: dict[str, list[Device]] = defaultdict(list)
    ports: dict[tuple[str, int], list[Device]] = defaultdict(list)
    for device in site.devices:
        if (feeder := feeder_of(site, device)) is not None:
            fed[feeder].append(device)
        if device.powered_by is not None and device.powered_by.port is not None:
            ports[device.powered_by.device, device.powered_by.port].append(device)
    for key, said in _over_budget(site, fed).items():
        yield problem("switch.over-budget", (key,), f"{said}.", "Feed some of them from another switch or injector.")
    for (key, port), devices in ports.items():
        if len(devices) > 1:
            yield problem(
                "switch.port-taken",
                [*(device.key for device in devices), key],
                f"{listed([device.label for device in devices])} are all on port {port} of {site.label_of(key)}.",
                "Give each its own port.",
            )


def over_budget(site: Site) -> dict[str, str]:
    """Return what is said of each device that must feed more than it can, without a full stop, by its key."""
    fed: dict[str, list[Device]] = defaultdict(list)
    for device in site.devices:
        if (feeder := feeder_of(site, device)) is not None:
            fed[feeder].append(device)
    return _over_budget(site, fed)


def _over_budget(site: Site, fed: Mapping[str, list[Device]]) -> dict[str, str]:
    found = {}
    for key, devices in fed.items():
        source = site.device_by_key.get(key)
        model = site.model_of(source) if source else None
        if source is None or model is None:
            continue
        budget = model.poe_budget_w
        if budget is None and model.camera_ports is not None:
            budget = model.camera_ports.poe_budget_w
        wanted = sum(reserved_watts(site.model_of(device)) for device in devices)
        if budget is not None and wanted > budget:
            found[key] = (
                f"{source.label} must reserve {wanted:.1f} W by class for {len(devices)} devices; it has {budget:g} W"
            )
    return found
