"""Writing doors, people, rules and frames; ticking what panels were sent; doors held open for set-up."""

import json
from collections.abc import Mapping, Sequence
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone
from pydantic import ValidationError

from tutelar.core.access.digest import UNIT
from tutelar.core.access.people_table import PersonRow, people_rows
from tutelar.core.doors.held import UNLOCKED
from tutelar.core.site.access import Access, CardFormat, Frame, Holiday, Person, Rule
from tutelar.core.site.alarm import Hub
from tutelar.core.site.base import Part
from tutelar.core.site.doors import Door
from tutelar.core.site.reading import sentences
from tutelar.core.site.writing import as_document
from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.doors import queries
from tutelar.server.store import documents
from tutelar.server.store.writes import Stale, WriteRejected, bump, checked, log, site_for_update

_KINDS: dict[str, tuple[str, type[Part], str]] = {  # where its list stands, its type, what people call it
    "people": ("access", Person, "person"),
    "rules": ("access", Rule, "rule"),
    "frames": ("access", Frame, "frame"),
    "holidays": ("access", Holiday, "holiday"),
    "formats": ("access", CardFormat, "card format"),
    "doors": ("", Door, "door"),
    "hubs": ("alarm", Hub, "alarm hub"),
}
_KEY = {"holidays": "date", "hubs": "hub"}


def change_item(
    key: str, actor: Actor, kind: str, item: str, was: Mapping[str, Any] | None, now: Mapping[str, Any] | None
) -> models.Site:
    """Put one item of a list in the place of what stood there, add it, or take it away. Raises WriteRejected, and Stale
    where something else stands there by now."""
    if kind not in _KINDS:
        raise WriteRejected(f"'{kind}' is nothing that is kept of doors; {', '.join(_KINDS)} are.", status=404)
    name = _KEY.get(kind, "key")
    part, shape, word = _KINDS[kind]
    if now is not None:
        now = _read(shape, {**now, name: item})
    with transaction.atomic():
        row = site_for_update(key)
        items = _items(row, part, kind)
        at = next((place for place, one in enumerate(items) if one[name] == item), None)
        before = items[at] if at is not None else None
        if (before or None) != (dict(was) if was else None):
            raise Stale(f"The {word} '{item}'", now, before, row.revision)
        if kind == "hubs" and now is not None:
            now = _read(shape, _signed(before or {}, now, actor))
        fresh = [one for place, one in enumerate(items) if place != at]
        if now is not None:
            fresh.insert(len(items) if at is None else at, now)
        _store(row, part, kind, fresh)
        row.save()
        checked(row)
        bump(row)
        _say(row, actor, kind, word, item, before, now)
    return row


def _signed(before: Mapping[str, Any], now: Mapping[str, Any], actor: Actor) -> dict[str, Any]:
    """Return a hub with the name and time of whoever says it at what is new: that the station was told, and tests.
    What the page says of these is not asked."""
    found, at = dict(now), timezone.now().isoformat(timespec="seconds")
    told = found.get("on_test")
    if told and told != before.get("on_test"):
        found["on_test"] = {**told, "from": at, "by": actor.name}
    known = before.get("tests") or []
    if "tests" in found:
        found["tests"] = [test if test in known else {**test, "by": actor.name, "at": at} for test in found["tests"]]
    return found


def _read(shape: type[Part], raw: Mapping[str, Any]) -> dict[str, Any]:
    try:
        found: dict[str, Any] = as_document(shape.model_validate_json(json.dumps(raw)))
    except ValidationError as error:
        faults = sentences(error.errors(include_url=False))
        raise WriteRejected(faults[0][1], faults) from None
    return found


def _items(row: models.Site, part: str, kind: str) -> list[dict[str, Any]]:
    return list(row.doors if not part else (row.extra.get(part) or {}).get(kind, []))


def _store(row: models.Site, part: str, kind: str, items: list[dict[str, Any]]) -> None:
    if not part:
        row.doors = items
    else:
        row.extra = {**row.extra, part: {**(row.extra.get(part) or {}), kind: items}}


def _say(
    row: models.Site,
    actor: Actor,
    kind: str,
    word: str,
    item: str,
    before: Mapping[str, Any] | None,
    now: Mapping[str, Any] | None,
) -> None:
    said = (now or before or {}).get("name") or item
    if before is None:
        sentence = f"{said} added ({word})."
    elif now is None:
        sentence = f"{said} removed ({word})."
    else:
        touched = [name for name in dict.fromkeys((*before, *now)) if before.get(name) != now.get(name)]
        words = [name.removeprefix("x-").replace("_", " ") for name in touched]
        sentence = f"{said} changed ({word}): {', '.join(words) or 'as it was'}."
    subject = item if kind in ("doors", "hubs", "people") else row.key
    log(row, actor, f"{kind}.changed", subject, sentence, before, now)


