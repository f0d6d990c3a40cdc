"""What a site is to a fault: what feeds what, what is plugged into what, who is tied to whom, who reaches whom."""

from collections.abc import Callable, Iterable, Mapping
from functools import cached_property
from ipaddress import IPv4Address
from typing import NamedTuple

from tutelar.core.addressing.assignment import Plan
from tutelar.core.diagnose.causes import INTERNET, LAPTOP, Cause, Scope
from tutelar.core.links.registry import kind_of
from tutelar.core.loads.budget import plugged_at
from tutelar.core.reach import End, Ends, reach
from tutelar.core.site.types import Device, Network, Site

_DEEP = 64  # switches one behind the other; more is a circle


class Tie(NamedTuple):
    """A link between two devices: who has whom typed in, the service that is asked there, and its word."""

    start: str
    end: str
    holder: str
    held: str
    service: str | None
    word: str


class Ground:
    """A site with its plan, as faults act on it."""

    def __init__(self, site: Site, planned: Plan) -> None:
        self.site = site
        self.ends = Ends(site, planned)
        self.devices: dict[str, Device] = site.device_by_key
        self.parent: dict[str, str | None] = {}
        self.feeder: dict[str, str | None] = {}
        for key, device in self.devices.items():
            into = plugged_at(device)
            self.parent[key] = into if into in self.devices and into != key else None
            fed = device.powered_by.device if device.powered_by is not None else None
            self.feeder[key] = fed if fed in self.devices and fed != key else None
        self._reached: dict[tuple[str, str], bool] = {}
        self._entities: dict[str, frozenset[str]] = {}
        self._felt: dict[Tie, frozenset[str]] = {}
        self.sound: dict[Tie, str] = {}  # what each link shows where nothing is wrong, as far as it was looked at
        self._chains: dict[str, list[str]] = {}
        self._kept: dict[tuple[str, str], IPv4Address | None] = {}

    def kept(self, name: tuple[str, str], work: Callable[[], IPv4Address | None]) -> IPv4Address | None:
        """Return an address that is worked out once."""
        if name not in self._kept:
            self._kept[name] = work()
        return self._kept[name]

    @cached_property
    def names(self) -> dict[str, str]:
        """What people call devices and networks, by key."""
        found = {network.key: network.label for network in self.site.networks}
        return found | {key: device.label for key, device in self.devices.items()}

    @cached_property
    def below(self) -> dict[str, list[str]]:
        """What is plugged into each device or fed by it, in the order of the file."""
        found: dict[str, list[str]] = {}
        for key in self.devices:
            for above in dict.fromkeys((self.parent[key], self.feeder[key])):
                if above is not None:
                    found.setdefault(above, []).append(key)
        return found

    @cached_property
    def ties(self) -> dict[str, list[Tie]]:
        """The links between devices by each of their ends."""
        found: dict[str, list[Tie]] = {}
        for link in self.site.links:
            if link.from_ not in self.devices or link.to not in self.devices or link.from_ == link.to:
                continue
            kind = kind_of(self.site, link)
            holder, held = (link.to, link.from_) if kind.holder == "to" else (link.from_, link.to)
            services = self.services(held)
            asked = next((name for name in kind.asks if name in services), None)
            tie = Tie(link.from_, link.to, holder, held, asked, link.kind)
            found.setdefault(link.from_, []).append(tie)
            found.setdefault(link.to, []).append(tie)
        return found

    def places(self, scope: Scope) -> list[str]:
        """Return where faults of a scope may be on this site."""
        if scope == "internet":
            return [INTERNET]
        if scope == "laptop":
            return [LAPTOP]
        if scope == "network":
            return list(self.site.network_by_key)
        return [key for key in self.devices if scope == "device" or self.is_switch(key)]

    def tied_by(self, key: str) -> list[Tie]:
        """Return the links that a device is looked at for: those that leave it, else those that reach it."""
        ties = self.ties.get(key, [])
        return [tie for tie in ties if tie.start == key] or ties

    def felt_by_tie(self, tie: Tie) -> frozenset[str]:
        """Return the devices and networks whose faults a link may show."""
        found = self._felt.get(tie)
        if found is None:
            networks = {name for name in map(self.network_key, (tie.start, tie.end)) if name is not None}
            found = self._felt[tie] = self.entities(tie.start) | self.entities(tie.end) | networks
        return found

    def services(self, key: str) -> Mapping[str, int]:
        """Return the planned ports of a device by service."""
        return self.site.services_of(self.devices[key])

    def network_key(self, key: str) -> str | None:
        """Return the network in which the laptop stands for a device: its own, or its recorder's."""
        device = self.devices[key]
        if device.behind is not None and device.behind in self.devices:
            device = self.devices[device.behind]
        return device.network

    def network(self, key: str) -> Network | None:
        """Return that network, None where the file has none."""
        return self.site.network_by_key.get(self.network_key(key) or "")

    def is_switch(self, key: str) -> bool:
        """Return whether a device is a switch."""
        return self.site.family_of(self.devices[key]) == "switch"

    def is_switch_as_device(self, cause: Cause) -> bool:
        """Return whether a fault is one that has a name of its own at switches: off, or its uplink cut."""
        return (
            cause.fault in ("power-off", "cable", "port-dead") and cause.at in self.devices and self.is_switch(cause.at)
        )

    def leases(self, key: str) -> bool:
        """Return whether a device takes its address from the router."""
        return self.devices[key].addressing in ("leased", "reserved")

    def entities(self, key: str) -> frozenset[str]:
        """Return the devices whose faults may be felt at a device: itself and what it hangs on, up to the top."""
        found = self._entities.get(key)
        if found is None:
            seen = {key}
            todo = [key]
            while todo:
                one = todo.pop()
                for above in (self.parent[one], self.feeder[one]):
                    if above is not None and above not in seen:
                        seen.add(above)
                        todo.append(above)
            found = self._entities[key] = frozenset(seen)
        return found

    def chain(self, key: str) -> list[str]:
        """Return a device and what it is plugged into, up to the top."""
        known = self._chains.get(key)
        if known is not None:
            return known
        found = self._chains[key] = [key]
        while (above := self.parent[found[-1]]) is not None and above not in found and len(found) < _DEEP:
            found.append(above)
        return found

    def passes(self, start: str, goal: str, changed: Iterable[End] = ()) -> bool:
        """Return whether masks, gateways and IT's rules let a device or laptop reach another one or the outside;
        `changed`: ends that are set otherwise."""
        changed = tuple(changed)
        if changed:
            return self._asked(self.ends.changed(changed), start, goal)
        found = self._reached.get((start, goal))
        if found is None:
            found = self._reached[start, goal] = self._asked(self.ends, start, goal)
        return found

    def _asked(self, ends: Ends, start: str, goal: str) -> bool:
        port = next(iter(self.services(goal).values()), 0) if goal in self.devices else 443
        reason = reach(ends, start, goal, port).reason
        return reason is None or reason.code == "no-service"

    @cached_property
    def taken(self) -> frozenset[int]:
        """The addresses that devices of the site have, as numbers."""
        return frozenset(map(int, self.by_address))

    @cached_property
    def by_address(self) -> dict[IPv4Address, str]:
        """The device at each address."""
        found: dict[IPv4Address, str] = {}
        for key in self.devices:
            address = self.ends.of(key).address
            if address is not None:
                found.setdefault(address, key)
        return found
