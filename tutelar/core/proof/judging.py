"""What counts as passed: each check judged by what was seen, of the device itself and of those it is linked to.

Tolerances follow the handbook's arithmetic (clock: within 2 s is good). A check that could not be made because
something else is wrong is skipped and says so; what is wrong is failed once, where it is.
"""

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from tutelar.core.kit.shorter import shown_name
from tutelar.core.proof.checks import ORDERS, Expectation, planned_stream, short_mark, stream_words
from tutelar.core.proof.seen import Identity, Observation, ReportedState
from tutelar.core.proof.ties import recordings, registration
from tutelar.core.site.base import Result
from tutelar.core.site.types import Device, Link, Reading, Site
from tutelar.core.site.values import mac_or_none

Verdict = tuple[str, Result, float | None]
Others = Mapping[str, Observation | None]
_OWN = frozenset(
    {
        "name",
        "clock",
        "date-order",
        "login",
        "mask",
        "gateway",
        "dns",
        "resolution",
        "disk",
        "registered",
        "relay",
        "certificate",
        "factory-login",
        "time-source",
        "paths",
        "inputs",
    }
)


def judge(
    site: Site,
    device: Device,
    wanted: Iterable[Expectation],
    seen: Observation | None,
    others: Others | None = None,
) -> list[Reading]:
    """Return one reading for each expectation. `seen` None = there was no address to ask at; `others` = what was
    seen of every device so far, for what a recorder tells of its cameras."""
    return [_reading(site, device, item, seen, others or {}) for item in wanted]


def _reading(site: Site, device: Device, item: Expectation, seen: Observation | None, others: Others) -> Reading:
    nothing: Verdict = ("no address yet, so nothing was asked", "skipped", None)
    measured, result, took = nothing if seen is None else _verdict(site, device, item.check, seen, others)
    offset = seen.clock_offset_s if seen is not None and item.check == "clock" else None
    return Reading(
        device=item.device,
        check=item.check,
        expected=item.expected,
        measured=measured,
        result=result,
        took_ms=took if took is None else round(took, 1),
        offset_s=offset if offset is None else round(offset, 1),
        basis=dict(item.basis) or None,
    )


def _verdict(site: Site, device: Device, check: str, seen: Observation, others: Others) -> Verdict:
    answered = [port for port in seen.ports.values() if port.open]
    if check == "answers":
        if not answered:
            return "no answer on any of its ports", "silent", None
        fastest = min(port.took_ms for port in answered)
        return f"answered in {fastest:.0f} ms" if fastest >= 1 else "answered in under 1 ms", "pass", fastest
    if check in ("linked", "records"):
        return _at_recorders(site, device, check, others)
    if not answered:
        return "not asked: it does not answer", "skipped", None
    if check == "cable":
        lost = f"{seen.lost} of {seen.tries} tries broke off"
        return (lost, "fail", None) if seen.lost else (f"{seen.tries} tries, none lost", "pass", None)
    if check in seen.ports:
        port = seen.ports[check]
        if not port.open:
            return port.fault or "closed", "fail", port.took_ms
        return (port.fault, "fail", port.took_ms) if port.fault else ("open", "pass", port.took_ms)
    other = stranger(device, seen)
    if check == "right-device":
        return _right(device, seen, other)
    if check in _OWN and other is not None:
        return f"not asked: another device answers ({other})", "skipped", None
    return _JUDGES[check](site, device, seen) if check in _JUDGES else ("not told", "skipped", None)


def stranger(device: Device, seen: Observation) -> str | None:
    """Return who else answers at the device's address, None where it is itself or nobody can tell.

    Its hardware address counts most, as it says itself or as the laptop's neighbour table has it; then the serial
    number; then, where it says neither, the certificate that was pinned at first contact.
    """
    wanted, told = _identities(device, seen)
    return told if wanted is not None and told is not None and told != wanted else None


def _identities(device: Device, seen: Observation) -> tuple[str | None, str | None]:
    """Return (wanted, told) of what tells this device from others."""
    identity = seen.identity or Identity()
    mac = identity.mac if identity.mac is not None else seen.neighbour
    if device.mac is not None and mac is not None:
        return device.mac, mac_or_none(mac) or mac
    if device.serial is not None and identity.serial is not None:
        return device.serial, identity.serial
    if device.certificate is not None and seen.certificate is not None:
        other = f"its certificate is {short_mark(seen.certificate.fingerprint)}"
        return device.certificate, device.certificate if _pinned(device, seen) else other
    return device.mac or device.serial, None


def _pinned(device: Device, seen: Observation) -> bool:
    """Return whether the certificate is the one that was pinned at first contact."""
    return (
        device.certificate is not None
        and seen.certificate is not None
        and (device.certificate.replace(":", "").upper() == seen.certificate.fingerprint.replace(":", ""))
    )


