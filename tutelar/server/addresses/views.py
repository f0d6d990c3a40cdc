"""The address sheets."""

from collections import defaultdict
from collections.abc import Iterable
from ipaddress import IPv4Address
from typing import Any

from tutelar.core.addressing.assignment import Plan
from tutelar.core.addressing.subnet import Subnet, SubnetMembers, subnet_members
from tutelar.core.planning.move import move
from tutelar.core.planning.renumber import Partner, Renumbering
from tutelar.core.sightings import Sighting, findings
from tutelar.core.site import Site
from tutelar.core.site.types import Network
from tutelar.core.site.values import dotted, netmask
from tutelar.core.wording import family_plural
from tutelar.server import models
from tutelar.server.addresses import schemas as shapes
from tutelar.server.proof import queries as proof_queries
from tutelar.server.sheet import problem_rows, shaped
from tutelar.server.store import bench_steps, documents


def addresses(row: models.Site) -> shapes.Addresses:
    """Return every network with its addresses."""
    site, planned = documents.document(row), documents.planned(row)
    states = proof_queries.device_states(row, proof_queries.readings(row), bench_steps.finished(row))
    clashes = {
        key
        for item in planned.problems
        if item.level == "error" and item.code.startswith("address.")
        for key in item.subjects
    }
    revisions = dict(models.Device.objects.filter(site=row).values_list("key", "revision"))
    rooms = {item["key"]: item for item in planned.networks}
    by_network: dict[str, list[shapes.Placed]] = defaultdict(list)
    for item in planned.assignments:
        device = site.device_by_key[item.device]
        state = "planned" if item.source == "planned" else states[item.device]
        by_network[item.network].append(
            shapes.Placed(
                key=device.key,
                name=device.label,
                place=device.place,
                family=site.family_of(device),
                group=family_plural(site.family_of(device)),
                address=item.address,
                state="clash" if device.key in clashes else state,
                source=item.source,
                why=item.why,
                locked=device.locked,
                addressing=device.addressing,
                revision=revisions[device.key],
            )
        )
    return shapes.Addresses(
        revision=row.revision,
        networks=[_network(item, rooms[item.ground.key], by_network[item.ground.key]) for item in subnet_members(site)],
        problems=problem_rows(planned.problems, "address", "network", "pool", "range", "plan"),
        unplanned=sum(1 for item in planned.assignments if item.source == "planned"),
        leased=sum(1 for device in site.devices if device.addressing == "leased"),
    )


def _network(standing: SubnetMembers, room: dict[str, Any], devices: list[shapes.Placed]) -> shapes.NetworkSheet:
    ground = standing.ground
    return shapes.NetworkSheet(
        key=ground.key,
        label=ground.label,
        cidr=ground.cidr,
        prefix=ground.prefix,
        mask=netmask(ground.prefix),
        gateway=None if ground.gateway is None else dotted(ground.gateway),
        recorder=ground.recorder,
        usable=room["usable"],
        free=room["fixed_free"],
        wanted=room["fixed_wanted"],
        spans=_spans(ground),
        devices=devices,
    )


def _spans(ground: Subnet) -> list[shapes.Span]:
    found: list[tuple[shapes.SpanKind, int, int, str | None]] = []
    if ground.prefix < 31:
        found += [
            ("edge", ground.base, ground.base, "the network itself"),
            ("edge", ground.top, ground.top, "broadcast"),
        ]
    if ground.gateway is not None and ground.contains(ground.gateway):
        found.append(("gateway", ground.gateway, ground.gateway, "recorder" if ground.recorder else None))
    found += [
        ("dns", number, number, None) for number in ground.dns if number != ground.gateway and ground.contains(number)
    ]
    found += [("pool", first, last, None) for first, last in ground.pools]
    found += [("kept", first, last, why) for first, last, why in ground.reserved]
    return [shapes.Span(kind=kind, first=dotted(first), last=dotted(last), why=why) for kind, first, last, why in found]


def partner_rows(site: Site, partners: Iterable[Partner]) -> list[shapes.PartnerRow]:
    """Return the settings elsewhere that follow a move."""
    return [
        shaped(
            shapes.PartnerRow,
            item,
            name=site.label_of(item.device),
            after=[site.label_of(key) for key in item.after],
        )
        for item in partners
    ]


def move_preview(site: Site, planned: Plan, device_key: str, address: IPv4Address) -> shapes.MovePreview:
    """Return what moving a device to an address entails; not possible where the move itself breaks a rule."""
    found = move(site, planned, site.device_by_key[device_key], address)
    return shapes.MovePreview(
        possible=found.possible,
        sentence=found.sentence,
        partners=partner_rows(site, found.partners),
        solved=[item.message for item in found.solved],
        caused=[item.message for item in found.caused if item.message != found.sentence],
    )


def renumber_preview(row: models.Site, site: Site, network: Network, result: Renumbering) -> shapes.RenumberPreview:
    """Return what renumbering a network would change."""
    return shapes.RenumberPreview(
        revision=row.revision,
        cidr=str(result.site.network_by_key[network.key].cidr),
        devices=[shaped(shapes.Renumbered, item, name=site.label_of(item.device)) for item in result.moved],
        partners=partner_rows(site, result.partners),
        problems=problem_rows(result.plan.problems, "network", "address", "pool", "range", "renumber"),
    )


def sightings(row: models.Site, table: str, seen: list[Sighting]) -> shapes.Sightings:
    """Return what a table from the field tells about the site; `table` is what kind of table it is."""
    site = documents.document(row)
    found = findings(site, documents.planned(row), seen)
    revisions = dict(models.Device.objects.filter(site=row).values_list("key", "revision"))
    rows = [shaped(shapes.FindingRow, item, revision=revisions.get(item.device or "")) for item in found.rows]
    return shapes.Sightings(
        table=table,
        revision=row.revision,
        rows=rows,
        unseen=[site.label_of(key) for key in found.unseen],
    )
