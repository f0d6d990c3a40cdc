"""Which faults may be behind what was seen: those at devices that it was seen at, and at what these hang on."""

from collections.abc import Iterator, Mapping
from typing import NamedTuple

from tutelar.core.diagnose.causes import (
    INTERNET,
    LAPTOP,
    LEASED_MOVED,
    OF_A_SWITCH,
    SORTS,
    SWITCH_FAULTS,
    UNTIED,
    Cause,
)
from tutelar.core.diagnose.ground import Ground
from tutelar.core.diagnose.observations import Cell
from tutelar.core.diagnose.outcome import NEEDS_LAPTOP

_FROM_THE_NETWORK = frozenset({"gateway", "name", "outside"})
_TELLERS = frozenset({"web", "web-tls", "control", "device-interface"})
_WIRED_FAULTS = ("power-off", "device-dead")
_BY_CABLE = frozenset({"cable", "port-dead", "wrong-vlan"})
_BY_LEASE = 0.2  # of a setting that a router hands out with the address


class Suspect(NamedTuple):
    """A fault that is weighed, with its weight."""

    cause: Cause
    weight: float


class Suspects:
    """The faults of a site, made where they are asked for."""

    def __init__(self, ground: Ground, prior: Mapping[str, float] | None = None) -> None:
        self.ground = ground
        self._weights = {fault: sort.weight for fault, sort in SORTS.items()} | dict(prior or {})
        self._given = frozenset(prior or {})
        self._felt: dict[Cell, frozenset[str]] = {}
        internet = ground.site.internet
        self._online = internet is not None and internet.connection != "none"

    def felt_by(self, cell: Cell) -> frozenset[str]:
        """Return the devices, networks and the internet whose faults a check at a device may show."""
        found = self._felt.get(cell)
        if found is None:
            found = self._all_felt(cell)
            found = self._felt[cell] = found | {LAPTOP} if cell.check in NEEDS_LAPTOP else found
        return found

    def _all_felt(self, cell: Cell) -> frozenset[str]:
        ground, key = self.ground, cell.at
        outer = {name for name in (ground.network_key(key), INTERNET) if name is not None}
        if cell.check in _FROM_THE_NETWORK:
            return frozenset(outer)
        if cell.check == "elsewhere":
            return frozenset({key})
        if cell.check == "relay":
            return ground.entities(key) | outer
        if cell.check != "linked":
            return ground.entities(key)
        found = set(ground.entities(key))
        for tie in ground.tied_by(key):
            found |= ground.felt_by_tie(tie)
        return frozenset(found)

    def at(self, place: str) -> Iterator[Suspect]:
        """Yield the faults at a device, a network, the internet or the laptop."""
        return (suspect for suspect in self._all_at(place) if suspect.weight > 0)

    def _all_at(self, place: str) -> Iterator[Suspect]:
        if place == INTERNET:
            if self._online:
                yield Suspect(Cause("provider-down", INTERNET), self._weights["provider-down"])
        elif place in self.ground.devices:
            yield from self._of_device(place)
        elif place == LAPTOP:
            yield Suspect(Cause("laptop-wrong", LAPTOP), self._weights["laptop-wrong"])
        elif place in self.ground.site.network_by_key:
            yield Suspect(Cause("gateway-down", place), self._weights["gateway-down"])
            yield Suspect(Cause("dns-down", place), self._weights["dns-down"])

    def _of_device(self, key: str) -> Iterator[Suspect]:
        ground, device = self.ground, self.ground.devices[key]
        if key in ground.site.wired:
            yield from (Suspect(Cause(fault, key), self._weights[fault]) for fault in _WIRED_FAULTS)
            return
        for fault, sort in SORTS.items():
            if sort.scope == "device" or (fault in SWITCH_FAULTS and ground.is_switch(key)):
                weight = self._weights[fault] * self._fits(fault, key)
                if not (fault in _BY_CABLE and device.medium in ("wifi", "mobile")):
                    yield from self._variants(fault, key, weight)

    def _fits(self, fault: str, key: str) -> float:
        """Return by how much a fault is likelier or less likely at this device; 0 where it cannot be."""
        ground, services = self.ground, self.ground.services(key)
        ties = ground.ties.get(key, ())
        leases = ground.leases(key)
        if ground.is_switch_as_device(Cause(fault, key)):
            return 1 if fault in self._given else OF_A_SWITCH
        if fault.startswith("relay-"):
            tied = any(link.kind == "relays" for link in ground.site.links_of(key))
            return 0 if not self._online else 1 if tied else UNTIED
        if fault in ("wrong-password", "clock-offset", "wrong-date-order"):
            return 1 if _TELLERS & set(services) or (ties and fault == "wrong-password") else 0
        if fault in ("not-recording", "recorder-full"):
            return 1 if any(tie.word == "records" for tie in ties) else 0
        if fault == "wrong-slot":
            return 1 if any(tie.start == key for tie in ties) else 0
        if fault == "leased-moved":
            return LEASED_MOVED / SORTS[fault].weight if leases and fault not in self._given else 1
        if fault == "wrong-dns":
            network = ground.network(key)
            return 0 if network is None or not network.dns else _BY_LEASE if leases else 1
        if fault in ("wrong-address", "wrong-prefix", "wrong-gateway"):
            return _BY_LEASE if leases else 1
        return 1

    def _variants(self, fault: str, key: str, weight: float) -> Iterator[Suspect]:
        if fault == "port-changed":
            services = list(self.ground.services(key))
            for number, name in enumerate(services):
                share = 1.0 if len(services) == 1 else 0.5 if number == 0 else 0.5 / (len(services) - 1)
                yield Suspect(Cause(fault, key, service=name), weight * share)
        elif fault == "wrong-prefix":
            prefix = self.ground.ends.of(key).prefix
            yield Suspect(Cause(fault, key), weight * 0.6)
            yield Suspect(Cause(fault, key, prefix=prefix + 1 if prefix < 30 else prefix - 1), weight * 0.2)
            yield Suspect(Cause(fault, key, prefix=max(8, prefix - 8)), weight * 0.2)
        elif fault == "wrong-vlan" and self.ground.leases(key):
            own = self.ground.network_key(key)
            lending = [network.key for network in self.ground.site.networks if network.pools and network.key != own]
            for other in (None, *lending[:3]):
                yield Suspect(Cause(fault, key, other=other), weight / (1 + len(lending[:3])))
        else:
            yield Suspect(Cause(fault, key), weight)

    def doubling(self, key: str, other: str) -> Suspect:
        """Return that a device took the address of another one of the site."""
        return Suspect(Cause("duplicate-address", key, other=other), self._weights["duplicate-address"] * 0.4)