def _right(device: Device, seen: Observation, other: str | None) -> Verdict:
    if other is not None:
        return f"another device answers: {other}", "fail", None
    told = _identities(device, seen)[1]
    if told is None:
        if seen.identity is None:
            return "not told: the device did not say who it is", "skipped", None
        return "not told: neither hardware address nor serial number", "skipped", None
    if told == device.certificate:
        return f"the certificate is the one of the first contact ({short_mark(told)})", "pass", None
    by_table = seen.identity is None or seen.identity.mac is None
    return f"{told}{' by the neighbour table' if by_table and told == device.mac else ''}", "pass", None


def _certificate(_site: Site, device: Device, seen: Observation) -> Verdict:
    shown = seen.certificate
    if shown is None:
        return "not told: no secure connection came about", "skipped", None
    words = f"{short_mark(shown.fingerprint)} until {shown.until:%Y-%m-%d}"
    if device.certificate is None:
        return f"{words}, pinned from now on", "pass", None
    if not _pinned(device, seen):
        return f"the same device shows another certificate: {words}", "fail", None
    return words, "pass", None


def _factory(_site: Site, _device: Device, seen: Observation) -> Verdict:
    if seen.factory is None:
        why = "not tried: the planned login was not taken" if seen.login != "taken" else "not tried"
        return why, "skipped", None
    if seen.factory == "taken":
        return "still taken: anybody who knows the model gets in", "fail", None
    return "refused", "pass", None


def _name(site: Site, device: Device, seen: Observation) -> Verdict:
    told = seen.identity.name if seen.identity else None
    if told is None:
        return "not told", "skipped", None
    return told, "pass" if told == shown_name(site, device) else "fail", None


def _date_order(site: Site, device: Device, seen: Observation) -> Verdict:
    told = seen.identity.date_order if seen.identity else None
    if told is None:
        return "not told", "skipped", None
    return ORDERS.get(told, told), "pass" if told == site.about.date_order else "fail", None


def _clock(site: Site, _device: Device, seen: Observation) -> Verdict:
    offset = seen.clock_offset_s
    if offset is None:
        return "not told: the device shows no time", "skipped", None
    return spoken_offset(offset), "pass" if abs(offset) <= site.policy.proof.clock_s else "fail", None


def spoken_offset(seconds: float) -> str:
    """Return a clock difference as people say it: "right to the second", "59 min 58 s behind"."""
    whole = round(abs(seconds))
    if whole == 0:
        return "right to the second"
    hours, rest = divmod(whole, 3600)
    minutes, left = divmod(rest, 60)
    parts = [f"{hours} h" if hours else "", f"{minutes} min" if minutes else "", f"{left} s" if left else ""]
    return f"{' '.join(filter(None, parts))} {'ahead' if seconds > 0 else 'behind'}"


def _login(_site: Site, _device: Device, seen: Observation) -> Verdict:
    words = {"taken": "taken", "refused": "refused: another password is set", "locked": "locked after too many tries"}
    if seen.login is None:
        return "not tried: no password of it is kept, or it has no page to log in", "skipped", None
    return words[seen.login], "pass" if seen.login == "taken" else "fail", None


def _untold(seen: Observation) -> Verdict:
    return "not told" if seen.login == "taken" else "not asked: the login was not taken", "skipped", None


def _from_told(of: Callable[[ReportedState], str | None], wanted: Callable[[Site, Device], str | None]) -> Any:
    """Return a judge that compares what a device tells after the login with what is expected."""

    def judged(site: Site, device: Device, seen: Observation) -> Verdict:
        told = of(seen.told) if seen.told is not None else None
        if told is None:
            return _untold(seen)
        return told, "pass" if told == wanted(site, device) else "fail", None

    return judged


def _resolution(site: Site, device: Device, seen: Observation) -> Verdict:
    stream = seen.stream
    if stream is None or stream.codec is None or stream.width is None or stream.height is None:
        return "not told: the stream does not describe itself", "skipped", None
    told = stream_words(stream.codec, stream.width, stream.height, stream.fps)
    wanted = planned_stream(site, device) or ""
    fits = told == wanted or (stream.fps is None and wanted.startswith(told))
    return told, "pass" if fits else "fail", None


