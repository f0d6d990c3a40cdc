"""Doors, access and the alarm as the pages show them."""

from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import date, datetime
from typing import Any, NamedTuple

from django.utils import timezone

from tutelar.core.access import AccessIndex, CardRefused, access_problems, encode, may, standings
from tutelar.core.access.cards import formats_of
from tutelar.core.access.digest import Standing, Telling
from tutelar.core.access.index import spans_on
from tutelar.core.access.week import week_of
from tutelar.core.alarm import HubStanding, hub_standings
from tutelar.core.alarm.hubs import WAYS
from tutelar.core.doors import as_told, door_tests
from tutelar.core.doors.circuit import Does, current_at, runs_through_fire, sense_of
from tutelar.core.doors.held import Held, held_open
from tutelar.core.doors.problems import door_problems
from tutelar.core.doors.sequence import ESCAPE, DoorTest, tests_of
from tutelar.core.doors.typed import INPUTS, supervision
from tutelar.core.problems import Problem, in_order
from tutelar.core.proof import Expectation
from tutelar.core.proof.standing import reading_state
from tutelar.core.site import Reading
from tutelar.core.site.access import Person
from tutelar.core.site.doors import Door
from tutelar.core.site.types import Device, Site
from tutelar.core.site.weeks import DAYS, minutes_of
from tutelar.core.site.writing import as_document
from tutelar.core.wording import count, listed
from tutelar.server import models
from tutelar.server.doors import queries
from tutelar.server.doors import schemas as shapes
from tutelar.server.proof import queries as proof_queries
from tutelar.server.schemas import Option
from tutelar.server.sheet import problem_rows, shaped
from tutelar.server.store import documents

MOST_PEOPLE = 200


class _Seen(NamedTuple):
    """Where the tests of doors stand: (device, check) by (door, test), what is expected, and what was seen last."""

    checks: Mapping[tuple[str, str], tuple[str, str]]
    wanted: Mapping[tuple[str, str], Expectation]
    last: Mapping[tuple[str, str], Reading]


def doors_sheet(row: models.Site) -> shapes.DoorsSheet:
    """Return every door with its wiring, its tests and what is wrong with it."""
    site = documents.document(row)
    telling = queries.telling_of(row)
    problems = in_order(door_problems(site))
    wanted = {(item.device, item.check): item for items in proof_queries.expectations(row).values() for item in items}
    seen = _Seen(_checks(site), wanted, proof_queries.readings(row))
    held = held_open(site)
    there = {door.key for door in site.doors}
    return shapes.DoorsSheet(
        revision=row.revision,
        practice=site.about.practice,
        doors=[_door(site, door, problems, seen, held.get(door.key)) for door in telling.known.doors.values()],
        panels=[
            Option(value=device.key, word=device.label)
            for device in site.devices
            if site.family_of(device) in ("panel", "door-station")
        ],
        standings=_standings(site, telling),
        inputs=[_inputs(site, device) for device in site.devices if site.family_of(device) == "panel"],
        loose=[item.label for item in as_told(site.doors, site.survey.escape_doors or ()) if item.key not in there],
        escape_caution=f"{ESCAPE[0].upper()}{ESCAPE[1:]}.",
    )


def _inputs(site: Site, device: Device) -> shapes.PanelInputs:
    rows = [
        shapes.InputRow(
            name=item.name,
            label=item.label,
            on=item.on,
            why=item.why,
            decided=item.decided is not None,
            review=(item.decided.review or None) if item.decided is not None else None,
        )
        for item in supervision(site, device)
    ]
    part = (device.model_extra or {}).get(INPUTS)
    return shapes.PanelInputs(panel=device.key, name=device.label, inputs=rows, part=part)


def _checks(site: Site) -> dict[tuple[str, str], tuple[str, str]]:
    """Return (device, check) of each test by (door key, test key)."""
    return {
        (door.key, check.rsplit(".", 1)[1]): (device, check)
        for device, checks in door_tests(site).items()
        for check, door in checks.items()
    }


