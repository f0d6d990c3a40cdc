"""An independent reading of the run model: it knows site documents and printed runs, nothing of the product's code."""

from collections import defaultdict
from ipaddress import ip_address, ip_network
from typing import Any

HANDS = {"connect", "activate", "configure", "confirm"}
CHAIN = ["connect", "boot", "activate", "update", "configure", "restart", "confirm", "format"]
Span = tuple[float, float]


def breaches(raw: dict[str, Any], printed: dict[str, Any], technicians: int, *, planned: bool = True) -> list[str]:
    """Return every rule of the run model that a printed run of a site document breaks.

    A run that was not only planned but done has times of its own, and needs that nobody wrote down.
    """
    bench = {
        "ports": 8,
        "leases": True,
        "several_addresses": False,
        "connect_s": 20,
        "adapter_s": 40,
        "confirm_s": 30,
        "update_firmware": False,
    } | raw.get("policy", {}).get("bench", {})
    models = {model["key"]: model for model in raw["models"]}
    devices = {device["key"]: models[device["model"]] for device in raw["devices"]}
    steps: dict[str, dict[str, dict[str, Any]]] = defaultdict(dict)
    for step in printed["steps"]:
        if step["device"]:
            steps[step["device"]][step["kind"]] = step
    found = []
    if planned:
        found += _sums(printed, technicians)
        for key, model in devices.items():
            found += _chain(key, model, bench, steps[key])
    found += _hands(raw, printed, devices, bench, technicians)
    found += _twins(devices, bench, steps) + _ports(bench, steps) + _precedence(raw, devices, steps, planned)
    return found


def _sums(printed: dict[str, Any], technicians: int) -> list[str]:
    steps = printed["steps"]
    worked = sum(step["end_s"] - step["start_s"] for step in steps if step["hands"])
    right = {
        "total_s": max((step["end_s"] for step in steps), default=0),
        "hands_s": worked,
        "idle_s": technicians * printed["total_s"] - worked,
        "adapter_changes": sum(step["kind"] == "adapter" for step in steps),
    }
    found = [
        f"{name} {printed[name]} instead of {value}"
        for name, value in right.items()
        if abs(printed[name] - value) > 1e-3
    ]
    if printed["lower_bound_s"] > printed["total_s"] + 1e-6:
        found.append("shorter than its bound")
    ids = [step["id"] for step in steps]
    if len(ids) != len(set(ids)):
        found.append("one id twice")
    by_id = {step["id"]: step for step in steps}
    return found + [
        f"{step['id']} before {need}"
        for step in steps
        for need in step["needs"]
        if by_id[need]["end_s"] > step["start_s"] + 1e-6
    ]


def _chain(key: str, model: dict[str, Any], bench: dict[str, Any], mine: dict[str, dict[str, Any]]) -> list[str]:
    timings = model.get("timings") or {}
    seconds = {
        "connect": bench["connect_s"],
        "boot": timings.get("boot_s"),
        "activate": timings.get("activate_s"),
        "update": timings.get("firmware_s") if bench["update_firmware"] else 0,
        "configure": timings.get("configure_s"),
        "restart": timings.get("restart_s"),
        "confirm": bench["confirm_s"],
        "format": timings.get("format_s") if model["family"] == "recorder" else 0,
    }
    wanted = [kind for kind in CHAIN if seconds[kind]]
    if sorted(mine, key=CHAIN.index) != wanted:
        return [f"{key} has the chain {list(mine)}"]
    found = []
    for before, kind in zip([None, *wanted], wanted, strict=False):
        step = mine[kind]
        if abs(step["end_s"] - step["start_s"] - seconds[kind]) > 1e-6:
            found.append(f"{step['id']} takes another time")
        if step["hands"] != (kind in HANDS) or (step["hand"] is not None) != (kind in HANDS):
            found.append(f"{step['id']} by the wrong one")
        if before and step["start_s"] < mine[before]["end_s"] - 1e-6:
            found.append(f"{step['id']} before {before} ended")
        if before and kind not in HANDS and abs(step["start_s"] - mine[before]["end_s"]) > 1e-6:
            found.append(f"{step['id']} does not start by itself")
    return found


def _factory(model: dict[str, Any], bench: dict[str, Any]) -> tuple[str, int] | None:
    factory = model.get("factory") or {}
    force = factory.get("mode") in ("fixed", "link-local") or (
        factory.get("mode") == "leased-then-fixed" and not bench["leases"]
    )
    if not force or not factory.get("address"):
        return None
    return factory["address"], factory.get("prefix") or (16 if factory["mode"] == "link-local" else 24)


