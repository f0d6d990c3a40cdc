"""Everything that can be told from the site document alone."""

from collections import defaultdict
from collections.abc import Iterator
from operator import attrgetter

from tutelar.core.access.problems import access_problems
from tutelar.core.addressing.placing import place_all
from tutelar.core.addressing.rules import (
    Addresses,
    Better,
    address_problems,
    all_network_problems,
    held_twice,
    rule_breakers,
    set_addresses,
    to_come,
)
from tutelar.core.addressing.subnet import SubnetMembers, subnet_members
from tutelar.core.clock.zones import UnknownZone, zone_named
from tutelar.core.doors.problems import door_problems
from tutelar.core.kit.shorter import shown_names, shows
from tutelar.core.links.rules import link_problems
from tutelar.core.loads.whole import load_problems
from tutelar.core.ports import port_problems
from tutelar.core.problems import Problem, in_order, problem
from tutelar.core.proof.exceptions import exception_problems
from tutelar.core.recording.problems import recording_problems, says_something
from tutelar.core.setting.family import stream_problems
from tutelar.core.site.types import Device, Site, first_by_key
from tutelar.core.site.values import all_tidy_macs, dotted, eleven_digits, is_tidy_mac
from tutelar.core.wording import listed

# What rows cannot hold: references that lead nowhere, and two things in one place.
UNSTORABLE = frozenset(
    """key.duplicate device.behind-itself device.unknown-model device.unknown-network device.unknown-recorder
    device.two-homes reading.unknown-device link.unknown-device link.slot-taken address.duplicate
    mac.duplicate""".split()  # noqa: SIM905
)


def check(site: Site) -> list[Problem]:
    """Return all problems of the document, errors first."""
    return in_order(problems_with(site, subnet_members(site), set_addresses(site)))


def problems_with(site: Site, grounds: list[SubnetMembers], addresses: Addresses) -> list[Problem]:
    """Return all problems of the document if its devices had these addresses (in the order of the file)."""
    waiting = to_come(site, addresses)
    better = _better(site, grounds, addresses)
    found = [*_key_problems(site), *_device_problems(site), *all_network_problems(site, grounds, addresses)]
    for standing in grounds:
        found.extend(address_problems(site, standing, addresses, waiting, better))
    found.extend(_identity_problems(site))
    found.extend(_reading_problems(site))
    found.extend(exception_problems(site))
    found.extend(door_problems(site))
    found.extend(access_problems(site))
    found.extend(_rating_problems(site))
    found.extend(_zone_problems(site))
    found.extend(link_problems(site))
    found.extend(load_problems(site))
    found.extend(port_problems(site))
    found.extend(stream_problems(site))
    if says_something(site):
        found.extend(recording_problems(site))
    return found


def _better(site: Site, grounds: list[SubnetMembers], addresses: Addresses) -> Better:
    """Return a look-up for the address that a plan would give to a device whose own breaks a rule."""
    known: dict[int, str] = {}

    def look_up(position: int) -> str | None:
        if not known:
            trial = list(addresses)
            for standing in grounds:
                broken = {at for at, _, _ in rule_breakers(standing, addresses)}
                for group in held_twice(standing, addresses):
                    broken |= {at for at, _ in group}
                for at in broken:
                    trial[at] = None
            trial[position] = None
            kept, _ = place_all(site, grounds, trial)
            known.update({at: dotted(number) for at, number in kept.numbers.items()})
        if position not in known:
            trial = list(addresses)
            trial[position] = None
            placed, _ = place_all(site, grounds, trial)
            if position in placed.numbers:
                known[position] = dotted(placed.numbers[position])
        return known.get(position)

    return look_up


def _key_problems(site: Site) -> Iterator[Problem]:
    for what, parts, by_key in (
        ("network", site.networks, site.network_by_key),
        ("model", site.models, site.model_by_key),
        ("device", site.devices, site.device_by_key),
        ("door", site.doors, first_by_key(site.doors)),
        ("question", site.asked, first_by_key(site.asked)),
    ):
        if len(by_key) == len(parts):
            continue
        keys: set[str] = set()
        twice = [part.key for part in parts if part.key in keys or keys.add(part.key)]  # type: ignore[func-returns-value]
        for key in dict.fromkeys(twice):
            yield problem(
                "key.duplicate",
                (key,),
                f"The {what} key '{key}' is used more than once.",
                f"Give every {what} a key of its own; the first one counts meanwhile.",
            )


