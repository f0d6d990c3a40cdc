"""What a technician would see at the pretend site: any check, also those that are done by hand."""

from collections.abc import Iterable

from tutelar.core.diagnose import CHECKS, Cause, Ground, UnknownCheck, Wrong, shown
from tutelar.core.diagnose.causes import INTERNET, SORTS
from tutelar.standin.faults import Fault


def observed(ground: Ground, faults: Iterable[Fault], check: str, at: str) -> str:
    """Return what a check at a device shows at the pretend site with these faults. Raises UnknownCheck."""
    if check not in CHECKS:
        raise UnknownCheck(f"There is no check '{check}'; the checks are {', '.join(CHECKS)}.")
    if at not in ground.devices:
        raise UnknownCheck(f"The site has no device '{at}'.")
    return shown(ground, Wrong(ground, causes_of(ground, faults)), check, at)


def causes_of(ground: Ground, faults: Iterable[Fault]) -> list[Cause]:
    """Return faults of a faults file as causes; one at a network, where it is one of devices, at each of them."""
    found: list[Cause] = []
    for fault in faults:
        sort = SORTS.get(fault.kind)
        if fault.kind == "provider-down":
            found.append(Cause(fault.kind, INTERNET))
        elif sort is not None and sort.scope == "network":
            found.append(Cause(fault.kind, fault.network or ""))
        else:
            there = (item.key for item in ground.site.devices if item.network == fault.network)
            found += [_at(fault, key) for key in ([fault.device] if fault.device else there)]
    return found


def _at(fault: Fault, key: str) -> Cause:
    return Cause(
        fault.kind,
        key,
        address=fault.address,
        prefix=fault.prefix,
        gateway=fault.gateway,
        service=fault.service,
        other=fault.network if fault.device and fault.kind == "wrong-vlan" else fault.with_,
        loss=fault.loss,
    )
