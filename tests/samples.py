"""Sites for tests: the demo site, a small faulty one, and builders for whatever a test needs."""

import json
from copy import deepcopy
from pathlib import Path
from typing import Any

from hypothesis import strategies as st

from tutelar.core.site import Site, read_site
from tutelar.core.site.values import dotted

DEMO = Path(__file__).parents[1] / "tutelar" / "server" / "demo" / "brackwater.json"
CAMERA = {
    "key": "larkmoor-dome-4",
    "family": "camera",
    "maker": "Larkmoor",
    "name": "Dome 4",
    "factory": {"mode": "fixed", "address": "192.168.64.20", "prefix": 24},
    "services": {"web": 80, "stream": 554},
    "timings": {"boot_s": 70, "activate_s": 45, "configure_s": 150, "restart_s": 60},
    "streams": {"main": {"width": 2688, "height": 1520, "fps": 20, "codec": "h265", "kbps": 4096}},
}
RECORDER = {
    "key": "larkmoor-rec-8",
    "family": "recorder",
    "maker": "Larkmoor",
    "name": "Record 8",
    "factory": {"mode": "leased"},
    "services": {"web": 80},
    "timings": {"boot_s": 110, "activate_s": 120, "configure_s": 360, "restart_s": 100, "format_s": 300},
    "capacity": {"channels": 8, "incoming_mbps": 40},
    "camera_ports": {"count": 2, "poe_budget_w": 30, "cidr": "172.27.16.0/24"},
}
STATION = {
    "key": "pellgrave-gate-1",
    "family": "door-station",
    "maker": "Pellgrave",
    "name": "Gate 1",
    "factory": {"mode": "leased-then-fixed", "address": "192.168.77.30", "prefix": 24},
    "services": {"web": 80, "signalling": 5060},
    "timings": {"boot_s": 45, "activate_s": 60, "configure_s": 180, "restart_s": 40},
}


def shipped() -> dict[str, Any]:
    """Return the demo site's document as it is shipped, fresh: its recordings have a gap and too little room."""
    return json.loads(DEMO.read_text())  # type: ignore[no-any-return]


def demo() -> dict[str, Any]:
    """Return the demo site's document before anybody spoke of recordings, supplies and doors: nothing is wrong."""
    later = ("recording", "supplies", "doors", "access", "alarm")
    raw = {name: part for name, part in shipped().items() if name not in later}
    raw["survey"].pop("retention_days")
    for item in raw["devices"]:
        for name in ("disks", "raid", "fed", "plugged_into"):
            item.pop(name, None)
    return raw


def around(keys: tuple[str, ...]) -> dict[str, Any]:
    """Return the demo with these devices and those they are linked to, of the cameras only a few."""
    raw = demo()
    tied = {end for link in raw["links"] for end in (link["from"], link["to"]) if {link["from"], link["to"]} & {*keys}}
    cameras = sorted(end for end in tied if end.startswith("cam-"))
    kept = {*keys, *cameras[:5], *tied.difference(cameras)}
    raw["devices"] = [device | {"powered_by": None} for device in raw["devices"] if device["key"] in kept]
    raw["links"] = [link for link in raw["links"] if link["from"] in kept and link["to"] in {*kept, "relay"}]
    return raw


def document(devices: list[dict[str, Any]] | None = None, **more: Any) -> dict[str, Any]:
    """Return a small document: one /24 with a gateway and a pool, three models, the given devices."""
    network = {
        "key": "lan",
        "name": "Halls",
        "cidr": "10.20.30.0/24",
        "gateway": "10.20.30.1",
        "dns": ["10.20.30.1"],
        "pools": [{"first": "10.20.30.100", "last": "10.20.30.149"}],
        "reserved": [{"first": "10.20.30.2", "last": "10.20.30.9", "why": "switches"}],
    } | more.pop("network", {})
    return {
        "format": "tutelar-site",
        "version": 1,
        "site": {
            "key": "halls",
            "name": "Two Halls",
            "time_zone": "Europe/Dublin",
            "places": ["Hall", "Yard"],
            "practice": True,
        },
        "networks": [network],
        "models": deepcopy([CAMERA, RECORDER, STATION]),
        "devices": devices or [],
        "links": [],
        **more,
    }


def device(number: int, model: str = "larkmoor-dome-4", **more: Any) -> dict[str, Any]:
    """Return a device of the document; its key and hardware address follow its number."""
    return {
        "key": f"d-{number}",
        "model": model,
        "name": f"Device {number}",
        "place": "Hall",
        "network": "lan",
        "mac": f"02:1a:4b:00:{number >> 8:02x}:{number & 255:02x}",
        "serial": f"S{number}",
        "address": None,
    } | more


def read(raw: dict[str, Any]) -> Site:
    return read_site(json.dumps(raw))


@st.composite
def documents(draw: st.DrawFn, most: int = 40) -> dict[str, Any]:
    """Draw documents: a network of any size with pools and kept ranges, devices of all kinds, some already set."""
    prefix = draw(st.integers(22, 30))
    size = 1 << (32 - prefix)
    base = (10 << 24) + draw(st.integers(0, 50)) * 4096
    inside = st.integers(0, size - 1)

    def spans(number: int) -> list[dict[str, str]]:
        found = []
        for _ in range(draw(st.integers(0, number))):
            first, last = sorted((draw(inside), draw(inside)))
            found.append({"first": dotted(base + first), "last": dotted(base + min(last, first + size // 3))})
        return found

    network = {
        "cidr": f"{dotted(base)}/{prefix}",
        "gateway": dotted(base + draw(st.integers(1, max(1, size - 2)))),
        "dns": [],
        "pools": spans(2),
        "reserved": spans(2),
    }
    models = ["larkmoor-dome-4", "larkmoor-rec-8", "pellgrave-gate-1"]
    devices = []
    for number in range(draw(st.integers(0, most))):
        address = draw(st.one_of(st.none(), st.none(), st.none(), inside.map(lambda host: dotted(base + host))))
        devices.append(
            device(
                number,
                draw(st.sampled_from(models)),
                address=address,
                addressing=draw(st.sampled_from(["fixed", "fixed", "reserved", "leased"])),
                place=draw(st.sampled_from(["Hall", "Yard", "Loft"])),
                locked=draw(st.booleans()) and address is not None,
            )
        )
    growth = draw(st.sampled_from([0, 0.25, 1.0]))
    return document(devices, network=network, policy={"growth": growth, "match_channel": False, "blocks": "auto"})
