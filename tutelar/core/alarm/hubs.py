"""What an alarm hub holds against its limits, which of its ways fail apart, and which steps of the work are open.

Two ways fail apart where nothing that breaks one breaks the other: two mobile cards of one network are one way, Wi-Fi
and cable behind one router are one way, a guest network is none (it is switched off without a word).
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from tutelar.core.site.alarm import Hub
from tutelar.core.site.types import Device, Site

WAYS = {"cable": "network cable", "wifi": "Wi-Fi", "mobile-1": "mobile, first SIM", "mobile-2": "mobile, second SIM"}
ANSWER = "x-answer"  # of a hub: what the monitoring station said of it
NETWORKS = "x-networks"  # of a hub: by way the mobile network, or "guest" for a guest's Wi-Fi


@dataclass(frozen=True, slots=True)
class Room:
    """Something of which a hub has so much: used of at most (None: not known)."""

    what: str
    used: int
    most: int | None

    @property
    def over(self) -> bool:
        """Whether more is asked of it than it holds."""
        return self.most is not None and self.used > self.most


@dataclass(frozen=True, slots=True)
class Zone:
    """A detector or keypad at a hub: its number and where it stands."""

    device: str
    name: str
    place: str | None
    number: int | None
    tested: bool


@dataclass(frozen=True, slots=True)
class HubStanding:
    """A hub: its room, its zones, its ways with the network of each, and how many of them fail apart."""

    hub: Device
    said: Hub
    room: tuple[Room, ...]
    zones: tuple[Zone, ...]
    ways: Mapping[str, str]
    apart: int
    remark: str
    open: tuple[str, ...]


def hub_standings(site: Site) -> list[HubStanding]:
    """Return every alarm hub of the kit, in the order of the document."""
    said = {hub.hub: hub for hub in (site.alarm.hubs if site.alarm is not None else ())}
    return [
        _standing(site, device, said.get(device.key) or Hub(hub=device.key))
        for device in site.devices
        if site.family_of(device) == "alarm-hub"
    ]


def _standing(site: Site, device: Device, said: Hub) -> HubStanding:
    zones = tuple(_zones(site, device, said))
    networks = (said.model_extra or {}).get(NETWORKS)
    ways = {way: str(value) for way, value in networks.items()} if isinstance(networks, dict) else {}
    model = site.model_of(device)
    known = (model.capacity.paths or ()) if model is not None and model.capacity is not None else ()
    apart, remark = _apart({way: ways.get(way, "") for way in known})
    return HubStanding(
        hub=device,
        said=said,
        room=tuple(_room(site, device, said, zones)),
        zones=zones,
        ways={way: ways.get(way, "") for way in known},
        apart=apart,
        remark=remark,
        open=tuple(_open(said, zones, tuple(known))),
    )


def _room(site: Site, device: Device, said: Hub, zones: tuple[Zone, ...]) -> Iterator[Room]:
    model = site.model_of(device)
    capacity = model.capacity if model is not None else None
    for what, used, most in (
        ("devices", len(zones), capacity.devices if capacity else None),
        ("users", len(said.users), capacity.users if capacity else None),
        ("rooms", len(said.areas), capacity.rooms if capacity else None),
    ):
        yield Room(what, used, most)


def _zones(site: Site, device: Device, said: Hub) -> Iterator[Zone]:
    tested = {str(item.get("zone")) for item in said.tests if item.get("result") == "pass"}
    for link in site.links_of(device.key):
        if link.to != device.key or link.kind not in ("reads-for", "reports-to", "manages"):
            continue
        start = site.device_by_key.get(link.from_)
        if start is not None:
            yield Zone(start.key, start.label, start.place, link.slot, start.key in tested)


def _apart(ways: Mapping[str, str]) -> tuple[int, str]:
    """Return how many of the ways fail apart, and what is to be said of them."""
    mobile = [network for way, network in ways.items() if way.startswith("mobile") and network]
    fixed = [way for way in ways if way == "cable" or (way == "wifi" and ways[way] != "guest")]
    named = {network.casefold() for network in mobile}
    apart = len(named) + (1 if fixed else 0)
    said = []
    if len(mobile) > len(named):
        said.append("both mobile cards are of one network: that is one way, not two")
    if "cable" in ways and ways.get("wifi") and ways["wifi"] != "guest":
        said.append("cable and Wi-Fi go through one router: that is one way")
    if ways.get("wifi") == "guest":
        said.append("a guest network is no way for an alarm")
    if any(way.startswith("mobile") and not network for way, network in ways.items()):
        said.append("of a mobile card the network is not known")
    return apart, "; ".join(said)


def _open(said: Hub, zones: tuple[Zone, ...], ways: tuple[str, ...]) -> Iterator[str]:
    """Yield what is still to be done before anybody leaves."""
    if said.armed_as_found is None:
        yield "Write down how it was found: armed, at home, or disarmed."
    if said.on_test is not None:
        yield "The station still takes its signals as tests: take it off test."
    for zone in zones:
        if not zone.tested:
            yield f"Trip {zone.name} and have the station confirm it."
    passed: set[Any] = {item.get("path") for item in said.tests if item.get("result") == "pass"}
    for way in ways:
        if way not in passed:
            yield f"Send a test by {WAYS.get(way, way)} alone, the other ways unplugged."
    if said.armed_as_found is not None and said.armed_left != said.armed_as_found:
        yield f"Leave it as it was found: {said.armed_as_found}."
