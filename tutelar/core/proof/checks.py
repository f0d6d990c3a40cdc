"""What must be measured of each device: by its family, its services, its links and the plan."""

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from tutelar.core.addressing.plan import Assignment
from tutelar.core.kit.shorter import shown_name
from tutelar.core.site.types import Device, Link, Site

CLOCK_GOOD_S = 2.0
SERVICES = {
    "web": "Web page opens",
    "web-tls": "Secure web port is open",
    "stream": "Picture comes",
    "signalling": "Signalling port is open",
    "control": "Control port is open",
    "time": "Serves the time",
}
CHECKS = {
    "answers": "Answers at its address",
    "cable": "Nothing is lost on the way",
    "right-device": "Is the right device",
    **SERVICES,
    "login": "Takes the planned login",
    "name": "Carries its name",
    "clock": "Clock is right",
    "date-order": "Date order is right",
    "mask": "Subnet mask is right",
    "gateway": "Gateway is right",
    "dns": "DNS server is right",
    "resolution": "Main stream as planned",
    "linked": "Shows on its channel",
    "records": "Is recorded",
    "disk": "Disk takes recordings",
    "registered": "Is registered",
    "relay": "Remote access is online",
}
ORDERS = {"DMY": "day-month-year", "MDY": "month-day-year", "YMD": "year-month-day"}
IDENTITY_SERVICES = ("web", "web-tls", "control")  # where a device may tell who it is, in this order
NO_LOGIN = frozenset({"reader", "keypad", "injector"})
REGISTERING = ("registers-at", "extends")


class Expectation(NamedTuple):
    """One check of one device with what is expected, in words a person would read aloud."""

    device: str
    check: str
    expected: str


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
        found.extend(_told(site, device, assignment, at))
    if "stream" in services and (wanted := planned_stream(site, device)) is not None:
        found.append(("resolution", wanted))
    found.sort(key=lambda item: _RANK.get(item[0], 2 + len(SERVICES)))
    return [Expectation(device.key, check, expected) for check, expected in found]


def _told(site: Site, device: Device, assignment: Assignment | None, at: str) -> Iterator[tuple[str, str]]:
    """Yield what a device says of itself, and what it tells whoever logs in."""
    who = device.mac or (f"serial {device.serial}" if device.serial else None)
    if who:
        yield "right-device", f"{who} {at}"
    if name := shown_name(site, device):
        yield "name", name
    yield "clock", f"within {CLOCK_GOOD_S:.0f} s"
    yield "date-order", ORDERS[site.about.date_order]
    family = site.family_of(device)
    if family in NO_LOGIN:
        return
    yield "login", "the planned account is taken"
    if assignment is not None:
        yield "mask", f"/{assignment.prefix}"
        if assignment.gateway:
            yield "gateway", assignment.gateway
        if assignment.dns:
            yield "dns", ", ".join(assignment.dns)
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
    if any(link.kind == "relays" and link.from_ == device.key for link in site.links_of(device.key)):
        yield "relay", "online"


def recordings(site: Site, device: Device) -> list[Link]:
    """Return the links by which recorders record a device, those with a channel."""
    return [
        link for link in site.links_of(device.key)
        if link.kind == "records" and link.from_ == device.key and link.slot is not None
        and link.to in site.device_by_key and site.services_of(site.device_by_key[link.to])
    ]  # fmt: skip


def registration(site: Site, device: Device) -> Link | None:
    """Return the link by which a monitor or station registers, None where it registers nowhere."""
    return next(
        (link for link in site.links_of(device.key)
         if link.kind in REGISTERING and link.from_ == device.key and link.to in site.device_by_key), None,
    )  # fmt: skip


def planned_stream(site: Site, device: Device) -> str | None:
    """Return the planned main stream in words, None where the model does not say."""
    model = site.model_of(device)
    main = (model.streams or {}).get("main") if model else None
    return None if main is None else stream_words(main.codec.lower(), main.width, main.height, main.fps)


def stream_words(codec: str, width: int, height: int, fps: float | None) -> str:
    rate = f", {fps:g} a second" if fps is not None else ""
    return f"{codec.upper()}, {width} × {height}{rate}"


def all_expectations(site: Site, assignments: Iterable[Assignment]) -> dict[str, list[Expectation]]:
    """Return the expectations of every device of the site by its key, in the order of the file."""
    by_device = {item.device: item for item in assignments}
    return {device.key: expectations(site, device, by_device.get(device.key)) for device in site.devices}