def _zone_problems(site: Site) -> Iterator[Problem]:
    """Yield a time zone that does not exist: no clock can be set by it."""
    if site.about.time_zone is None:
        return
    try:
        zone_named(site.about.time_zone)
    except UnknownZone as error:
        yield problem(
            "site.time-zone", (), f"The site's time zone: {error}.", "Correct it in the survey.", level="error"
        )


def _rating_problems(site: Site) -> Iterator[Problem]:
    """Yield what stands outdoors and is not made for it."""
    indoor = {model.key for model in site.models if model.outdoor is False}
    for device in site.devices if indoor else ():
        if device.outdoors and device.model in indoor:
            model = site.model_by_key[device.model]
            yield problem(
                "device.indoor-outside",
                (device.key,),
                f"{device.label} stands outdoors, and {model.label} is made for indoors.",
                "Take a model that is rated for outdoors, or move it inside.",
            )


_STANDS = attrgetter("model", "network", "behind", "place")


def _device_problems(site: Site) -> Iterator[Problem]:
    """Yield references that lead nowhere and devices that stand nowhere."""
    for key in site.wired:
        device = site.device_by_key[key]
        if device.address is not None:
            yield problem(
                "device.wired-address",
                (key,),
                f"{device.label} hangs on wires and has no network, but the address {device.address} is given to it.",
                "Take the address away, or say in its model that it is not wired.",
                level="warning",
            )
    sound: set[tuple[str | None, ...]] = set()  # of devices that stand alike and well, one is looked at
    for device, stands in zip(site.devices, map(_STANDS, site.devices), strict=True):
        if stands not in sound:
            found = list(_standing_problems(site, device))
            yield from found
            if not found:
                sound.add(stands)
    for device in site.devices:
        if device.behind == device.key:
            yield problem(
                "device.behind-itself",
                (device.key,),
                f"{device.label} is said to hang on its own camera ports.",
                "Name the recorder whose camera port it is plugged into, or its network.",
            )
        if device.powered_by is not None and device.powered_by.device not in site.device_by_key:
            yield problem(
                "device.unknown-supply",
                (device.key,),
                f"{device.label} is powered by '{device.powered_by.device}', which the file does not have.",
                "Add that device or correct the key.",
            )


def _standing_problems(site: Site, device: Device) -> Iterator[Problem]:
    networks, places = site.network_by_key, site.place_order
    name, key = device.label, (device.key,)
    if device.model not in site.model_by_key:
        yield problem(
            "device.unknown-model",
            key,
            f"{name} is of the model '{device.model}', which the file does not have.",
            "Add the model or correct the key.",
        )
    if device.behind is not None:
        yield from _behind(site, device)
        if device.network is not None:
            yield problem(
                "device.two-homes",
                key,
                f"{name} is behind '{device.behind}' and in the network '{device.network}'; it can be in one only.",
                "Set its network to null where it hangs on the recorder's own ports.",
            )
    elif device.key in site.wired:
        pass  # no network is asked of it
    elif device.network is None:
        yield problem(
            "device.no-network",
            key,
            f"{name} is in no network and behind no recorder.",
            "Say which network it is plugged into.",
        )
    elif device.network not in networks:
        yield problem(
            "device.unknown-network",
            key,
            f"{name} is in the network '{device.network}', which the file does not have.",
            f"Use one of {listed(list(networks))}." if networks else "Add the network.",
        )
    if device.place and places and device.place not in places:
        yield problem(
            "device.unknown-place",
            key,
            f"{name} is at '{device.place}', which is not among the places of the site.",
            f"Use one of {listed(list(places), 6)}, or add the place to the walk.",
        )


