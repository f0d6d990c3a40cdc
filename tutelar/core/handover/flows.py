"""Which flows must the customer's firewall let through? Derived from kit, services and links (docs/sources.md, survey).

Only what leaves a broadcast domain is listed: the firewall never sees what stays inside. Ports: the models'
services, as each kind of link asks for them; domain names 53 (RFC 1035), network time 123 (RFC 5905).
"""

from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from ipaddress import IPv4Address

from tutelar.core.addressing import Plan
from tutelar.core.links.base import Sent
from tutelar.core.links.outward import outside_end
from tutelar.core.links.registry import link_index
from tutelar.core.ports import forwarded_port
from tutelar.core.site.types import Link, Network, Site
from tutelar.core.wording import count, family_plural, listed

OUTSIDE_WORDS = {
    "relay": "the makers' relay on the internet",
    "monitoring-station": "the alarm monitoring station",
    "call-server": "the call server",
    "management": "the management program",
}
ANYBODY = "anybody on the internet"  # where a port is forwarded from outside


@dataclass(frozen=True, slots=True, order=True)
class End:
    """One end of a flow: a name people use, the addresses, and the network, "" where it is outside.

    `known` is false of an outside end whose address or name nobody has said yet.
    """

    name: str
    addresses: str
    network: str
    known: bool = True


@dataclass(frozen=True, slots=True)
class Flow:
    """One line of the firewall's list. `ports` as "554, 34100"; "?" where the port is not known yet."""

    source: End
    destination: End
    protocol: str
    ports: str
    why: str


def flows(site: Site, planned: Plan) -> list[Flow]:
    """Return the flows through the firewall, equal ones merged, in the order of the walk."""
    ends = _Ends(site, planned)
    raw = dict.fromkeys((*_of_links(site), *_of_names_and_time(site), *_of_forwards(site)))
    crossing = [item for item in raw if ends.crosses(item)]
    order = {device.key: at for at, device in enumerate(site.walking_order(list(site.devices)))}

    def by_walk(keys: Iterable[str]) -> tuple[str, ...]:
        return tuple(sorted(keys, key=lambda key: (order.get(key, -1), key)))

    ports: dict[tuple[str, str, str, str], set[int | None]] = defaultdict(set)
    for item in crossing:
        ports[item.source, item.destination, item.protocol, item.why].add(item.port)
    targets: dict[tuple[str, str, str, str, str], list[str]] = defaultdict(list)  # of one source, by what it sends
    for (source, target, protocol, why), numbers in ports.items():
        targets[source, protocol, why, _spoken(numbers), ends.home(target)].append(target)
    sources: dict[tuple[str, str, str, tuple[str, ...], str], list[str]] = defaultdict(list)  # that send the same
    for (source, protocol, why, spoken, _), reached in targets.items():
        sources[protocol, why, spoken, by_walk(reached), ends.home(source)].append(source)
    found = [
        Flow(ends.together(by_walk(start)), ends.together(reached), protocol, spoken, why)
        for (protocol, why, spoken, reached, _), start in sources.items()
    ]
    return sorted(found, key=lambda flow: (flow.destination.network == "", flow.why, flow.source, flow.destination))


def _spoken(ports: set[int | None]) -> str:
    known = sorted(port for port in ports if port is not None)
    return ", ".join([*map(str, known), *(["?"] if None in ports else [])])


