"""The proof sheet."""

from django.conf import settings

from tutelar.core.links.ties import recordings
from tutelar.core.proof import (
    WITNESSED,
    Coverage,
    Expectation,
    cell_state,
    changed_since,
    check_title,
    measured_of,
)
from tutelar.core.proof.check import PROTOCOLS
from tutelar.core.proof.registry import FIRST, check_of
from tutelar.core.proof.witnessed import asked_of, may_be_seen
from tutelar.core.site.types import Device, Exemption, Reading, Site
from tutelar.core.wording import family_plural
from tutelar.paper.proof_row import LeftOpen, ProofRow
from tutelar.server import models
from tutelar.server.live import services as live_services
from tutelar.server.proof import queries
from tutelar.server.proof import schemas as shapes
from tutelar.server.sheet import shaped
from tutelar.server.store import bench_steps, documents, lookup
from tutelar.standin.playing import WORDS


def proof(row: models.Site) -> shapes.ProofSheet:
    """Return the proof sheet."""
    site = documents.document(row)
    wanted, last, left = queries.expectations(row), queries.readings(row), queries.exceptions(row)
    practised = queries.practised(row)
    states = queries.device_states(row, last, bench_steps.finished(row))
    cells, checks = [], dict[str, Expectation]()
    for items in wanted.values():
        for item in items:
            checks.setdefault(item.check, item)
            place = (item.device, item.check)
            cells.append(_row(site, item, last.get(place), left.of(*place), practised.get(place)))
    newest = models.Proof.objects.filter(site=row).first()
    date_order = site.about.date_order
    return shapes.ProofSheet(
        columns=[
            shapes.ProofColumn(
                key=device.key,
                name=device.label,
                place=device.place or "No place",
                family=site.family_of(device),
                address=None if device.address is None else str(device.address),
                state=states[device.key],
            )
            for device in site.walking_order(list(site.devices))
            if wanted[device.key]
        ],
        checks=[
            shapes.CheckRow(
                check=check,
                title=check_title(check, date_order),
                protocol=PROTOCOLS[check_of(check).probe],
                witnessed=item.witnessed,
                caution=check_of(check).caution or None,
                needs_person=check_of(check).never_open and item.witnessed,
            )
            for check, item in sorted(checks.items(), key=lambda pair: check_of(pair[0]).rank)
        ],
        cells=cells,
        last=None if newest is None else proof_run(newest),
        fault_kinds=[shapes.FaultKind(kind=kind, words=words) for kind, words in WORDS.items()],
        live=live_state(row),
        coverage=coverage(Coverage.of(cell.state for cell in cells)),
        changes=[
            shapes.ProofChange(
                device=device,
                name=site.label_of(device),
                check=check,
                title=check_title(check, date_order),
                before=before,
                now=now,
                measured=measured,
            )
            for device, check, before, now, measured in queries.proof_changes(row)
        ],
        practice=site.about.practice,
        kept_up=models.Pretend.objects.filter(site=row).exists(),
        ran_out=[
            shapes.RanOut(
                device=item.device,
                name=site.label_of(item.device),
                check=item.check,
                title=check_title(item.check, date_order) if item.check else "every check",
                reason=item.reason,
                by=item.by,
                until=item.until,
            )
            for item in left.over
            if item.until is not None
        ],
    )


def _row(
    site: Site, item: Expectation, reading: Reading | None, left: Exemption | None, practised: Reading | None
) -> ProofRow:
    state = cell_state(reading, item, excepted=left is not None)
    device = site.device_by_key[item.device]
    return ProofRow(
        item.device,
        device.label,
        device.place or "No place",
        item.check,
        check_title(item.check, site.about.date_order),
        state,
        item.expected,
        item.witnessed,
        tuple(changed_since(reading, item)) if reading is not None and state == "stale" else (),
        None if left is None else LeftOpen(left.reason, left.by, left.until, left.check is None),
        measured_of(site, reading) if reading is not None else None,
        reading.result if reading is not None else None,
        reading.took_ms if reading is not None else None,
        reading.at if reading is not None else None,
        reading.by if reading is not None else None,
        f"{_CAME_OUT[practised.result]}: {measured_of(site, practised)}" if practised is not None else None,
    )


def coverage(found: Coverage) -> shapes.CoverageSheet:
    """Return the coverage with its sentence."""
    return shaped(shapes.CoverageSheet, found)


def rules(row: models.Site) -> shapes.ProofRulesSheet:
    """Return what the site asks for at its proof, with every check that its devices could be asked for."""
    site = documents.document(row)
    out = set(site.policy.proof.left_out)
    wanted = {item.check for items in queries.expectations(row).values() for item in items if not item.witnessed}
    measured = sorted(wanted | out - set(WITNESSED), key=lambda name: (check_of(name).rank, name))
    families: dict[str, list[Device]] = {}
    for device in site.devices:
        families.setdefault(site.family_of(device), []).append(device)
    return shapes.ProofRulesSheet(
        revision=row.revision,
        clock_s=site.policy.proof.clock_s,
        measured=[
            shapes.RuleRow(
                check=name,
                title=check_title(name, site.about.date_order),
                asked=name not in out - FIRST,
                fixed=name in FIRST,
            )
            for name in measured
        ],
        families=[
            shapes.FamilyRules(
                family=family,
                word=family_plural(family),
                seen=[
                    shapes.RuleRow(
                        check=name,
                        title=WITNESSED[name],
                        asked=name in asked_of(site, devices, family),
                        fixed=False,
                    )
                    for name in may_be_seen(family)
                ],
            )
            for family, devices in families.items()
            if may_be_seen(family)
        ],
    )


_CAME_OUT = {"pass": "passed", "fail": "failed", "silent": "silent", "skipped": "not asked"}


def evidence(row: models.Site, key: str, check: str) -> list[shapes.EvidenceSheet]:
    """Return what last came over the wire for a check: of the device, and of its recorders where they tell of it."""
    device = lookup.device_row(row, key)
    site = documents.document(row)
    asked = [(device.key, source) for source in check_of(check).evidence]
    if check_of(check).probe == "its recorders":
        asked = [(link.to, "state") for link in recordings(site, site.device_by_key[key])]
    found = [(at, queries.evidence(row, at, source)) for at, source in asked]
    return [
        shapes.EvidenceSheet(
            source=item.source if at == key else f"{site.label_of(at)}: {item.source}",
            text=item.text,
            at=item.at,
        )
        for at, item in found
        if item is not None
    ]


def live_state(row: models.Site) -> shapes.LiveState:
    """Return whether real devices may be measured, and who answers for it."""
    networks = live_services.networks_of(documents.document(row))
    found = models.Authority.objects.filter(site=row).first()
    return shapes.LiveState(
        on=settings.LIVE,
        networks=networks,
        authority=shaped(shapes.Authority, found, holds=found.networks == networks) if found else None,
    )


def proof_run(proof_row: models.Proof) -> shapes.ProofRun:
    """Return how far a measuring is."""
    return shaped(shapes.ProofRun, proof_row)
