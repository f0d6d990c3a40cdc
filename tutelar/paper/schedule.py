"""The address schedule as a table."""

from collections.abc import Mapping

from tutelar.core.addressing.assignment import Plan
from tutelar.core.site.types import Site
from tutelar.core.site.values import netmask
from tutelar.paper.tables import Table

_HEADER = (
    "Device",
    "Name",
    "Place",
    "Family",
    "Model",
    "Network",
    "Address",
    "Mask",
    "Gateway",
    "DNS",
    "Addressing",
    "Hardware address",
    "Serial number",
    "State",
    "Why",
)


def schedule_table(site: Site, planned: Plan, states: Mapping[str, str]) -> Table:
    """Return the address schedule of a site: one row a device in walking order, with how far it is."""
    assignments = {item.device: item for item in planned.assignments}
    rows = []
    for device in site.walking_order(list(site.devices)):
        item, model = assignments.get(device.key), site.model_of(device)
        rows.append(
            (
                device.key,
                device.label,
                device.place,
                site.family_of(device),
                model.label if model else device.model,
                item.network if item else device.network,
                item.address if item else None,
                netmask(item.prefix) if item else None,
                item.gateway if item else None,
                " ".join(item.dns) if item else None,
                device.addressing,
                device.network_mac,
                device.serial,
                states[device.key],
                item.why if item else "Leased: the router gives it an address.",
            )
        )
    return Table("Addresses", _HEADER, tuple(rows))
