"""What it entails that a device was bought used (docs/sources.md, kit)."""

from tutelar.core.site.types import Device, Site

_RELAYED = frozenset(
    {"camera", "recorder", "software-recorder", "door-station", "indoor-monitor", "alarm-hub", "doorbell"}
)


def used_steps(site: Site, device: Device) -> list[str]:
    """Return what has to be done before anything else with a device bought used; empty for a new one."""
    if not device.used:
        return []
    steps = ["Reset it to factory settings first: its password and address are the previous owner's."]
    if site.family_of(device) in _RELAYED:
        steps.append("Have the previous owner release it from their relay account; nobody else can.")
    steps.append("Bring its firmware up to date before it gets any setting.")
    if site.family_of(device) in ("recorder", "software-recorder"):
        steps.append("Format its disks: what is on them is somebody else's.")
    return steps
