"""The settings of the whole site: passwords, clocks, picture and sound by family, ports."""

from datetime import datetime

from django.utils import timezone

from tutelar.core.clock import UnknownZone, clock_rule, coming, drift, time_plan, zone_of
from tutelar.core.credentials import rule_conflicts, slots_of, tries
from tutelar.core.kit.names import KINDS
from tutelar.core.ports import ADMINISTRATION, forward_risk, login_loads, port_problems, ports_of, translated
from tutelar.core.proof import reading_state
from tutelar.core.setting.family import choices_of
from tutelar.core.site import Site
from tutelar.core.site.model import CODECS
from tutelar.core.site.types import Device
from tutelar.core.wording import capital, family_plural, sentence
from tutelar.server import models
from tutelar.server.proof import queries as proof_queries
from tutelar.server.schemas import Option
from tutelar.server.secrets import queries as secrets_queries
from tutelar.server.sheet import problem_rows, shaped
from tutelar.server.store import documents
from tutelar.server.values import queries
from tutelar.server.values import schemas as shapes
from tutelar.server.values.rows import secret_row, telling_rows

RULE_YEARS = 10


def secrets(row: models.Site) -> shapes.Secrets:
    """Return what is kept of every device's slots, which rules conflict, and who was not told yet."""
    site = documents.document(row)
    stored = {
        (use.device_key, use.slot): use.secret
        for use in models.SecretUse.objects.select_related("secret").filter(site=row)
    }
    refused = dict(models.FailedLogins.objects.filter(device__site=row).values_list("device__key", "number"))
    equal, open_ = secrets_queries.equal_passwords(row), secrets_queries.open_slots(row)
    rows, bare = [], 0
    for device in site.walking_order(list(site.devices)):
        slots = slots_of(site, device)
        if not slots:
            continue
        model = site.model_of(device)
        bare += (device.key, "administrator") not in stored
        rows.append(
            shapes.DeviceSecrets(
                key=device.key,
                name=device.label,
                place=device.place,
                model=model.label if model else device.model,
                kind=KINDS[site.family_of(device)],
                slots=[
                    secret_row(device.key, slot.key, stored.get((device.key, slot.key)), equal, open_) for slot in slots
                ],
                tries=tries(model.password_rule if model else None, refused.get(device.key, 0)),
            )
        )
    return shapes.Secrets(
        revision=row.revision,
        password_policy=site.policy.passwords,
        devices=rows,
        bare=bare,
        conflicts=[shapes.RuleConflict(where=where, sentence=said) for where, said in rule_conflicts(site)],
        tellings=telling_rows(secrets_queries.open_tellings(row)),
    )


def clocks(row: models.Site, now: datetime | None = None) -> shapes.Clocks:
    """Return the site's time: its rule, its source, each clock's last difference and drift, the coming changes."""
    site, now = documents.document(row), now or timezone.now()
    readings = queries.clock_readings(row)
    plan = time_plan(site, documents.planned(row))
    right = _measured_right(row)
    rows = []
    for item in plan.devices:
        device, seen = site.device_by_key[item.device], drift(readings.get(item.device, []), zone_of(site))
        rows.append(
            shapes.ClockRow(
                key=device.key,
                name=device.label,
                place=device.place,
                source=item.source,
                reached=item.reached,
                why=item.why,
                said=seen.sentence if seen else None,
                due=seen.due if seen else None,
                doubtful=not item.reached or (seen is not None and seen.doubtful(now)),
                proven=device.key in right,
            )
        )
    zone, rule, turns, fault = site.about.time_zone, None, [], None
    try:
        if zone:
            rule = clock_rule(zone, now.year, RULE_YEARS).note
            turns = coming(site, now, doubted={item.key for item in rows if item.doubtful})
    except UnknownZone as error:
        fault = sentence(error)
    return shapes.Clocks(
        zone=zone,
        rule=rule,
        fault=fault,
        source=plan.source,
        sentence=plan.sentence,
        date_order=site.about.date_order,
        clock=site.about.clock,
        devices=rows,
        coming=[
            shapes.TurnRow(
                at=turn.at,
                sentence=turn.sentence,
                looks=[
                    shapes.LookRow(device=look.device, name=site.label_of(look.device), why=look.why)
                    for look in turn.looks
                ],
            )
            for turn in turns
        ],
    )


def _measured_right(row: models.Site) -> frozenset[str]:
    """Return the devices whose clock was measured, and was right as it is expected now."""
    last = proof_queries.readings(row)
    return frozenset(
        key
        for key, items in proof_queries.expectations(row).items()
        for item in items
        if item.check == "clock" and reading_state(last.get((key, "clock")), item) == "proven"
    )


def ports(row: models.Site) -> shapes.Ports:
    """Return every served port with who must be told of it, the logins that are held, and what is forwarded."""
    site = documents.document(row)
    found = list(port_problems(site))
    internet = site.internet
    return shapes.Ports(
        revision=row.revision,
        devices=[
            shapes.DevicePorts(
                key=device.key,
                name=device.label,
                place=device.place,
                model=model.label if (model := site.model_of(device)) else device.model,
                rows=port_rows(site, device),
            )
            for device in site.walking_order(list(site.devices))
            if site.services_of(device)
        ],
        logins=[
            shapes.LoginRow(device=item.device, sentence=item.sentence, full=item.used >= item.limit)
            for item in login_loads(site)
        ],
        cut_off=translated(internet.outside_address) if internet else None,
        forwards=[
            shapes.ForwardRow(
                outside=item.outside,
                device=item.device,
                name=site.label_of(item.device),
                service=item.service,
                decided_by=item.decided_by,
                why=item.why,
                at=item.at,
                risk=forward_risk(site, item),
                administration=item.service in ADMINISTRATION,
            )
            for item in (internet.forwards if internet else ())
        ],
        problems=problem_rows(tuple(found)),
    )


def port_rows(site: Site, device: Device) -> list[shapes.PortRow]:
    """Return a device's ports with whoever has them typed in."""
    return [
        shapes.PortRow(
            service=item.service,
            title=item.title,
            port=item.port,
            usual=item.usual,
            changed=item.changed,
            told=[site.label_of(told.device) for told in item.told],
        )
        for item in ports_of(site, device)
    ]


def choices(row: models.Site) -> shapes.Choices:
    """Return picture and sound by family: what is usual, why, and what the site chose instead."""
    site = documents.document(row)
    return shapes.Choices(
        revision=row.revision,
        families=[
            shapes.FamilyChoices(
                family=family,
                title=capital(family_plural(family)),
                lines=[
                    shaped(
                        shapes.ChoiceRow,
                        line,
                        numbers=shaped(shapes.StreamNumbers, line.numbers) if line.numbers else None,
                    )
                    for line in lines
                ],
            )
            for family, lines in choices_of(site).items()
        ],
        codecs=[Option(value=value, word=word) for value, word in CODECS.items()],
    )