def _hands(raw: Any, printed: Any, devices: dict[str, Any], bench: dict[str, Any], technicians: int) -> list[str]:
    found = []
    site = [ip_network(network["cidr"]) for network in raw["networks"]]
    in_force = {address[0] for model in raw["models"] if (address := _factory(model, bench))}
    away: list[tuple[str, Span]] = []
    for hand in range(1, technicians + 1):
        mine = sorted(
            (step for step in printed["steps"] if step["hand"] == hand),
            key=lambda step: (step["start_s"], step["end_s"]),
        )
        setting, since = None, 0.0
        for before, step in zip([None, *mine], mine, strict=False):
            if before and step["start_s"] < before["end_s"] - 1e-6:
                found.append(f"{step['id']} overlaps {before['id']}")
            if step["kind"] == "adapter":
                if bench["several_addresses"]:
                    found.append(f"{step['id']} for nothing")
                now = step["adapter"] and (step["adapter"]["address"], step["adapter"]["prefix"])
                if now == setting:
                    found.append(f"{step['id']} changes nothing")
                if setting:
                    away.append((setting[0], (since, step["start_s"])))
                setting, since = now, step["end_s"]
                if setting and setting[0] in in_force:
                    found.append(f"{step['id']} takes a factory address")
            elif not bench["several_addresses"]:
                needed = _needed(devices[step["device"]], bench, site) if step["kind"] != "confirm" else None
                stands = ip_network(f"{setting[0]}/{setting[1]}", strict=False) if setting else None
                if step["kind"] != "connect" and needed != stands:
                    found.append(f"{step['id']} needs {needed}, the laptop stands at {stands}")
        if setting is not None:
            found.append(f"hand {hand} leaves its laptop away from the site network")
    for number, (address, span) in enumerate(away):
        found += [
            f"two laptops at {address}"
            for other, its in away[number + 1 :]
            if other == address and max(span[0], its[0]) < min(span[1], its[1])
        ]
    return found


def _needed(model: dict[str, Any], bench: dict[str, Any], site: list[Any]) -> Any:
    factory = _factory(model, bench)
    if factory is None:
        return None
    subnet = ip_network(f"{factory[0]}/{factory[1]}", strict=False)
    return None if any(subnet.overlaps(network) for network in site) else subnet


def _twins(devices: dict[str, Any], bench: dict[str, Any], steps: dict[str, Any]) -> list[str]:
    spans: dict[Any, list[Span]] = defaultdict(list)
    for key, model in devices.items():
        factory = _factory(model, bench)
        early = [steps[key][kind] for kind in CHAIN[:5] if kind in steps[key]]
        if factory and early:
            spans[ip_address(factory[0])].append((early[0]["start_s"], early[-1]["end_s"]))
    return [
        f"two at {address}"
        for address, mine in spans.items()
        for a, b in zip(sorted(mine), sorted(mine)[1:], strict=False)
        if b[0] < a[1] - 1e-6
    ]


def _ports(bench: dict[str, Any], steps: dict[str, Any]) -> list[str]:
    moments = []
    for mine in steps.values():
        on_bench = [step for kind, step in mine.items() if kind != "format"]
        if on_bench:
            start, end = min(s["start_s"] for s in on_bench), max(s["end_s"] for s in on_bench)
            moments += [(start, 1), (end, -1)]
    taken = most = 0
    for _, change in sorted(moments):
        taken += change
        most = max(most, taken)
    return [f"{most} devices on {bench['ports']} ports"] if most > bench["ports"] else []


def _precedence(raw: Any, devices: dict[str, Any], steps: dict[str, Any], planned: bool) -> list[str]:
    found = []
    for link in raw.get("links", []):
        kind = {"registers-at": "configure", "extends": "configure"}.get(link["kind"])
        if link["kind"] == "records" and raw.get("policy", {}).get("passwords") == "family":
            kind = "activate" if devices[link["from"]]["family"] == "camera" else None
        follower, leader = steps.get(link["from"], {}).get(kind or ""), steps.get(link["to"], {}).get("confirm")
        if follower and leader:
            if follower["start_s"] < leader["end_s"] - 1e-6:
                found.append(f"{follower['id']} before {leader['id']}")
            if planned and leader["id"] not in follower["needs"]:
                found.append(f"{follower['id']} does not name {leader['id']}")
    return found
