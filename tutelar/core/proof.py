"""What must be measured of each device, what counts as passed, and what makes a reading stale.

A reading keeps the expectation it was judged by; when the site expects something else today, the reading is
stale. Tolerances follow the handbook's arithmetic (clock: within 2 s is good).
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from tutelar.core.addressing.plan import Assignment
from tutelar.core.kit.shorter import shown_name
from tutelar.core.site.base import Result
from tutelar.core.site.types import Device, Reading, Site
from tutelar.core.site.values import mac_or_none

CLOCK_GOOD_S = 2.0
_SERVICES = {
    "web": "Web page opens",
    "web-tls": "Secure web port is open",
    "stream": "Picture comes",
    "signalling": "Signalling port is open",
    "control": "Control port is open",
}
CHECKS = {
    "answers": "Answers at its address",
    "right-device": "Is the right device",
    **_SERVICES,
    "name": "Carries its name",
    "clock": "Clock is right",
    "date-order": "Date order is right",
}
_ORDERS = {"DMY": "day-month-year", "MDY": "month-day-year", "YMD": "year-month-day"}
IDENTITY_SERVICES = ("web", "web-tls", "control")  # where a device may tell who it is, in this order

State = Literal["unplanned", "planned", "set", "proven", "broken"]


@dataclass(frozen=True, slots=True)
class Expectation:
    """One check of one device with what is expected, in words a person would read aloud."""

    device: str
    check: str
    expected: str


@dataclass(frozen=True, slots=True)
class Identity:
    """What a device says of itself."""

    name: str | None = None
    mac: str | None = None
    serial: str | None = None
    date_order: str | None = None


@dataclass(frozen=True, slots=True)
class PortAnswer:
    """What a port did: `open` whether it took the connection, `fault` what its protocol did wrong, if anything."""

    open: bool
    took_ms: float
    fault: str | None = None


@dataclass(frozen=True, slots=True)
class Observation:
    """Everything seen of one device: port answers by service, its identity, its clock minus ours in seconds."""

    ports: Mapping[str, PortAnswer] = field(default_factory=dict)
    identity: Identity | None = None
    clock_offset_s: float | None = None


def check_title(check: str, date_order: str = "DMY") -> str:
    """Return the check as a plain sentence of the proof sheet."""
    if check == "date-order":
        return f"Date is {_ORDERS[date_order]}"
    return CHECKS.get(check, f"Port {check} is open")


def expectations(site: Site, device: Device, assignment: Assignment | None) -> list[Expectation]:
    """Return what must be measured of a device, in the order of the checks; [] where it has no services."""
    services = site.services_of(device)
    if not services:
        return []
    at = f"at {assignment.address}" if assignment else "at its leased address"
    found = [("answers", f"an answer {at}")]
    told = any(service in services for service in IDENTITY_SERVICES)
    who = device.mac or (f"serial {device.serial}" if device.serial else None)
    if told and who:
        found.append(("right-device", f"{who} {at}"))
    found.extend((service, f"port {port} open {at}") for service, port in services.items())
    if told:
        if name := shown_name(site, device):
            found.append(("name", name))
        found.append(("clock", f"within {CLOCK_GOOD_S:.0f} s"))
        found.append(("date-order", _ORDERS[site.about.date_order]))
    order = {check: at for at, check in enumerate(CHECKS)}
    found.sort(key=lambda item: order.get(item[0], 2 + len(_SERVICES)))
    return [Expectation(device.key, check, expected) for check, expected in found]


def all_expectations(site: Site, assignments: Iterable[Assignment]) -> dict[str, list[Expectation]]:
    """Return the expectations of every device of the site by its key, in the order of the file."""
    by_device = {item.device: item for item in assignments}
    return {device.key: expectations(site, device, by_device.get(device.key)) for device in site.devices}


def judge(site: Site, device: Device, wanted: Iterable[Expectation], seen: Observation | None) -> list[Reading]:
    """Return one reading for each expectation. `seen` None = there was no address to ask at."""
    return [_reading(site, device, item, seen) for item in wanted]


def _reading(site: Site, device: Device, item: Expectation, seen: Observation | None) -> Reading:
    nothing: Verdict = ("no address yet, so nothing was asked", "skipped", None)
    measured, result, took = nothing if seen is None else _verdict(site, device, item.check, seen)
    offset = seen.clock_offset_s if seen is not None and item.check == "clock" else None
    return Reading(
        device=item.device, check=item.check, expected=item.expected, measured=measured,
        result=result, took_ms=took if took is None else round(took, 1),
        offset_s=offset if offset is None else round(offset, 1),
    )  # fmt: skip


Verdict = tuple[str, Result, float | None]


def _verdict(site: Site, device: Device, check: str, seen: Observation) -> Verdict:
    answered = [port for port in seen.ports.values() if port.open]
    if check == "answers":
        if not answered:
            return "no answer on any of its ports", "silent", None
        fastest = min(port.took_ms for port in answered)
        return f"answered in {fastest:.0f} ms" if fastest >= 1 else "answered in under 1 ms", "pass", fastest
    if not answered:
        return "not asked: it does not answer", "skipped", None
    if check in seen.ports:
        port = seen.ports[check]
        if not port.open:
            return "closed", "fail", port.took_ms
        return (port.fault, "fail", port.took_ms) if port.fault else ("open", "pass", port.took_ms)
    if check == "clock":
        return _clock(seen.clock_offset_s)
    if seen.identity is None:
        return "not told: the device did not say who it is", "skipped", None
    return _told(site, device, check, seen.identity)


def _clock(offset: float | None) -> Verdict:
    if offset is None:
        return "not told: the device shows no time", "skipped", None
    good = abs(offset) <= CLOCK_GOOD_S
    return spoken_offset(offset), "pass" if good else "fail", None


def spoken_offset(seconds: float) -> str:
    """Return a clock difference as people say it: "right to the second", "59 min 58 s behind"."""
    whole = round(abs(seconds))
    if whole == 0:
        return "right to the second"
    hours, rest = divmod(whole, 3600)
    minutes, left = divmod(rest, 60)
    parts = [f"{hours} h" if hours else "", f"{minutes} min" if minutes else "", f"{left} s" if left else ""]
    return f"{' '.join(filter(None, parts))} {'ahead' if seconds > 0 else 'behind'}"


def _told(site: Site, device: Device, check: str, identity: Identity) -> Verdict:
    if check == "right-device":
        pairs = [(device.mac, identity.mac and (mac_or_none(identity.mac) or identity.mac))]
        if device.mac is None or identity.mac is None:
            pairs = [(device.serial, identity.serial)]
        wanted, told = pairs[0]
        if told is None:
            return "not told: neither hardware address nor serial number", "skipped", None
        return (told, "pass", None) if told == wanted else (f"another device answers: {told}", "fail", None)
    told = identity.name if check == "name" else identity.date_order
    if told is None:
        return "not told", "skipped", None
    if check == "name":
        return told, "pass" if told == shown_name(site, device) else "fail", None
    return _ORDERS.get(told, told), "pass" if told == site.about.date_order else "fail", None


def is_stale(reading: Reading, wanted: Expectation | None) -> bool:
    """Return whether a reading no longer tells about what is expected today."""
    return wanted is None or reading.expected != wanted.expected


ReadingState = Literal["planned", "proven", "broken", "not-measured", "stale"]
_STATES: dict[str, ReadingState] = {
    "pass": "proven", "fail": "broken", "silent": "broken", "skipped": "not-measured",
}  # fmt: skip


def reading_state(reading: Reading | None, wanted: Expectation | None) -> ReadingState:
    """Return what the last reading of a check says of what is expected today; "planned": it was never measured."""
    if reading is None:
        return "planned"
    return "stale" if is_stale(reading, wanted) else _STATES[reading.result]


def latest(readings: Iterable[Reading]) -> dict[tuple[str, str], Reading]:
    """Return the last reading of each (device, check) in the given order."""
    return {(reading.device, reading.check): reading for reading in readings}


def device_state(
    planned: bool, configured: bool, wanted: Iterable[Expectation], last: Mapping[tuple[str, str], Reading]
) -> State:
    """Return what may be said of a device: proven only by fresh passed readings of every check."""
    fresh = [
        reading for item in wanted
        if (reading := last.get((item.device, item.check))) is not None and not is_stale(reading, item)
    ]  # fmt: skip
    if any(reading.result in ("fail", "silent") for reading in fresh):
        return "broken"
    if fresh and len(fresh) == len(list(wanted)) and all(reading.result == "pass" for reading in fresh):
        return "proven"
    if not planned:
        return "unplanned"
    return "set" if configured else "planned"


def as_row(reading: Reading) -> dict[str, Any]:
    """Return a reading as the contract prints it."""
    names = ("device", "check", "expected", "measured", "result", "took_ms")
    return {name: getattr(reading, name) for name in names}
