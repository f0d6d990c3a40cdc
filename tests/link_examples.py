"""One link of every kind on one site, ready to be made; and the table of kinds as the documents print it."""

from copy import deepcopy
from typing import Any

from tests.samples import read
from tutelar.core.links.base import ResolvedLink
from tutelar.core.links.index import LinkIndex
from tutelar.core.links.registry import KINDS, link_index
from tutelar.core.planning import plan
from tutelar.core.site import Site

WEB = {"web": 80, "stream": 554, "control": 34100, "signalling": 5060}


def _model(key: str, family: str, **more: Any) -> dict[str, Any]:
    return {"key": key, "family": family, "name": key.title(), "services": dict(WEB)} | more


MODELS = [
    _model("eye", "camera", streams={"main": {"width": 9, "height": 9, "fps": 9, "codec": "h265", "kbps": 4000}}),
    _model("box", "encoder", capacity={"channels": 4}),
    _model(
        "disk",
        "recorder",
        capacity={"channels": 4, "incoming_mbps": 10, "logins": 3},
        codecs=["h265", "h264"],
        camera_ports={"count": 1, "cidr": "172.27.16.0/24"},
    ),
    _model("keeper", "software-recorder", capacity={"channels": 8, "licences": 2}),
    _model("gate", "door-station", numbering={"monitors": 2, "stations": 3}),
    _model("view", "indoor-monitor", capacity={"stations": 1}, numbering={"tiles": 4}),
    _model("exchange", "call-server", capacity={"stations": 2, "lines": 1}, numbering={"extensions": [200, 220]}),
    _model("stick", "joystick-desk", numbering={"short-numbers": {"first": 1, "last": 2}}),
    _model("panel", "panel", capacity={"doors": 2}, card_bits=[26, 34]),
    _model("reader", "reader", services={}, card_bits=[26]),
    _model("keys", "keypad", services={}),
    _model("hub", "alarm-hub", capacity={"devices": 2, "paths": ["cable", "mobile-1"]}),
]

LINKS: dict[str, dict[str, Any]] = {
    "camera-to-recorder": {"kind": "records", "from": "eye-1", "to": "disk-1", "slot": 1},
    "camera-behind-recorder": {"kind": "records", "from": "eye-2", "to": "disk-1", "slot": 2},
    "encoder-channel": {"kind": "records", "from": "box-1", "to": "keeper-1", "slot": 1, "from_channel": 3},
    "picture-on-monitor": {"kind": "shows-on", "from": "eye-1", "to": "view-1", "slot": 4},
    "monitor-at-station": {"kind": "registers-at", "from": "view-1", "to": "gate-1", "slot": 1},
    "further-station": {"kind": "extends", "from": "gate-2", "to": "gate-1", "slot": 1},
    "extension-monitor": {"kind": "extends", "from": "view-2", "to": "view-1", "slot": 1},
    "station-to-call-server": {"kind": "calls", "from": "gate-1", "to": "exchange-1", "slot": 201},
    "peer-call": {"kind": "calls", "from": "gate-2", "to": "view-1", "slot": 7},
    "paging": {"kind": "pages", "from": "exchange-1", "to": "gate-1", "slot": 3, "priority": 5},
    "desk-to-camera": {"kind": "steers", "from": "stick-1", "to": "eye-1", "slot": 1},
    "desk-through-recorder": {"kind": "steers", "from": "stick-1", "to": "disk-1", "slot": 2, "to_channel": 2},
    "reader-at-door": {"kind": "reads-for", "from": "reader-1", "to": "panel-1", "slot": 2, "side": "in"},
    "management-program": {"kind": "manages", "from": "panel-1", "to": "management", "at": "10.20.30.7"},
    "secondary-panel": {"kind": "manages", "from": "panel-2", "to": "panel-1", "slot": 2},
    "device-at-hub": {"kind": "reports-to", "from": "keys-1", "to": "hub-1", "slot": 1},
    "alarm-path": {
        "kind": "reports-to",
        "from": "hub-1",
        "to": "monitoring-station",
        "from_channel": 1,
        "account": "4711",
        "at": "198.51.100.7",
    },
    "relay-registration": {"kind": "relays", "from": "disk-1", "to": "relay"},
}
BESIDES = [
    {
        "kind": "reports-to",
        "from": "hub-1",
        "to": "monitoring-station",
        "from_channel": 2,
        "account": "4711",
        "at": "198.51.100.8",
    }
]


def document() -> dict[str, Any]:
    """Return the site with every example link and a second path of the hub."""
    counts = {"eye": 2, "gate": 2, "view": 2, "panel": 2, "disk": 2}
    devices = []
    for model in MODELS:
        for number in range(1, counts.get(model["key"], 1) + 1):
            at = len(devices) + 1
            devices.append(
                {
                    "key": f"{model['key']}-{number}",
                    "model": model["key"],
                    "name": f"{model['name']} {number}",
                    "place": "Hall",
                    "network": "lan",
                    "mac": f"02:1a:4b:00:01:{at:02x}",
                    "serial": f"S{at}",
                    "address": None,
                }
            )
    hidden = next(device for device in devices if device["key"] == "eye-2")
    hidden |= {"network": None, "behind": "disk-1"}
    network = {"key": "lan", "cidr": "10.20.30.0/24", "gateway": "10.20.30.1", "dns": ["10.20.30.1"]}
    return {
        "format": "tutelar-site",
        "version": 1,
        "site": {"key": "kinds", "name": "Every kind", "places": ["Hall"]},
        "networks": [network, {"key": "far", "cidr": "10.20.40.0/24", "gateway": "10.20.40.1"}],
        "models": deepcopy(MODELS),
        "devices": devices,
        "links": [*deepcopy(list(LINKS.values())), *BESIDES],
    }


def known(raw: dict[str, Any]) -> LinkIndex:
    """Return all that can be known of a site where every device went over the bench and every secret is kept."""
    site: Site = read(raw)
    states = {device.key: "set" for device in site.devices}
    slots = ("login", "administrator", "registration")
    secrets = {(device.key, slot): f"secret {slot}" for device in site.devices for slot in slots}
    return link_index(site, plan(site).addresses(), states, secrets)


def cases(raw: dict[str, Any]) -> dict[str, ResolvedLink]:
    """Return the example links as cases by the key of their kind."""
    looked = known(raw)
    found = [looked.case(link) for link in looked.site.links[: len(LINKS)]]
    return {key: case for key, case in zip(LINKS, found, strict=True) if case is not None}


def table() -> list[str]:
    """Return the rows of the table of kinds, made from the registry and the example of each."""
    examples = cases(document())
    rows = [
        "| kind | in the document | needs | number | typed at the start | typed at the end | proof |",
        "| --- | --- | --- | --- | --- | --- | --- |",
    ]
    for kind in KINDS:
        case = examples[kind.key]
        values = list(kind.values(case))

        def labels(end: str, values: Any = values, case: ResolvedLink = case) -> str:
            names = [item.line.label for item in values if item.end == end]
            return "; ".join(dict.fromkeys(_general(name, case) for name in names)) or "–"

        needs = ", ".join(need.key for need in kind.needs)
        number = kind.number.word if kind.number else "–"
        tests = "; ".join(test.title.lower() for test in kind.tests)
        rows.append(
            f"| {kind.title} | `{kind.word}` | {needs} | {number} | {labels('from')} | {labels('to')} | {tests} |"
        )
    return rows


def _general(label: str, case: ResolvedLink) -> str:
    for name in (case.start.label, case.to):
        label = label.replace(name, "…")
    return label.replace(f" {case.link.slot}", " n") if case.link.slot is not None else label
