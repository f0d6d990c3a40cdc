"""The loom: every link as a thread between a place and a number of its target."""

from collections import Counter

from tutelar.core.links.index import LinkIndex
from tutelar.core.links.readiness import OPEN, LinkStatus
from tutelar.core.links.registry import GROUPS, KINDS
from tutelar.core.links.wishes import untied
from tutelar.core.site import Site
from tutelar.core.wording import capital, count
from tutelar.server import models
from tutelar.server.links import queries, services
from tutelar.server.links import schemas as shapes
from tutelar.server.sheet import problem_rows
from tutelar.server.store import documents


def links(row: models.Site) -> shapes.Links:
    """Return the loom: targets with their numbers and threads, in the order of the work."""
    site = documents.document(row)
    found = queries.link_standings(row)
    rows = models.Link.objects.filter(site=row).values_list("pk", "revision")
    beams: dict[tuple[str, str, str], shapes.Beam] = {}
    for (pk, revision), item in zip(rows, found, strict=True):
        case = item.case
        place = (case.kind.group, case.link.to, case.link.kind)  # stations and monitors of one target count apart
        beam = beams.get(place) or beams.setdefault(place, _beam(item))
        beam.threads.append(_thread(pk, revision, item))
    ordered = sorted(beams.values(), key=lambda beam: (GROUPS.index(beam.group), _place(site, beam.key)))
    states = Counter(item.state for item in found)
    first = next((at for state in OPEN for at, item in enumerate(found) if item.state == state), None)
    return shapes.Links(
        revision=row.revision,
        beams=ordered,
        untied=[_untied(site, key) for key in untied(site)],
        counts=[shapes.StateCount(state=state, number=states[state]) for state in (*OPEN, "tied", "proven")],
        places=list(site.about.places),
        next_link=list(rows)[first][0] if first is not None else None,
        kinds=[
            shapes.KindRow(
                key=kind.key,
                word=kind.word,
                title=kind.title,
                group=kind.group,
                starts=sorted(kind.starts),
                ends=None if kind.ends is None else sorted(kind.ends),
                outside=sorted(kind.outside),
                number=kind.number.word if kind.number else None,
            )
            for kind in KINDS
        ],
        problems=problem_rows(documents.planned(row).problems, "link", "recorder", "number", "paging", "ring"),
    )


def _place(site: Site, key: str) -> int:
    return next((at for at, device in enumerate(site.devices) if device.key == key), len(site.devices))


def _untied(site: Site, key: str) -> shapes.Untied:
    device = site.device_by_key[key]
    kind = next(kind for kind in KINDS if site.family_of(device) in kind.expected)
    return shapes.Untied(key=key, name=device.label, place=device.place, word=kind.word, title=kind.title)


def _beam(item: LinkStatus) -> shapes.Beam:
    case = item.case
    number = case.kind.number
    first, last = number.limit(case) if number else (1, None)
    if case.link.kind == "steers":  # short numbers belong to the desk, so the target has no row of them
        last = None
    return shapes.Beam(
        id=f"{case.link.kind} {case.link.to}",
        key=case.link.to,
        name=capital(case.to),
        group=case.kind.group,
        word=number.word if number else None,
        first=first,
        last=last,
        load=_load(case.known, case.link.to) or case.kind.title,
        threads=[],
    )


def _load(known: LinkIndex, key: str) -> str:
    """Return what a recorder has to spare, "" for other targets."""
    load = known.loads.get(key)
    if load is None:
        return ""
    spare = []
    if load.most_channels is not None:
        spare.append(f"{count(max(0, load.most_channels - load.channels), 'channel')} empty")
    if load.most_mbps is not None:
        left = load.most_mbps - load.mbps
        spare.append(f"{left:.0f} Mbit/s to spare" if left >= 0 else f"{-left:.0f} Mbit/s too many")
    if load.licences is not None:
        spare.append(f"{count(max(0, load.licences - load.channels), 'licence')} left")
    return ", ".join(spare)


def _thread(pk: int, revision: int, item: LinkStatus) -> shapes.Thread:
    case, link = item.case, item.case.link
    gap = item.gaps[0] if item.gaps else None
    return shapes.Thread(
        id=pk,
        revision=revision,
        kind=case.kind.key,
        title=case.kind.title,
        start=case.start.key,
        start_name=case.start.label,
        place=case.start.place,
        from_channel=link.from_channel,
        to_channel=link.to_channel,
        slot=link.slot,
        side=link.side,
        state=item.state,
        wanted=bool(link.wanted),
        reason=item.reason,
        whose=gap.whose if gap else None,
        where=gap.where if gap else None,
        passed=sum(one.passed for one in item.tested),
        tests=len(case.kind.tests),
    )


def proposal(row: models.Site) -> shapes.ProposalSheet:
    """Return what could be tied, said before anything is stored."""
    site, found = documents.document(row), services.proposal(row)
    known = queries.links_known(row)
    changes = []
    for change in found.changes:
        case = known.case(change.link)
        number = case.kind.number if case else None
        name = site.label_of(change.link.from_)
        channel = f" ({change.link.from_channel})" if change.link.from_channel is not None else ""
        changes.append(
            shapes.ProposedChange(
                action=change.action,
                start_name=f"{name}{channel}",
                to_name=case.to if case else change.link.to,
                word=number.word if number else "",
                slot=change.link.slot,
                why=change.why,
            )
        )
    return shapes.ProposalSheet(
        revision=row.revision,
        changes=changes,
        shortfall=list(found.shortfall),
        left=[site.label_of(key) for key in found.left],
        proved=found.proved,
    )
