"""The request to the customer's IT person as a printed page and as tables."""

from collections.abc import Iterator
from datetime import date
from itertools import groupby

from reportlab.platypus import Flowable, HRFlowable, Spacer

from tutelar.core.handover.flows import Flow
from tutelar.core.handover.request import NetworkWish, Request
from tutelar.core.wording import count, spoken_date
from tutelar.paper.page import CELL_HEAD, INK, TITLE, grid, heading, lines, pdf, signatures, words
from tutelar.paper.tables import Table

MONO_COLUMNS = frozenset({2, 3})
_HOW = {"fixed": "set on the device", "reserved": "reserve it, please", "leased": "takes a DHCP lease"}


def tables(asked: Request) -> list[Table]:
    """Return the request as tables: addresses, flows, questions still open, remarks."""
    return [
        Table(
            "Addresses",
            ("Device", "Name", "Place", "Network", "Address", "Mask", "Gateway", "Hardware address", "How"),
            tuple(
                (
                    item.device,
                    item.name,
                    item.place,
                    item.network,
                    item.address,
                    item.mask,
                    item.gateway,
                    item.mac,
                    _HOW[item.how],
                )
                for item in asked.wanted
            ),
        ),
        Table(
            "Flows",
            ("From", "From addresses", "From network", "To", "To addresses", "To network", "Protocol", "Ports", "Why"),
            tuple(
                (
                    flow.source.name,
                    flow.source.addresses,
                    flow.source.network,
                    flow.destination.name,
                    flow.destination.addresses,
                    flow.destination.network or "outside",
                    flow.protocol,
                    flow.ports,
                    flow.why,
                )
                for flow in asked.flows
            ),
        ),
        Table("Open", ("Question still open",), tuple((item,) for item in asked.open)),
        Table(
            "Remarks",
            ("About", "Remark"),
            tuple(
                (about, item)
                for about, items in (
                    ("In the way", asked.trouble),
                    ("Internet", asked.outside),
                    ("Recorders", asked.own_ranges),
                )
                for item in items
            ),
        ),
    ]


def request_pdf(asked: Request, today: date, version: int) -> bytes:
    """Return the request as one or two pages; `version` is the revision of the site that it was made from."""
    day = f"version {version}, {spoken_date(today)}"
    story: list[Flowable] = [
        words("What we ask of your network", TITLE),
        words(f"{asked.site} · for {asked.run_by or 'whoever runs the network'} · {day}"),
        words(_installer(asked)),
        HRFlowable(width="100%", thickness=1.2, color=INK, spaceBefore=4, spaceAfter=2),
    ]
    if asked.trouble:
        story += [heading("What stands in the way"), *lines(asked.trouble, box=True)]
    story += [heading("Your networks as we understood them"), *lines(_network(item) for item in asked.networks)]
    story += lines(asked.own_ranges)
    story += [heading("Flows through your firewall"), *_flows(asked)]
    story += [heading("The internet"), *lines(asked.outside)]
    if asked.open:
        story += [heading("Questions still open"), *lines(asked.open, box=True)]
    reserved = len(asked.reservations)
    said = f", {count(reserved, 'reservation')} by hardware address" if reserved else ""
    story += [heading(f"{count(len(asked.wanted), 'address', 'addresses')} for our devices{said}")]
    story += _addresses(asked)
    story += [
        Spacer(1, 8),
        signatures(["For the installer", f"For {asked.site[:40]}", "For IT"]),
    ]
    author = asked.installer or "Tutelar"
    return pdf("What we ask of your network", asked.site, today, story, f"version {version}", author)


def _addresses(asked: Request) -> Iterator[Flowable]:
    """Yield a table for each network under its mask and gateway."""
    for (label, mask, gateway), items in groupby(
        asked.wanted, key=lambda item: (item.network, item.mask, item.gateway)
    ):
        yield words(f"{label}: mask {mask}, gateway {gateway or 'none'}", CELL_HEAD)
        rows = [
            (
                item.name,
                item.place or "",
                item.address or "DHCP lease",
                item.mac or "follows",
                _HOW[item.how],
            )
            for item in items
        ]
        yield grid(("Device", "Place", "Address", "Hardware address", "How"), rows, (32, 20, 16, 20, 16), MONO_COLUMNS)


def _installer(asked: Request) -> str:
    """Return who asks, and how he is reached."""
    if not asked.installer:
        return "Installer: not said yet"
    return f"Installer: {asked.installer}, telephone {asked.telephone or 'not said yet'}"


def _network(wish: NetworkWish) -> str:
    parts = [f"{wish.label}: {wish.cidr}, mask {wish.mask}"]
    parts += [f"VLAN {wish.vlan}"] if wish.vlan is not None else []
    parts += [f"gateway {wish.gateway}" if wish.gateway else "gateway not known"]
    parts += [f"DNS server {', '.join(wish.dns)}"] if wish.dns else []
    parts += [_pool(wish)]
    room = f"We want {count(wish.wanted, 'address', 'addresses')} that never move; {wish.free} are free for us."
    return f"{', '.join(parts)}. {room}"


def _pool(wish: NetworkWish) -> str:
    if wish.pools is None:
        return "DHCP pool not known"
    return f"DHCP pool {', '.join(wish.pools)}" if wish.pools else "no DHCP pool"


def _flows(asked: Request) -> list[Flowable]:
    if not asked.flows:
        return lines(["None: everything stays inside one network."])
    rows = [
        (f"{_end(flow, 'source')}", f"{_end(flow, 'destination')}", flow.protocol, flow.ports, flow.why)
        for flow in asked.flows
    ]
    return [grid(("From", "To", "Protocol", "Ports", "Why"), rows, (34, 34, 9, 13, 26), frozenset({3}))]


def _end(flow: Flow, which: str) -> str:
    end = flow.source if which == "source" else flow.destination
    name = f"{end.name}, {end.network}" if end.network else end.name
    return f"{name}\n{end.addresses}" if end.addresses and end.addresses != end.name else name