def _door(
    site: Site,
    door: Door,
    problems: Sequence[Problem],
    seen: _Seen,
    held: Held | None,
) -> shapes.DoorRow:
    panel = site.device_by_key.get(door.panel or "")
    model = site.model_of(panel) if panel is not None else None
    sense, wrong = sense_of(door)
    tests = [
        _test(door, test, check, seen.wanted.get((device, check)), seen.last.get((device, check)))
        for test in tests_of(door)
        if (where := seen.checks.get((door.key, test.key))) is not None
        for device, check in (where,)
    ]
    return shaped(
        shapes.DoorRow,
        door,
        name=door.label,
        panel_name=panel.label if panel is not None else None,
        of_doors=model.capacity.doors if model is not None and model.capacity is not None else None,
        normal=door.normal or "locked",
        fire=runs_through_fire(door),
        sense=sense,
        wrong_sense=wrong,
        readers=_readers(site, door),
        tests=tests,
        open_tests=sum(test.result != "pass" or test.stale for test in tests),
        unlocked=shaped(shapes.UnlockedRow, held) if held is not None else None,
        problems=problem_rows(tuple(item for item in problems if door.key in item.subjects)),
        part=as_document(door),
    )


def _readers(site: Site, door: Door) -> list[shapes.ReaderRow]:
    found = []
    for link in site.links:
        device = site.device_by_key.get(link.from_)
        if (link.kind, link.to, link.slot) != ("reads-for", door.panel, door.number) or device is None:
            continue
        model = site.model_of(device)
        bits = list(model.card_bits or ()) if model is not None else []
        found.append(shapes.ReaderRow(device=device.key, name=device.label, side=link.side, bits=bits))
    return found


def _test(
    door: Door, test: DoorTest, check: str, wanted: Expectation | None, reading: Reading | None
) -> shapes.DoorTestRow:
    does: Does = test.does or ("glass" if test.key == "egress" else "at-rest")
    state = reading_state(reading, wanted) if wanted is not None else "planned"
    return shapes.DoorTestRow(
        key=test.key,
        check=check,
        title=test.title,
        do=test.do,
        expect=test.expect,
        named=test.named,
        circuit=shaped(shapes.CircuitRow, current_at(door, does)),
        result=reading.result if reading is not None else None,
        by=reading.by if reading is not None else None,
        at=reading.at if reading is not None else None,
        words=str((reading.values or {}).get("words", "")) or None if reading is not None else None,
        stale=state == "stale",
    )


def _doors_by_panel(telling: Telling) -> Counter[str]:
    """Return how many doors hang at each panel, in the order of the doors."""
    return Counter(door.panel for door in telling.known.doors.values() if door.panel)


def _standings(site: Site, telling: Telling) -> list[shapes.PanelStanding]:
    doors = _doors_by_panel(telling)
    return [_standing(site, item, doors[item.panel]) for item in standings(telling.known, telling)]


def _standing(site: Site, item: Standing, doors: int) -> shapes.PanelStanding:
    return shapes.PanelStanding(
        panel=item.panel,
        name=site.label_of(item.panel),
        doors=doors,
        digest=item.digest,
        sent=item.sent.digest if item.sent is not None else None,
        sent_at=item.sent.at if item.sent is not None else None,
        sent_by=item.sent.by if item.sent is not None else None,
        is_sent=item.is_sent,
    )


