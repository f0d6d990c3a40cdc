"""The door schedule, who may open what, the alarm sheet, and labels for doors."""

from tutelar.core.access.index import AccessIndex, spans_on
from tutelar.core.alarm.hubs import ANSWER, WAYS, hub_standings
from tutelar.core.doors.circuit import sense_of
from tutelar.core.site.access import Rule
from tutelar.core.site.weeks import DAY_WORDS, DAYS
from tutelar.paper.labels import Label, label_pdf
from tutelar.paper.tables import Cell, Table
from tutelar.server import models
from tutelar.server.doors import queries
from tutelar.server.files import Asked, Export
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected

_DOORS = (
    "Door", "Place", "Panel", "Number", "Lock", "Lock, A", "Relay", "Sense", "Exit button", "Contact", "Unlocks, s",
    "Held open, s", "Escape route", "Usually", "Groups",
)  # fmt: skip


def _doors(row: models.Site, _asked: Asked) -> Table:
    site = documents.document(row)
    rows: list[tuple[Cell, ...]] = []
    for door in site.doors:
        exits = {True: "yes", False: "no", None: None}[door.exit_button]
        rows.append(
            (
                door.label,
                door.place,
                site.label_of(door.panel) if door.panel is not None else None,
                door.number,
                door.lock,
                door.lock_a,
                door.relay.upper() if door.relay else None,
                sense_of(door)[0],
                exits,
                door.contact.upper() if door.contact else None,
                door.unlock_s,
                door.held_open_s,
                "yes" if door.escape else "no",
                door.normal or "locked",
                ", ".join(door.groups),
            )
        )
    return Table("Doors", _DOORS, tuple(rows))


def _when(known: AccessIndex, rule: Rule) -> str:
    """Return when a rule holds, in words: "always", or its frame day by day."""
    frame = known.frames.get(rule.frame) if rule.frame is not None else None
    if frame is None:
        return "always" if rule.frame is None else f"not known: {rule.frame}"
    days: dict[str, list[str]] = {}
    for day in DAYS:
        spans = ", ".join(f"{begin}–{end}" for begin, end in spans_on(frame, day) or ())
        days.setdefault(spans, []).append(DAY_WORDS[day])
    said = [f"{', '.join(names)} {spans or 'never'}" for spans, names in days.items()]
    return f"{frame.label}: {'; '.join(said)}"


def _access(row: models.Site, _asked: Asked) -> Table:
    """Return a row for each person and door that a rule ties, by person."""
    known = queries.telling_of(row).known
    when = {rule.key: _when(known, rule) for rule in known.access.rules}
    doors = {rule.key: known.doors_of(rule) for rule in known.access.rules}
    rows: list[tuple[Cell, ...]] = []
    for person in known.people.values():
        live = sum(not card.lost for card in person.cards)
        until = (str(person.valid_from or ""), str(person.valid_to or ""))
        for rule in known.access.rules:
            if not known.ties_person(rule, person):
                continue
            for key in doors[rule.key]:
                name = known.doors[key].label
                rows.append((person.label, ", ".join(person.groups), live, *until, name, rule.key, when[rule.key]))
    header = ("Person", "Groups", "Cards", "From", "Until", "Door", "Rule", "When")
    return Table("Who may open what", header, tuple(rows))


def _text(value: object) -> str | None:
    return value if isinstance(value, str) else None


def _alarm(row: models.Site, _asked: Asked) -> Table:
    rows: list[tuple[Cell, ...]] = []
    for item in hub_standings(documents.document(row)):
        name = item.hub.label
        rows += [(name, "Area", area.name or area.key, None) for area in item.said.areas]
        rows += [(name, f"Zone {zone.number or ''}".strip(), zone.name, zone.place) for zone in item.zones]
        rows += [(name, "User", user.name, user.rights) for user in item.said.users]
        rows += [(name, "Way", WAYS.get(way, way), network) for way, network in item.ways.items()]
        rows += [
            (name, "The station answered", _text((item.said.model_extra or {}).get(ANSWER)), None),
            (name, "As found", item.said.armed_as_found, None),
            (name, "Left", item.said.armed_left, None),
            *((name, "Still open", said, None) for said in item.open),
        ]
    return Table("Alarm", ("Hub", "What", "Name", "More"), tuple(rows))


def _labels(row: models.Site, asked: Asked) -> bytes:
    site = documents.document(row)
    if not site.doors:
        raise WriteRejected(f"{row.name} has no door yet; there is nothing to print.")
    labels = [
        Label(
            f"{asked.base}sites/{row.key}/doors?door={door.key}",
            door.label,
            (
                door.place or "",
                f"{site.label_of(door.panel)}, door {door.number}" if door.panel and door.number else "",
                "escape route" if door.escape else "",
            ),
        )
        for door in site.doors
    ]
    return label_pdf(labels, f"Door labels, {site.about.title}")


def _has_doors(row: models.Site) -> bool:
    return bool(documents.document(row).doors)


def _has_access(row: models.Site) -> bool:
    return documents.document(row).access is not None


def _has_hubs(row: models.Site) -> bool:
    return bool(hub_standings(documents.document(row)))


EXPORTS = (
    Export("doors", "Door schedule", table=_doors, offered=_has_doors),
    Export("access", "Who may open what", table=_access, offered=_has_access),
    Export("alarm", "Alarm sheet", table=_alarm, offered=_has_hubs),
    Export("door-labels", "Labels for doors", {"pdf": _labels}, offered=_has_doors),
)
