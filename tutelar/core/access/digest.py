"""What each panel has to know, its digest (SHA-256 over canonical JSON), and whether just that was sent."""

import json
from collections.abc import Iterable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import cached_property
from hashlib import sha256
from itertools import compress
from typing import Any

from tutelar.core.access.index import AccessIndex
from tutelar.core.site.access import Card, Person, Sent
from tutelar.core.site.base import Part
from tutelar.core.site.writing import as_document

_AT_ONCE = 2
_ZERO_OR_ONE = bytes.maketrans(b"01", b"\0\1")
UNIT = "x-unit"  # of an entry: the unit that was told


@dataclass(frozen=True, slots=True)
class Standing:
    """What a panel has to know, as its digest, and what it was sent last."""

    panel: str
    digest: str
    sent: Sent | None
    unit: str | None = None  # what tells the panel from another one that takes its place

    @property
    def is_sent(self) -> bool:
        """Whether exactly this was sent last, and to the unit that is there now where it is known which one was."""
        if self.sent is None or self.sent.digest != self.digest:
            return False
        return (self.sent.model_extra or {}).get(UNIT) in (None, self.unit)

    def sent_as_dict(self) -> dict[str, Any] | None:
        """Return the last entry about the panel as it stands in the document."""
        if self.sent is None:
            return None
        found: dict[str, Any] = as_document(self.sent)
        return found


def _bare(part: Part) -> str:
    """Return the canonical text of a part without its name."""
    return canonical({name: value for name, value in as_document(part).items() if name != "name"})


def _of_person(person: Person) -> str:
    """Return the same of a person, of whom there are thousands: keys hold no sign that JSON would escape."""
    if person.__pydantic_extra__:
        return _bare(person)
    said = person.__pydantic_fields_set__
    found = []
    if "cards" in said:
        found.append(f'"cards":[{",".join(map(_of_card, person.cards))}]')
    if "groups" in said:
        groups = '","'.join(person.groups)
        found.append(f'"groups":["{groups}"]' if groups else '"groups":[]')
    found.append(f'"key":"{person.key}"')
    for name, day in (("valid_from", person.valid_from), ("valid_to", person.valid_to)):
        if name in said:
            found.append(f'"{name}":' + ("null" if day is None else f'"{day.isoformat()}"'))
    return f"{{{','.join(found)}}}"


def _of_card(card: Card) -> str:
    if card.__pydantic_extra__:
        return canonical(as_document(card))
    said = card.__pydantic_fields_set__
    facility = f'"facility":{"null" if card.facility is None else card.facility},' if "facility" in said else ""
    lost = f'"lost":{"true" if card.lost else "false"},' if "lost" in said else ""
    return f'{{{facility}"format":"{card.format}",{lost}"number":{card.number}}}'


def canonical(value: Any) -> str:
    """Return JSON with sorted keys and no spaces."""
    return json.dumps(value, ensure_ascii=False, sort_keys=True, separators=(",", ":"))


