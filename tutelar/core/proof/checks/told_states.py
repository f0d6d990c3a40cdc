"""What a device tells of its own state: disk, alarm paths, contacts, remote access."""

from collections.abc import Callable, Mapping
from typing import Any

from tutelar.core.proof.check import Check, Ending, Outcome, Sight, Subject, Values, fails, not_told, passes
from tutelar.core.site.feeding import Disk
from tutelar.core.site.types import Device


def _disk(at: Sight) -> Outcome:
    told = at.seen.told.disk if at.seen.told else None
    if told is None:
        return not_told(at.seen)
    return Outcome("takes" if told == "ok" else "fault", {"state": told})


def _relay(at: Sight) -> Outcome:
    told = at.seen.told.relay if at.seen.told else None
    if told is None:
        return not_told(at.seen)
    return Outcome("online" if told == "online" else "not-online", {"state": told})


def _paths(at: Sight) -> Outcome:
    found = at.seen.told.paths if at.seen.told else None
    if not found:
        return not_told(at.seen)
    down = [f"{path}: {state}" for path, state in found.items() if state != "up"]
    return Outcome("down", {"paths": "; ".join(down)}) if down else Outcome("up", {"paths": " up, ".join(found)})


def _inputs(at: Sight) -> Outcome:
    found = at.seen.told.inputs if at.seen.told else None
    if not found:
        return not_told(at.seen)
    odd = [f"input {number}: {state}" for number, state in found.items() if state != "rest"]
    return Outcome("open", {"inputs": "; ".join(odd)}) if odd else Outcome("rest", {"number": len(found)})


def _starts(kind: str, of: Subject) -> bool:
    """Return whether a device is the start of a link of this kind."""
    own = of.device.key
    return any(link.kind == kind and link.from_ == own for link in of.site.links_of(own))


def _contacts(of: Subject) -> bool:
    model = of.site.model_of(of.device)
    return of.family == "panel" and model is not None and model.capacity is not None and bool(model.capacity.inputs)


def way_out(of: Subject) -> Values:
    """Return what a device's way to the internet hangs on."""
    network = of.site.network_by_key.get(of.device.network or "")
    way = f"{network.gateway} {' '.join(map(str, network.dns))}" if network else ""
    return {"address": of.addresses.get(of.device.key, ""), "way-out": way}


def _check(
    key: str, title: str, rank: int, asked: str, wants: Callable[[Subject], bool], says: str,
    endings: Mapping[str, Ending], judge: Callable[[Sight], Outcome], **hung: Any,
) -> Check:  # fmt: skip
    def wanted(of: Subject) -> Values | None:
        return {} if of.logs_in and wants(of) else None

    return Check(key, title, rank, "how it is set", asked, wanted, says, endings, judge, sources=("state",), **hung)


def _fitted(of: Subject) -> Values | None:
    if not of.logs_in or of.family != "recorder" or not of.device.disks:
        return None
    return {"disks": _disks_said(of.device)}


def _disks_said(device: Device) -> str:
    return ", ".join(f"{disk.tb:g} TB in bay {bay}" for bay, disk in _bays(device).items())


def _bays(device: Device) -> dict[int, Disk]:
    """Return the disks by bay; those without one are in the bays in their order."""
    return {at if disk.bay is None else disk.bay: disk for at, disk in enumerate(device.disks or (), 1)}


def _as_fitted(at: Sight) -> Outcome:
    told = at.seen.told.disks if at.seen.told else None
    if told is None:
        return not_told(at.seen)
    found = {disk.bay: disk for disk in told}
    for bay, disk in _bays(at.device).items():
        seen = found.get(bay)
        if seen is None:
            return Outcome("bay-empty", {"bay": bay})
        if seen.state != "ok":
            return Outcome("failing", {"bay": bay, "state": seen.state})
        if abs(seen.tb - disk.tb) > disk.tb * _SIZE_GIVE:
            return Outcome("other-size", {"bay": bay, "tb": f"{seen.tb:g}", "planned": f"{disk.tb:g}"})
    return Outcome("fitted", {"disks": _disks_said(at.device)})


_SIZE_GIVE = 0.12  # a device may tell TiB where TB are meant

CHECKS = (
    Check(
        key="disks",
        title="Disks are in their bays",
        rank=33,
        probe="how it is set",
        asked="recorders whose disks are known",
        wants=_fitted,
        says="{disks}",
        endings={
            "fitted": passes("{disks}"),
            "bay-empty": fails("no disk in bay {bay}"),
            "failing": fails("the disk in bay {bay}: {state}"),
            "other-size": fails("{tb} TB in bay {bay}, {planned} TB are planned"),
        },
        judge=_as_fitted,
        sources=("state",),
    ),
    _check("disk", "Disk takes recordings", 33, "recorders", lambda of: of.family == "recorder", "room for recordings",
           {"takes": passes("{state}"), "fault": fails("{state}")}, _disk),
    _check("paths", "Alarm paths are up", 35, "alarm hubs that report to a monitoring station",
           lambda of: of.family == "alarm-hub" and _starts("reports-to", of),
           "every path to the monitoring station is up",
           {"up": passes("{paths} up"), "down": fails("{paths}")}, _paths),
    _check("inputs", "Inputs are at rest", 36, "panels with inputs", _contacts, "every contact at rest",
           {"rest": passes("{number} at rest"), "open": fails("{inputs}")}, _inputs),
    _check("relay", "Remote access is online", 37, "what is registered with a relay", lambda of: _starts("relays", of),
           "online", {"online": passes("{state}"), "not-online": fails("{state}")}, _relay,
           hangs=way_out, hung=("address", "way-out")),
)  # fmt: skip
