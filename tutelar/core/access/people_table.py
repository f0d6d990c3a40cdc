"""People and their cards from a table: which column holds what, and what bringing it in would change."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from tutelar.core.access.cards import fits, formats_of
from tutelar.core.kit.columns import plain
from tutelar.core.site.access import W26, Access
from tutelar.core.site.values import free_key

FIELDS = {
    "name": "Name",
    "groups": "Groups",
    "valid_from": "From",
    "valid_to": "Until",
    "facility": "Facility code",
    "number": "Card number",
    "format": "Card format",
}
_WORDS = {
    "name": "name person fullname employee cardholder user vorname nachname mitarbeiter nom nombre naam",
    "groups": "group groups team department dept role gruppe abteilung groupe grupo afdeling",
    "valid_from": "from validfrom start begin gueltigab von depuis desde vanaf",
    "valid_to": "until validto to end expiry expires gueltigbis bis jusqua hasta tot",
    "facility": "facility facilitycode sitecode site anlage",
    "number": "number card cardnumber cardno badge badgenumber token karte kartennummer carte tarjeta kaart",
    "format": "format cardformat kartenformat",
}
_FIELD_OF = {word: field for field, words in _WORDS.items() for word in words.split()}
_DATES = ("%Y-%m-%d", "%d.%m.%Y", "%d/%m/%Y", "%d-%m-%Y")


@dataclass(frozen=True, slots=True)
class PersonRow:
    """One row of a table: its line, what it does ("new", "changed", "same", "wrong"), the key and the person afterwards
    as in the document, and what is wrong or changed in words."""

    line: int
    does: str
    key: str | None
    person: Mapping[str, Any] | None
    said: str


def match_people(header: Sequence[str]) -> list[str | None]:
    """Return the field of each column by its heading, None where it says nothing known; of two the first counts."""
    found: list[str | None] = []
    for cell in header:
        field = _FIELD_OF.get(plain(cell))
        found.append(field if field not in found else None)
    return found


def people_rows(
    access: Access, raw: Sequence[Mapping[str, Any]], rows: Sequence[Sequence[str]], date_order: str = "DMY"
) -> list[PersonRow]:
    """Return what each row after the heading would do. `raw` are the people as in the document; a person is known by
    name, and a card that is there already is not added again."""
    if not rows:
        return []
    fields = match_people(rows[0])
    if "name" not in fields:
        said = f"No column is headed {FIELDS['name']}; the first row has to name the columns"
        return [PersonRow(1, "wrong", None, None, said)]
    now = {str(part["key"]): dict(part) for part in raw}
    by_name = {_folded(part.get("name") or part["key"]): key for key, part in now.items()}
    found = []
    for line, cells in enumerate(rows[1:], 2):
        texts = {field: cells[at].strip() for at, field in enumerate(fields) if field and at < len(cells)}
        if not any(texts.values()):
            continue
        item = _row(access, line, texts, now, by_name, date_order)
        if item.person is not None and item.key is not None:
            now[item.key] = dict(item.person)
            by_name[_folded(item.person["name"])] = item.key
        found.append(item)
    return found


def _folded(text: str) -> str:
    return " ".join(text.split()).casefold()


def _row(
    access: Access,
    line: int,
    texts: Mapping[str, str],
    now: Mapping[str, Mapping[str, Any]],
    by_name: Mapping[str, str],
    date_order: str,
) -> PersonRow:
    name = texts.get("name", "")
    if not name:
        return PersonRow(line, "wrong", None, None, "The name is missing")
    key = by_name.get(_folded(name))
    before = now[key] if key is not None else None
    person: dict[str, Any] = (
        dict(before) if before is not None else {"key": free_key(name, now, "person"), "name": name}
    )
    try:
        _take(access, person, texts, date_order)
    except ValueError as error:
        return PersonRow(line, "wrong", None, None, str(error))
    if before is None:
        return PersonRow(line, "new", person["key"], person, f"{name} is new")
    if person == before:
        return PersonRow(line, "same", key, None, f"{name} is as it stands")
    changed = [word for field, word in _CHANGED.items() if person.get(field) != before.get(field)]
    return PersonRow(line, "changed", key, person, f"{name}: {' and '.join(changed)}")


_CHANGED = {
    "groups": "other groups",
    "valid_from": "another first day",
    "valid_to": "another last day",
    "cards": "a card",
}


def _take(access: Access, person: dict[str, Any], texts: Mapping[str, str], date_order: str) -> None:
    if texts.get("groups"):
        groups = [plain_key(part) for part in texts["groups"].replace(",", ";").split(";") if part.strip()]
        person["groups"] = list(dict.fromkeys([*person.get("groups", ()), *groups]))
    for field in ("valid_from", "valid_to"):
        if texts.get(field):
            person[field] = _date(texts[field], date_order).isoformat()
    if person.get("valid_from") and person.get("valid_to") and person["valid_to"] < person["valid_from"]:
        raise ValueError(f"Until {person['valid_to']} lies before from {person['valid_from']}")
    if not texts.get("number"):
        return
    formats = formats_of(access)
    form = texts.get("format") or W26
    if form not in formats:
        raise ValueError(f"'{form}' is no card format here; known are {', '.join(formats)}")
    card: dict[str, Any] = {"format": form, "number": _digits("Card number", texts["number"])}
    if texts.get("facility"):
        card["facility"] = _digits("Facility code", texts["facility"])
    refused = fits(formats[form], {name: card[name] for name in ("facility", "number") if name in card})
    if refused is not None:
        raise ValueError(str(refused))
    alike = ("format", "facility", "number")
    cards = list(person.get("cards", ()))
    if not any([item.get(name) for name in alike] == [card.get(name) for name in alike] for item in cards):
        person["cards"] = [*cards, card]


def _digits(what: str, text: str) -> int:
    if not text.isascii() or not text.isdigit() or len(text) > 77:
        raise ValueError(f"{what} '{text}' is no number; digits are expected")
    return int(text)


def _date(text: str, date_order: str) -> date:
    order = _DATES if date_order != "MDY" else ("%Y-%m-%d", "%m/%d/%Y", "%m-%d-%Y", "%d.%m.%Y")
    for form in order:
        try:
            return datetime.strptime(text.split(" ", maxsplit=1)[0].split("T", maxsplit=1)[0], form).date()  # noqa: DTZ007 - a day has no zone
        except ValueError:
            continue
    raise ValueError(f"'{text}' is no day; one like 2027-04-30 is expected")


def plain_key(words: str) -> str:
    """Return words as a key: "Night crew" becomes "night-crew"."""
    return free_key(words.strip(), (), "group")