class Telling:
    """What the panels of a site have to know; each text is made once."""

    def __init__(self, known: AccessIndex) -> None:
        self.known = known
        self._bare: dict[int, str] = {}
        self._of_rule: dict[int, int] = {}
        self._joined: dict[int, bytes] = {}
        self._found: dict[str, Standing] = {}
        self._sent = last_sent(known)
        self._holidays = _listed(map(_bare, sorted(known.access.holidays, key=lambda item: item.date)))

    def standing(self, panel: str) -> Standing:
        """Return the standing of one panel."""
        found = self._found.get(panel)
        if found is None:
            device = self.known.site.device_by_key.get(panel)
            unit = device.unit if device is not None else None
            found = self._found[panel] = Standing(panel, self._digest(panel), self._sent.get(panel), unit)
        return found

    def _digest(self, panel: str) -> str:
        known = self.known
        doors = sorted((door for door in known.doors.values() if door.panel == panel), key=lambda door: door.key)
        ends = {key for door in doors for key in (door.key, *door.groups)}
        places = sorted({at for key in ends for at in known.rules_of_door.get(key, ())})
        rules = sorted((known.access.rules[at] for at in places), key=lambda rule: rule.key)
        frames = sorted({rule.frame for rule in rules if rule.frame is not None and rule.frame in known.frames})
        persons = 0
        for place in places:
            persons |= self._people_of(place)
        parts = {
            "doors": _listed(map(_bare, doors)),
            "formats": self._formats(persons),
            "frames": _listed(self._text_of(known.frames[key]) for key in frames),
            "holidays": self._holidays,
            "people": None,  # of thousands the bytes are there already
            "rules": _listed(map(self._text_of, rules)),
        }
        digest, before = sha256(), "{"
        for name, part in parts.items():
            digest.update(f'{before}"{name}":'.encode())
            digest.update(self._listed_people(persons) if part is None else part.encode())
            before = ","
        digest.update(b"}")
        return digest.hexdigest()

    def _listed_people(self, persons: int) -> bytes:
        found = self._joined.get(persons)
        if found is None:
            found = b",".join(compress(self._texts, _chosen(persons)))
            self._joined[persons] = found = b"[%b]" % found
        return found

    def _people_of(self, place: int) -> int:
        """Return whom a rule is about: a bit for each person, in the order of the keys."""
        found = self._of_rule.get(place)
        if found is None:
            found = 0
            for key in self.known.access.rules[place].people:
                found |= self._of_group.get(key, 0)
                if key in self._bit:
                    found |= 1 << self._bit[key]
            self._of_rule[place] = found
        return found

    def _text_of(self, part: Part) -> str:
        found = self._bare.get(id(part))
        if found is None:
            found = self._bare[id(part)] = _bare(part)
        return found

    def _formats(self, persons: int) -> str:
        """Return the formats of the cards of these persons that the site describes itself."""
        formats = sorted(self.known.access.formats, key=lambda item: item.key)
        if not formats:
            return "[]"
        chosen = (self.known.people[key] for at, (key, _) in enumerate(self._people) if persons >> at & 1)
        used = {card.format for person in chosen for card in person.cards}
        return _listed(map(_bare, (item for item in formats if item.key in used)))

    @cached_property
    def _of_group(self) -> dict[str, int]:
        """Who is in each group: a bit for each person."""
        bits = self._bit
        return {group: sum(1 << bits[key] for key in members) for group, members in self.known.person_groups.items()}

    @cached_property
    def _bit(self) -> dict[str, int]:
        return {key: at for at, (key, _) in enumerate(self._people)}

    @cached_property
    def _texts(self) -> list[bytes]:
        return [text for _, text in self._people]

    @cached_property
    def _people(self) -> list[tuple[str, bytes]]:
        """The canonical text of every person, in the order of their keys."""
        return [(key, _of_person(person).encode()) for key, person in sorted(self.known.people.items())]


def _chosen(bits: int) -> bytes:
    """Return 0 or 1 for each bit, the lowest first."""
    return f"{bits:b}"[::-1].encode().translate(_ZERO_OR_ONE)


def _listed(texts: Iterable[str]) -> str:
    return f"[{','.join(texts)}]"


def standings(known: AccessIndex, telling: Telling | None = None) -> list[Standing]:
    """Return the standing of every panel that has a door, in the order of the doors."""
    panels = dict.fromkeys(door.panel for door in known.doors.values() if door.panel is not None)
    told = telling or Telling(known)
    with ThreadPoolExecutor(_AT_ONCE) as hashing:  # hashing holds nobody else up: two cores share what is megabytes
        return list(hashing.map(told.standing, panels))


def last_sent(known: AccessIndex) -> dict[str, Sent]:
    """Return the latest entry about each panel; of two of the same moment the one that stands last."""
    found: dict[str, Sent] = {}
    for item in known.access.sent:
        old = found.get(item.panel)
        if old is None or _moment(item.at) >= _moment(old.at):
            found[item.panel] = item
    return found


def _moment(text: str) -> datetime:
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        return datetime.min.replace(tzinfo=UTC)
    return found if found.tzinfo is not None else found.replace(tzinfo=UTC)
