"""Which readings must fail when faults are played: worked out from the site alone, knowing nothing of the stand-in."""

import random
import re
from ipaddress import IPv4Address, IPv4Network
from pathlib import Path
from typing import Any

from tests.samples import demo, read
from tutelar.core.planning import plan
from tutelar.core.proof import all_expectations
from tutelar.core.site import Device, Site, with_addresses

DOCUMENT = Path(__file__).parents[1] / "docs" / "proof.md"
SILENCE = frozenset(
    {
        *("power-off", "wrong-vlan", "wrong-address", "leased-moved", "flapping"),
        *("switch-off", "uplink-cut", "port-dead", "device-dead"),
    }
)
BEHAVIOUR = ("slow", "half-open", "flapping")  # played alone only
SPOKEN = ("web", "stream", "signalling", "time", "device-interface")
TELLERS = ("web", "web-tls", "control")
Fault = dict[str, Any]
Failing = set[tuple[str, str]]


def table() -> dict[str, tuple[list[str], list[str]]]:
    """Return of each fault kind the checks that fail at the device itself, and those that may follow elsewhere."""
    rows = re.findall(
        r"^\| `([a-z-]+)` \|([^|]*)\|([^|]*)\|",
        DOCUMENT.read_text().partition("## Which fault shows where")[2],
        re.MULTILINE,
    )
    return {kind: (re.findall(r"`([a-z-]+)`", own), re.findall(r"`([a-z-]+)`", others)) for kind, own, others in rows}


def site_of(raw: dict[str, Any]) -> Site:
    site = read(raw)
    return with_addresses(site, plan(site).addresses())


def random_site(dice: random.Random) -> Site:
    """Return a few devices of the demo's models with random links, all with addresses."""
    raw = demo()
    keep = dice.sample([device for device in raw["devices"] if not device["behind"]], dice.randint(5, 12))
    keys = {device["key"] for device in keep} | {"rec-1"}
    hidden = dice.random() < 0.5
    raw["devices"] = [
        device for device in raw["devices"] if device["key"] in keys or (hidden and device["behind"] == "rec-1")
    ]
    for device in raw["devices"]:
        device["powered_by"] = None
    keys = {device["key"] for device in raw["devices"]}
    links = [link for link in raw["links"] if link["from"] in keys and (link["to"] in keys or link["to"] == "relay")]
    raw["links"] = [link for link in links if dice.random() < 0.9]
    raw["site"]["key"] = f"random-{dice.randint(0, 10**9)}"
    return site_of(recorded(raw) if dice.random() < 0.5 else raw)


def recorded(raw: dict[str, Any]) -> dict[str, Any]:
    """Return a document with a pattern that has something to record at every moment, and a disk in each recorder."""
    hours = [{"from": "00:00", "to": "12:00", "mode": "continuous"}, {"from": "12:00", "to": "24:00", "mode": "alarm"}]
    disks = [{"bay": 1, "tb": 8}, {"bay": 2, "tb": 8}]
    devices = [item | ({"disks": disks} if item["key"].startswith("rec-") else {}) for item in raw["devices"]]
    recording = {"patterns": [{"key": "hours", "name": "Hours", "week": {"mon": hours}}], "usual": "hours"}
    return {**raw, "devices": devices, "recording": recording}


def random_faults(dice: random.Random, site: Site) -> list[Fault]:
    """Return one to five faults, of each kind at most one a device."""
    kinds = [kind for kind in table() if kind not in ("duplicate-address", *BEHAVIOUR)]
    found: dict[tuple[str, str], Fault] = {}
    for _ in range(dice.randint(1, 5)):
        device, kind = dice.choice(site.devices), dice.choice(kinds)
        fault: Fault = {"kind": kind, "device": device.key}
        if kind == "cable":
            fault["loss"] = dice.choice([0.1, 0.25, 0.5, 1.0])
        if kind == "port-changed":
            fault["service"] = dice.choice(list(site.services_of(device)))
        if kind == "wrong-prefix" and dice.random() < 0.5:
            fault["prefix"] = dice.choice([16, 23, 30])
        if kind == "clock-offset":
            fault["seconds"] = dice.choice([-3600, -3, 3, 86400])
        found[device.key, kind] = fault
    if dice.random() < 0.2:
        device = dice.choice(site.devices)
        found[device.key, "duplicate-address"] = {"kind": "duplicate-address", "device": device.key}
    return list(found.values())


