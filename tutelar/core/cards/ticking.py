"""Whether an item may be ticked as somebody wants it, and what is written down with it."""

from dataclasses import dataclass
from math import isfinite
from typing import Any, Literal

from tutelar.core.access.digest import UNIT
from tutelar.core.cards.card import OF_ALL, PHOTO, VALUE, Row, judged
from tutelar.core.site.types import Device, Site

Said = Literal["done", "not-needed", "open"]


@dataclass(frozen=True, slots=True)
class Tick:
    """What somebody says of an item: how it stands, in words, with a value (of so many), and a photograph's name."""

    state: Said
    note: str = ""
    value: float | str | None = None
    of: float | None = None
    photo: str = ""


class NotTickable(ValueError):
    """A tick that cannot be taken; `field` is what is wrong with it."""

    def __init__(self, field: str, said: str) -> None:
        self.field = field
        super().__init__(said)


def shown_with(site: Site, device: Device | None, row: Row, tick: Tick) -> dict[str, Any]:
    """Return what is kept of a tick beside its state and note.

    Raises NotTickable where another item comes first, something that the item wants is missing, or what is there is
    judged to be wrong and nobody says why it stays.
    """
    item, evidence = row.item, row.item.evidence
    unit = {UNIT: device.unit} if device is not None and device.unit else {}
    if tick.state == "open":
        return unit if tick.note.strip() else {}
    if tick.state == "not-needed":
        if not tick.note.strip():
            raise NotTickable("note", "Say why it is not needed.")
        return unit
    if row.waits_for is not None:
        raise NotTickable("item", f"First: {row.waits_for}")
    found: dict[str, Any] = dict(unit)
    match evidence.kind:
        case "name" if not tick.note.strip():
            raise NotTickable("note", f"A name is wanted: {evidence.asks or 'who did it'}.")
        case "value" if evidence.text:
            found[VALUE] = _word(tick, evidence.asks)
        case "value":
            found[VALUE] = _number(tick.value, evidence.asks)
        case "count":
            found |= {VALUE: _number(tick.value, evidence.asks), OF_ALL: _number(tick.of, "of how many")}
        case "photograph":
            if not tick.photo:
                raise NotTickable("photo", "A photograph is wanted; take it first.")
            found[PHOTO] = tick.photo
        case "choice" if tick.value not in [option.word for option in evidence.options]:
            words = " or ".join(f"'{option.word}'" for option in evidence.options)
            said = f"'{tick.value}'" if tick.value else "Nothing"
            raise NotTickable("value", f"{said} is none of {words}.")
        case "choice":
            found[VALUE] = tick.value
    verdict = judged(site, device, item, found.get(VALUE), found.get(OF_ALL))
    if verdict is not None and not verdict.right and not tick.note.strip():
        raise NotTickable("note", f"{verdict.said} Put it right, or say why it stays so.")
    return found


def _number(value: object, asks: str | None) -> float:
    if isinstance(value, int | float) and not isinstance(value, bool) and isfinite(value):
        return value
    typed = f"'{value}' is no number" if value not in (None, "") else "A number is missing"
    raise NotTickable("value", f"{typed}: {asks or 'what was measured'}.")


def _word(tick: Tick, asks: str | None) -> str:
    said = str(tick.value or "").strip()
    if not said:
        raise NotTickable("value", f"Write down {asks or 'what was found'}.")
    return said
