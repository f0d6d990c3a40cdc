"""Beginning and answering a lesson."""

from dataclasses import asdict
from random import SystemRandom
from typing import Any

from django.db import transaction
from django.http import Http404
from django.utils import timezone

from tutelar.core.training import Found, SetUp, marked, questions, set_up
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected, log, site_for_update


def begin(key: str, actor: Actor, kind: str) -> models.Lesson:
    """Begin a lesson. Raises WriteRejected where the site has too little to ask for."""
    with transaction.atomic():
        row = site_for_update(key)
        site, planned, dice = documents.document(row), documents.planned(row), SystemRandom()
        year = timezone.localdate().year
        laid: dict[str, Any] = {}
        if kind == "questions":
            laid = {"lines": [asdict(item) for item in questions(site, planned, dice, year=year)]}
        elif (found := set_up(site, planned, dice, year)) is not None:
            laid = asdict(found)
        if not laid.get("lines"):
            raise WriteRejected("This site has too little to ask for yet; add devices with a network first.")
        last = models.Lesson.objects.filter(site=row).order_by("-number").values_list("number", flat=True).first()
        return models.Lesson.objects.create(site=row, number=(last or 0) + 1, kind=kind, laid=laid, by=actor.name)


def lesson_of(row: models.Site, number: int) -> models.Lesson:
    """Return a lesson of a site. Raises Http404."""
    found = models.Lesson.objects.filter(site=row, number=number).first()
    if found is None:
        raise Http404(f"The site has no lesson {number}.")
    return found


def answer(key: str, number: int, actor: Actor, chosen: list[int], marks: list[str]) -> models.Lesson:
    """Keep the answers of a lesson and score it. Raises WriteRejected where it was answered already, or an answer is to
    nothing that was asked."""
    with transaction.atomic():
        row = site_for_update(key)
        lesson = lesson_of(row, number)
        if lesson.done_at is not None:
            raise WriteRejected("This lesson was answered; begin another one.", status=409)
        lines = lesson.laid["lines"]
        if lesson.kind == "questions":
            if len(chosen) != len(lines) or any(not 0 <= at < 4 for at in chosen):
                raise WriteRejected(f"Answer all {len(lines)} questions.", [("chosen", str(len(chosen)))])
            right = sum(1 for at, line in zip(chosen, lines, strict=True) if at == line["right"])
            lesson.answers, lesson.score = chosen, {"right": right, "of": len(lines)}
        else:
            unknown = sorted(set(marks) - {line["key"] for line in lines})
            if unknown:
                raise WriteRejected(f"'{unknown[0]}' is no value of this set-up.", [("marked", unknown[0])])
            found = marked(laid_of(lesson), set(marks))
            right = max(0, len(found.found) - len(found.mistaken))
            lesson.answers, lesson.score = sorted(set(marks)), {"right": right, "of": len(found.found + found.missed)}
        lesson.done_at = timezone.now()
        lesson.save()
        word = "questions about settings" if lesson.kind == "questions" else "mistakes in a set-up"
        said = f"Lesson {number}, {word}: {lesson.score['right']} of {lesson.score['of']} right."
        log(row, actor, "lesson.done", row.key, said)
    return lesson


def laid_of(lesson: models.Lesson) -> SetUp:
    """Return the set-up of a lesson as the core knows it."""
    return SetUp(lesson.laid["device"], tuple(Found(**line) for line in lesson.laid["lines"]))
