"""What faults do to the pretend site: one function a kind."""

from collections.abc import Callable
from ipaddress import IPv4Address
from typing import get_args

from tutelar.core.diagnose.wrong import narrow
from tutelar.core.doors.circuit import DoorFault
from tutelar.core.loads.budget import plugged_at
from tutelar.core.proof import factory_login
from tutelar.core.site.values import dotted
from tutelar.standin.device import PretendDevice
from tutelar.standin.faults import AT_A_NETWORK, Fault
from tutelar.standin.world import Entry, World


def apply_faults(faults: tuple[Fault, ...], world: World) -> list[PretendDevice]:
    """Change the devices as the faults say; return strangers that faults bring onto the site."""
    site = world.site
    for fault in faults:
        if fault.kind in ("provider-down", *AT_A_NETWORK):
            _play_on_network(fault, world)
            continue
        keys = [fault.device] if fault.device else [item.key for item in site.devices if item.network == fault.network]
        for key in keys:
            if key in world.devices:
                PLAYED[fault.kind](fault, world.devices[key], world)
    return world.strangers


def _play_on_network(fault: Fault, world: World) -> None:
    if fault.kind == "provider-down":
        world.provider_down = True
    elif fault.kind == "gateway-down":
        world.gateways_down.add(fault.network or "")
    else:
        world.names_down.add(fault.network or "")


def _power_off(_fault: Fault, device: PretendDevice, _world: World) -> None:
    device.on = False


def _switch_off(_fault: Fault, device: PretendDevice, world: World) -> None:
    """Everything that hangs on it is lost, what it feeds has no power."""
    device.on = False
    for other in _hanging_on(device, world):
        other.on = False


def _uplink_cut(_fault: Fault, device: PretendDevice, world: World) -> None:
    """The laptop stands above it: nothing that hangs on it answers but what is in a recorder's own ports."""
    device.lost = True
    for other in _hanging_on(device, world):
        if world.site.device_by_key[other.key].behind is None:
            other.lost = True


def _hanging_on(device: PretendDevice, world: World) -> list[PretendDevice]:
    """Return what is plugged into a switch or fed by it, and what hangs on that."""
    above = {item.key: {plugged_at(item), item.powered_by and item.powered_by.device} for item in world.site.devices}
    found = {device.key}
    while more := {key for key, over in above.items() if key not in found and not found.isdisjoint(over)}:
        found |= more
    return [world.devices[key] for key in sorted(found - {device.key}) if key in world.devices]


def _cable(fault: Fault, device: PretendDevice, _world: World) -> None:
    device.drops = 1.0 if fault.loss is None else fault.loss


def _wrong_name(fault: Fault, device: PretendDevice, _world: World) -> None:
    other = f"{device.model_name} 01"
    device.name = fault.name if fault.name is not None else other if other != device.name else f"{other} (copy)"


def _clock_offset(fault: Fault, device: PretendDevice, _world: World) -> None:
    device.clock_offset_s = 3600.0 if fault.seconds is None else fault.seconds


def _date_order(fault: Fault, device: PretendDevice, _world: World) -> None:
    device.date_order = fault.date_order or ("MDY" if device.date_order != "MDY" else "YMD")


def _port_changed(fault: Fault, device: PretendDevice, _world: World) -> None:
    service = fault.service or next(iter(device.services), None)
    if service in device.services:
        used = set(device.services.values())
        planned = device.services[service]
        free = (port for port in range(planned + 1, planned + 100) if port not in used)
        device.services[service] = fault.port or next(free)


def _moved(fault: Fault, device: PretendDevice, world: World) -> None:
    """Move a device off its planned address, onto the one named or onto one that nobody has."""
    if fault.address is not None:
        device.site_address = int(fault.address)
        return
    used = {other.site_address for other in world.devices.values()}
    used |= {int(other.address) for other in world.site.devices if other.address is not None}
    device.site_address = next(n for n in range(device.site_address + 1, device.site_address + 10_000) if n not in used)


def _duplicate(fault: Fault, device: PretendDevice, world: World) -> None:
    """Put the device onto another one's address; without `with`, a stranger answers at the device's own."""
    other = world.devices.get(fault.with_ or "")
    if other is not None:
        device.site_address, device.ground = other.site_address, other.ground
        device.intrudes = True
    else:
        planned = world.site.device_by_key[device.key]
        home = int(planned.address) if planned.address is not None else device.site_address
        world.strangers.append(device.stranger(home, dict(world.site.services_of(planned))))


