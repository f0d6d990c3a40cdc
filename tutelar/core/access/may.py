"""May this person open this door at this moment, by which rule, and was the panel told?"""

from dataclasses import dataclass
from datetime import datetime
from typing import Any, NamedTuple

from tutelar.core.access.digest import Standing, Telling
from tutelar.core.access.index import AccessIndex, holds_at, spans_on
from tutelar.core.site.access import Person, Rule
from tutelar.core.site.doors import Door
from tutelar.core.site.weeks import DAY_WORDS
from tutelar.core.wording import listed


class Because(NamedTuple):
    """A rule that grants, and why."""

    rule: str
    why: str


class Refused(NamedTuple):
    """A rule that does not grant (None: no rule), the first reason as a code, and in words."""

    rule: str | None
    code: str
    why: str


@dataclass(frozen=True, slots=True)
class Answer:
    """Whether by the plan, and whether now: by the plan, and the panel was sent exactly these rules."""

    may: bool
    now: bool
    because: tuple[Because, ...]
    refused: tuple[Refused, ...]
    standing: Standing | None

    @property
    def nearest(self) -> Refused | None:
        """The refusal that came furthest: what would have to be otherwise for it to open."""
        return max(self.refused, key=lambda item: _CAME.get(item.code, 0), default=None)

    def as_dict(self) -> dict[str, Any]:
        """Return the answer as the contract prints it."""
        return {
            "may": self.may,
            "now": self.now,
            "because": [item._asdict() for item in self.because],
            "refused": [item._asdict() for item in self.refused],
            "sent": self.standing.sent_as_dict() if self.standing is not None else None,
            "digest": self.standing.digest if self.standing is not None else None,
        }


_CAME = {"door": 1, "not-yet": 2, "over": 2, "day": 3, "time": 4, "no-card": 5, "card-lost": 5}


def may(known: AccessIndex, person: Person, door: Door, when: datetime, telling: Telling | None = None) -> Answer:
    """Return whether a person may open a door at a moment in the site's own time (docs/access.md); `telling`: what
    panels have to know, where it is kept from question to question."""
    because, refused = [], []
    card = _card_code(person)
    for rule in known.access.rules:
        found = _refused(known, rule, person, door, when)
        if found is not None:
            refused.append(Refused(rule.key, *found))
        elif card is not None:
            refused.append(Refused(rule.key, *card))
        else:
            because.append(Because(rule.key, _granted(known, rule, person, door, when)))
    if card is not None and not any(item.code == card[0] for item in refused):
        refused.append(Refused(None, *card))
    told = telling or Telling(known)
    standing = told.standing(door.panel) if door.panel is not None else None
    now = bool(because) and standing is not None and standing.is_sent
    return Answer(bool(because), now, tuple(because), tuple(refused), standing)


def _card_code(person: Person) -> tuple[str, str] | None:
    if any(not card.lost for card in person.cards):
        return None
    if person.cards:
        return "card-lost", f"every card of {person.label} is lost"
    return "no-card", f"{person.label} has no card"


def _refused(known: AccessIndex, rule: Rule, person: Person, door: Door, when: datetime) -> tuple[str, str] | None:
    """Return the first thing by which a rule does not grant, None where it does but for the card."""
    if not known.ties_person(rule, person):
        return "group", f"{person.label} is not among {listed(list(rule.people))}"
    if not known.ties_door(rule, door):
        return "door", f"{door.label} is not among {listed(list(rule.doors))}"
    day = when.date()
    if person.valid_from is not None and day < person.valid_from:
        return "not-yet", f"{person.label} may come from {person.valid_from} on"
    if person.valid_to is not None and day > person.valid_to:
        return "over", f"{person.label} might come until {person.valid_to}"
    if rule.frame is None:
        return None
    frame, kind = known.frames.get(rule.frame), known.day_of(day)
    spans = spans_on(frame, kind) if frame is not None else None
    if frame is None or not spans:
        name = frame.label if frame is not None else rule.frame
        return "day", f"{name} holds nothing on {DAY_WORDS[kind]}"
    if not holds_at(spans, when.hour * 60 + when.minute):
        times = listed([f"{begin} to {end}" for begin, end in spans])
        return "time", f"{frame.label} holds on {DAY_WORDS[kind]} from {times}"
    return None


def _granted(known: AccessIndex, rule: Rule, person: Person, door: Door, when: datetime) -> str:
    who = next((key for key in rule.people if key in person.groups), None)
    whose = f"{person.label} is one of {who}" if who is not None else f"{person.label} by name"
    where = next((key for key in rule.doors if key in door.groups), None)
    which = f"{door.label} one of {where}" if where is not None else door.label
    if rule.frame is None:
        return f"{whose}, {which}, at any time"
    frame, kind = known.frames[rule.frame], known.day_of(when.date())
    spans = spans_on(frame, kind) or ()
    minute = when.hour * 60 + when.minute
    begin, end = next(span for span in spans if holds_at((span,), minute))
    return f"{whose}, {which}, {frame.label} on {DAY_WORDS[kind]} from {begin} to {end}"
