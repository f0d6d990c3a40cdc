"""The API of lessons."""

from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Path, Router, Status

from tutelar.server.http import REFUSED, WRITE, who
from tutelar.server.lessons import schemas as shapes
from tutelar.server.lessons import services, views
from tutelar.server.rights import SEE, WORK
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup

router = Router(tags=["lessons"])
Number = Annotated[int, Path(ge=1, le=1_000_000)]


@router.get("/{key}/lessons", response={200: list[shapes.LessonRow], 404: ApiError}, auth=SEE, operation_id="lessons")
def lessons(request: HttpRequest, key: str) -> Any:
    """Return the lessons of a site, the newest first."""
    return views.lessons(lookup.site_row(key))


@router.post("/{key}/lessons", response={201: shapes.LessonSheet, **WRITE}, auth=WORK, operation_id="begin_lesson")
def begin_lesson(request: HttpRequest, key: str, body: shapes.NewLesson) -> Any:
    """Begin a lesson, made of the values of this site."""
    lesson = services.begin(key, who(request), body.kind)
    return Status(201, views.lesson_sheet(lookup.site_row(key), lesson))


@router.get("/{key}/lessons/{number}", response={200: shapes.LessonSheet, **REFUSED}, auth=SEE, operation_id="lesson")
def lesson(request: HttpRequest, key: str, number: Number) -> Any:
    """Return a lesson; what is right stands in it once it was answered."""
    row = lookup.site_row(key)
    return views.lesson_sheet(row, services.lesson_of(row, number))


@router.put(
    "/{key}/lessons/{number}", response={200: shapes.LessonSheet, **WRITE}, auth=WORK, operation_id="answer_lesson"
)
def answer_lesson(request: HttpRequest, key: str, number: Number, body: shapes.LessonAnswers) -> Any:
    """Answer a lesson, once."""
    found = services.answer(key, number, who(request), body.chosen, body.marked)
    return views.lesson_sheet(lookup.site_row(key), found)