def tick_sent(key: str, actor: Actor, panel: str, digest: str) -> models.Site:
    """Write down that a panel was sent what it has to know. Raises WriteRejected where it has to know something else by
    now than what was shown."""
    with transaction.atomic():
        row = site_for_update(key)
        telling = queries.telling_of(row)
        panels = {door.panel for door in telling.known.doors.values()}
        if panel not in panels:
            raise WriteRejected(f"'{panel}' holds no door of the site.", [("panel", panel)])
        if telling.standing(panel).digest != digest:
            raise WriteRejected("The rules were changed since they were shown; look again, then send.", status=409)
        access = row.extra.get("access") or {}
        at = timezone.now().isoformat(timespec="seconds")
        others = [item for item in access.get("sent", []) if item["panel"] != panel]
        sent = {"panel": panel, "digest": digest, "at": at, "by": actor.name}
        if (unit := telling.standing(panel).unit) is not None:
            sent[UNIT] = unit
        row.extra = {**row.extra, "access": {**access, "sent": [*others, sent]}}
        row.save()
        checked(row)
        bump(row)
        name = documents.document(row).label_of(panel)
        log(row, actor, "access.sent", panel, f"{name} was sent its doors, people and rules.", None, sent)
    return row


def unlock(key: str, door: str, actor: Actor, minutes: int, guard: str) -> models.Site:
    """Write down that a door is held open for set-up, for how long, and who stands there."""
    with transaction.atomic():
        row, name = _door(key, door)
        now = timezone.now()
        held = {
            "since": now.isoformat(timespec="seconds"),
            "until": (now + timedelta(minutes=minutes)).isoformat(timespec="seconds"),
            "by": actor.name,
            "guard": guard.strip(),
        }
        row.extra = {**row.extra, UNLOCKED: {**row.extra.get(UNLOCKED, {}), door: held}}
        bump(row)
        said = f"{name} is held open for set-up for {count(minutes, 'minute')}; {guard.strip()} stands there."
        log(row, actor, "door.unlocked", door, said, None, held)
    return row


def lock(key: str, door: str, actor: Actor) -> models.Site:
    """Write down that a door is locked again. Raises WriteRejected where it was not held open."""
    with transaction.atomic():
        row, name = _door(key, door)
        held = dict(row.extra.get(UNLOCKED, {}))
        before = held.pop(door, None)
        if before is None:
            raise WriteRejected(f"{name} is not held open.", [("door", door)])
        rest = {part: value for part, value in row.extra.items() if part != UNLOCKED}
        row.extra = rest | ({UNLOCKED: held} if held else {})
        bump(row)
        log(row, actor, "door.locked", door, f"{name} is locked again.", before, None)
    return row


def _door(key: str, door: str) -> tuple[models.Site, str]:
    row = site_for_update(key)
    found = next((item for item in documents.document(row).doors if item.key == door), None)
    if found is None:
        raise WriteRejected(f"The site has no door '{door}'.", [("door", door)], status=404)
    return row, found.label


def preview_people(row: models.Site, table: Sequence[Sequence[str]]) -> list[PersonRow]:
    """Return what each row of a table of people would do; nothing is stored."""
    access = row.extra.get("access") or {}
    site = documents.document(row)
    return people_rows(site.access or Access(), access.get("people", []), table, site.about.date_order)


def bring_people(key: str, actor: Actor, table: Sequence[Sequence[str]]) -> models.Site:
    """Bring a table of people in, all or nothing: rows that are wrong are left out, as the preview said."""
    with transaction.atomic():
        row = site_for_update(key)
        found = preview_people(row, table)
        fresh = {item.key: dict(item.person) for item in found if item.person is not None and item.key is not None}
        if not fresh:
            raise WriteRejected("No row of the table would change anything.", [("table", "nothing")])
        access = row.extra.get("access") or {}
        people = [fresh.pop(part["key"], part) for part in access.get("people", [])]
        row.extra = {**row.extra, "access": {**access, "people": [*people, *fresh.values()]}}
        row.save()
        checked(row)
        bump(row)
        new = sum(item.does == "new" for item in found)
        changed = sum(item.does == "changed" for item in found)
        said = f"People brought in from a table: {count(new, 'new person', 'new people')}, {changed} changed."
        log(row, actor, "people.imported", row.key, said, None, {"new": new, "changed": changed})
    return row
