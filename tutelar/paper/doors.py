"""The door schedule, who may open what, and the alarm sheet as tables."""

from tutelar.core.access.index import AccessIndex, spans_on
from tutelar.core.alarm.hubs import ANSWER, WAYS, hub_standings
from tutelar.core.doors.circuit import sense_of
from tutelar.core.site.access import Rule
from tutelar.core.site.types import Site
from tutelar.core.site.weeks import DAY_WORDS, DAYS
from tutelar.paper.tables import Cell, Table

_DOORS = (
    "Door", "Place", "Panel", "Number", "Lock", "Lock, A", "Relay", "Sense", "Exit button", "Contact", "Unlocks, s",
    "Held open, s", "Escape route", "Usually", "Groups",
)  # fmt: skip


def doors_table(site: Site) -> Table:
    """Return a row for each door, as it hangs and is timed."""
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


def access_table(known: AccessIndex) -> Table:
    """Return a row for each person and door that a rule ties, by person."""
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


def alarm_table(site: Site) -> Table:
    """Return the alarm hubs: areas, zones, users, ways, how they were found and left."""
    rows: list[tuple[Cell, ...]] = []
    for item in hub_standings(site):
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
