"""Invented sites of any size, the same for the same numbers."""

import json
from typing import Any

MAIN = {"width": 2688, "height": 1520, "fps": 20, "codec": "h265", "kbps": 4096}
TIMINGS = {"boot_s": 70, "activate_s": 45, "configure_s": 150, "restart_s": 60, "firmware_s": 240}
MODELS: list[dict[str, Any]] = [
    {
        "key": "larkmoor-dome-4",
        "family": "camera",
        "maker": "Larkmoor",
        "name": "Dome 4",
        "factory": {"mode": "fixed", "address": "192.168.64.20", "prefix": 24},
        "services": {"web": 80, "web-tls": 443, "stream": 554, "control": 34100},
        "power": {"poe_class": 3, "draw_w": 6.5},
        "streams": {"main": MAIN},
        "timings": TIMINGS,
    },
    {
        "key": "larkmoor-rec-64",
        "family": "recorder",
        "maker": "Larkmoor",
        "name": "Record 64",
        "factory": {"mode": "leased"},
        "services": {"web": 80, "stream": 554},
        "capacity": {"channels": 64, "incoming_mbps": 400},
        "timings": TIMINGS,
    },
    {
        "key": "pellgrave-gate-1",
        "family": "door-station",
        "maker": "Pellgrave",
        "name": "Gate 1",
        "factory": {"mode": "leased-then-fixed", "address": "192.168.77.30", "prefix": 24},
        "services": {"web": 80, "signalling": 5060},
        "timings": TIMINGS,
    },
]


def site_text(devices: int, networks: int, *, indent: int | None = 1) -> str:
    """Return a site document with this many devices spread over this many networks, no address set yet."""
    per_network = devices // networks
    prefix = 32 - max(4, (per_network * 2 + 60).bit_length())
    step = 1 << (32 - prefix)
    rows, links, nets = [], [], []
    for index in range(networks):
        base = (10 << 24) + (20 << 16) + index * step
        key = f"net-{index + 1:02}"
        nets.append(
            {
                "key": key,
                "name": f"Hall {index + 1}",
                "cidr": f"{_dotted(base)}/{prefix}",
                "vlan": 100 + index,
                "gateway": _dotted(base + 1),
                "dns": [_dotted(base + 1)],
                "time_source": _dotted(base + 1),
                "pools": [{"first": _dotted(base + step - 40), "last": _dotted(base + step - 5)}],
                "reserved": [{"first": _dotted(base + 2), "last": _dotted(base + 9), "why": "switches"}],
            }
        )
    for number in range(devices):
        net = number % networks
        place_in_net = number // networks
        kind = 1 if place_in_net % 60 == 0 else 2 if place_in_net % 25 == 7 else 0
        digits = f"{number:06x}"
        key = f"{('cam', 'rec', 'gate')[kind]}-{number:05}"
        rows.append(
            {
                "key": key,
                "model": MODELS[kind]["key"],
                "name": f"Hall {net + 1} {key}",
                "place": f"Hall {net + 1}",
                "network": f"net-{net + 1:02}",
                "mac": f"02:1a:4b:{digits[:2]}:{digits[2:4]}:{digits[4:]}",
                "serial": f"S{number:06}",
                "addressing": "fixed",
                "address": None,
                "locked": False,
                "powered_by": None,
                "cable_m": 20 + number % 60,
                "behind": None,
                "used": False,
            }
        )
    by_net: dict[str, list[str]] = {}
    for row in rows:
        if row["model"] == MODELS[1]["key"]:
            by_net.setdefault(str(row["network"]), []).append(str(row["key"]))
    used: dict[str, int] = {}
    for row in rows:
        if row["model"] == MODELS[0]["key"]:
            target = next((key for key in by_net.get(str(row["network"]), []) if used.get(key, 0) < 64), None)
            if target:
                used[target] = used.get(target, 0) + 1
                links.append({"kind": "records", "from": row["key"], "to": target, "slot": used[target]})
    document = {
        "format": "tutelar-site",
        "version": 1,
        "site": {
            "key": "many-halls",
            "name": "Many Halls",
            "time_zone": "Europe/Dublin",
            "date_order": "DMY",
            "clock": "24h",
            "mains_hz": 50,
            "units": "metric",
            "places": [f"Hall {i + 1}" for i in range(networks)],
        },
        "internet": None,
        "networks": nets,
        "models": MODELS,
        "devices": rows,
        "links": links,
        "policy": {"growth": 0.25, "match_channel": False, "blocks": "auto"},
        "readings": [],
        "exceptions": [],
    }
    return json.dumps(document, indent=indent)


def _dotted(number: int) -> str:
    return ".".join(str(number >> shift & 255) for shift in (24, 16, 8, 0))
