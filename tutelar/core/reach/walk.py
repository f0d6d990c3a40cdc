"""Does one end reach another on a port? Hop by hop, with the place where it stops and what would mend it.

Whether anything has power or a cable is not asked here (docs/reach.md).
"""

from dataclasses import dataclass
from ipaddress import IPv4Address, IPv4Network
from typing import Any, Literal, NamedTuple

from tutelar.core.reach.ends import OUTSIDE, End, Ends
from tutelar.core.site.closing import RoutingRule
from tutelar.core.site.types import Site

Protocol = Literal["tcp", "udp"]
_ON_UDP_TOO = frozenset({"signalling", "time"})
_SHARED = tuple(IPv4Network(net) for net in ("100.64.0.0/10", "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16"))


class Hop(NamedTuple):
    """A place on the way, and why it is passed."""

    at: str
    why: str


class Reason(NamedTuple):
    """Why the way ends: a code, the place, and one sentence with what would mend it."""

    code: str
    at: str
    message: str


@dataclass(frozen=True, slots=True)
class Answer:
    """Whether it reaches, the way, and where it stops."""

    reaches: bool
    path: tuple[Hop, ...]
    reason: Reason | None

    def as_dict(self) -> dict[str, Any]:
        """Return the answer as the contract prints it."""
        reason = None if self.reason is None else self.reason._asdict()
        return {"reaches": self.reaches, "path": [hop._asdict() for hop in self.path], "reason": reason}


class _Stop(Exception):
    def __init__(self, code: str, at: str, message: str) -> None:
        self.reason = Reason(code, at, message)
        super().__init__(message)


def reach(ends: Ends, start: str, goal: str, port: int, protocol: Protocol = "tcp") -> Answer:
    """Return whether `start` (a device, "laptop@NETWORK" or "outside") reaches `goal` (a device or "outside") on a
    port; from outside it is the port of the outside address. Raises UnknownEnd."""
    path: list[Hop] = []
    try:
        if start == OUTSIDE and goal == OUTSIDE:
            path.append(Hop(OUTSIDE, "it is outside already"))
        elif start == OUTSIDE:
            _from_outside(ends, ends.of(goal), port, protocol, path)
        elif goal == OUTSIDE:
            _to_outside(ends, ends.of(start), port, protocol, path)
        else:
            _between(ends, ends.of(start), ends.of(goal), port, protocol, path)
    except _Stop as stop:
        return Answer(False, tuple(path), stop.reason)
    return Answer(True, tuple(path), None)


def _between(ends: Ends, start: End, goal: End, port: int, protocol: Protocol, path: list[Hop]) -> None:
    path.append(_begin(start))
    _addressed(start)
    _hidden(ends.site, start, goal)
    _addressed(goal)
    if start.key == goal.key:
        _served(ends.site, goal, port, protocol)
        return
    if start.ground == goal.ground or _beside(start, goal):
        _within(ends.site, start, goal, path)
    else:
        path.append(_through(ends.site, start))
        back = _through(ends.site, goal)
        _allowed(ends.site, start, goal, port, protocol)
        if back.at != path[-1].at:
            path.append(back)
    path.append(Hop(goal.key, f"{goal.name} at {goal.address}"))
    _served(ends.site, goal, port, protocol)


def _begin(start: End) -> Hop:
    where = "" if start.device is None else f", {start.address or 'no address'}"  # a laptop's name has it
    return Hop(start.key, f"it starts at {start.name}{where}")


def _addressed(end: End) -> None:
    if end.address is None:
        lends = (
            "it takes a lease, so its address is not known before" if end.device is not None else "no address is free"
        )
        raise _Stop(
            "no-address", end.key, f"{end.name} has no address: {lends}. Give it a fixed one, or read the lease."
        )


def _beside(start: End, goal: End) -> bool:
    """Return whether one is the recorder in whose own port the other is."""
    return goal.ground == start.key or start.ground == goal.key


def _hidden(site: Site, start: End, goal: End) -> None:
    """Stop where the goal is in a recorder's own port and the start is neither that recorder nor beside it."""
    recorder = goal.device.behind if goal.device is not None else None
    if recorder is None or recorder in (start.key, start.ground):
        return
    slots = (link.slot for link in site.links_of(goal.key) if link.kind == "records" and link.to == recorder)
    slot = next((number for number in slots if number is not None), None)
    channel = f", channel {slot}" if slot is not None else ""
    name = site.label_of(recorder)
    raise _Stop(
        "behind",
        recorder,
        f"{goal.name} hangs in a port of {name} itself{channel}: only {name} reaches it. Look at it through {name}.",
    )


def _within(site: Site, start: End, goal: End, path: list[Hop]) -> None:
    """Walk within one network: directly where each one's own mask sees the other, else by whoever thinks it far."""
    if _beside(start, goal):
        return
    for one, other in ((start, goal), (goal, start)):
        if one.sees(other.address):
            continue
        network = site.network_by_key.get(one.ground)
        gateway = network.gateway if network is not None else None
        if one.gateway is None or one.gateway != gateway or not one.sees(one.gateway):
            raise _Stop(
                "other-mask",
                one.key,
                f"{one.name} has the mask /{one.prefix} and thinks {other.address} is far away. Set the mask of its "
                f"network{f', /{network.cidr.prefixlen}' if network is not None else ''}.",
            )
        path.append(Hop(str(one.gateway), f"{one.name} thinks {other.address} is far away and asks its gateway"))


