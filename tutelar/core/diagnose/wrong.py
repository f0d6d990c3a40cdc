"""A site on which some faults are at work: what has power, what hangs together, who answers at which address.

The laptop stands at the switch of the gateway of the device's network; beside a camera that hangs in a recorder's own
ports it stands at that recorder.
"""

from collections.abc import Iterable
from dataclasses import replace
from ipaddress import IPv4Address, IPv4Network

from tutelar.core.diagnose.causes import INTERNET, Cause
from tutelar.core.diagnose.ground import Ground, Tie
from tutelar.core.reach import End
from tutelar.core.reach.ends import LAPTOP, NONE_SET, OUTSIDE
from tutelar.core.site.types import Network

PASS, FAIL, SILENT = "pass", "fail", "silent"
_OWN_ENDS = frozenset({"wrong-address", "wrong-prefix", "wrong-gateway", "leased-moved"})
_DEEP = 64
_STRANGER = "\0stranger"


class Wrong:
    """A site on which some faults are at work."""

    def __init__(self, ground: Ground, causes: Iterable[Cause] = ()) -> None:
        self.ground = ground
        self.causes = tuple(causes)
        self._at: dict[str, dict[str, Cause]] = {}
        self._own_ends: set[str] = set()
        self._doubled: list[Cause] = []
        for cause in self.causes:
            self._at.setdefault(cause.at, {})[cause.fault] = cause
            if cause.fault in _OWN_ENDS:
                self._own_ends.add(cause.at)
            elif cause.fault == "duplicate-address":
                self._doubled.append(cause)
        self._places = {place for cause in self.causes for place in (cause.at, cause.other) if place is not None}
        self._runs: dict[str, bool] = {}
        self._present: dict[str, bool] = {}

    def has(self, key: str, *faults: str) -> bool:
        """Return whether one of these faults is at a place."""
        here = self._at.get(key)
        return here is not None and not here.keys().isdisjoint(faults)

    def _cause(self, key: str, fault: str) -> Cause | None:
        here = self._at.get(key)
        return None if here is None else here.get(fault)

    def without(self, key: str, faults: frozenset[str]) -> "Wrong":
        """Return the site without these faults at a place."""
        here = self._at.get(key)
        if here is None or here.keys().isdisjoint(faults):
            return self
        return Wrong(self.ground, (item for item in self.causes if item.at != key or item.fault not in faults))

    # power and cables

    def cut(self, key: str) -> bool:
        """Return whether the way from a device to where it is plugged in is broken."""
        if key not in self._at:
            return False
        cable = self._cause(key, "cable")
        broken = cable is not None and (cable.loss is None or cable.loss >= 1)
        return broken or self.has(key, "port-dead", "uplink-cut")

    def powered(self, key: str, depth: int = 0) -> bool:
        """Return whether a device has power."""
        if not self.causes:
            return True
        if self.has(key, "power-off", "switch-off"):
            return False
        feeder = self.ground.feeder[key]
        if feeder is None or depth > _DEEP:  # fed in a circle: nobody knows from where
            return True
        if self.ground.parent[key] == feeder and self.cut(key):
            return False
        return self.running(feeder, depth + 1)

    def running(self, key: str, depth: int = 0) -> bool:
        """Return whether a device has power and is not broken."""
        found = self._runs.get(key)
        if found is None:
            found = self._runs[key] = not self.has(key, "device-dead") and self.powered(key, depth)
        return found

    def linked_up(self, key: str) -> bool:
        """Return whether the link lamp at a device's socket is lit."""
        if not self.causes:
            return True
        parent = self.ground.parent[key]
        return self.running(key) and not self.cut(key) and (parent is None or self.running(parent))

    def present(self, key: str) -> bool:
        """Return whether the laptop and a device hang on the same cables."""
        found = self._present.get(key)
        if found is None:
            found = self._present[key] = self._hangs(key)
        return found

    def _hangs(self, key: str) -> bool:
        if not self.causes:
            return True
        if self.has(key, "wrong-vlan"):
            return False
        if self.ground.devices[key].behind is not None:
            return self.linked_up(key)
        return all(self.linked_up(one) for one in self.ground.chain(key))

    def joined(self, one: str, other: str) -> bool:
        """Return whether two devices hang together, wherever the laptop is."""
        if not self.causes:
            return True
        if self.has(one, "wrong-vlan") or self.has(other, "wrong-vlan"):
            return False
        first, second = self.ground.chain(one), self.ground.chain(other)
        shared = set(first) & set(second)
        links = [key for key in (*first, *second) if key not in shared]
        meeting = next((key for key in first if key in shared), None)
        return all(self.linked_up(key) for key in links) and (meeting is None or self.running(meeting))

    # addresses

    def address(self, key: str) -> IPv4Address | None:
        """Return the address that is really set in a device."""
        planned = self.ground.ends.of(key).address
        if not self._own_ends and not self._doubled:
            return planned
        for fault, choose in (("wrong-address", moved), ("leased-moved", released)):
            cause = self._cause(key, fault)
            if cause is not None:
                return cause.address or choose(self.ground, key)
        cause = self._cause(key, "duplicate-address")
        if cause is not None and cause.other is not None:
            return self.ground.ends.of(cause.other).address
        return planned

    def away(self, key: str) -> bool:
        """Return whether a device is not at its planned address."""
        if key not in self._at:
            return False
        for fault in ("wrong-address", "leased-moved"):
            cause = self._cause(key, fault)
            if cause is not None:
                return cause.address is None or cause.address != self.ground.ends.of(key).address
        cause = self._cause(key, "duplicate-address")
        return cause is not None and cause.other is not None

    def answering(self, key: str) -> str | None:
        """Return who answers at the planned address of a device: its key, another's, a stranger, or None."""
        for cause in self._doubled:
            if cause.other is None and cause.at == key:
                return _STRANGER
            if cause.other == key and self.present(cause.at):
                return cause.at
        for cause in self.causes:
            if cause.fault in ("wrong-address", "leased-moved") and cause.at != key and cause.address is not None:
                if cause.address == self.ground.ends.of(key).address and self.present(cause.at):
                    return cause.at
        return key if self.present(key) and not self.away(key) else None

    def end(self, key: str) -> End:
        """Return a device as it is really set."""
        end = self.ground.ends.of(key)
        if key not in self._own_ends:
            return end
        prefix, gateway = self._cause(key, "wrong-prefix"), self._cause(key, "wrong-gateway")
        if prefix is not None:
            usual = narrow(end.address, end.prefix, end.gateway)
            end = replace(end, prefix=usual if prefix.prefix is None else prefix.prefix)
        if gateway is not None:
            end = replace(end, gateway=other_gateway(end) if gateway.gateway in (None, NONE_SET) else gateway.gateway)
        return replace(end, address=self.address(key))

    def passes(self, start: str, goal: str) -> bool:
        """Return whether one end reaches another as far as masks, gateways and IT's rules go."""
        ends = [self.end(key) for key in (start, goal) if key in self._own_ends]
        return self.ground.passes(start, goal, [end for end in ends if end.address is not None])

    def from_laptop(self, key: str) -> bool:
        """Return whether masks let the laptop in its network and a device talk."""
        if self.ground.ends.of(key).address is None:  # a lease: its address is read from the router's table
            return self.ground.leases(key)
        laptop = self._laptop(key)
        return laptop is None or self.passes(laptop, key)

    def _laptop(self, key: str) -> str | None:
        """Return the laptop for a device, None where it stands beside it or finds no free address."""
        network = self.ground.devices[key].network
        if self.ground.devices[key].behind is not None or network not in self.ground.site.network_by_key:
            return None
        laptop = f"{LAPTOP}{network}"
        return laptop if self.ground.ends.of(laptop).address is not None else None

    # services

    def opens(self, key: str, service: str) -> bool:
        """Return whether a service is where it is planned."""
        services = self.ground.services(key)
        if service not in services:
            return False
        cause = self._cause(key, "port-changed")
        return cause is None or service != (cause.service or next(iter(services)))

    def talks(self, key: str, names: Iterable[str] | None = None) -> bool:
        """Return whether one of these services of a device (None: any) is reached from the laptop at its address."""
        who = self.answering(key)
        services = self.ground.services(key) if names is None else names
        if who is None:
            return False
        if who != key:  # it is taken to offer what the right one offers
            return any(name in self.ground.services(key) for name in services)
        return any(self.opens(key, name) for name in services) and self.from_laptop(key)

    def online(self, key: str) -> bool:
        """Return whether a device reaches the makers' relay."""
        network = self.ground.network(key)
        if network is None or not self.present(key) or self.has(INTERNET, "provider-down"):
            return False
        if self.has(key, "relay-off", "relay-blocked", "relay-bound-elsewhere", "duplicate-address"):
            return False
        if self.has(network.key, "gateway-down") or (network.dns and self._nameless(key, network)):
            return False
        known = self.ground.ends.of(key).address is not None
        return self.passes(key if known else f"{LAPTOP}{network.key}", OUTSIDE)

    def _nameless(self, key: str, network: Network) -> bool:
        return self.has(key, "wrong-dns") or self.has(network.key, "dns-down")

    def holds(self, tie: Tie) -> str:
        """Return what a link shows: "pass", "silent" where one end does not reach the other, else "fail"."""
        if not self._places.isdisjoint(self.ground.felt_by_tie(tie)):
            return self._holds(tie)
        found = self.ground.sound.get(tie)
        if found is None:
            found = self.ground.sound[tie] = self._holds(tie)
        return found

    def _holds(self, tie: Tie) -> str:
        held, holder = tie.held, tie.holder
        wired = self.ground.site.wired
        if held in wired or holder in wired:
            return PASS if self.running(held) and self.running(holder) else SILENT
        who = self.answering(held) if not self.away(held) or self._doubled else None
        if not self.joined(holder, held) or who is None:
            return SILENT
        networks = {self.ground.devices[key].network for key in (held, holder)} - {None}
        if len(networks) > 1 and any(self.has(str(key), "gateway-down") for key in networks):
            return SILENT
        if who != held or self.has(held, "wrong-password"):
            return FAIL
        if all(self.ground.ends.of(key).address is not None for key in (held, holder)):
            if not self.passes(holder, held):
                return SILENT
        if tie.service is not None and not self.opens(held, tie.service):
            return SILENT
        if self.has(tie.start, "wrong-slot"):
            return FAIL
        unwritten = tie.word == "records" and any(
            self.has(end, "not-recording", "recorder-full") for end in (tie.start, tie.end)
        )
        return FAIL if unwritten else PASS


