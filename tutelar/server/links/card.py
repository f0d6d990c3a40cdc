"""Everything about one link: what it needs, what is typed at each end, what proves it. And the numbers of a site."""

from collections.abc import Iterator

from tutelar.core.line import Line
from tutelar.core.links.base import End, ResolvedLink
from tutelar.core.links.index import LinkIndex
from tutelar.core.links.numbering import call_lines, numbers, paging_zones
from tutelar.core.links.readiness import LinkStatus, Tested
from tutelar.core.links.ring import ring_chain
from tutelar.core.site.types import Device
from tutelar.server import models
from tutelar.server.links import queries, services
from tutelar.server.links import schemas as shapes
from tutelar.server.sheet import problem_rows
from tutelar.server.store import documents, lookup
from tutelar.server.values.row_schemas import GroupRow
from tutelar.server.values.rows import Values, plain_line

_FIELDS = {  # what may be said of a link of each word besides its number
    "records": ("from_channel",),
    "shows-on": ("from_channel",),
    "steers": ("to_channel",),
    "reads-for": ("side",),
    "calls": ("account", "at"),
    "reports-to": ("account", "at", "from_channel"),
    "manages": ("at",),
    "pages": ("address", "port", "priority"),
}


def link_card(row: models.Site, number: int) -> shapes.LinkCard:
    """Return one link with its needs, its values at both ends in groups, its tests, and where else it could go."""
    stored = lookup.link_row(row, number)
    item = services.standing_of(row, stored)
    case, link = item.case, item.case.link
    kind = case.kind
    return shapes.LinkCard(
        id=stored.pk,
        revision=stored.revision,
        kind=kind.key,
        word=link.kind,
        title=kind.title,
        said=case.said(),
        start=case.start.key,
        start_name=case.start.label,
        place=case.start.place,
        to=link.to,
        to_name=case.to,
        number_word=kind.number.word if kind.number else None,
        slot=link.slot,
        from_channel=link.from_channel,
        to_channel=link.to_channel,
        side=link.side,
        at=link.at,
        account=link.account,
        state=item.state,
        wanted=bool(link.wanted),
        reason=item.reason,
        needs=_needs(item),
        groups=[group for end in ("from", "to") for group in _ends(row, item, end)],
        tests=[_test(one) for one in item.tested],
        rooms=list(_rooms(case)),
        seats=_seats(case),
        targets=list(_targets(case)),
        caution=kind.caution,
        fields=list(_fields(case)),
    )


def _needs(item: LinkStatus) -> list[shapes.NeedRow]:
    case, found = item.case, []
    never = case.known.never(case)
    looked = [(never.need, never)] if never else [(one.key, one.gap(case)) for one in case.kind.needs]
    met = {one.key: one.met for one in case.kind.needs}
    for key, gap in looked:
        if gap is None:
            found.append(
                shapes.NeedRow(
                    key=key,
                    met=True,
                    words=met[key](case),
                    where=None,
                    whose=None,
                    never=False,
                    nearest=None,
                )
            )
        else:
            found.append(
                shapes.NeedRow(
                    key=key,
                    met=False,
                    words=gap.what,
                    where=gap.where,
                    whose=gap.whose,
                    never=gap.never,
                    nearest=gap.nearest,
                )
            )
    return sorted(found, key=lambda need: need.met)


def _ends(row: models.Site, item: LinkStatus, end: End) -> Iterator[GroupRow]:
    """Yield the values of one end as a group whose key is the device's, so that a tick knows where it belongs."""
    case = item.case
    device = case.start if end == "from" else case.end
    lines: list[Line] = [at.line for at in item.values if at.end == end]
    name = device.label if device is not None else case.to
    if device is not None and lines:
        values = Values(row, device, lines)
        yield GroupRow(key=device.key, title=f"At {name}", caution=None, lines=values.lines(lines))
    elif lines:
        plain = [plain_line(line.key, line.label, line.value, line.why) for line in lines]
        yield GroupRow(key="", title=f"At {name}", caution=None, lines=plain)


def _test(one: Tested) -> shapes.TestRow:
    reading = one.reading
    state: shapes.TestState
    if reading is None:
        state = "planned"
    elif one.changed:
        state = "doubtful"
    else:
        state = "proven" if one.passed else "broken"
    return shapes.TestRow(
        key=one.test.key,
        title=one.test.title,
        expected=one.expected,
        state=state,
        measured=reading.measured if reading else None,
        at=reading.at if reading else None,
        by=reading.by if reading else None,
        changed=list(one.changed),
    )