def _through(site: Site, end: End) -> Hop:
    """Return the gateway of an end, or stop where it cannot be used."""
    network = site.network_by_key.get(end.ground)
    wanted = network.gateway if network is not None else None
    if end.device is not None and end.device.behind is not None:
        said = f"{end.name} hangs in a port of {site.label_of(end.device.behind)} itself and has no gateway"
    elif end.gateway is None:
        said = f"{end.name} has no gateway set"
    elif wanted is None:
        said = f"{network.label if network is not None else end.ground} has no gateway"
    elif end.gateway != wanted:
        said = f"{end.name} has the gateway {end.gateway}; that of its network is {wanted}"
    elif not end.sees(end.gateway):
        said = f"{end.name} has the mask /{end.prefix}, which puts its gateway {end.gateway} outside its own subnet"
    else:
        return Hop(str(end.gateway), f"{end.name} leaves its network over its gateway")
    mend = f"Set {wanted}" if wanted is not None else "Ask IT for one"
    raise _Stop("no-gateway", end.key, f"{said}. {mend}.")


def _allowed(site: Site, start: End, goal: End, port: int, protocol: Protocol) -> None:
    decided = _decided(site, _names(start), _names(goal), port, protocol)
    if decided is None:
        return
    raise _Stop("not-allowed", decided[0], f"{decided[1]}. Ask IT to allow {protocol} {port}.")


def _decided(
    site: Site, start: frozenset[str], goal: frozenset[str], port: int, protocol: Protocol
) -> tuple[str, str] | None:
    """Return (place, sentence without a full stop) of what does not let through, None where it does."""
    routing = site.routing
    if routing is None:
        return None
    for number, rule in enumerate(routing.rules, 1):
        if _fits(rule, start, goal, port, protocol):
            return (
                None
                if rule.allow
                else ("router", f"IT's rule {number} ({rule.from_} to {rule.to}) does not let it through")
            )
    if routing.between == "open" or OUTSIDE in start | goal:
        return None
    return "router", "Between the networks nothing passes but what a rule allows, and none does"


def _fits(rule: RoutingRule, start: frozenset[str], goal: frozenset[str], port: int, protocol: Protocol) -> bool:
    ends = (rule.from_ == "any" or rule.from_ in start) and (rule.to == "any" or rule.to in goal)
    return ends and rule.protocol in (None, protocol) and (rule.ports is None or port in rule.ports)


def _names(end: End) -> frozenset[str]:
    return frozenset({end.key, end.ground})


def _served(site: Site, goal: End, port: int, protocol: Protocol) -> None:
    services = site.services_of(goal.device) if goal.device is not None else {}
    offered = [name for name, number in services.items() if number == port]
    if protocol == "udp":
        offered = [name for name in offered if name in _ON_UDP_TOO]
    if not offered:
        there = ", ".join(f"{name} {number}" for name, number in services.items()) or "none"
        raise _Stop("no-service", goal.key, f"{goal.name} offers nothing on {protocol} {port}; its services: {there}.")


def _online(site: Site) -> None:
    if site.internet is None or site.internet.connection == "none":
        raise _Stop("no-internet", OUTSIDE, "The site has no way to the internet. Ask in the survey.")


def _to_outside(ends: Ends, start: End, port: int, protocol: Protocol, path: list[Hop]) -> None:
    site = ends.site
    path.append(_begin(start))
    _addressed(start)
    _online(site)
    path.append(_through(site, start))
    if site.internet is not None and port in site.internet.blocked_ports:
        raise _Stop("blocked", path[-1].at, f"The provider blocks {port}. Use another port, or ask the provider.")
    decided = _decided(site, _names(start), frozenset({OUTSIDE}), port, protocol)
    if decided is not None:
        raise _Stop("blocked", decided[0], f"{decided[1]}. Ask IT to allow {protocol} {port} to the outside.")
    path.append(Hop(OUTSIDE, "the router passes it on"))


def _from_outside(ends: Ends, goal: End, port: int, protocol: Protocol, path: list[Hop]) -> None:
    site = ends.site
    path.append(Hop(OUTSIDE, f"it comes in at port {port}"))
    _online(site)
    _hidden_from_outside(site, goal)
    internet = site.internet
    address = internet.outside_address if internet is not None else None
    if address is not None and any(address in net for net in _SHARED):
        raise _Stop(
            "shared-address",
            OUTSIDE,
            f"The outside address {address} is shared with others: nothing comes in. Ask the provider for an own one, "
            "or use a relay.",
        )
    forwards = internet.forwards if internet is not None else ()
    forward = next((item for item in forwards if (item.outside, item.device) == (port, goal.key)), None)
    if forward is None:
        raise _Stop("not-forwarded", OUTSIDE, f"Port {port} is not forwarded to {goal.name}.")
    decided = _decided(site, frozenset({OUTSIDE}), _names(goal), port, protocol)
    if decided is not None:
        raise _Stop("not-allowed", decided[0], f"{decided[1]}. Ask IT to allow it.")
    _addressed(goal)
    path.append(_through(site, goal))
    path.append(Hop(goal.key, f"forwarded to {goal.name} at {goal.address}"))
    services = site.services_of(goal.device) if goal.device is not None else {}
    if forward.service not in services:
        raise _Stop("no-service", goal.key, f"{goal.name} has no service '{forward.service}'.")
    _served(site, goal, services[forward.service], protocol)


def _hidden_from_outside(site: Site, goal: End) -> None:
    nobody = End(OUTSIDE, OUTSIDE, "", IPv4Address(1), 0, None, None)
    _hidden(site, nobody, goal)
