"""What stands beside a bench step: where to open the device, what to expect, what to leave unplugged, cautions.

Cautions (docs/sources.md): short, once, where the work happens, deferring to local codes and licensed people.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from tutelar.core.addressing.assignment import Assignment
from tutelar.core.kit.used import used_steps
from tutelar.core.run.chain import address_in_force
from tutelar.core.run.steps import Step
from tutelar.core.site.model import Model
from tutelar.core.site.types import Device, Site
from tutelar.core.wording import listed, spoken_address

_FAMILY_CAUTIONS = {
    "panel": "Escape doors open from inside without power or credential: local fire code and licensed people rule.",
    "alarm-hub": "Monitored alarm: put the station on test before you begin, and off test afterwards.",
}


@dataclass(frozen=True, slots=True)
class Advice:
    """Texts for one step: `open` is a URL or None; `keep_off` are device keys that must stay unplugged."""

    open: str | None
    expect: str | None
    keep_off: tuple[str, ...]
    caution: str | None


def advice(site: Site, step: Step, assignment: Assignment | None, done: frozenset[str]) -> Advice:
    """Return what stands beside a step of the run; `done` holds the ids of finished steps."""
    device = site.device_by_key.get(step.device or "")
    if device is None:
        expect = "Afterwards nothing but the new device answers; the site comes back when you set it back."
        return Advice(None, expect if step.adapter else None, (), None)
    model = site.model_of(device)
    return Advice(
        _open(site, device, model, step.kind, assignment),
        _expect(site, device, model, step.kind, assignment),
        keep_off(site, device, done) if step.kind in ("connect", "activate", "configure") else (),
        _caution(model, step.kind),
    )


def keep_off(site: Site, device: Device, done: frozenset[str]) -> tuple[str, ...]:
    """Return the devices that would answer at this one's factory address if they were plugged in now."""
    bench = site.policy.bench
    factory = address_in_force(site.model_of(device), bench)
    if factory is None:
        return ()
    twins = []
    for other in site.devices:
        if other.key == device.key or f"{other.key}:configure" in done:
            continue
        its = address_in_force(site.model_of(other), bench)
        if its is not None and its.address == factory.address:
            twins.append(other.key)
    return tuple(twins)


def _open(site: Site, device: Device, model: Model | None, kind: str, assignment: Assignment | None) -> str | None:
    address = None
    if kind in ("activate", "configure"):
        factory = address_in_force(model, site.policy.bench)
        address = str(factory.address) if factory else None
    elif kind == "confirm" and assignment is not None:
        return web_address(site.services_of(device), assignment.address)
    return None if address is None else web_address(model.services if model else {}, address)


def web_address(services: Mapping[str, int], address: str) -> str | None:
    """Return where a device's own web page is opened, None where it has none."""
    for service, scheme, usual in (("web", "http", 80), ("web-tls", "https", 443)):
        port = services.get(service)
        if port is not None:
            return f"{scheme}://{address}" + (f":{port}" if port != usual else "") + "/"
    return None


def _expect(site: Site, device: Device, model: Model | None, kind: str, assignment: Assignment | None) -> str | None:
    timings = model.timings if model else None
    at = spoken_address(assignment.address, assignment.prefix) if assignment else "its new address"
    if kind == "connect" and device.used:
        return f"Bought used. {' '.join(used_steps(site, device))}"
    if kind == "connect" and device.disks:
        boots = f" Then it boots for about {timings.boot_s:.0f} s." if timings and timings.boot_s else ""
        return f"{fitting(device)}{boots}"
    if kind == "connect" and timings and timings.boot_s:
        return f"It boots by itself for about {timings.boot_s:.0f} s. Compare the label before you plug it in."
    if kind == "activate":
        if address_in_force(model, site.policy.bench) is None:
            return "It takes an address from the router: look for its hardware address in the list of leases."
        return "The browser warns of a certificate the device signed itself; that is usual at first contact."
    if kind == "configure":
        wait = f" It restarts for about {timings.restart_s:.0f} s." if timings and timings.restart_s else ""
        return f"After Save the page goes away, because the device moves to {at}.{wait}"
    if kind == "confirm":
        page = f"Its page opens at {at} and shows the name {device.label}."
        return f"{page} Start the format of its disks there." if _to_format(device) else page
    if kind == "format":
        lasts = (
            f" It takes about {timings.format_s / 60:.0f} min" if timings and timings.format_s else " It takes a while"
        )
        return f"It beeps until a disk is formatted, and records nothing before.{lasts}; leave it on power."
    return None


def fitting(device: Device) -> str:
    """Return how the disks of a recorder are fitted: which one in which bay, and what is forgotten."""
    disks = [
        f"{disk.tb:g} TB in bay {at if disk.bay is None else disk.bay}{f' ({disk.serial})' if disk.serial else ''}"
        for at, disk in enumerate(device.disks or (), 1)
    ]
    return (
        f"Without power, fit {listed(disks)}: four screws each, both cables until they click. Write down the serials."
    )


def _to_format(device: Device) -> bool:
    return any(not disk.formatted for disk in device.disks or ())


def _caution(model: Model | None, kind: str) -> str | None:
    if model is None:
        return None
    if kind == "connect":
        if model.family in _FAMILY_CAUTIONS:
            return _FAMILY_CAUTIONS[model.family]
        if model.power is not None and model.power.poe_class is None:
            return "Fed from the mains: fixed wiring and earthing are for licensed people, by local code."
    if kind == "confirm" and model.family in ("camera", "door-station"):
        return "Picture and sound of people: only as local privacy law allows."
    return None