def access_sheet(row: models.Site, search: str = "") -> shapes.AccessSheet:
    """Return who may open what when; of the people those that hold every word."""
    site = documents.document(row)
    telling = queries.telling_of(row)
    known = telling.known
    words = search.casefold().split()
    found = [person for person in known.people.values() if all(word in _text_of(person) for word in words)]
    today = timezone.now().date()
    access = known.access
    standings = [telling.standing(panel) for panel in _doors_by_panel(telling)]
    return shapes.AccessSheet(
        revision=row.revision,
        people_groups=_people_groups(known),
        door_groups=_door_groups(known),
        cells=_cells(known),
        people=[_short(person, today) for person in found[:MOST_PEOPLE]],
        people_found=len(found),
        people_in_all=len(known.people),
        frames=[
            shapes.FrameRow(
                key=frame.key,
                name=frame.label,
                days={day: _minutes(spans_on(frame, day) or ()) for day in DAYS},
                part=as_document(frame),
            )
            for frame in known.frames.values()
        ],
        rules=[as_document(rule) for rule in access.rules],
        holidays=[as_document(item) for item in sorted(access.holidays, key=lambda one: one.date)],
        formats=[Option(value=key, word=item.name or key) for key, item in formats_of(access).items()],
        doors=[Option(value=door.key, word=door.label) for door in known.doors.values()],
        standings=_standings(site, telling),
        problems=problem_rows(tuple(in_order(access_problems(site, standings)))),
    )


def _text_of(person: Person) -> str:
    numbers = " ".join(f"{card.facility or ''} {card.number}" for card in person.cards)
    return f"{person.label} {person.key} {' '.join(person.groups)} {numbers}".casefold()


def _short(person: Person, today: date) -> shapes.PersonShort:
    return shapes.PersonShort(
        key=person.key,
        name=person.label,
        groups=list(person.groups),
        cards=sum(not card.lost for card in person.cards),
        lost=sum(card.lost for card in person.cards),
        valid_from=person.valid_from.isoformat() if person.valid_from else None,
        valid_to=person.valid_to.isoformat() if person.valid_to else None,
        over=person.valid_to is not None and person.valid_to < today,
        part=as_document(person),
    )


def _minutes(spans: Sequence[tuple[str, str]]) -> list[list[int]]:
    return [[minutes_of(begin), minutes_of(end)] for begin, end in spans]


def _people_groups(known: AccessIndex) -> list[shapes.AccessGroup]:
    named = dict.fromkeys(key for rule in known.access.rules for key in rule.people)
    keys = dict.fromkeys([*known.person_groups, *(key for key in named if key in known.people)])
    return [
        shapes.AccessGroup(
            key=key,
            name=known.people[key].label if key in known.people and key not in known.person_groups else key,
            members=len(known.person_groups.get(key, ())) or 1,
        )
        for key in keys
    ]


def _door_groups(known: AccessIndex) -> list[shapes.AccessGroup]:
    named = dict.fromkeys(key for rule in known.access.rules for key in rule.doors)
    bare = [door.key for door in known.doors.values() if not door.groups]
    keys = dict.fromkeys([*known.door_groups, *(key for key in named if key in known.doors), *bare])
    return [
        shapes.AccessGroup(
            key=key,
            name=known.doors[key].label if key in known.doors and key not in known.door_groups else key,
            members=len(known.door_groups.get(key, ())) or 1,
        )
        for key in keys
    ]


def _cells(known: AccessIndex) -> list[shapes.CellRow]:
    found: dict[tuple[str, str], list[Any]] = {}
    for rule in known.access.rules:
        for people in rule.people:
            for doors in rule.doors:
                found.setdefault((people, doors), []).append(rule)
    return [
        shapes.CellRow(
            people=people,
            doors=doors,
            rules=[rule.key for rule in rules],
            frames=[
                "always"
                if rule.frame is None
                else known.frames[rule.frame].label
                if rule.frame in known.frames
                else rule.frame
                for rule in rules
            ],
        )
        for (people, doors), rules in found.items()
    ]


