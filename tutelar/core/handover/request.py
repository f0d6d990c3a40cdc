"""The request to the customer's IT person: what we want of their network, on one or two pages."""

from collections.abc import Iterator
from dataclasses import dataclass

from tutelar.core.addressing import Plan
from tutelar.core.addressing.subnet import subnet_members
from tutelar.core.handover.flows import Flow, flows
from tutelar.core.links.base import IT
from tutelar.core.links.reached import reached
from tutelar.core.links.registry import link_index
from tutelar.core.ports import forwarded_port, outside_kind
from tutelar.core.site.types import Network, Site
from tutelar.core.site.values import netmask
from tutelar.core.survey import pools_known, questions
from tutelar.core.wording import count, listed


@dataclass(frozen=True, slots=True)
class Wanted:
    """One address we ask for; `address` is None for a device that takes one as it comes."""

    device: str
    name: str
    place: str | None
    network: str
    address: str | None
    mask: str
    gateway: str | None
    mac: str | None
    how: str


@dataclass(frozen=True, slots=True)
class NetworkWish:
    """One network as we understood it, and how much of it we want; pools None: not said yet, (): there is none."""

    label: str
    cidr: str
    mask: str
    gateway: str | None
    dns: tuple[str, ...]
    vlan: int | None
    pools: tuple[str, ...] | None
    wanted: int
    free: int


@dataclass(frozen=True, slots=True)
class Request:
    """Everything that the IT person is asked for, in the order in which it is read."""

    site: str
    run_by: str | None
    installer: str | None
    telephone: str | None
    networks: tuple[NetworkWish, ...]
    wanted: tuple[Wanted, ...]
    flows: tuple[Flow, ...]
    own_ranges: tuple[str, ...]
    outside: tuple[str, ...]
    trouble: tuple[str, ...]
    open: tuple[str, ...]

    @property
    def reservations(self) -> tuple[Wanted, ...]:
        """The addresses that are to be reserved in the router by hardware address."""
        return tuple(item for item in self.wanted if item.how == "reserved")


_TROUBLE = ("network.", "pool.", "range.")


def request(site: Site, planned: Plan) -> Request:
    """Return the request of a site with the addresses of its plan."""
    through = tuple(flows(site, planned))
    return Request(
        site=site.about.title,
        run_by=site.survey.network_run_by,
        installer=site.survey.installer,
        telephone=site.survey.installer_telephone,
        networks=tuple(_wish(site, network, planned) for network in site.networks),
        wanted=tuple(_wanted(site, planned)),
        flows=through,
        own_ranges=tuple(_own_ranges(site)),
        outside=tuple(_outside(site, through)),
        trouble=(
            *(
                f"{item.message} {item.fix or ''}".strip()
                for item in planned.problems
                if item.level != "note" and item.code.startswith(_TROUBLE)
            ),
            *_held_back(site, planned),
        ),
        open=tuple(_open(site, through)),
    )


def _held_back(site: Site, planned: Plan) -> Iterator[str]:
    """Yield what IT's rules, as they were told, do not let through of what our links send, each once."""
    known = link_index(site, planned.addresses())
    if not known.strays:
        return
    cases = (case for link in site.links if (case := known.case(link)) is not None)
    held = (gap for case in cases if (gap := reached.gap(case)) is not None and gap.whose == IT)
    yield from dict.fromkeys(f"{gap.what}. {gap.nearest or ''}.".replace(" .", "") for gap in held)


def _wish(site: Site, network: Network, planned: Plan) -> NetworkWish:
    said = pools_known(site, network)
    room = next(item for item in planned.networks if item["key"] == network.key)
    return NetworkWish(
        network.label,
        str(network.cidr),
        netmask(network.cidr.prefixlen),
        None if network.gateway is None else str(network.gateway),
        tuple(str(item) for item in network.dns),
        network.vlan,
        tuple(f"{pool.first}-{pool.last}" for pool in network.pools) if said else None,
        int(room["fixed_wanted"]),
        int(room["fixed_free"]),
    )


