"""The request to the customer's IT person as a printed page and as tables."""

from datetime import date

from reportlab.platypus import Flowable, HRFlowable, Spacer

from tutelar.core.handover.flows import Flow
from tutelar.core.handover.request import NetworkWish, Request
from tutelar.core.wording import count, spoken_date
from tutelar.server.paper.page import INK, TITLE, grid, heading, lines, pdf, signatures, words
from tutelar.server.paper.tables import Table

_HOW = {"fixed": "set on the device", "reserved": "reserve it, please", "leased": "leased as it comes"}


def tables(asked: Request) -> list[Table]:
    """Return the request as tables: addresses, flows, questions."""
    return [
        Table(
            "Addresses",
            ("Device", "Name", "Place", "Network", "Address", "Hardware address", "How"),
            tuple(
                (item.device, item.name, item.place, item.network, item.address, item.mac, _HOW[item.how])
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
        Table("Open", ("Still open",), tuple((item,) for item in (*asked.trouble, *asked.outside, *asked.open))),
    ]


def request_pdf(asked: Request, today: date) -> bytes:
    """Return the request as one or two pages."""
    story: list[Flowable] = [
        words("What we ask of your network", TITLE),
        words(f"{asked.site} · for {asked.run_by or 'whoever runs the network'} · {spoken_date(today)}"),
        HRFlowable(width="100%", thickness=1.2, color=INK, spaceBefore=4, spaceAfter=2),
    ]
    if asked.trouble:
        story += [heading("What stands in the way"), *lines(asked.trouble, box=True)]
    story += [heading("Your networks as we understood them"), *lines(_network(item) for item in asked.networks)]
    story += [heading("Flows through your firewall"), *_flows(asked)]
    story += [heading("The internet"), *lines(asked.outside)]
    if asked.open:
        story += [heading("Questions still open"), *lines(asked.open, box=True)]
    reserved = len(asked.reservations)
    said = f", {count(reserved, 'reservation')} by hardware address" if reserved else ""
    story += [heading(f"{count(len(asked.wanted), 'address', 'addresses')} for our devices{said}")]
    story += [
        grid(
            ("Device", "Place", "Network", "Address", "Hardware address", "How"),
            [
                (
                    item.name,
                    item.place or "",
                    item.network,
                    item.address or "as it comes",
                    item.mac or "follows",
                    _HOW[item.how],
                )
                for item in asked.wanted
            ],
            (30, 18, 13, 15, 20, 16),
            frozenset({3, 4}),
        ),
        Spacer(1, 8),
        signatures(["For the installer", f"For {asked.site[:40]}", "For IT"]),
    ]
    return pdf("What we ask of your network", asked.site, spoken_date(today), story)


def _network(wish: NetworkWish) -> str:
    parts = [f"{wish.label}: {wish.cidr}, mask {wish.mask}"]
    parts += [f"VLAN {wish.vlan}"] if wish.vlan is not None else []
    parts += [f"router {wish.gateway}" if wish.gateway else "router not known"]
    parts += [f"names from {', '.join(wish.dns)}"] if wish.dns else []
    parts += [f"lends {', '.join(wish.pools)}" if wish.pools else "lending not known"]
    room = f"We want {count(wish.wanted, 'address', 'addresses')} that never move; {wish.free} are free for us."
    return f"{', '.join(parts)}. {room}"


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