class _Ends:
    """Where an end of a flow stands and what it is called."""

    def __init__(self, site: Site, planned: Plan) -> None:
        self.site = site
        self.outside = {_outside_key(link): link for link in site.links if link.to not in site.device_by_key}
        self.addresses = {item.device: IPv4Address(item.address) for item in planned.assignments}

    def home(self, end: str) -> str:
        """Return the broadcast domain of an end; "" for outside."""
        device = self.site.device_by_key.get(end)
        if device is not None:
            return device.behind or device.network or ""
        link = self.outside.get(end)
        address = _address((outside_end(link)[0] or "") if link else end)
        network = self.site.network_of(address) if address else None
        return network.key if network else ""

    def crosses(self, item: Sent) -> bool:
        """Whether a firewall sees it: it leaves a broadcast domain. A device that stands nowhere yet sends nothing."""
        source, destination = self.home(item.source), self.home(item.destination)
        if item.source == ANYBODY:
            return bool(destination)
        if not source or (item.destination in self.site.device_by_key and not destination):
            return False
        return source != destination

    def together(self, keys: tuple[str, ...]) -> End:
        """Return several ends as one: "6 cameras", "10.62.8.101-10.62.8.106"."""
        devices = [device for key in keys if (device := self.site.device_by_key.get(key))]
        network = self.site.network_by_key.get(self.home(keys[0]))
        label = network.label if network else ""
        if not devices:
            return self._elsewhere(keys, label)
        families = {self.site.family_of(device) for device in devices}
        if len(devices) <= 2:
            name = listed([device.label for device in devices])
        elif len(families) == 1:
            name = f"{len(devices)} {family_plural(families.pop())}"
        else:
            name = count(len(devices), "device")
        leased = sum(1 for device in devices if device.key not in self.addresses)
        found = [_spans([self.addresses[key] for key in keys if key in self.addresses])]
        found += [f"{count(leased, 'leased address', 'leased addresses')}"] if leased else []
        return End(name, ", ".join(filter(None, found)), label)

    def _elsewhere(self, keys: tuple[str, ...], label: str) -> End:
        """Return ends that are none of our devices: by what they are where a link says it, else by their address."""
        links = [self.outside.get(key) for key in keys]
        names = dict.fromkeys(
            OUTSIDE_WORDS.get(link.to, link.to) if link else key for key, link in zip(keys, links, strict=True)
        )
        hosts = [outside_end(link)[0] if link else key for key, link in zip(keys, links, strict=True)]
        known = [host for host in hosts if host]
        spelled = dict.fromkeys(host for host in known if not _address(host) and host not in names)
        found = [_spans(list(filter(None, map(_address, known)))), *spelled]
        return End(listed(list(names), 9), ", ".join(filter(None, found)), label, len(known) == len(hosts))


def _address(text: str) -> IPv4Address | None:
    try:
        return IPv4Address(text)
    except ValueError:  # a device key, a host name or an outside end
        return None


def _spans(addresses: list[IPv4Address]) -> str:
    """Return addresses as runs: "10.62.8.101-10.62.8.106, 10.62.8.125"."""
    runs: list[tuple[int, int]] = []
    for number in sorted({int(address) for address in addresses}):
        if runs and number == runs[-1][1] + 1:
            runs[-1] = (runs[-1][0], number)
        else:
            runs.append((number, number))
    return ", ".join(
        str(IPv4Address(first)) if first == last else f"{IPv4Address(first)}-{IPv4Address(last)}"
        for first, last in runs
    )


def _of_links(site: Site) -> Iterator[Sent]:
    """Yield what the links send; a device behind a recorder is reached through that recorder."""
    known = link_index(site, {})
    for link in site.links:
        case = known.case(link)
        if case is None:
            continue
        for item in case.kind.sends(case):
            yield item if case.end is not None else _outward(link, item)


def _outside_key(link: Link) -> str:
    return f"{link.to} {link.at}" if link.at else link.to


def _outward(link: Link, item: Sent) -> Sent:
    """Return what goes to an outside end: the port is the one that is asked there, not one of our own device."""
    port = outside_end(link)[1]
    if port is None and link.to == "relay":
        port = item.port  # the makers' own, which every router lets out
    return replace(item, destination=_outside_key(link), port=port)


def _of_forwards(site: Site) -> Iterator[Sent]:
    for item in site.internet.forwards if site.internet else ():
        why = f"forwarded from port {item.outside} of the router"
        yield Sent(ANYBODY, item.device, "tcp", forwarded_port(site, item), why)


def _of_names_and_time(site: Site) -> Iterator[Sent]:
    networks: dict[str, Network] = site.network_by_key
    for device in site.devices:
        network = networks.get(device.network or "")
        if network is None:
            continue
        for server in network.dns:
            for protocol in ("udp", "tcp"):
                yield Sent(device.key, str(server), protocol, 53, "asks for names")
        if network.time_source:
            yield Sent(device.key, network.time_source, "udp", 123, "sets its clock")
