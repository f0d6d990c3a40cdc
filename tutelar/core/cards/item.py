"""An item of a job card, as data: its words, when it applies, where in the work it appears, what its tick has to show.

A firm's own items come as an open file of the same form and stand in the place of shipped ones with their key.
"""

import json
from collections.abc import Iterable
from functools import cache
from graphlib import CycleError, TopologicalSorter
from importlib.resources import files
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from tutelar.core.cards.facts import known_words
from tutelar.core.site.base import Count, Line, Name, Part, Slug, Text
from tutelar.core.site.reading import sentences
from tutelar.core.wording import listed

FORMAT = "tutelar-cards"
Phase = Literal[
    "before-leaving",
    "unpacking",
    "mounting",
    "wiring",
    "first-login",
    "after-set-up",
    "remote",
    "leaving",
    "yearly",
]
PHASES: dict[Phase, str] = {
    "before-leaving": "Before leaving",
    "unpacking": "Unpacking",
    "mounting": "Mounting",
    "wiring": "Wiring",
    "first-login": "First login",
    "after-set-up": "After set-up",
    "remote": "Remote access",
    "leaving": "Before leaving the site",
    "yearly": "Every year",
}
WHO: dict[str, str] = {
    "anyone": "anyone",
    "lead": "the lead",
    "licensed": "a licensed person",
    "customer": "the customer",
}
Judge = Literal["rating", "region", "packet", "signal", "count"]


class Option(Part):
    """A school: what some do, and why."""

    word: Name
    why: Text = ""


class Evidence(Part):
    """What a tick has to show: nothing more; a value with its unit, within limits where they are given; so many of so
    many; a photograph of the log; the name of who did or saw it; or the school that was chosen."""

    kind: Literal["tick", "value", "count", "photograph", "name", "choice"] = "tick"
    asks: Line | None = None
    unit: Line | None = None
    least: float | None = None
    most: float | None = None
    text: bool = False  # the value is a word, not a number
    options: tuple[Option, ...] = ()  # the usual one first


class Item(Part):
    """An item: `when` are words that all have to hold ("a|b": one of them, "!a": not); `after` the items that come
    before it; `lists` what is listed below it of the site's own facts."""

    key: Slug
    of: Literal["site", "device"] = "device"
    phase: Phase
    text: Annotated[Text, Field(min_length=1)]
    reason: Text
    when: tuple[Line, ...] = ()
    who: Literal["anyone", "lead", "licensed", "customer"] = "anyone"
    evidence: Evidence = Evidence()
    caution: Text | None = None
    after: tuple[Slug, ...] = ()
    judge: Judge | None = None
    lists: Literal["apps", "signs", "firmware", "licences", "packet", "questions", "codes", "disks"] | None = None

    def applies(self, facts: frozenset[str]) -> bool:
        """Return whether its words hold for these facts."""
        return holds_for(self.when, facts)


def holds_for(when: Iterable[str], facts: frozenset[str]) -> bool:
    """Return whether all words hold for these facts; "a|b" is one of them, "!a" not."""
    return all(any(_holds(word, facts) for word in words.split("|")) for words in when)


def _holds(word: str, facts: frozenset[str]) -> bool:
    return word[1:] not in facts if word.startswith("!") else word in facts


class CardFile(Part):
    """A firm's own items, and the keys of shipped ones that it does not use."""

    format: Literal["tutelar-cards"] = "tutelar-cards"
    version: Annotated[int, Field(ge=1, le=1)] = 1
    items: Annotated[tuple[Item, ...], Field(max_length=500)] = ()
    off: tuple[Slug, ...] = ()
    edition: Count = 0


class UnreadableCards(ValueError):
    """A file of cards cannot be used. `faults` is a list of (path, sentence)."""

    def __init__(self, faults: list[tuple[str, str]]) -> None:
        self.faults = faults
        super().__init__(faults[0][1])


def read_cards(raw: Any) -> CardFile:
    """Return the firm's file that `raw` (JSON that was read) describes. Raises UnreadableCards."""
    try:
        found = CardFile.model_validate_json(json.dumps(raw))
    except ValidationError as error:
        raise UnreadableCards(sentences(error.errors(include_url=False))) from None
    faults = list(_faults(found))
    if faults:
        raise UnreadableCards(faults)
    return found


def _faults(file: CardFile) -> Iterable[tuple[str, str]]:
    shipped = {item.key for item in shipped_items()}
    mine = [item.key for item in file.items]
    for at, item in enumerate(file.items):
        if mine.index(item.key) != at:
            yield f"items[{at}].key", f"Two items have the key '{item.key}'; each needs its own."
        for word in (one.removeprefix("!") for words in item.when for one in words.split("|")):
            if word not in known_words():
                near = [known for known in known_words() if word[:4] and known.startswith(word[:4])]
                like = f"; there is {listed(near[:3])}" if near else "; the words stand in docs/cards.md"
                yield f"items[{at}].when", f"'{word}' of the item '{item.key}' is no word for when it applies{like}."
        for other in item.after:
            if other not in shipped and other not in mine:
                yield f"items[{at}].after", f"The item '{item.key}' waits for '{other}', which is not there."
        if item.evidence.kind == "choice" and len(item.evidence.options) < 2:
            yield f"items[{at}].evidence", f"The item '{item.key}' has nothing to choose between; give two options."
        low, high = item.evidence.least, item.evidence.most
        if low is not None and high is not None and low > high:
            yield f"items[{at}].evidence", f"The item '{item.key}' wants at least {low:g} and at most {high:g}."
    for key in file.off:
        if key not in shipped:
            yield "off", f"'{key}' is no shipped item; only those can be switched off."
    if circle := faulty_circle(items_of(file)):
        yield "items", f"The items {listed(sorted(circle))} wait for each other in a circle."


def faulty_circle(items: Iterable[Item]) -> set[str]:
    """Return the keys of items that wait for each other in a circle."""
    try:
        TopologicalSorter({item.key: item.after for item in items}).prepare()
    except CycleError as error:
        return set(error.args[1])
    return set()


@cache
def shipped_items() -> tuple[Item, ...]:
    """Return the shipped items, in the order of the work."""
    folder = files("tutelar.core.cards") / "shipped"
    found: list[Item] = []
    for phase in PHASES:
        rows = json.loads((folder / f"{phase}.json").read_text("utf-8"))
        found += [Item.model_validate_json(json.dumps({"phase": phase, **row})) for row in rows]
    return tuple(found)


def items_of(own: CardFile | None = None) -> tuple[Item, ...]:
    """Return the items that count: the shipped ones that are not switched off, with a firm's own in the place of theirs
    or after them."""
    if own is None:
        return shipped_items()
    mine = {item.key: item for item in own.items}
    off = set(own.off)
    found = [mine.pop(item.key, item) for item in shipped_items() if item.key not in off or item.key in mine]
    order = list(PHASES)
    return tuple(sorted([*found, *mine.values()], key=lambda item: order.index(item.phase)))