def may_row(telling: Telling, person: Person, door: Door, when: datetime) -> shapes.MayRow:
    """Return whether a person may open a door then, in one line and by each rule."""
    found = may(telling.known, person, door, when, telling)
    if found.may:
        told = "" if found.now else "; the panel was not sent this yet, so it may be otherwise there"
        said = f"{person.label} may open {door.label} then, by {listed([item.rule for item in found.because])}{told}."
    else:
        why = f": {found.nearest.why}" if found.nearest is not None else ": no rule speaks of it"
        said = f"{person.label} may not open {door.label} then{why}."
    return shapes.MayRow(
        may=found.may,
        now=found.now,
        said=said,
        because=[shapes.BecauseRow(rule=item.rule, code=None, why=item.why) for item in found.because],
        refused=[shaped(shapes.BecauseRow, item) for item in found.refused],
    )


def person_week(known: AccessIndex, person: Person) -> shapes.PersonWeek:
    """Return when a person may open each door, day by day; validity and cards are said beside it."""
    week = week_of(known, person)
    live = any(not card.lost for card in person.cards)
    until = f" until {person.valid_to}" if person.valid_to else ""
    since = f" from {person.valid_from}" if person.valid_from else ""
    bare = "" if live else "; without a card that is not lost none of them opens"
    said = f"{count(len(week), 'door')}{since}{until}{bare}."
    doors = [
        shapes.DoorWeek(
            door=key, name=known.doors[key].label, days={day: [list(span) for span in own[day]] for day in own}
        )
        for key, own in week.items()
    ]
    return shapes.PersonWeek(person=person.key, name=person.label, doors=doors, said=said)


def card_row(known: AccessIndex, form: str, numbers: dict[str, int], owner: str | None) -> shapes.CardRow:
    """Return a card as it is sent, or what does not fit and whom the number would be when it is cut."""
    item = formats_of(known.access)[form]
    try:
        found = encode(item, numbers)
    except CardRefused as refused:
        others = _others(known, form, {**numbers, refused.field: refused.cut}, owner)
        whose = f" That is the card of {listed(others)}." if others else ""
        return shapes.CardRow(fits=False, bits=None, hex=None, said=f"{refused}.{whose}")
    others = _others(known, form, numbers, owner)
    said = f"It is the card of {listed(others)} already." if others else "It fits, and nobody else has it."
    return shapes.CardRow(fits=not others, bits=found.bits, hex=found.hex, said=said)


def _others(known: AccessIndex, form: str, numbers: Mapping[str, int], owner: str | None) -> list[str]:
    return [person.label for person in known.holders_of(form, numbers) if person.key != owner]


def alarm_sheet(row: models.Site) -> shapes.AlarmSheet:
    """Return the alarm hubs with what they hold and what is open."""
    site = documents.document(row)
    there = {hub.hub for hub in (site.alarm.hubs if site.alarm is not None else ())}
    return shapes.AlarmSheet(
        revision=row.revision,
        hubs=[_hub(site, item, item.hub.key in there) for item in hub_standings(site)],
        watched_by=site.survey.alarms_watched_by,
    )


def _hub(site: Site, item: HubStanding, there: bool) -> shapes.HubRow:
    part = as_document(item.said)
    told = next(
        (link for link in site.links_of(item.hub.key) if link.kind == "reports-to" and link.from_ == item.hub.key), None
    )
    passed = {test.get("path") for test in item.said.tests if test.get("result") == "pass"}
    return shapes.HubRow(
        hub=item.hub.key,
        name=item.hub.label,
        station=told.at if told is not None else None,
        account=told.account if told is not None else None,
        armed_as_found=item.said.armed_as_found,
        armed_left=item.said.armed_left,
        on_test=part.get("on_test"),
        areas=part.get("areas", []),
        users=part.get("users", []),
        room=[shaped(shapes.RoomOfHub, room) for room in item.room],
        zones=[shaped(shapes.HubZone, zone) for zone in item.zones],
        ways=[
            shapes.WayRow(way=way, word=WAYS.get(way, way), network=network, tested=way in passed)
            for way, network in item.ways.items()
        ],
        apart=item.apart,
        remark=item.remark,
        open=list(item.open),
        there=there,
        part=part,
    )