class Rules:
    """One site with faults; `failing` says what must fail or be silent, everything else must not."""

    def __init__(self, site: Site, faults: list[Fault]) -> None:
        self.site = site
        self.faults: dict[str, dict[str, Fault]] = {device.key: {} for device in site.devices}
        for fault in faults:
            self.faults[fault["device"]][fault["kind"]] = fault
        self.planned = {item.device: item for item in plan(site).assignments}
        self.wanted = {
            key: [item.check for item in items]
            for key, items in all_expectations(site, list(self.planned.values())).items()
        }

    def has(self, key: str, *kinds: str) -> bool:
        return any(kind in self.faults[key] for kind in kinds)

    def silent(self, key: str) -> bool:
        cut = self.faults[key].get("cable", {}).get("loss", 1.0) >= 1 if self.has(key, "cable") else False
        recorder = self.site.device_by_key[key].behind
        unfed = recorder is not None and self.has(recorder, "switch-off")
        return self.has(key, *SILENCE) or cut or unfed

    def closed(self, key: str) -> str | None:
        fault = self.faults[key].get("port-changed")
        services = self.site.services_of(self.site.device_by_key[key])
        return None if fault is None else fault.get("service", next(iter(services), None))

    def tells(self, key: str, where: tuple[str, ...] = (*TELLERS, "device-interface")) -> bool:
        """Whether a page of the device, or its device interface, is found on which it says who it is."""
        services = self.site.services_of(self.site.device_by_key[key])
        return any(name in services and name != self.closed(key) for name in where)

    def failing(self) -> Failing:
        found: Failing = set()
        for device in self.site.devices:
            checks = self._own(device) | self._elsewhere(device)
            found |= {(device.key, check) for check in checks if check in self.wanted[device.key]}
        return found

    def _own(self, device: Device) -> set[str]:
        key = device.key
        if self.has(key, "duplicate-address"):  # a stranger with the planned ports answers in its place
            return {"right-device"}
        if self.silent(key) or set(self.site.services_of(device)) == {self.closed(key)}:
            return {"answers"}
        found = {"cable"} if self.has(key, "cable") and self.faults[key]["cable"]["loss"] > 0 else set()
        if self.closed(key):
            found.add(str(self.closed(key)))
        if (
            "time" in self.site.services_of(device)
            and abs(self.faults[key].get("clock-offset", {}).get("seconds", 0)) > 2
        ):
            found.add("time")
        if self.has(key, "slow", "half-open"):  # everything that has to say something is late
            services = self.site.services_of(device)
            late = [*SPOKEN, *(["web-tls"] if self.has(key, "half-open") or "web" not in services else [])]
            return {name for name in late if name in services}
        if self._misplaced(device):
            found.add("registered")
        if not self.tells(key):
            return found
        page = self.tells(key, TELLERS)
        found |= self._shown(key, (("wrong-name", "name"), ("clock-offset", "clock")))
        if self.has(key, "other-certificate") and device.certificate and self.closed(key) != "web-tls":
            found.add("certificate")
        if page and self.has(key, "wrong-date-order"):
            found.add("date-order")
        if self.has(key, "wrong-password"):
            return found | {"login"}
        found |= self._shown(key, (("wrong-prefix", "mask"), ("wrong-gateway", "gateway"), ("wrong-dns", "dns")))
        if self.closed(key) != "device-interface":
            found |= self._shown(key, (("wrong-time-source", "time-source"),))
        if not page:  # the device interface tells no more than that
            return found
        found |= self._shown(
            key, (("factory-login", "factory-login"), ("path-down", "paths"), ("input-open", "inputs"))
        )
        if self.has(key, "not-recording", "recorder-full"):
            found.add("disk")
        if self.has(key, "disk-missing", "disk-failing"):
            found.add("disks")
        if self._cut_off(device):
            found.add("relay")
        home = next(
            (
                link
                for link in self.site.links_of(key)
                if link.from_ == key and link.kind in ("registers-at", "extends")
            ),
            None,
        )
        if home is not None and (self.has(key, "wrong-slot") or self._unreached(home.to, ("signalling",))):
            found.add("registered")
        return found

    def _shown(self, key: str, pairs: tuple[tuple[str, str], ...]) -> set[str]:
        """Return the checks whose fault the device has, of (fault, check) pairs."""
        return {check for kind, check in pairs if self.has(key, kind)}

    def _cut_off(self, device: Device) -> bool:
        key, item = device.key, self.planned.get(device.key)
        if self.has(key, "relay-off", "relay-blocked", "relay-bound-elsewhere", "wrong-gateway", "no-code"):
            return True
        network = self.site.network_by_key.get(device.network or "")
        if item is None or network is None or network.gateway is None:
            return True
        if network.dns and self.has(key, "wrong-dns"):
            return True
        if not self.has(key, "wrong-prefix"):
            return False
        prefix = self.faults[key]["wrong-prefix"].get("prefix")
        if prefix is None:  # the first narrower one without the gateway, where there is one
            nets = [IPv4Network((item.address, number), strict=False) for number in range(item.prefix + 1, 31)]
            return any(IPv4Address(network.gateway) not in net for net in nets)
        return IPv4Address(network.gateway) not in IPv4Network((item.address, prefix), strict=False)

    def _unreached(self, key: str, asks: tuple[str, ...]) -> bool:
        """Whether somebody who has this device typed in as planned gets nowhere."""
        services = self.site.services_of(self.site.device_by_key[key])
        asked = next((name for name in asks if name in services), None)
        shut = asked is not None and self.closed(key) == asked
        return self.silent(key) or shut or self.has(key, "wrong-password", "duplicate-address", "half-open")

    def _misplaced(self, device: Device) -> bool:
        """Whether the main station, which is asked itself, lists the device by another number or not at all."""
        home = next(
            (
                link
                for link in self.site.links_of(device.key)
                if link.from_ == device.key and link.kind in ("registers-at", "extends")
            ),
            None,
        )
        if (
            home is None
            or home.slot is None
            or "signalling" not in self.site.services_of(self.site.device_by_key[home.to])
        ):
            return False
        asked = not self._unreached(home.to, ("signalling",)) and self.tells(home.to)
        return asked and self.has(device.key, "wrong-slot")

    def _elsewhere(self, device: Device) -> set[str]:
        """What a camera's recorders say of it; the first that is wrong is enough."""
        key, found = device.key, set()
        for link in self.site.links_of(key):
            if link.kind != "records" or link.from_ != key or link.slot is None:
                continue
            recorder = link.to
            if self.silent(recorder) or self.has(recorder, "wrong-password", "duplicate-address", "slow", "half-open"):
                continue
            if not self.tells(recorder):
                continue
            if self.has(key, "wrong-pattern") != self.has(recorder, "wrong-pattern"):  # played twice it is as before
                found.add("recorded-as-set")
            refused = self.has(key, "recorder-full")
            if refused or self._unreached(key, ("stream", "control", "device-interface")):
                found.add("linked")
                continue
            if self.has(key, "wrong-slot"):
                found.add("linked")
            if self.has(key, "not-recording") or self.has(recorder, "not-recording", "recorder-full"):
                found.add("records")
        return found
