"""What a device tells of its own state: disk, alarm paths, contacts, remote access."""

from tutelar.core.proof.check import Check, Outcome, Sight, Subject, Values, fails, not_told, passes


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


def _reports(of: Subject) -> Values | None:
    own = of.site.links_of(of.device.key)
    reports = any(link.kind == "reports-to" and link.from_ == of.device.key for link in own)
    return {} if of.logs_in and of.family == "alarm-hub" and reports else None


def _contacts(of: Subject) -> Values | None:
    model = of.site.model_of(of.device)
    has = model is not None and model.capacity is not None and bool(model.capacity.inputs)
    return {} if of.logs_in and of.family == "panel" and has else None


def _relayed(of: Subject) -> Values | None:
    own = of.site.links_of(of.device.key)
    relays = any(link.kind == "relays" and link.from_ == of.device.key for link in own)
    return {} if of.logs_in and relays else None


def way_out(of: Subject) -> Values:
    """Return what a device's way to the internet hangs on."""
    network = of.site.network_by_key.get(of.device.network or "")
    way = f"{network.gateway} {' '.join(map(str, network.dns))}" if network else ""
    return {"address": of.addresses.get(of.device.key, ""), "way-out": way}


CHECKS = (
    Check(
        key="disk",
        title="Disk takes recordings",
        rank=33,
        probe="how it is set",
        asked="recorders",
        wants=lambda of: {} if of.logs_in and of.family == "recorder" else None,
        says="room for recordings",
        endings={"takes": passes("{state}"), "fault": fails("{state}")},
        judge=_disk,
    ),
    Check(
        key="paths",
        title="Alarm paths are up",
        rank=35,
        probe="how it is set",
        asked="alarm hubs that report to a monitoring station",
        wants=_reports,
        says="every path to the monitoring station is up",
        endings={"up": passes("{paths} up"), "down": fails("{paths}")},
        judge=_paths,
    ),
    Check(
        key="inputs",
        title="Inputs are at rest",
        rank=36,
        probe="how it is set",
        asked="panels with inputs",
        wants=_contacts,
        says="every contact at rest",
        endings={"rest": passes("{number} at rest"), "open": fails("{inputs}")},
        judge=_inputs,
    ),
    Check(
        key="relay",
        title="Remote access is online",
        rank=37,
        probe="how it is set",
        asked="what is registered with a relay",
        wants=_relayed,
        says="online",
        endings={"online": passes("{state}"), "not-online": fails("{state}")},
        judge=_relay,
        hangs=way_out,
        hung=("address", "way-out"),
    ),
)
