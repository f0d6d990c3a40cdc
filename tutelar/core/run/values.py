"""What is typed or compared at a step of the run, named as most devices name it on their own pages."""

from dataclasses import dataclass

from tutelar.core.setting import DeviceSettings
from tutelar.core.site.types import Device


@dataclass(frozen=True, slots=True)
class Value:
    """A value of a step: `key` names it for ticks, `label` is what devices call it."""

    key: str
    label: str
    value: str
    secret: bool = False


def values_to_type(settings: DeviceSettings, device: Device, kind: str) -> tuple[Value, ...]:
    """Return the values that a step of this kind asks for, without secrets; () where nothing is typed or compared."""
    if kind == "connect":
        return _given(
            ("serial", "Serial number", device.serial),
            ("mac", "Hardware address", device.mac),
            ("place", "Place", device.place),
        )
    if kind == "confirm":
        assignment = settings.assignments.get(device.key)
        address = assignment.address if assignment else None
        return _given(("address", "Address", address), ("name", "Device name", settings.names.get(device.key)))
    if kind in ("activate", "configure"):
        return tuple(
            Value(line.key, line.label, line.value)
            for group in settings.groups(device)
            if group.at == kind
            for line in group.lines
            if line.slot is None
        )
    return ()


def _given(*pairs: tuple[str, str, str | None]) -> tuple[Value, ...]:
    return tuple(Value(key, label, value) for key, label, value in pairs if value)