def _reading_problems(site: Site) -> Iterator[Problem]:
    devices = site.device_by_key
    for key in dict.fromkeys(reading.device for reading in site.readings if reading.device not in devices):
        yield problem(
            "reading.unknown-device",
            (key,),
            f"A reading is of the device '{key}', which the file does not have.",
            "Add the device or remove its readings.",
        )


def _behind(site: Site, device: Device) -> Iterator[Problem]:
    recorder = site.device_by_key.get(device.behind or "")
    if recorder is None:
        yield problem(
            "device.unknown-recorder",
            (device.key,),
            f"{device.label} is behind '{device.behind}', which the file does not have.",
            "Name the recorder whose camera port it is plugged into.",
        )
    elif (model := site.model_of(recorder)) is not None and model.camera_ports is None:
        yield problem(
            "device.not-a-recorder",
            (device.key, recorder.key),
            f"{device.label} is behind {recorder.label}, but {model.label} has no camera ports of its own.",
            "Put the device into a network, or name a recorder with camera ports.",
        )


def _twice(site: Site, names: tuple[str, ...]) -> Iterator[tuple[str, list[Device]]]:
    """Yield each value that several devices bear in these fields, with these devices."""
    borne = [value for name in names for value in map(attrgetter(name), site.devices) if value]
    if len(set(borne)) == len(borne):
        return
    groups: dict[str, list[Device]] = defaultdict(list)
    for device in site.devices:
        for value in {getattr(device, name) for name in names}:
            if value:
                groups[value].append(device)
    yield from ((value, group) for value, group in groups.items() if len(group) > 1)


def _identity_problems(site: Site) -> Iterator[Problem]:
    """Yield what is wrong with hardware addresses, serial numbers and names."""
    for field, also, what, fix in (
        ("mac", ("wifi_mac",), "hardware address", "Read the hardware address off both labels."),
        ("serial", (), "serial number", "Read the serial number off both labels."),
        ("name", (), "name", "Give each the name that people at the site use."),
    ):
        for value, group in _twice(site, (field, *also)):
            names = listed([device.key if field == "name" else device.label for device in group])
            keys = [device.key for device in group]
            yield problem(f"{field}.duplicate", keys, f"{names} have the same {what} {value}.", fix)
    rules = {model.key: model.name_rule for model in site.models if model.name_rule}
    macs = [(device, mac) for device in site.devices for mac in (device.mac, device.wifi_mac) if mac is not None]
    tidy = all_tidy_macs([mac for _, mac in macs])
    for device, mac in () if tidy else macs:
        if (meant := eleven_digits(mac)) is not None:
            yield problem(
                "mac.eleven-digits",
                (device.key,),
                f"The hardware address '{mac}' of {device.label} has eleven digits; with twelve it may be {meant}.",
                f"Read the label; write {meant} where that is what stands there.",
            )
        elif not is_tidy_mac(mac):
            digits = sum(1 for letter in mac.lower() if letter in "0123456789abcdef")
            yield problem(
                "mac.invalid",
                (device.key,),
                f"'{mac}' is not the hardware address of {device.label}: twelve digits 0–9 and a–f of one "
                f"device are expected, {digits} found.",
                "Read it off the label again; the letter O is never in it.",
            )
    shown: dict[str, str] = {}  # names that would fit; made when the first one is wanted
    for device in site.devices if rules else ():
        rule = rules.get(device.model)
        if rule is None or device.name is None:
            continue
        if rule.max is not None and len(device.name) > rule.max:
            shown = shown or shown_names(site)
            yield problem(
                "name.too-long",
                (device.key,),
                f"'{device.name}' has {len(device.name)} characters; the device takes {rule.max}.",
                f"Write “{shown[device.key]}” on it.",
            )
        strange = [letter for letter in device.name if not shows(letter, rule.charset)]
        if strange:
            shown = shown or shown_names(site)
            yield problem(
                "name.charset",
                (device.key,),
                f"'{device.name}' holds {listed([repr(letter) for letter in dict.fromkeys(strange)])}, which the "
                f"device cannot show ({rule.charset}).",
                f"Write “{shown[device.key]}” on it.",
            )
