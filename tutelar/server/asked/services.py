"""Writing down what others were asked, and what they answered."""

from typing import Any

from django.db import transaction
from django.utils import timezone

from tutelar.core.site.closing import WHOM
from tutelar.core.site.values import free_key
from tutelar.core.survey.asked import suggested
from tutelar.core.wording import capital
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected, bump, checked, log, site_for_update


def _questions(row: models.Site) -> list[dict[str, Any]]:
    found = row.extra.get("asked")
    return found if isinstance(found, list) else []


def keep(key: str, actor: Actor, question: str, said: dict[str, Any]) -> models.Site:
    """Write a question down, or how it stands now; `question` is its key, "" for a new one.

    Raises WriteRejected for a key that is not there, and a day by which it is wanted before the day it was asked.
    """
    said = {name: value.strip() if isinstance(value, str) else value for name, value in said.items()}
    asked, due = said.get("asked"), said.get("due")
    if asked is not None and due is not None and due < asked:
        raise WriteRejected(f"Wanted by {due} is before it was asked, {asked}.", [("due", str(due))])
    if not said["question"]:
        raise WriteRejected("Say what is asked.", [("question", "empty")])
    today = timezone.localdate()
    with transaction.atomic():
        row = site_for_update(key)
        kept = _questions(row)
        usual = {item.key for item in suggested(documents.document(row))}
        before = next((one for one in kept if one["key"] == question), None)
        if question and before is None and question not in usual:
            raise WriteRejected(f"Nobody was asked '{question}' here.", [("question", question)], status=404)
        name = question or free_key(said["question"], {*usual, *(one["key"] for one in kept)}, "question")
        answer = said.get("answer") or None
        now = {part: value for part, value in (before or {}).items() if part.startswith("x-")}
        now |= {"key": name, "of": said["of"], "question": said["question"], "by": actor.name}
        now |= {part: said[part] for part in ("holds", "person") if said.get(part)}
        now |= {part: said[part].isoformat() for part in ("asked", "due") if said.get(part) is not None}
        if answer is not None:
            same = before is not None and before.get("answer") == answer
            since = before.get("answered") if same and before is not None else None
            now |= {"answer": answer, "answered": since or today.isoformat()}
        fresh = [now if one is before else one for one in kept]
        row.extra = {**row.extra, "asked": fresh if before is not None else [*kept, now]}
        checked(row)
        bump(row)
        sentence = f"{capital(WHOM[said['of']])}: {said['question']}"
        sentence += f" Answer: {answer}" if answer else " Asked." if asked and not (before or {}).get("asked") else ""
        log(row, actor, "question.kept", row.key, sentence, before, now)
    return row


def drop(key: str, actor: Actor, question: str) -> models.Site:
    """Take a question away. Raises WriteRejected where it is not there."""
    with transaction.atomic():
        row = site_for_update(key)
        before = next((one for one in _questions(row) if one["key"] == question), None)
        if before is None:
            raise WriteRejected(f"Nobody was asked '{question}' here.", [("question", question)], status=404)
        row.extra = {**row.extra, "asked": [one for one in _questions(row) if one is not before]}
        bump(row)
        log(row, actor, "question.dropped", row.key, f"No longer asked: {before['question']}", before, None)
    return row
