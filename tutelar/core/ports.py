"""Which ports does each device serve, who must be told when one changes, and what may be forwarded from outside?

Rules (docs/sources.md): defaults stay unless two services meet on one host or on one outside port, or the network
blocks them. Forwarding is discouraged, never for administration; it cannot work behind carrier-grade NAT (RFC 6598)
or where the outside address is a private one (RFC 1918).
"""

from collections import defaultdict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from ipaddress import IPv4Address, IPv4Network
from typing import Literal

from tutelar.core.links.holding import TypedIn, holder_of, logs_in
from tutelar.core.links.registry import kind_of
from tutelar.core.problems import Problem, problem
from tutelar.core.site.internet import Forward
from tutelar.core.site.types import Device, Site
from tutelar.core.wording import count, listed

ADMINISTRATION = frozenset({"web", "web-tls", "control", "device-interface", "shell"})
CARRIER = IPv4Network("100.64.0.0/10")
PRIVATE = tuple(IPv4Network(text) for text in ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16"))
SERVICE_WORDS = {
    "web": "Web page",
    "web-tls": "Secure web page",
    "stream": "Streams (RTSP)",
    "signalling": "Signalling (SIP)",
    "signalling-tls": "Secure signalling (SIP)",
    "control": "Maker's control port",
    "time": "Network time",
    "device-interface": "Device interface",
}


@dataclass(frozen=True, slots=True)
class PortRow:
    """A service of a device: its port, the usual one of its model (None: the model has none), and who is told."""

    device: str
    service: str
    title: str
    port: int
    usual: int | None
    told: tuple[TypedIn, ...]

    @property
    def changed(self) -> bool:
        """Whether it is another one than the model's."""
        return self.port != self.usual


@dataclass(frozen=True, slots=True)
class LoginLoad:
    """How many of a device's simultaneous logins other devices hold all day, and how many it has."""

    device: str
    used: int
    limit: int
    sentence: str


def service_word(service: str) -> str:
    """Return what people call a service; one without a word keeps its key."""
    return SERVICE_WORDS.get(service, f"Port {service}")


def ports_of(site: Site, device: Device) -> list[PortRow]:
    """Return the services of a device in its model's order."""
    model = site.model_of(device)
    usual = model.services if model else {}
    return [
        PortRow(device.key, service, service_word(service), port, usual.get(service), told_of(site, device, service))
        for service, port in site.services_of(device).items()
    ]


def told_of(site: Site, device: Device, service: str) -> tuple[TypedIn, ...]:
    """Return the devices that must be told when this port changes, each once, in the order of the links."""
    found: dict[str, TypedIn] = {}
    for link in site.links_of(device.key):
        holder = holder_of(site, link, device) if service in kind_of(site, link).asks else None
        if holder is not None:
            slot = f", number {link.slot}" if link.slot is not None else ""
            found.setdefault(holder.key, TypedIn(holder.key, f"the entry of {device.label}{slot}"))
    return tuple(found.values())


def told_of_change(site: Site, device: Device, before: Mapping[str, int]) -> dict[str, dict[tuple[str, str], str]]:
    """Return by service that changed what must be typed elsewhere: a sentence by (device, device that changed)."""
    return {
        row.service: {
            (
                told.device,
                device.key,
            ): f"{site.label_of(told.device)}: type port {row.port} for {row.title} into {told.why}."
            for told in row.told
        }
        for row in ports_of(site, device)
        if before.get(row.service) != row.port
    }


def login_loads(site: Site) -> list[LoginLoad]:
    """Return the devices whose model limits logins and that other devices log in to, the fullest first."""
    found = []
    for device in site.devices:
        model = site.model_of(device)
        limit = model.capacity.logins if model and model.capacity else None
        if limit is None:
            continue
        held = {
            holder.key
            for link in site.links_of(device.key)
            if logs_in(site, link) and (holder := holder_of(site, link, device)) is not None
        }
        left = limit - len(held)
        said = f"{device.label} takes {count(limit, 'login')} at once; {len(held)} are held by other devices"
        more = f", {left} left for people." if left > 0 else ": nobody else can log in."
        found.append(LoginLoad(device.key, len(held), limit, said + more))
    return sorted(found, key=lambda item: item.limit - item.used)


def outside_kind(address: IPv4Address | None) -> Literal["unknown", "public", "carrier", "private"]:
    """Return what the router's public address means: "carrier" = carrier-grade NAT, "private" = a second NAT."""
    if address is None:
        return "unknown"
    if address in CARRIER:
        return "carrier"
    return "private" if any(address in network for network in PRIVATE) else "public"


_TRANSLATED = {
    "carrier": "{} is shared by the provider (carrier-grade NAT): nothing from outside arrives here",
    "private": "{} is a private address: another router stands before this one",
}


def translated(address: IPv4Address | None) -> str | None:
    """Return why nothing from outside arrives at this outside address, None where it does."""
    why = _TRANSLATED.get(outside_kind(address))
    return why.format(address) if why else None


def forwarded_port(site: Site, forward: Forward) -> int | None:
    """Return the port of the device that a forward leads to, None where it serves none of that name."""
    device = site.device_by_key.get(forward.device)
    return site.services_of(device).get(forward.service) if device else None


def forward_risk(site: Site, forward: Forward) -> str:
    """Return what a forwarded port means, said before it is decided and wherever it is shown."""
    device = site.device_by_key.get(forward.device)
    name = device.label if device else forward.device
    if forward.service in ADMINISTRATION:
        return f"Anybody on the internet can try to log in to {name} as administrator. Use the maker's relay or a VPN."
    return f"Anybody on the internet reaches {name} on this port, and every fault in its firmware. A VPN is safer."


def port_problems(site: Site) -> Iterator[Problem]:
    """Yield services that meet on one host, and forwards that cannot work or should not be."""
    sound: set[str] = set()
    for device in site.devices:
        if device.services is None and device.model in sound:
            continue
        clash = list(clashes(device, site.services_of(device)))
        yield from clash
        if not clash and device.services is None:
            sound.add(device.model)
    internet = site.internet
    if internet is None or not internet.forwards:
        return
    held: dict[int, list[Forward]] = defaultdict(list)
    for forward in internet.forwards:
        held[forward.outside].append(forward)
        yield from _of_forward(site, forward)
    for port, group in held.items():
        if len(group) > 1:
            keys = tuple(item.device for item in group)
            names = listed([f"{site.label_of(item.device)} ({item.service})" for item in group])
            yield problem(
                "port.outside-twice",
                keys,
                f"The outside port {port} is to lead to {names}.",
                "Give each an outside port of its own.",
            )
    cut_off = translated(internet.outside_address)
    if cut_off is not None:
        yield problem(
            "forward.not-reachable",
            tuple(dict.fromkeys(item.device for item in internet.forwards)),
            f"{cut_off}; no forwarded port can work.",
            "Use the maker's relay or a VPN that dials out.",
        )


def clashes(device: Device, services: Mapping[str, int]) -> Iterator[Problem]:
    """Yield the ports on which several services of a device would meet."""
    by_port: dict[int, list[str]] = defaultdict(list)
    if len(set(services.values())) == len(services):
        return
    for service, port in services.items():
        by_port[port].append(service)
    for port, names in by_port.items():
        if len(names) > 1:
            free = next(number for number in (*range(port + 1, 65536), *range(1024, port)) if number not in by_port)
            yield problem(
                "port.clash",
                (device.key,),
                f"{listed(names)} of {device.label} meet on port {port}.",
                f"Move {names[-1]} to {free}.",
            )


def _of_forward(site: Site, forward: Forward) -> Iterator[Problem]:
    internet, device = site.internet, site.device_by_key.get(forward.device)
    assert internet is not None
    key, port = (forward.device,), forward.outside
    if device is None:
        yield problem(
            "forward.unknown-device",
            key,
            f"The outside port {port} is to lead to '{forward.device}', which the file does not have.",
            "Name a device of the site, or drop the decision.",
        )
        return
    services = site.services_of(device)
    if forward.service not in services:
        have = listed(list(services)) if services else "none"
        yield problem(
            "forward.unknown-service",
            key,
            f"The outside port {port} is to lead to '{forward.service}' of {device.label}, which has {have}.",
            "Name one of its services.",
        )
    if port in internet.router_ports:
        yield problem(
            "port.router-own",
            key,
            f"The outside port {port} is the router's own.",
            f"Choose another outside port for {device.label}.",
        )
    if port in internet.blocked_ports:
        yield problem(
            "port.blocked",
            key,
            f"The provider blocks the outside port {port}.",
            f"Choose another outside port for {device.label}.",
        )
    if forward.service in ADMINISTRATION:
        yield problem(
            "forward.administration",
            key,
            f"The {service_word(forward.service).lower()} of {device.label} would be open to the internet: "
            "it is for administration.",
            "Never forward it; use the maker's relay or a VPN.",
        )
    if not forward.decided_by or not forward.why:
        missing = "who decided it" if not forward.decided_by else "why"
        yield problem(
            "forward.undecided",
            key,
            f"The outside port {port} to {device.label} does not say {missing}.",
            "Write down who decided it and why, or drop it.",
        )