def _registered(site: Site, device: Device, seen: Observation) -> Verdict:
    """Judge by what the device says itself and by what its main station lists; either may be missing."""
    told, home = seen.told.registered if seen.told else None, registration(site, device)
    if home is None or (told is None and seen.listed is None):
        return _untold(seen)
    if told is not None:
        number, state = told
        if state != "registered":
            return state, "fail", None
        if home.slot is not None and number != home.slot:
            return f"registered as number {number}", "fail", None
    if seen.listed is not None and home.slot is not None:
        at, own = site.label_of(home.to), str(device.address or "")
        if not seen.listed:
            return f"{at} lists nobody as number {home.slot}", "fail", None
        numbers = all(item.replace(".", "").isdigit() for item in seen.listed)  # a name tells nothing of the address
        if own and numbers and own not in seen.listed:
            return f"{at} lists {', '.join(seen.listed[:3])} as number {home.slot}", "fail", None
    return f"registered{f' as number {home.slot}' if home.slot is not None else ''}", "pass", None


def _paths(_site: Site, _device: Device, seen: Observation) -> Verdict:
    found = seen.told.paths if seen.told else None
    if not found:
        return _untold(seen)
    down = [f"{path}: {state}" for path, state in found.items() if state != "up"]
    return ("; ".join(down), "fail", None) if down else (", ".join(f"{path} up" for path in found), "pass", None)


def _inputs(_site: Site, _device: Device, seen: Observation) -> Verdict:
    found = seen.told.inputs if seen.told else None
    if not found:
        return _untold(seen)
    odd = [f"input {number}: {state}" for number, state in found.items() if state != "rest"]
    return ("; ".join(odd), "fail", None) if odd else (f"{len(found)} at rest", "pass", None)


def _at_recorders(site: Site, device: Device, check: str, others: Others) -> Verdict:
    """Judge a camera's channels by what its recorders tell; one that is wrong decides."""
    found: list[Verdict] = []
    for link in recordings(site, device):
        found.append(_on_channel(site, link, check, others))
    wrong = next((item for item in found if item[1] == "fail"), None) or next(
        (item for item in found if item[1] == "skipped"), None
    )
    return wrong or ("; ".join(item[0] for item in found) or "not told", "pass" if found else "skipped", None)


def _on_channel(site: Site, link: Link, check: str, others: Others) -> Verdict:
    recorder, seen = site.device_by_key[link.to], others.get(link.to)
    if seen is None or not any(port.open for port in seen.ports.values()):
        return f"not asked: {recorder.label} does not answer", "skipped", None
    if stranger(recorder, seen) is not None or seen.told is None or seen.told.channels is None:
        return f"not told by {recorder.label}", "skipped", None
    mine = [item for item in seen.told.channels if item.source == f"{link.from_}:{link.from_channel or 1}"]
    channel = next((item for item in mine if item.number == link.slot), mine[0] if mine else None)
    if channel is None:
        return f"on no channel of {recorder.label}", "fail" if check == "linked" else "skipped", None
    if check == "linked":
        if channel.number != link.slot:
            return f"on channel {channel.number} of {recorder.label}", "fail", None
        if channel.state != "live":
            return f"channel {channel.number} of {recorder.label}: {channel.state}", "fail", None
        return f"live on channel {channel.number} of {recorder.label}", "pass", None
    if channel.state != "live":
        return "not asked: no picture comes", "skipped", None
    if not channel.recording:
        return f"channel {channel.number} of {recorder.label} shows and is not written", "fail", None
    return f"written by {recorder.label}", "pass", None


def _planned(of: str) -> Callable[[Site, Device], str | None]:
    """Return what a check of the address settings expects, from the network the device stands in."""

    def wanted(site: Site, device: Device) -> str | None:
        recorder = site.device_by_key.get(device.behind or "")
        model = site.model_of(recorder) if recorder is not None else None
        network = site.network_by_key.get(device.network or "")
        cidr = model.camera_ports.cidr if model and model.camera_ports else network.cidr if network else None
        if of == "mask":
            return None if cidr is None else f"/{cidr.prefixlen}"
        if of == "time-source":
            return network.time_source if network else None
        if network is None:
            return None
        return str(network.gateway) if of == "gateway" else ", ".join(map(str, network.dns))

    return wanted


_JUDGES: dict[str, Callable[[Site, Device, Observation], Verdict]] = {
    "name": _name,
    "clock": _clock,
    "date-order": _date_order,
    "login": _login,
    "mask": _from_told(lambda told: None if told.prefix is None else f"/{told.prefix}", _planned("mask")),
    "gateway": _from_told(lambda told: told.gateway, _planned("gateway")),
    "dns": _from_told(lambda told: None if told.dns is None else ", ".join(told.dns), _planned("dns")),
    "time-source": _from_told(lambda told: told.time_source, _planned("time-source")),
    "certificate": _certificate,
    "factory-login": _factory,
    "paths": _paths,
    "inputs": _inputs,
    "resolution": _resolution,
    "disk": _from_told(lambda told: told.disk, lambda site, device: "ok"),
    "registered": _registered,
    "relay": _from_told(lambda told: told.relay, lambda site, device: "online"),
}