def _wrong_vlan(_fault: Fault, device: PretendDevice, _world: World) -> None:
    device.lost = True


def _wrong_password(_fault: Fault, device: PretendDevice, _world: World) -> None:
    device.password = f"another than {device.password[:4]}"


def _wrong_prefix(fault: Fault, device: PretendDevice, _world: World) -> None:
    gateway = IPv4Address(device.gateway) if device.gateway else None
    usual = narrow(IPv4Address(device.site_address), device.prefix if device.prefix is not None else 24, gateway)
    device.prefix = usual if fault.prefix is None else fault.prefix


def _wrong_gateway(fault: Fault, device: PretendDevice, _world: World) -> None:
    other = device.site_address ^ 1
    device.gateway = str(fault.gateway) if fault.gateway is not None else dotted(other)


def _wrong_dns(fault: Fault, device: PretendDevice, _world: World) -> None:
    device.dns = (str(fault.dns) if fault.dns is not None else "192.0.2.53",)  # of the range for examples, RFC 5737


def _not_recording(_fault: Fault, device: PretendDevice, world: World) -> None:
    """A camera's channels are shown and not written; a recorder writes nothing at all."""
    device.writes = False
    for entry in _own_entries(device, world):
        entry.writes = False


def _recorder_full(_fault: Fault, device: PretendDevice, world: World) -> None:
    """A recorder's disk is full and nothing is overwritten; of a camera its recorders have no room for it."""
    device.disk = "full"
    for entry in _own_entries(device, world):
        entry.refused = "no room for it"


def _wrong_pattern(_fault: Fault, device: PretendDevice, world: World) -> None:
    """A camera's channels, or all of a recorder, are left at what recorders come with: motion all day."""
    entries = _own_entries(device, world) or world.entries.get(device.key, [])
    for entry in entries:
        entry.week = _MOTION if entry.week != _MOTION else ""


_MOTION = "|".join(["00:00-24:00m"] * 7)


def _disk_missing(fault: Fault, device: PretendDevice, _world: World) -> None:
    """A disk is not found in its bay: loose, or its cables are."""
    gone = fault.bay if fault.bay is not None else max((disk["bay"] for disk in device.disks), default=None)
    device.disks = [disk for disk in device.disks if disk["bay"] != gone]


def _disk_failing(fault: Fault, device: PretendDevice, _world: World) -> None:
    """A disk answers with faults."""
    bad = fault.bay if fault.bay is not None else min((disk["bay"] for disk in device.disks), default=None)
    device.disks = [disk | {"state": "failing"} if disk["bay"] == bad else disk for disk in device.disks]


def _wrong_slot(fault: Fault, device: PretendDevice, world: World) -> None:
    """A camera is typed in on another channel, a monitor registers by another number."""
    entries = _own_entries(device, world)
    for entry in entries:
        taken = {other.number for others in world.entries.values() for other in others if other.to == entry.to}
        entry.number = fault.slot if fault.slot is not None else max(taken) + 1
    if device.number is not None:
        device.number = fault.slot if fault.slot is not None else device.number + 90


def _own_entries(device: PretendDevice, world: World) -> list[Entry]:
    return [entry for entries in world.entries.values() for entry in entries if entry.of == device.key]


def _relay(state: str) -> "Play":
    def play(_fault: Fault, device: PretendDevice, _world: World) -> None:
        device.relay = state

    return play


def _slow(fault: Fault, device: PretendDevice, _world: World) -> None:
    device.slow_s = 3.0 if fault.seconds is None else max(0.0, fault.seconds)


def _half_open(_fault: Fault, device: PretendDevice, _world: World) -> None:
    device.mute = True


def _flapping(fault: Fault, device: PretendDevice, _world: World) -> None:
    """Down and up in turn, beginning down."""
    device.flaps_s = 20.0 if fault.seconds is None else max(0.1, fault.seconds)
    device.down = True


def _factory_login(_fault: Fault, device: PretendDevice, world: World) -> None:
    device.factory = factory_login(world.site, world.site.device_by_key[device.key])


def _time_source(_fault: Fault, device: PretendDevice, _world: World) -> None:
    device.time_source = "192.0.2.123"  # of the range for examples, RFC 5737


def _certificate(_fault: Fault, device: PretendDevice, _world: World) -> None:
    device.certificate += " renewed"


def _path_down(fault: Fault, device: PretendDevice, _world: World) -> None:
    path = fault.path or next(iter(device.paths), None)
    if path in device.paths:
        device.paths[path] = "no connection"


