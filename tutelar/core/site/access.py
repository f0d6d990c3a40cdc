"""Who may open what when: people and their cards, groups, weekly frames, rules, and what panels were sent."""

from datetime import date
from typing import Annotated

from pydantic import Discriminator, Field, Tag, field_validator

from tutelar.core.site.base import Line, Name, Part, Slug, Text
from tutelar.core.site.weeks import ANOTHER_DAY, PERIODS, TimeOfDay, wants_monday, which_said

W26 = "w26"  # known without being listed
CardNumber = Annotated[int, Field(ge=0, lt=2**256)]
Bits = Annotated[int, Field(ge=1, le=1024)]
Span = tuple[TimeOfDay, TimeOfDay]  # from inclusive, to exclusive; "24:00" is the end of a day

SaidOfFrame = Annotated[
    Annotated[tuple[Span, ...], Tag(PERIODS)] | Annotated[Text, Tag(ANOTHER_DAY)], Discriminator(which_said)
]


class Frame(Part):
    """A week of spans in which a rule holds. A day may name another day; one that is absent is as Monday, an absent
    holiday as Sunday."""

    key: Slug
    name: Name | None = None
    week: dict[Text, SaidOfFrame]

    @field_validator("week")
    @classmethod
    def _has_monday(cls, week: dict[str, tuple[Span, ...] | str]) -> dict[str, tuple[Span, ...] | str]:
        return wants_monday(week)

    @property
    def label(self) -> str:
        """The name people use, else the key."""
        return self.name or self.key


class Holiday(Part):
    """A day that counts as a holiday, whatever weekday it is."""

    date: date
    name: Name | None = None


class Card(Part):
    """A card or another credential by its numbers; a lost one opens nothing."""

    format: Slug
    facility: CardNumber | None = None
    number: CardNumber
    lost: bool = False


class Person(Part):
    """A person with groups, cards, and the days from which and to which they may come, both counting."""

    key: Slug
    name: Name | None = None
    groups: tuple[Slug, ...] = ()
    valid_from: date | None = None
    valid_to: date | None = None
    cards: tuple[Card, ...] = ()

    @property
    def label(self) -> str:
        """The name people use, else the key."""
        return self.name or self.key


class Rule(Part):
    """Who (groups or persons) may open which doors (groups or doors) in which frame; None: always."""

    key: Slug
    name: Name | None = None
    people: tuple[Slug, ...] = ()
    doors: tuple[Slug, ...] = ()
    frame: Slug | None = None

    @property
    def label(self) -> str:
        """The name people use, else the key."""
        return self.name or self.key


class CardField(Part):
    """Where a number stands in a format: its first bit, counted from 0 as sent, and how many bits it has."""

    name: Slug
    first: Annotated[int, Field(ge=0, le=1023)]
    bits: Bits


class Parity(Part):
    """A parity bit: even or odd over so many bits from `first` on, itself not counted."""

    bit: Annotated[int, Field(ge=0, le=1023)]
    even: bool
    first: Annotated[int, Field(ge=0, le=1023)]
    bits: Bits


class CardFormat(Part):
    """A format of card numbers; bit 0 is sent first."""

    key: Slug
    name: Name | None = None
    bits: Bits
    fields: tuple[CardField, ...] = ()
    parity: tuple[Parity, ...] = ()

    @field_validator("fields")
    @classmethod
    def _named_once(cls, fields: tuple[CardField, ...]) -> tuple[CardField, ...]:
        names = [item.name for item in fields]
        twice = next((name for name in names if names.count(name) > 1), None)
        if twice is not None:
            raise ValueError(f"The field '{twice}' stands there twice; each has a name of its own")
        return fields


class Sent(Part):
    """What a panel was sent: the digest of it, when, by whom."""

    panel: Slug
    digest: Text
    at: Text
    by: Line | None = None


class Access(Part):
    """Who may open what when."""

    frames: tuple[Frame, ...] = ()
    holidays: tuple[Holiday, ...] = ()
    people: tuple[Person, ...] = ()
    rules: tuple[Rule, ...] = ()
    formats: tuple[CardFormat, ...] = ()
    sent: tuple[Sent, ...] = ()
