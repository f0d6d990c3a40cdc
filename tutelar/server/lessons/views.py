"""Lessons as they are shown: what is right is kept back until they are answered."""

from typing import Any, cast

from tutelar.core.site.types import Site
from tutelar.server import models
from tutelar.server.lessons import schemas as shapes
from tutelar.server.store import documents

_TITLES = {"questions": "What does this do?", "mistakes": "Find the mistakes in this set-up"}
_MOST = 50


def lessons(row: models.Site) -> list[shapes.LessonRow]:
    """Return the newest lessons of a site."""
    return [
        shapes.LessonRow(
            number=item.number,
            kind=cast(shapes.LessonKind, item.kind),
            by=item.by,
            at=item.at,
            done=item.done_at is not None,
            right=item.score["right"] if item.score is not None else None,
            of=item.score["of"] if item.score is not None else len(item.laid["lines"]),
        )
        for item in models.Lesson.objects.filter(site=row)[:_MOST]
    ]


def lesson_sheet(row: models.Site, item: models.Lesson) -> shapes.LessonSheet:
    """Return a lesson."""
    site, done = documents.document(row), item.done_at is not None
    device = item.laid.get("device")
    lines = [
        _question(site, at, line, item) if item.kind == "questions" else _value(site, line, item)
        for at, line in enumerate(item.laid["lines"])
    ]
    wrong = sum(1 for line in item.laid["lines"] if item.kind == "mistakes" and line["value"] != line["right"])
    return shapes.LessonSheet(
        number=item.number,
        kind=cast(shapes.LessonKind, item.kind),
        title=_TITLES[item.kind],
        device=site.label_of(device) if device is not None else None,
        by=item.by,
        at=item.at,
        done=done,
        right=item.score["right"] if item.score is not None else None,
        of=wrong if item.kind == "mistakes" else len(lines),
        lines=lines,
    )


def _question(site: Site, at: int, line: dict[str, Any], item: models.Lesson) -> shapes.LessonLine:
    done, chosen = item.done_at is not None, item.answers[at] if item.answers is not None else None
    return shapes.LessonLine(
        key=str(at),
        device=site.label_of(line["device"]),
        label=line["label"],
        value=line["value"],
        options=list(line["options"]),
        chosen=chosen,
        marked=False,
        good=chosen == line["right"] if done else None,
        right=line["options"][line["right"]] if done else None,
        why=None,
    )


def _value(site: Site, line: dict[str, Any], item: models.Lesson) -> shapes.LessonLine:
    done, marked = item.done_at is not None, line["key"] in (item.answers or ())
    wrong = line["value"] != line["right"]
    return shapes.LessonLine(
        key=line["key"],
        device=site.label_of(item.laid["device"]),
        label=line["label"],
        value=line["value"],
        options=[],
        chosen=None,
        marked=marked,
        good=marked == wrong if done else None,
        right=line["right"] if done and wrong else None,
        why=line["why"] if done and wrong else None,
    )