def _input_open(fault: Fault, device: PretendDevice, _world: World) -> None:
    number = fault.input or next(iter(device.inputs), None)
    if number in device.inputs:
        device.inputs[number] = "open"


def _no_code(_fault: Fault, device: PretendDevice, _world: World) -> None:
    device.code = ""


def _armed(_fault: Fault, device: PretendDevice, _world: World) -> None:
    """An alarm hub that nobody disarmed: it takes no settings."""
    device.armed = device.family == "alarm-hub"


def _door(kind: DoorFault) -> "Play":
    """A door of a panel that is wired wrongly, or of which it was never told."""

    def play(fault: Fault, device: PretendDevice, _world: World) -> None:
        device.doors.plant(kind, fault.door)

    return play


Play = Callable[[Fault, PretendDevice, World], None]
PLAYED: dict[str, Play] = {
    "power-off": _power_off,
    "cable": _cable,
    "wrong-name": _wrong_name,
    "clock-offset": _clock_offset,
    "port-changed": _port_changed,
    "duplicate-address": _duplicate,
    "wrong-address": _moved,
    "leased-moved": _moved,
    "wrong-date-order": _date_order,
    "wrong-vlan": _wrong_vlan,
    "wrong-password": _wrong_password,
    "wrong-prefix": _wrong_prefix,
    "wrong-gateway": _wrong_gateway,
    "wrong-dns": _wrong_dns,
    "not-recording": _not_recording,
    "recorder-full": _recorder_full,
    "wrong-pattern": _wrong_pattern,
    "disk-missing": _disk_missing,
    "disk-failing": _disk_failing,
    "wrong-slot": _wrong_slot,
    "relay-off": _relay("off"),
    "relay-blocked": _relay("blocked on the way out"),
    "relay-bound-elsewhere": _relay("bound to another owner"),
    "factory-login": _factory_login,
    "wrong-time-source": _time_source,
    "other-certificate": _certificate,
    "path-down": _path_down,
    "input-open": _input_open,
    "no-code": _no_code,
    "armed": _armed,
    "slow": _slow,
    "half-open": _half_open,
    "flapping": _flapping,
    "switch-off": _switch_off,
    "port-dead": _wrong_vlan,
    "uplink-cut": _uplink_cut,
    "device-dead": _power_off,
    **{kind: _door(kind) for kind in get_args(DoorFault)},
}

WORDS: dict[str, str] = {
    "power-off": "has no power",
    "cable": "has a cut cable",
    "port-changed": "has a changed port",
    "wrong-address": "sits at another address",
    "leased-moved": "was given another address",
    "duplicate-address": "shares its address with a stranger",
    "wrong-vlan": "is plugged into another network",
    "wrong-prefix": "has a wrong subnet mask",
    "wrong-gateway": "has a wrong gateway",
    "wrong-dns": "has a wrong DNS server",
    "wrong-password": "has another password",
    "factory-login": "still takes the login from the factory",
    "wrong-name": "carries a wrong name",
    "clock-offset": "is an hour ahead",
    "wrong-date-order": "shows day and month swapped",
    "wrong-time-source": "asks another time source",
    "wrong-slot": "is on another channel or number",
    "not-recording": "shows and is not recorded",
    "recorder-full": "finds no room on the disk",
    "wrong-pattern": "records by another pattern",
    "disk-missing": "finds no disk in a bay",
    "disk-failing": "has a failing disk",
    "other-certificate": "shows another certificate",
    "relay-off": "has remote access switched off",
    "relay-blocked": "is blocked on the way out",
    "relay-bound-elsewhere": "belongs to another owner's account",
    "no-code": "has no registration code",
    "armed": "is armed and takes no settings",
    "path-down": "has lost a path out",
    "input-open": "has an input that is open",
    "slow": "answers too late",
    "half-open": "takes connections and says nothing",
    "flapping": "comes and goes",
    "switch-off": "is switched off, and with it what hangs on it",
    "port-dead": "hangs on a dead switch port",
    "uplink-cut": "has a cut uplink",
    "device-dead": "is broken",
    "gateway-down": "has a gateway that does not answer",
    "dns-down": "has a name server that does not answer",
    "provider-down": "has no line to the internet",
    "relay-swapped": "has a door whose relay is wired the wrong way",
    "contact-swapped": "has a door whose contact is the wrong way",
    "exit-dead": "has a dead exit button",
    "reader-dead": "has a dead reader",
    "not-sent": "was never sent who may pass",
    "fire-not-wired": "has a door that the fire panel does not free",
}
