"""What would happen if one device moved to another address? Said before anything is done."""

from dataclasses import dataclass
from ipaddress import IPv4Address

from tutelar.core.addressing.assignment import Plan
from tutelar.core.check import check
from tutelar.core.planning.renumber import Partner, partner_settings
from tutelar.core.problems import Problem
from tutelar.core.site.types import Device, Site


@dataclass(frozen=True, slots=True)
class Move:
    """A move: settings of others that follow, problems that it solves and causes, and one sentence.

    It is not `possible` where the moved device itself would break a rule.
    """

    possible: bool
    sentence: str
    partners: tuple[Partner, ...]
    solved: tuple[Problem, ...]
    caused: tuple[Problem, ...]


def move(site: Site, planned: Plan, device: Device, address: IPv4Address) -> Move:
    """Return what moving a device from its address (set or planned) to another one entails."""
    before = planned.addresses().get(device.key)
    partners = tuple(partner_settings(site, {device.key: (before or "none", str(address))}))
    moved = device.model_copy(update={"address": address, "locked": False})
    fresh = site.model_copy(update={"devices": tuple(moved if item is device else item for item in site.devices)})
    now, then = check(site), check(fresh)
    known, left = {(item.code, item.message) for item in now}, {(item.code, item.message) for item in then}
    solved = tuple(item for item in now if (item.code, item.message) not in left)
    caused = tuple(item for item in then if (item.code, item.message) not in known)
    wrong = next((item for item in caused if device.key in item.subjects and item.level == "error"), None)
    said = wrong.message if wrong else _sentence(site, device, address, planned)
    return Move(wrong is None, said, partners, solved, caused)


def _sentence(site: Site, device: Device, address: IPv4Address, planned: Plan) -> str:
    holder = next(
        (
            item.device
            for item in planned.assignments
            if item.address == str(address) and item.device != device.key and item.source == "planned"
        ),
        None,
    )
    if holder is not None:
        return f"{address} was only planned for {site.label_of(holder)}; that one gets the next place in its block."
    return f"{address} is free for {device.label}."