def moved(ground: Ground, key: str) -> IPv4Address | None:
    """Return the usual wrong address of a device: the next one that nobody has and nothing lends."""
    return ground.kept(("moved", key), lambda: _next(ground, key, lent=False))


def released(ground: Ground, key: str) -> IPv4Address | None:
    """Return the usual other lease of a device: the first free address of the network's lease pools."""
    return ground.kept(("released", key), lambda: _next(ground, key, lent=True)) or moved(ground, key)


def _next(ground: Ground, key: str, *, lent: bool) -> IPv4Address | None:
    network, own = ground.network(key), ground.ends.of(key).address
    if network is None:
        return own + 1 if own is not None else None
    first = own if own is not None and not lent else network.cidr.network_address
    base, size = int(network.cidr.network_address), network.cidr.num_addresses
    pools = [(int(pool.first), int(pool.last)) for pool in network.pools]
    kept = {base, int(first), int(network.gateway or 0)}
    for number in range(1, size):
        place = (int(first) + number - base) % size + base
        in_pool = any(low <= place <= high for low, high in pools)
        if in_pool == lent and place not in kept and place not in ground.taken:
            return IPv4Address(place)
    return None


def narrow(address: IPv4Address | None, prefix: int, gateway: IPv4Address | None) -> int:
    """Return the usual wrong prefix of a device: the first narrower one that puts its gateway outside its subnet,
    else the next one."""
    if address is not None and gateway is not None:
        for narrower in range(prefix + 1, 31):
            if gateway not in IPv4Network((address, narrower), strict=False):
                return narrower
    return prefix + 1 if prefix < 30 else prefix - 1


def other_gateway(end: End) -> IPv4Address | None:
    """Return the usual wrong gateway of an end: its neighbour's address."""
    return IPv4Address(int(end.address) ^ 1) if end.address is not None else None
