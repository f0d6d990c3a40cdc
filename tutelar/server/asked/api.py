"""The API of questions to others."""

from typing import Any

from django.http import HttpRequest
from ninja import Router

from tutelar.server.asked import schemas as shapes
from tutelar.server.asked import services, views
from tutelar.server.http import WRITE, who
from tutelar.server.rights import SEE, WORK
from tutelar.server.schemas import ApiError
from tutelar.server.store import lookup

router = Router(tags=["asked"])
SHEET = {200: shapes.AskedSheet, **WRITE}


@router.get("/{key}/asked", response={200: shapes.AskedSheet, 404: ApiError}, auth=SEE, operation_id="asked")
def asked(request: HttpRequest, key: str) -> Any:
    """Return what others were asked, and what is usually asked."""
    return views.asked_sheet(lookup.site_row(key))


@router.post("/{key}/asked", response=SHEET, auth=WORK, operation_id="ask_question")
def ask_question(request: HttpRequest, key: str, body: shapes.AskedWords) -> Any:
    """Write a question of one's own down."""
    return views.asked_sheet(services.keep(key, who(request), "", body.model_dump()))


@router.put("/{key}/asked/{question}", response=SHEET, auth=WORK, operation_id="keep_question")
def keep_question(request: HttpRequest, key: str, question: str, body: shapes.AskedWords) -> Any:
    """Write down how a question stands: asked, wanted by when, answered; a usual one is taken up by it."""
    return views.asked_sheet(services.keep(key, who(request), question, body.model_dump()))


@router.delete("/{key}/asked/{question}", response=SHEET, auth=WORK, operation_id="drop_question")
def drop_question(request: HttpRequest, key: str, question: str) -> Any:
    """Take a question away."""
    return views.asked_sheet(services.drop(key, who(request), question))
