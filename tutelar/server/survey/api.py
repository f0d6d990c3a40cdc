"""The API of the survey."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from tutelar.core.planning import plan
from tutelar.server.http import REFUSED, WRITE, who
from tutelar.server.rights import SEE, WORK
from tutelar.server.schemas import ApiError, Revised
from tutelar.server.store import documents, lookup
from tutelar.server.survey import schemas as shapes
from tutelar.server.survey import services, views
from tutelar.server.survey.schemas import Answer, Answers, NewNetwork, Preview, Survey, SurveyChange

router = Router(tags=["survey"])


@router.get("/{key}/survey", response={200: Survey, 404: ApiError}, auth=SEE, operation_id="survey")
def survey(request: HttpRequest, key: str) -> Any:
    """Return the questions of the survey with what is known of each answer."""
    return views.survey(lookup.site_row(key))


@router.patch("/{key}/survey", response={200: Revised, **WRITE}, auth=WORK, operation_id="change_survey")
def change_survey(request: HttpRequest, key: str, change: SurveyChange) -> Any:
    """Change whole parts that the survey holds, based on a revision."""
    changes = change.model_dump(exclude_unset=True, exclude={"revision"})
    return services.change_survey(key, who(request), change.revision, changes)


@router.post(
    "/{key}/survey/{question}/preview", response={200: Preview, **REFUSED}, auth=SEE, operation_id="preview_answers"
)
def preview_answers(request: HttpRequest, key: str, question: str, answers: Answers) -> Any:
    """Return what would follow from answers that are still being typed; nothing is stored."""
    row = lookup.site_row(key)
    site = services.with_answers(documents.document(row), documents.export(row), question, answers.typed, answers.none)
    return shapes.Preview(follows=views.follow_rows(site, plan(site)))


@router.post("/{key}/survey/{question}", response={200: Revised, **WRITE}, auth=WORK, operation_id="answer_question")
def answer_question(request: HttpRequest, key: str, question: str, answer: Answer) -> Any:
    """Keep the answers to one question, with who gave them."""
    return services.answer_question(key, who(request), question, **answer.model_dump())


@router.post("/{key}/networks", response={201: Revised, **WRITE}, auth=WORK, operation_id="add_network")
def add_network(request: HttpRequest, key: str, network: NewNetwork) -> Any:
    """Add a network with a key made of its name."""
    return Status(201, services.add_network(key, who(request), **network.model_dump()))
