"""Writing what the survey holds: answers, networks."""

import json
import re
from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any

from django.db import transaction

from tutelar.core.clock import UnknownZone, zone_named
from tutelar.core.doors import as_told
from tutelar.core.site import Site, UnreadableSite, read_site
from tutelar.core.site.values import free_key
from tutelar.core.site.writing import as_document
from tutelar.core.survey import Question, Untypable, answered, questions
from tutelar.core.wording import count, sentence
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.store import documents, lookup
from tutelar.server.store.document import document_of
from tutelar.server.store.writes import Stale, WriteRejected, bump, checked, log, site_for_update


def with_answers(site: Site, document: dict[str, Any], key: str, typed: Mapping[str, str], none: list[str]) -> Site:
    """Return the site as it would be with these answers to a question. Raises Rejected for what cannot be read."""
    return _read(_answered(_question(site, key), document, typed, none))


def answer_question(
    key: str,
    actor: Actor,
    question_key: str,
    revision: int,
    typed: Mapping[str, str],
    none: list[str],
    was: Mapping[str, str],
    told_by: str | None,
) -> models.Site:
    """Keep the answers to one question. Raises Rejected, and Stale where its blanks were changed meanwhile."""
    with transaction.atomic():
        row = site_for_update(key)
        question = _question(documents.document(row), question_key)
        before = {blank.path: blank.value for blank in question.blanks}
        if row.revision != revision and any(before.get(path) != text for path, text in was.items()):
            raise Stale(f"The answer to “{question.words}”", dict(typed), before, row.revision)
        now = document_of(row, readings=False)
        fresh = _answered(question, now, typed, none)
        told = fresh["survey"].setdefault("told", {})
        told[question_key] = {"by": (told_by or "").strip() or None, "at": datetime.now(UTC).isoformat("T", "seconds")}
        blanks = _question(_read(fresh), question_key).blanks
        told[question_key]["said"] = {item.path: item.value for item in blanks if item.value or item.path in none}
        site = _read(fresh)
        if "site.time_zone" in typed and site.about.time_zone:
            _known_zone(site.about.time_zone)
        row.name = site.about.name
        row.about = {name: value for name, value in fresh["site"].items() if name not in ("key", "name")}
        row.internet, row.policy = fresh.get("internet"), fresh["policy"]
        names, before_ = ((part.get("escape_doors") or ()) for part in (fresh["survey"], row.survey))
        row.doors = [as_document(door) for door in as_told(site.doors, names, before_)]
        row.survey = fresh["survey"]
        row.save()
        _change_networks(row, fresh["networks"])
        checked(row)
        bump(row)
        after = {blank.path: blank.value for blank in _question(site, question_key).blanks}
        said = [
            f"{blank.label} {_said(before[blank.path])} → {'none' if blank.path in none else _said(after[blank.path])}"
            for blank in question.blanks
            if before[blank.path] != after[blank.path] or (blank.path in none and not blank.none)
        ]
        speaker = f", told by {told_by.strip()}" if told_by and told_by.strip() else ""
        sentence = f"{question.words} {'; '.join(said) or 'as it was'}{speaker}."
        log(row, actor, "survey.answered", question_key, sentence, before, after)
    return row


def _said(text: str) -> str:
    return text.replace("\n", ", ") or "unknown"


def _question(site: Site, key: str) -> Question:
    found = next((item for item in questions(site) if item.key == key), None)
    if found is None:
        raise WriteRejected(f"The survey has no question '{key}'.", status=404)
    return found


def _answered(
    question: Question, document: dict[str, Any], typed: Mapping[str, str], none: list[str]
) -> dict[str, Any]:
    kinds = {blank.path: blank.kind for blank in question.blanks}
    strange = next((path for path in (*typed, *none) if path not in kinds), None)
    if strange is not None:
        raise WriteRejected(f"The question '{question.key}' has no blank '{strange}'.", [(strange, "unknown")])
    try:
        return answered(document, kinds, typed, frozenset(none))
    except Untypable as error:
        raise WriteRejected(error.sentence, [(error.path, error.sentence)]) from None


def _known_zone(name: str) -> None:
    """Raise WriteRejected for a time zone that does not exist, with the nearest names."""
    try:
        zone_named(name)
    except UnknownZone as error:
        raise WriteRejected(sentence(error), [("site.time_zone", sentence(error))]) from None


def _read(document: dict[str, Any]) -> Site:
    try:
        return read_site(json.dumps(document))
    except UnreadableSite as error:
        faults = [(_blank_path(document, path), reason) for path, reason in error.faults]
        raise WriteRejected(faults[0][1], faults) from None


def _blank_path(document: dict[str, Any], path: str) -> str:
    """Return "networks[0].cidr" as the path of its blank, "networks.security.cidr"."""
    match = re.fullmatch(r"networks\[(\d+)\]\.(\w+).*", path)
    return f"networks.{document['networks'][int(match[1])]['key']}.{match[2]}" if match else path


def add_network(key: str, actor: Actor, revision: int, name: str, cidr: str) -> models.Site:
    """Add a network with a key made of its name. Raises Rejected, Stale."""
    document = document_of(lookup.site_row(key), readings=False)
    if not name.strip():
        raise WriteRejected("Give the network a name that people use.", [("name", "missing")])
    taken = {part["key"] for part in document["networks"]}
    networks = [
        *document["networks"],
        {"key": free_key(name, taken, "network"), "name": name.strip(), "cidr": cidr.strip()},
    ]
    _read({**document, "networks": networks})
    return change_survey(key, actor, revision, {"networks": networks})


def change_survey(key: str, actor: Actor, revision: int, changes: dict[str, Any]) -> models.Site:
    """Change what the survey holds: `site`, `internet`, `networks` and `policy` as in the document."""
    with transaction.atomic():
        row = site_for_update(key)
        now = {name: value for name, value in document_of(row, readings=False).items() if name in _SURVEY}
        before = {name: now.get(name) for name in changes}
        if row.revision != revision:
            raise Stale("The survey", changes, before, row.revision)
        if "site" in changes:
            about = {**changes["site"], "key": row.key}
            row.name = about.get("name", row.name)
            row.about = {name: value for name, value in about.items() if name not in ("key", "name")}
        row.internet = changes.get("internet", row.internet)
        row.policy = changes.get("policy", row.policy)
        row.save()
        if "networks" in changes:
            _change_networks(row, changes["networks"])
        checked(row)
        bump(row)
        log(row, actor, "survey.changed", key, f"Survey changed: {', '.join(changes)}.", before, changes)
    return row


_SURVEY = ("site", "internet", "networks", "policy")


def _change_networks(row: models.Site, networks: list[dict[str, Any]]) -> None:
    """Replace the networks by key; a network that devices still stand in cannot be removed."""
    keys = [part.get("key") for part in networks]
    for old in models.Network.objects.filter(site=row).exclude(key__in=keys):
        used = models.Device.objects.filter(network=old).count()
        if used:
            raise WriteRejected(
                f"{count(used, 'device stands', 'devices stand')} in the network '{old.key}'; move them first."
            )
        old.delete()
    for position, part in enumerate(networks):
        if not isinstance(part.get("key"), str) or not isinstance(part.get("cidr"), str):
            raise WriteRejected(
                "A network needs a key and a range like '10.62.8.0/24'.", [(f"networks[{position}]", "incomplete")]
            )
        extra = {name: value for name, value in part.items() if name not in ("key", "cidr")}
        models.Network.objects.update_or_create(
            site=row, key=part["key"], defaults={"position": position, "cidr": part["cidr"], "extra": extra}
        )
