"""Look-ups of who, where and when, worked out once for a site."""

from collections.abc import Iterable, Mapping
from datetime import date
from functools import cached_property

from tutelar.core.access.cards import numbers_of
from tutelar.core.site.access import Access, Frame, Person, Rule, Span
from tutelar.core.site.doors import Door
from tutelar.core.site.types import Site, first_by_key
from tutelar.core.site.weeks import WEEKDAYS, day_in, minutes_of

NO_ACCESS = Access()


def spans_on(frame: Frame, day: str) -> tuple[Span, ...] | None:
    """Return the spans of a frame on a day, None where the day leads nowhere."""
    return day_in(frame.week, day)


def holds_at(spans: Iterable[Span], minute: int) -> bool:
    """Return whether a moment in minutes since midnight lies in one of the spans: from inclusive, to exclusive."""
    return any(minutes_of(begin) <= minute < minutes_of(end) for begin, end in spans)


class AccessIndex:
    """Persons, doors, rules and frames of a site by key; of two with one key the first counts."""

    def __init__(self, site: Site) -> None:
        self.site = site
        self.access = site.access or NO_ACCESS
        self.people: dict[str, Person] = first_by_key(self.access.people)
        self.doors: dict[str, Door] = first_by_key(site.doors)
        self.frames: dict[str, Frame] = first_by_key(self.access.frames)
        self.holidays = {item.date for item in self.access.holidays}

    @cached_property
    def person_groups(self) -> dict[str, list[str]]:
        """The keys of the persons in each group."""
        return _grouped((person.key, person.groups) for person in self.people.values())

    @cached_property
    def door_groups(self) -> dict[str, list[str]]:
        """The keys of the doors in each group."""
        return _grouped((door.key, door.groups) for door in self.doors.values())

    @cached_property
    def rules_of_person(self) -> dict[str, list[int]]:
        """The places of the rules that name a person or a group, by that key."""
        return _grouped_places(rule.people for rule in self.access.rules)

    @cached_property
    def rules_of_door(self) -> dict[str, list[int]]:
        """The places of the rules that name a door or a group of doors, by that key."""
        return _grouped_places(rule.doors for rule in self.access.rules)

    def ties_person(self, rule: Rule, person: Person) -> bool:
        """Return whether a rule is about a person."""
        return any(key == person.key or key in person.groups for key in rule.people)

    def ties_door(self, rule: Rule, door: Door) -> bool:
        """Return whether a rule is about a door."""
        return any(key == door.key or key in door.groups for key in rule.doors)

    def people_of(self, rule: Rule) -> list[str]:
        """Return the keys of all whom a rule is about, each once."""
        found = dict[str, None]()
        for key in rule.people:
            if key in self.people:
                found[key] = None
            found.update(dict.fromkeys(self.person_groups.get(key, ())))
        return list(found)

    def doors_of(self, rule: Rule) -> list[str]:
        """Return the keys of all doors that a rule is about, each once."""
        found = dict[str, None]()
        for key in rule.doors:
            if key in self.doors:
                found[key] = None
            found.update(dict.fromkeys(self.door_groups.get(key, ())))
        return list(found)

    def holders_of(self, form: str, numbers: Mapping[str, int]) -> list[Person]:
        """Return who bears a card of a format with these numbers that is not lost."""
        wanted = dict(numbers)
        return [
            person
            for person in self.people.values()
            if any(card.format == form and not card.lost and numbers_of(card) == wanted for card in person.cards)
        ]

    def day_of(self, day: date) -> str:
        """Return what a date counts as: a weekday, or "holiday"."""
        return "holiday" if day in self.holidays else WEEKDAYS[day.weekday()]


def _grouped(pairs: Iterable[tuple[str, Iterable[str]]]) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for key, groups in pairs:
        for group in dict.fromkeys(groups):
            found.setdefault(group, []).append(key)
    return found


def _grouped_places(rows: Iterable[Iterable[str]]) -> dict[str, list[int]]:
    found: dict[str, list[int]] = {}
    for place, keys in enumerate(rows):
        for key in dict.fromkeys(keys):
            found.setdefault(key, []).append(place)
    return found
