"""What each panel has to know, its digest (SHA-256 over canonical JSON), and whether just that was sent."""

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from hashlib import sha256
from typing import Any

from tutelar.core.access.index import AccessIndex
from tutelar.core.site.access import Sent
from tutelar.core.site.base import Part
from tutelar.core.site.writing import as_document


@dataclass(frozen=True, slots=True)
class Standing:
    """What a panel has to know, as its digest, and what it was sent last."""

    panel: str
    digest: str
    sent: Sent | None

    @property
    def is_sent(self) -> bool:
        """Whether exactly this was sent last."""
        return self.sent is not None and self.sent.digest == self.digest

    def sent_as_dict(self) -> dict[str, Any] | None:
        """Return the last entry about the panel as it stands in the document."""
        if self.sent is None:
            return None
        found: dict[str, Any] = as_document(self.sent)
        return found


class _Pieces:
    """Canonical texts of parts, each made once; names are left out."""

    def __init__(self) -> None:
        self._made: dict[int, str] = {}

    def of(self, part: Part) -> str:
        text = self._made.get(id(part))
        if text is None:
            raw = {name: value for name, value in as_document(part).items() if name != "name"}
            text = self._made[id(part)] = canonical(raw)
        return text

    def listed(self, parts: Iterable[Part]) -> str:
        return f"[{','.join(map(self.of, parts))}]"


def canonical(value: Any) -> str:
    """Return JSON with sorted keys and no spaces."""
    return json.dumps(value, ensure_ascii=False, sort_keys=True, separators=(",", ":"))


def standings(known: AccessIndex) -> list[Standing]:
    """Return the standing of every panel that has a door, in the order of the doors."""
    panels = dict.fromkeys(door.panel for door in known.doors.values() if door.panel is not None)
    sent, pieces, people = last_sent(known), _Pieces(), _people_by_rule(known)
    return [Standing(panel, _digest(known, panel, pieces, people), sent.get(panel)) for panel in panels]


def standing_of(known: AccessIndex, panel: str) -> Standing:
    """Return the standing of one panel."""
    return Standing(panel, _digest(known, panel, _Pieces(), {}), last_sent(known).get(panel))


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


def _people_by_rule(known: AccessIndex) -> dict[int, list[str]]:
    return {place: known.people_of(rule) for place, rule in enumerate(known.access.rules)}


def _digest(known: AccessIndex, panel: str, pieces: _Pieces, people: Mapping[int, list[str]]) -> str:
    doors = sorted((door for door in known.doors.values() if door.panel == panel), key=lambda door: door.key)
    places = sorted(
        {at for door in doors for key in (door.key, *door.groups) for at in known.rules_of_door.get(key, ())}
    )
    rules = sorted((known.access.rules[at] for at in places), key=lambda rule: rule.key)
    frames = {rule.frame for rule in rules if rule.frame in known.frames}
    persons = {
        key for at in places for key in (people[at] if at in people else known.people_of(known.access.rules[at]))
    }
    holidays = sorted(known.access.holidays, key=lambda item: item.date)
    ordered = [known.people[key] for key in sorted(persons)]
    used = {card.format for person in ordered for card in person.cards}
    formats = sorted((item for item in known.access.formats if item.key in used), key=lambda item: item.key)
    parts = {
        "doors": pieces.listed(doors),
        "formats": pieces.listed(formats),
        "frames": pieces.listed(known.frames[key] for key in sorted(filter(None, frames))),
        "holidays": pieces.listed(holidays),
        "people": pieces.listed(ordered),
        "rules": pieces.listed(rules),
    }
    text = ",".join(f'"{name}":{part}' for name, part in sorted(parts.items()))
    return sha256(f"{{{text}}}".encode()).hexdigest()
