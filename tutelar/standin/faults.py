"""Faults that the pretend site can play, read from a file and applied to its devices."""

from collections.abc import Callable
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from tutelar.core.site.base import Address, DateOrder, Port, Slug, Text
from tutelar.core.site.reading import UnreadableSite, sentences
from tutelar.core.site.types import Site
from tutelar.standin.device import PretendDevice

Kind = Literal[
    "power-off", "cable", "wrong-address", "wrong-prefix", "wrong-gateway", "wrong-dns", "duplicate-address",
    "wrong-vlan", "port-changed", "wrong-password", "clock-offset", "wrong-date-order", "wrong-name",
    "not-recording", "recorder-full", "relay-off", "relay-blocked", "relay-bound-elsewhere", "leased-moved",
    "wrong-slot",
]  # fmt: skip


class Fault(BaseModel):
    """One fault: at a device or at all devices of a network; values have sensible defaults."""

    model_config = ConfigDict(frozen=True, strict=True, extra="forbid", populate_by_name=True)

    kind: Kind
    device: Slug | None = None
    network: Slug | None = None
    with_: Slug | None = Field(default=None, alias="with")
    seconds: Annotated[float, Field(ge=-1e9, le=1e9)] | None = None
    name: Text | None = None
    service: Slug | None = None
    port: Port | None = None
    address: Address | None = None
    date_order: DateOrder | None = None
    prefix: Annotated[int, Field(ge=0, le=32)] | None = None
    gateway: Address | None = None
    dns: Address | None = None
    slot: Annotated[int, Field(ge=0)] | None = None
    loss: Annotated[float, Field(ge=0, le=1)] | None = None


class Faults(BaseModel):
    model_config = ConfigDict(frozen=True, strict=True, extra="forbid")

    faults: tuple[Fault, ...]


def read_faults(text: str | bytes, site: Site) -> tuple[Fault, ...]:
    """Return the faults of a faults file for this site.

    Raises UnreadableSite with one sentence a fault: not JSON, unknown kinds, devices or networks that the site
    does not have, and kinds that this stand-in does not play yet.
    """
    try:
        faults = Faults.model_validate_json(text).faults
    except ValidationError as error:
        raise UnreadableSite(sentences(error.errors(include_url=False))) from None
    wrong = [(f"faults[{at}]", reason) for at, fault in enumerate(faults) if (reason := _impossible(fault, site))]
    if wrong:
        raise UnreadableSite(wrong)
    return faults


def _impossible(fault: Fault, site: Site) -> str | None:
    if fault.kind not in PLAYED:
        return f"The fault '{fault.kind}' is not played by this stand-in yet; it plays {', '.join(PLAYED)}."
    if (fault.device is None) == (fault.network is None):
        return f"The fault '{fault.kind}' needs either a device or a network."
    if fault.device is not None and fault.device not in site.device_by_key:
        return f"The site has no device '{fault.device}'."
    if fault.network is not None and fault.network not in site.network_by_key:
        return f"The site has no network '{fault.network}'."
    if fault.with_ is not None and fault.with_ not in site.device_by_key:
        return f"The site has no device '{fault.with_}'."
    if fault.kind == "duplicate-address" and fault.with_ is not None and fault.with_ == fault.device:
        return f"'{fault.with_}' cannot share an address with itself; name another device."
    services = site.services_of(site.device_by_key[fault.device]) if fault.device else None
    if fault.service is not None and services is not None and fault.service not in services:
        return f"'{fault.device}' has no service '{fault.service}'; it has {', '.join(services) or 'none'}."
    return None


def apply_faults(faults: tuple[Fault, ...], site: Site, devices: dict[str, PretendDevice]) -> list[PretendDevice]:
    """Change the devices as the faults say; return strangers that faults bring onto the site."""
    strangers: list[PretendDevice] = []
    for fault in faults:
        keys = [fault.device] if fault.device else [item.key for item in site.devices if item.network == fault.network]
        for key in keys:
            if key in devices:
                stranger = PLAYED[fault.kind](fault, devices[key], devices)
                if stranger:
                    strangers.append(stranger)
    return strangers


def _power_off(_fault: Fault, device: PretendDevice, _all: dict[str, PretendDevice]) -> None:
    device.on = False


def _wrong_name(fault: Fault, device: PretendDevice, _all: dict[str, PretendDevice]) -> None:
    other = f"{device.model_name} 01"
    device.name = fault.name if fault.name is not None else other if other != device.name else f"{other} (copy)"


def _clock_offset(fault: Fault, device: PretendDevice, _all: dict[str, PretendDevice]) -> None:
    device.clock_offset_s = 3600.0 if fault.seconds is None else fault.seconds


def _date_order(fault: Fault, device: PretendDevice, _all: dict[str, PretendDevice]) -> None:
    device.date_order = fault.date_order or ("MDY" if device.date_order != "MDY" else "YMD")


def _port_changed(fault: Fault, device: PretendDevice, _all: dict[str, PretendDevice]) -> None:
    service = fault.service or next(iter(device.services), None)
    if service in device.services:
        used = set(device.services.values())
        planned = device.services[service]
        free = (port for port in range(planned + 1, planned + 100) if port not in used)
        device.services[service] = fault.port or next(free)


def _moved(fault: Fault, device: PretendDevice, everyone: dict[str, PretendDevice]) -> None:
    """Move a device off its planned address, onto the one named or onto one that nobody has."""
    if fault.address is not None:
        device.site_address = int(fault.address)
    else:
        used = {other.site_address for other in everyone.values()}
        device.site_address = next(
            n for n in range(device.site_address + 1, device.site_address + 1000) if n not in used
        )


def _duplicate(fault: Fault, device: PretendDevice, everyone: dict[str, PretendDevice]) -> PretendDevice | None:
    """Put the device onto another one's address; without `with`, a stranger answers at the device's own."""
    other = everyone.get(fault.with_ or "")
    if other is not None:
        device.site_address, device.ground = other.site_address, other.ground
        device.intrudes = True
        return None
    return device.stranger()


Play = Callable[[Fault, PretendDevice, dict[str, PretendDevice]], PretendDevice | None]
PLAYED: dict[str, Play] = {
    "power-off": _power_off,
    "wrong-name": _wrong_name,
    "clock-offset": _clock_offset,
    "port-changed": _port_changed,
    "duplicate-address": _duplicate,
    "wrong-address": _moved,
    "leased-moved": _moved,
    "wrong-date-order": _date_order,
}