def _rooms(case: ResolvedLink) -> Iterator[shapes.Room]:
    """Yield what a recorder takes in against what it carries, and what this link brings."""
    load = case.known.loads.get(case.link.to) if case.link.kind == "records" else None
    if load is None:
        return
    rate = case.known.rate(case.link, case.start)
    if load.most_mbps:
        yield shapes.Room(
            word="Takes in",
            used=round(load.mbps, 1),
            most=load.most_mbps,
            brings=round(rate, 1),
            unit="Mbit/s",
        )
    if load.licences:
        yield shapes.Room(word="Licences", used=load.channels, most=load.licences, brings=1, unit="channels")


def _seats(case: ResolvedLink) -> list[shapes.Seat]:
    """Return the numbers of the target with who is on each; of an endless row those that are used and some free."""
    number, known = case.kind.number, case.known
    if number is None:
        return []
    first, last = number.limit(case)
    seats = known.seats.get((case.link.to, case.link.kind), {})
    held = {
        slot: link.from_ for (slot, side), link in seats.items() if side == case.link.side and link is not case.link
    }
    top = last if last is not None else max([*held, first]) + 8
    return [
        shapes.Seat(number=at, holder=case.site.label_of(held[at]) if at in held else None)
        for at in range(first, min(top, first + 511) + 1)
    ]


def _targets(case: ResolvedLink) -> Iterator[shapes.Target]:
    """Yield where a link of this word may lead: devices of fitting families, this target first to be seen."""
    site = case.site
    for device in site.devices:
        if device.key == case.start.key or not _may_lead(case.known, case, device):
            continue
        yield shapes.Target(key=device.key, name=device.label, fits=True)


def _may_lead(known: LinkIndex, case: ResolvedLink, device: Device) -> bool:
    trial = known.case(case.link.model_copy(update={"to": device.key}))
    return trial is not None and trial.fits


def _fields(case: ResolvedLink) -> Iterator[str]:
    for name in _FIELDS.get(case.link.kind, ()):
        if name == "at" and case.end is not None:
            continue
        if name == "to_channel" and case.kind.key != "desk-through-recorder":
            continue
        if name == "from_channel" and case.kind.key not in ("encoder-channel", "picture-on-monitor", "alarm-path"):
            continue
        yield name


def link_numbers(row: models.Site) -> shapes.Numbers:
    """Return the numbers of a site: of every link, paging zones, call servers, the ring chain, flats."""
    site, known = documents.document(row), queries.links_known(row)
    stored = list(models.Link.objects.filter(site=row).values_list("pk", "revision"))
    rows = numbers(known)
    chain, paging = ring_chain(site), site.policy.numbering.paging
    revisions = dict(models.Device.objects.filter(site=row).values_list("key", "revision"))
    return shapes.Numbers(
        revision=row.revision,
        rows=[
            shapes.NumberRow(
                link=stored[item.position][0],
                revision=stored[item.position][1],
                word=item.word,
                group=item.group,
                target=item.target,
                device=item.device,
                number=item.number,
                source=item.source,
                why=item.why,
            )
            for item in rows
        ],
        planned=sum(item.source == "planned" for item in rows),
        zones=[
            shapes.ZoneRow(
                number=zone.number,
                address=zone.address,
                port=zone.port,
                speakers=list(zone.speakers),
                listeners=list(zone.listeners),
                fault=zone.fault,
            )
            for zone in paging_zones(site)
        ],
        paging_base=str(paging.base),
        paging_port=paging.port,
        lines=[
            shapes.ServerLines(
                server=item.server,
                sentence=item.sentence,
                full=(item.most_registrations is not None and item.registrations > item.most_registrations)
                or (item.most_lines is not None and item.lines > item.most_lines),
            )
            for item in call_lines(site)
        ],
        ring=shapes.RingRow(
            monitor_s=chain.monitor_s,
            forward_s=chain.forward_s,
            person_s=chain.person_s,
            station_s=chain.station_s,
            needed_s=chain.needed_s,
            holds=chain.holds,
            sentence=chain.sentence,
        ),
        flats=[
            shapes.FlatRow(
                device=device.key,
                name=device.label,
                revision=revisions[device.key],
                building=device.numbers.building if device.numbers else None,
                floor=device.numbers.floor if device.numbers else None,
                unit=device.numbers.unit if device.numbers else None,
            )
            for device in site.walking_order(list(site.devices))
            if site.family_of(device) == "indoor-monitor"
        ],
        problems=problem_rows(documents.planned(row).problems, "number", "paging", "ring", "link"),
    )
