"""What must be measured of each device: by its family, its services, its links and the plan."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field

from tutelar.core.addressing.assignment import Assignment
from tutelar.core.kit.shorter import shown_name
from tutelar.core.proof.basis import Marks, basis
from tutelar.core.proof.exceptions import FIRST
from tutelar.core.proof.ties import recordings, registration
from tutelar.core.proof.witnessed import WITNESSED, witnessed_checks
from tutelar.core.site.types import Device, Site

CLOCK_GOOD_S = 2.0  # of a time server; of a device the policy may say otherwise
SERVICES = {
    "web": "Web page opens",
    "web-tls": "Secure web port is open",
    "stream": "Picture comes",
    "signalling": "Signalling port is open",
    "control": "Control port is open",
    "time": "Serves the time",
    "device-interface": "Device interface answers",
}
CHECKS = {
    "answers": "Answers at its address",
    "cable": "Nothing is lost on the way",
    "right-device": "Is the right device",
    **SERVICES,
    "certificate": "Certificate is the device's own",
    "login": "Takes the planned login",
    "factory-login": "Refuses the factory login",
    "name": "Carries its name",
    "clock": "Clock is right",
    "date-order": "Date order is right",
    "mask": "Subnet mask is right",
    "gateway": "Gateway is right",
    "dns": "DNS server is right",
    "time-source": "Takes the time from its source",
    "resolution": "Main stream as planned",
    "linked": "Shows on its channel",
    "records": "Is recorded",
    "disk": "Disk takes recordings",
    "registered": "Is registered",
    "paths": "Alarm paths are up",
    "inputs": "Inputs are at rest",
    "relay": "Remote access is online",
    **WITNESSED,
}
ORDERS = {"DMY": "day-month-year", "MDY": "month-day-year", "YMD": "year-month-day"}
PAGES = ("web", "web-tls", "control")  # where a device may tell who it is, in this order
IDENTITY_SERVICES = (*PAGES, "device-interface")
NO_LOGIN = frozenset({"reader", "keypad", "injector"})


@dataclass(frozen=True, slots=True)
class Expectation:
    """One check of one device with what is expected, in words a person would read aloud; `basis` is what it depends
    on besides, and `witnessed` tells what is seen by a person from what is measured."""

    device: str
    check: str
    expected: str
    basis: Mapping[str, str] = field(default_factory=dict)
    witnessed: bool = False


def check_title(check: str, date_order: str = "DMY") -> str:
    """Return the check as a plain sentence of the proof sheet."""
    if check == "date-order":
        return f"Date is {ORDERS[date_order]}"
    return CHECKS.get(check, f"Port {check} is open")


_RANK = {check: at for at, check in enumerate(CHECKS)}


def expectations(site: Site, device: Device, assignment: Assignment | None) -> list[Expectation]:
    """Return what must be measured of a device, in the order of the checks; [] where it has no services."""
    services = site.services_of(device)
    if not services:
        return []
    at = f"at {assignment.address}" if assignment else "at its leased address"
    found = [("answers", f"an answer {at}"), ("cable", "no try lost")]
    found.extend((service, f"port {port} open {at}") for service, port in services.items())
    if any(service in services for service in IDENTITY_SERVICES):
        found.extend(_told(site, device, services, assignment, at))
    if "stream" in services and (wanted := planned_stream(site, device)) is not None:
        found.append(("resolution", wanted))
    found.sort(key=lambda item: _RANK.get(item[0], 2 + len(SERVICES)))
    if out := set(site.policy.proof.left_out) - FIRST:
        found = [item for item in found if item[0] not in out]
    return [Expectation(device.key, check, expected) for check, expected in found]


def _told(
    site: Site, device: Device, services: Mapping[str, int], assignment: Assignment | None, at: str
) -> Iterator[tuple[str, str]]:
    """Yield what a device says of itself, and what it tells whoever logs in."""
    who = device.mac or (f"serial {device.serial}" if device.serial else None)
    if who:
        yield "right-device", f"{who} {at}"
    if name := shown_name(site, device):
        yield "name", name
    yield "clock", f"within {site.policy.proof.clock_s:g} s"
    if any(page in services for page in PAGES):
        yield "date-order", ORDERS[site.about.date_order]
    family = site.family_of(device)
    if family in NO_LOGIN:
        return
    if "web-tls" in services:
        yield "certificate", "the one of its first contact"
    yield "login", "the planned account is taken"
    if factory_login(site, device) is not None:
        yield "factory-login", "the login from the factory is refused"
    if assignment is not None:
        yield "mask", f"/{assignment.prefix}"
        if assignment.gateway:
            yield "gateway", assignment.gateway
        if assignment.dns:
            yield "dns", ", ".join(assignment.dns)
        network = site.network_by_key.get(device.network or "")
        if network is not None and network.time_source and "device-interface" in services:
            yield "time-source", network.time_source
    yield from _linked(site, device, family)


def _linked(site: Site, device: Device, family: str) -> Iterator[tuple[str, str]]:
    recorded = recordings(site, device)
    if recorded:
        said = "; ".join(f"channel {link.slot} of {site.label_of(link.to)}" for link in recorded)
        yield "linked", f"live on {said}"
        yield "records", f"written on {said}"
    if family == "recorder":
        yield "disk", "room for recordings"
    home = registration(site, device)
    if home is not None:
        number = f" as number {home.slot}" if home.slot is not None else ""
        yield "registered", f"registered at {site.label_of(home.to)}{number}"
    own = site.links_of(device.key)
    if family == "alarm-hub" and any(link.kind == "reports-to" and link.from_ == device.key for link in own):
        yield "paths", "every path to the monitoring station is up"
    model = site.model_of(device)
    if family == "panel" and model is not None and model.capacity is not None and model.capacity.inputs:
        yield "inputs", "every contact at rest"
    if any(link.kind == "relays" and link.from_ == device.key for link in own):
        yield "relay", "online"


def short_mark(fingerprint: str) -> str:
    """Return the first eight bytes of a fingerprint: enough to compare by eye."""
    return fingerprint[:23] + "…"


def factory_login(site: Site, device: Device) -> tuple[str, str] | None:
    """Return (user, password) that a device has from the factory, None where it has none or nobody knows it."""
    model = site.model_of(device)
    login = model.factory.login if model and model.factory else None
    if model is None or model.factory is None or login in (None, "", "default", "set-at-first-contact"):
        return None
    return model.factory.user or "admin", "" if login == "blank" else str(login)


def planned_stream(site: Site, device: Device) -> str | None:
    """Return the planned main stream in words, None where the model does not say."""
    model = site.model_of(device)
    main = (model.streams or {}).get("main") if model else None
    return None if main is None else stream_words(main.codec.lower(), main.width, main.height, main.fps)


def stream_words(codec: str, width: int, height: int, fps: float | None) -> str:
    rate = f", {fps:g} a second" if fps is not None else ""
    return f"{codec.upper()}, {width} × {height}{rate}"


def all_expectations(
    site: Site, assignments: Iterable[Assignment], marks: Marks | None = None, *, witnessed: bool = False
) -> dict[str, list[Expectation]]:
    """Return the expectations of every device of the site by its key, in the order of the file: what is measured,
    and what is `witnessed` if asked for. `marks`: what kept secrets are known by (see `basis`)."""
    by_device = {item.device: item for item in assignments}
    addresses = {key: item.address for key, item in by_device.items()}
    found = {}
    for device in site.devices:
        items = expectations(site, device, by_device.get(device.key))
        if witnessed:
            seen = witnessed_checks(site, device)
            items += [Expectation(device.key, check, words, witnessed=True) for check, words in seen]
        hangs = basis(site, device, [item.check for item in items], addresses, marks or {})
        found[device.key] = [
            Expectation(item.device, item.check, item.expected, hangs[item.check], item.witnessed) for item in items
        ]
    return found
