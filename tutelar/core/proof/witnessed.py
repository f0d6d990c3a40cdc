"""What somebody has to see with his own eyes before a device counts as proven (docs/sources.md, proof)."""

from collections.abc import Iterable, Mapping

from tutelar.core.site.types import Device, Site

_DOORS = frozenset({"panel", "door-station", "reader", "keypad"})
_USUAL: Mapping[str, tuple[str, ...]] = {
    "recorder": ("plays-back",),
    "software-recorder": ("plays-back",),
    "door-station": ("test-call", "door-opens"),
    "indoor-monitor": ("test-call",),
    "panel": ("door-opens",),
}

_MAY: Mapping[str, frozenset[str]] = {
    "plays-back": frozenset({"recorder", "software-recorder"}),
    "test-call": frozenset({"door-station", "indoor-monitor", "call-server", "doorbell"}),
    "door-opens": _DOORS,
    "phone-picture": frozenset(
        {
            "camera",
            "recorder",
            "software-recorder",
            "encoder",
            "door-station",
            "indoor-monitor",
            "doorbell",
            "alarm-hub",
        }
    ),
}


def may_be_seen(family: str) -> list[str]:
    """Return what there is to see of a family at all, in the order of the proof sheet."""
    return [check for check, families in _MAY.items() if family in families]


def asked_of(site: Site, devices: Iterable[Device], family: str) -> tuple[str, ...]:
    """Return what somebody has to see of these devices of a family, as the site's policy says or as is usual."""
    said = site.policy.proof.witnessed.get(family)  # type: ignore[call-overload]
    if said is not None:
        return tuple(said)
    relayed = any(
        link.kind == "relays" and link.from_ == device.key for device in devices for link in site.links_of(device.key)
    )
    return (*_USUAL.get(family, ()), *(("phone-picture",) if relayed else ()))
