"""What is typed or compared at a step of the run, named as most devices name it on their own pages."""

from dataclasses import dataclass

from tutelar.core.setting import DeviceSettings
from tutelar.core.site.types import Device


@dataclass(frozen=True, slots=True)
class Value:
    label: str
    value: str
    secret: bool = False


def values_to_type(settings: DeviceSettings, device: Device, kind: str) -> tuple[Value, ...]:
    """Return the values that a step of this kind asks for, without secrets; () where nothing is typed or compared."""
    if kind == "connect":
        return _given(("Serial number", device.serial), ("Hardware address", device.mac), ("Place", device.place))
    if kind == "confirm":
        assignment = settings.assignments.get(device.key)
        address = assignment.address if assignment else None
        return _given(("Address", address), ("Device name", settings.names.get(device.key)))
    if kind in ("activate", "configure"):
        return tuple(
            Value(line.label, line.value)
            for group in settings.groups(device)
            if group.at == kind
            for line in group.lines
            if line.slot is None
        )
    return ()


def _given(*pairs: tuple[str, str | None]) -> tuple[Value, ...]:
    return tuple(Value(label, value) for label, value in pairs if value)