def _wanted(site: Site, planned: Plan) -> list[Wanted]:
    """Return the devices in the customer's networks; what hangs on a recorder's own ports asks IT for nothing."""
    addresses = planned.addresses()
    found = []
    for device in site.walking_order(list(site.devices)):
        network = site.network_by_key.get(device.network or "")
        if network is not None:
            address = None if device.addressing == "leased" else addresses.get(device.key)
            found.append(
                Wanted(
                    device.key,
                    device.label,
                    device.place,
                    network.label,
                    address,
                    netmask(network.cidr.prefixlen),
                    None if network.gateway is None else str(network.gateway),
                    device.network_mac,
                    device.addressing,
                )
            )
    return sorted(found, key=lambda item: [network.label for network in site.networks].index(item.network))


def _own_ranges(site: Site) -> list[str]:
    """Return the ranges that recorders run on their own camera ports: they must not be used again elsewhere."""
    return [
        f"{site.label_of(item.ground.recorder)} uses {item.ground.cidr} on its own camera ports. Nothing of "
        "it reaches your network; please keep the same range out of any network that the recorder has to reach."
        for item in subnet_members(site)
        if item.ground.recorder
    ]


def _outside(site: Site, through: tuple[Flow, ...]) -> list[str]:
    found = []
    leaving = list(dict.fromkeys(flow.destination.name for flow in through if flow.destination.network == ""))
    if site.internet is not None and site.internet.connection == "none":
        found.append("This site has no internet: nothing of ours will try to leave it.")
    elif leaving:
        found.append(f"Outbound only, to {listed(leaving, 9)}.")
    else:
        found.append("Nothing of ours has to reach the internet.")
    found += _forwards(site)
    if site.internet is not None:
        kind = outside_kind(site.internet.outside_address)
        if kind == "carrier":
            found.append("The line has carrier-grade NAT: forwarding from outside is not possible, and not asked for.")
        elif kind == "private":
            found.append("The router stands behind another one (double NAT); both must let the outbound flows pass.")
    if site.survey.remote_viewing:
        found.append(f"Remote viewing is wanted by {listed(list(site.survey.remote_viewing), 9)}.")
    return found


def _forwards(site: Site) -> list[str]:
    """Return what is decided to be reached from the internet, port by port."""
    decided = site.internet.forwards if site.internet else ()
    if not decided:
        return ["No port has to be opened from the internet to the site."]
    number = count(len(decided), "port from the internet is", "ports from the internet are")
    said = [f"{number} to be forwarded:"]
    for item in decided:
        port = forwarded_port(site, item)
        why = f": {item.why}" if item.why else ""
        said.append(
            f"Port {item.outside} of the router to {site.label_of(item.device)}, port {port or '?'} ({item.service}), "
            f"decided by {item.decided_by or 'nobody yet'}{why}."
        )
    return said


_FOR_IT = frozenset({"internet", "addressing"})


def _open(site: Site, through: tuple[Flow, ...]) -> list[str]:
    """Return the questions that only the IT person can answer."""
    found = [
        f"Please tell us {blank.asks}."
        for question in questions(site)
        if question.about in _FOR_IT or question.about in site.network_by_key or question.key == "network-people"
        for blank in question.open
    ]
    unread = [
        device.label
        for device in site.devices
        if device.addressing == "reserved" and device.network and not device.network_mac
    ]
    if unread:
        found.append(
            f"{count(len(unread), 'hardware address follows', 'hardware addresses follow')}: {listed(unread, 9)}."
        )
    for flow in through:
        missing = [] if flow.destination.known else ["address or name"]
        missing += ["port"] if "?" in flow.ports else []
        if missing:
            verb = "follow" if len(missing) > 1 else "follows"
            said = f"The {listed(missing)} of {flow.destination.name} for “{flow.why}” {verb} from the installer"
            found.append(f"{said} ({flow.source.name}).")
    return list(dict.fromkeys(found))
