"""How the pretend devices stand to each other: who answers where, what recorders see, who is registered, who is online.

Everything is worked out when it is asked for, from what the devices are like at that moment.
"""

import re
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, datetime, tzinfo
from functools import cached_property
from ipaddress import AddressValueError, IPv4Address, IPv4Network
from typing import Any
from zoneinfo import ZoneInfo

from tutelar.core.links.registry import kind_of
from tutelar.core.links.ties import registrations
from tutelar.core.recording.told import mode_now, pattern_of, week_line
from tutelar.core.site.types import Link, Site
from tutelar.core.site.values import dotted
from tutelar.standin.device import PretendDevice, pretend_password

NOTHING_WRITTEN = -1.0
Places = dict[tuple[str, int], PretendDevice]


@dataclass
class Entry:
    """A channel as it was typed into recorder `to`, or main station `to` as it was typed into a station: whose it is
    (`of`, with the channel there), where and at which port it is asked, with which password."""

    number: int
    of: str
    to: str
    source: str
    ground: str
    address: int
    port: int | None
    password: str
    writes: bool = True
    week: str = ""  # as it was set in the recorder
    refused: str | None = None  # why the recorder itself does not take it


@dataclass
class World:
    """All pretend devices, strangers among them, and what was typed of one into another."""

    site: Site
    devices: dict[str, PretendDevice]
    strangers: list[PretendDevice] = field(default_factory=list)
    entries: dict[str, list[Entry]] = field(default_factory=dict)
    homes: dict[str, Entry] = field(default_factory=dict)
    further: dict[str, list[Entry]] = field(default_factory=dict)  # registrations besides that at home
    gateways_down: set[str] = field(default_factory=set)
    names_down: set[str] = field(default_factory=set)
    provider_down: bool = False
    restart: Callable[[PretendDevice], None] | None = None

    @classmethod
    def of(cls, site: Site, devices: dict[str, PretendDevice]) -> "World":
        """Return the world as planned."""
        world = cls(site, devices)
        for link in site.links:
            start, end = devices.get(link.from_), devices.get(link.to)
            if start is None or end is None:
                continue
            if link.kind == "records" and link.slot is not None:
                world.entries.setdefault(end.key, []).append(world.entry(link, start))
        for key, device in devices.items():
            links = [link for link in registrations(site, site.device_by_key[key]) if link.to in devices]
            for home in links[:1]:
                world.homes[key] = world.entry(home, devices[home.to])
                device.number = home.slot
            world.further[key] = [world.entry(link, devices[link.to]) for link in links[1:]]
        return world

    def entry(self, link: Link, held: PretendDevice) -> Entry:
        """Return what is typed for a link by plan, of the device whose address and password it holds."""
        asks = kind_of(self.site, link).asks
        port = next((held.services[name] for name in asks if name in held.services), None)
        password = pretend_password(self.site, held.key)
        source = f"{link.from_}:{link.from_channel or 1}"
        place = (held.ground, held.site_address, port, password)
        pattern = pattern_of(self.site, link) if link.kind == "records" else None
        week = week_line(pattern) if pattern is not None else ""
        return Entry(link.slot or 0, link.from_, link.to, source, *place, week=week)

    def planned_week(self, camera: str, recorder: str) -> str:
        """Return the week by which a recorder records a camera by plan, "" where nobody says."""
        links = [link for link in self.site.links if (link.kind, link.from_, link.to) == ("records", camera, recorder)]
        pattern = pattern_of(self.site, links[0]) if links else None
        return week_line(pattern) if pattern is not None else ""

    @property
    def recorders(self) -> set[str]:
        """Return the keys of the devices that others are typed into channel by channel."""
        return {link.to for link in self.site.links if link.kind == "records"}

    def planned_at(
        self, asker: PretendDevice, address: int, number: int | None = None
    ) -> tuple[str, str, str, int | None]:
        """Return (key, source, ground, port) of the device that an address means by plan for whoever asks there, as
        channel `number` where it is for one."""
        for device in self.site.devices:
            if device.key not in self.devices or device.address is None or int(device.address) != address:
                continue
            links = [item for item in self.site.links_of(device.key) if asker.key in (item.from_, item.to)]
            link = next((item for item in links if item.slot == number), links[0] if links else None)
            asks = kind_of(self.site, link).asks if link else ("stream", "signalling")
            services = self.site.services_of(device)
            port = next((services[name] for name in asks if name in services), None)
            channel = (link.from_channel if link else None) or 1
            return device.key, f"{device.key}:{channel}", device.behind or device.network or "", port
        return "", "", asker.ground, None

    def channels(self, recorder: PretendDevice, answering: Places) -> list[tuple[Entry, str]]:
        """Return what is typed into a recorder's channels, with what comes of asking it."""
        return [(item, item.refused or self._asked(item, answering)) for item in self.entries.get(recorder.key, [])]

    def answering(self) -> dict[tuple[str, int], PretendDevice]:
        """Return who answers at each (ground, address): of several the one that intrudes."""
        present = [item for item in (*self.devices.values(), *self.strangers) if item.reachable]
        present.sort(key=lambda item: item.intrudes)
        return {(item.ground, item.site_address): item for item in present}

    def state_of(self, device: PretendDevice) -> dict[str, Any]:
        """Return what a device tells whoever logs in."""
        answering = self.answering()
        told: dict[str, Any] = {
            "network": {"prefix": device.prefix, "gateway": device.gateway, "dns": list(device.dns)},
            "relay": self.online(device),
            "registration_code": device.code,
        }
        if device.family == "alarm-hub":
            told["armed"] = device.armed
            told["lamp"] = "red" if device.armed else "green" if set(device.paths.values()) == {"up"} else "yellow"
            told["zones"] = [
                {"number": link.slot, "device": link.from_, "state": "rest" if self._there(link.from_) else "lost"}
                for link in self.site.links_of(device.key)
                if link.to == device.key and link.kind in ("reads-for", "reports-to")
            ]
            told["paths"] = [{"name": name, "state": state} for name, state in device.paths.items()]
            told["users"] = device.people
        if device.doors.doors:
            told["doors"] = device.doors.state()
        if device.inputs:
            told["inputs"] = [{"number": number, "state": state} for number, state in device.inputs.items()]
        if device.key in self.homes:
            told["registered"] = {"number": device.number, "state": self._registered(self.homes[device.key], answering)}
        if device.family in ("recorder", "software-recorder"):
            told["disk"] = device.disk if device.writes else "nothing is written"
            told["channels"] = [self._channel(device, *channel) for channel in self.channels(device, answering)]
            told["disks"] = device.disks
        return told

    def _there(self, key: str) -> bool:
        """Return whether a detector is there to be asked; what hangs on wires always is."""
        device = self.devices.get(key)
        return device is None or device.reachable

    def _channel(self, recorder: PretendDevice, entry: Entry, shown: str) -> dict[str, Any]:
        dot = shown == "live" and recorder.disk == "ok"
        now = datetime.now(self._zone)
        mode = mode_now(entry.week, now)
        writes = dot and entry.writes and recorder.writes
        return {
            "number": entry.number,
            "source": entry.source,
            "state": shown,
            "recording": dot,
            "newest_s": 2.0 if writes else NOTHING_WRITTEN,
            "mode": mode,
            "week": entry.week.split("|"),
        }

    @cached_property
    def _zone(self) -> tzinfo:
        try:
            return ZoneInfo(self.site.about.time_zone or "UTC")
        except (ValueError, KeyError):
            return UTC

    def _asked(self, entry: Entry, answering: Places) -> str:
        """Return what comes of asking a camera as it was typed in."""
        found = answering.get((entry.ground, entry.address))
        if found is None or found.mute:
            return "no answer"
        if entry.port is not None and entry.port not in found.services.values():
            return "port closed"
        return "live" if found.password == entry.password != "" and not found.locked else "login refused"

    def _registered(self, home: Entry, answering: Places) -> str:
        found = answering.get((home.ground, home.address))
        if found is None or found.mute:
            return "the main station does not answer"
        if home.port is not None and home.port not in found.services.values():
            return "the main station's port is closed"
        return "registered" if found.password == home.password != "" else "the main station refuses it"

    def listed(self, station: PretendDevice, number: str) -> list[str]:
        """Return the addresses of those that are registered at a main station by this number."""
        answering = self.answering()
        there = [(key, home, self.devices[key].number) for key, home in self.homes.items()]
        there += [(key, entry, entry.number) for key, entries in self.further.items() for entry in entries]
        return [
            dotted(self.devices[key].site_address)
            for key, home, own in there
            if home.to == station.key
            and str(own) == number
            and self.devices[key].reachable
            and self._registered(home, answering) == "registered"
        ]

    def leases(self) -> str:
        """Return what the router hands out, as lines of its table: until when, hardware address, address, name."""
        return "".join(
            f"1780000000 {device.mac} {dotted(device.site_address)} {re.sub('[^A-Za-z0-9-]+', '-', device.name)} *\n"
            for device in self.devices.values()
            if device.mac and device.on and device.leased
        )

    def neighbours(self) -> str:
        """Return the neighbour table of a laptop on the site, as it prints it: who answers at which address."""
        return "".join(
            f"{dotted(address)} dev lan lladdr {device.mac} REACHABLE\n"
            for (_, address), device in self.answering().items()
            if device.mac
        )

    def online(self, device: PretendDevice) -> str:
        """Return the state of remote access: without a way out there is none, whatever is switched on."""
        if device.relay != "online":
            return device.relay
        if not device.code:
            return "no registration code is chosen"
        network = self.site.network_by_key.get(device.ground)
        if network is None:
            return "offline: no way out"
        if self.provider_down or network.key in self.gateways_down:
            return "offline: no way out"
        if network.dns and network.key in self.names_down:
            return "offline: the name is not found"
        if device.gateway != (str(network.gateway) if network.gateway else None) or not self._on_link(device):
            return "offline: no way out"
        if network.dns and device.dns != tuple(map(str, network.dns)):
            return "offline: the name is not found"
        return "online"

    @staticmethod
    def _on_link(device: PretendDevice) -> bool:
        """Return whether a device's own mask puts its gateway into its subnet."""
        if device.gateway is None or device.prefix is None:
            return device.gateway is None
        try:
            own = IPv4Network((device.site_address, device.prefix), strict=False)
            return IPv4Address(device.gateway) in own
        except (AddressValueError, ValueError):
            return False
