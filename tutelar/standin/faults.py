"""Faults that the pretend site can play, read from a file."""

from typing import Annotated, Literal, get_args

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from tutelar.core.diagnose.causes import INTERNET
from tutelar.core.doors.circuit import DoorFault
from tutelar.core.site.base import Address, DateOrder, Port, Slug, Text
from tutelar.core.site.reading import UnreadableSite, sentences
from tutelar.core.site.types import Site

Kind = Literal[
    "power-off",
    "cable",
    "wrong-address",
    "wrong-prefix",
    "wrong-gateway",
    "wrong-dns",
    "duplicate-address",
    "wrong-vlan",
    "port-changed",
    "wrong-password",
    "clock-offset",
    "wrong-date-order",
    "wrong-name",
    "not-recording",
    "recorder-full",
    "wrong-pattern",
    "disk-missing",
    "disk-failing",
    "relay-off",
    "relay-blocked",
    "relay-bound-elsewhere",
    "leased-moved",
    "wrong-slot",
    "factory-login",
    "wrong-time-source",
    "other-certificate",
    "path-down",
    "input-open",
    "no-code",
    "armed",
    "slow",
    "half-open",
    "flapping",
    "switch-off",
    "port-dead",
    "uplink-cut",
    "device-dead",
    "gateway-down",
    "dns-down",
    "provider-down",
    "relay-swapped",
    "contact-swapped",
    "exit-dead",
    "reader-dead",
    "not-sent",
    "fire-not-wired",
]
DOOR_FAULTS = frozenset(get_args(DoorFault))
AT_A_NETWORK = frozenset({"gateway-down", "dns-down"})
_AT_A_SWITCH = frozenset({"switch-off", "uplink-cut"})


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
    input: Annotated[int, Field(ge=1)] | None = None
    path: Slug | None = None
    bay: Annotated[int, Field(ge=1)] | None = None
    door: Annotated[int, Field(ge=1)] | None = None


class Faults(BaseModel):
    """A file of faults."""

    model_config = ConfigDict(frozen=True, strict=True, extra="forbid")

    faults: tuple[Fault, ...]


def read_faults(text: str | bytes, site: Site) -> tuple[Fault, ...]:
    """Return the faults of a faults file for this site.

    Raises UnreadableSite with one sentence a fault: not JSON, unknown kinds, devices or networks that the site
    does not have.
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
    if fault.kind == "provider-down":
        fits = fault.device is None and fault.network in (None, INTERNET)
        return None if fits else f'The fault \'provider-down\' is at "network": "{INTERNET}".'
    if fault.kind in AT_A_NETWORK and (fault.network is None or fault.device is not None):
        return f"The fault '{fault.kind}' needs a network."
    if fault.kind in _AT_A_SWITCH and fault.device is None:
        return f"The fault '{fault.kind}' needs a device, a switch."
    both = fault.kind == "wrong-vlan" and fault.device is not None  # the network that it is plugged into by mistake
    if (fault.device is None) == (fault.network is None) and not both:
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
    model = site.model_of(site.device_by_key[fault.device]) if fault.device else None
    capacity = model.capacity if model else None
    inputs, paths = (capacity.inputs or 0, capacity.paths or ()) if capacity else (0, ())
    if fault.input is not None and model is not None and fault.input > inputs:
        return f"'{fault.device}' has no input {fault.input}; it has {inputs or 'none'}."
    numbers = sorted(door.number for door in site.doors if door.panel == fault.device and door.number is not None)
    if fault.kind in DOOR_FAULTS and not numbers:
        return f"'{fault.device}' holds no door; the fault '{fault.kind}' is at the panel of one."
    if fault.door is not None and fault.door not in numbers:
        return f"'{fault.device}' has no door {fault.door}; it has {', '.join(map(str, numbers)) or 'none'}."
    if fault.path is not None and model is not None and fault.path not in (paths or ("network",)):
        return f"'{fault.device}' has no path '{fault.path}'; it has {', '.join(paths) or 'network'}."
    return None
