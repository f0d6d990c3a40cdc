"""The API of sites. Each view calls one function of queries, sheets or services."""

import json
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Status

from tutelar.core.addressing import plan
from tutelar.core.run.tell import Word
from tutelar.server.sites import exports, queries, services, sheets
from tutelar.server.sites.schemas.base import Conflict, Refusal, Revised
from tutelar.server.sites.schemas.bench import BenchSheet, PhoneWays, Rehearsal, RunChange, RunStart, StepChange
from tutelar.server.sites.schemas.survey import Answer, Answers, NewNetwork, Preview, Survey, SurveyChange
from tutelar.server.sites.schemas.whole import EventRow, Frame, Imported, SiteRow

router = Router(tags=["sites"])
REFUSED = {404: Refusal, 422: Refusal}
BYTES = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}}
Hand = Annotated[int, Query(ge=1, le=20)]
WRITE = REFUSED | {409: Conflict | Refusal}


def who(request: HttpRequest) -> str:
    return request.user.get_username()


@router.get("", response=list[SiteRow], operation_id="list_sites")
def list_sites(request: HttpRequest) -> Any:
    return sheets.sites()


@router.post(
    "",
    response={201: Imported, 409: Refusal, 422: Refusal},
    operation_id="import_site",
    openapi_extra={"requestBody": {"required": True, "content": {"application/json": {"schema": {"type": "object"}}}}},
)
def import_site(request: HttpRequest, key: str | None = None) -> Any:
    row = services.import_site(request.body, who(request), key)
    return Status(201, row)


@router.get("/{key}", response={200: Frame, 404: Refusal}, operation_id="frame")
def frame(request: HttpRequest, key: str) -> Any:
    return sheets.frame(queries.site_row(key))


@router.get("/{key}/file", response={200: dict[str, Any], 404: Refusal}, operation_id="site_file")
def site_file(request: HttpRequest, key: str) -> HttpResponse:
    text = json.dumps(queries.export(queries.site_row(key)), ensure_ascii=False, indent=1) + "\n"
    return download(text, "application/json", f"{key}.json")


@router.get("/{key}/schedule.csv", response={200: str, 404: Refusal}, operation_id="schedule")
def schedule(request: HttpRequest, key: str) -> HttpResponse:
    return download(exports.schedule_csv(queries.site_row(key)), "text/csv; charset=utf-8", f"{key}-addresses.csv")


@router.get("/{key}/reservations/{server}", response={200: str, **REFUSED}, operation_id="reservations")
def reservations(request: HttpRequest, key: str, server: str) -> HttpResponse:
    text, ending = exports.reservation_file(queries.site_row(key), server)
    return download(text, "text/plain; charset=utf-8", f"{key}-{server}.{ending}")


@router.get("/{key}/request/{name}", response={200: str, **REFUSED}, operation_id="request_file")
def request_file(request: HttpRequest, key: str, name: str) -> HttpResponse:
    content, kind = exports.request_file(queries.site_row(key), name)
    return download(content, kind, f"{key}-{name}")


def download(text: str | bytes, kind: str, name: str) -> HttpResponse:
    disposition = {"Content-Disposition": f'attachment; filename="{name}"'}
    return HttpResponse(text, content_type=kind, headers=disposition)


@router.get("/{key}/survey", response={200: Survey, 404: Refusal}, operation_id="survey")
def survey(request: HttpRequest, key: str) -> Any:
    return sheets.survey(queries.site_row(key))


@router.patch("/{key}/survey", response={200: Revised, **WRITE}, operation_id="change_survey")
def change_survey(request: HttpRequest, key: str, change: SurveyChange) -> Any:
    changes = change.model_dump(exclude_unset=True, exclude={"revision"})
    return services.change_survey(key, who(request), change.revision, changes)


@router.post("/{key}/survey/{question}/preview", response={200: Preview, **REFUSED}, operation_id="preview_answers")
def preview_answers(request: HttpRequest, key: str, question: str, answers: Answers) -> Any:
    row = queries.site_row(key)
    site = services.with_answers(queries.document(row), queries.export(row), question, answers.typed, answers.none)
    return {"follows": sheets.follow_rows(site, plan(site))}


@router.post("/{key}/survey/{question}", response={200: Revised, **WRITE}, operation_id="answer_question")
def answer_question(request: HttpRequest, key: str, question: str, answer: Answer) -> Any:
    return services.answer_question(key, who(request), question, **answer.model_dump())


@router.post("/{key}/networks", response={201: Revised, **WRITE}, operation_id="add_network")
def add_network(request: HttpRequest, key: str, network: NewNetwork) -> Any:
    return Status(201, services.add_network(key, who(request), **network.model_dump()))


@router.get("/{key}/bench", response={200: BenchSheet, **REFUSED}, operation_id="bench")
def bench(request: HttpRequest, key: str, hand: Hand = 1, hands: Hand = 1, searched: bool = False) -> Any:
    return sheets.bench(queries.site_row(key), hand, hands, searched=searched)


@router.get("/{key}/rehearsal", response={200: Rehearsal, **REFUSED}, operation_id="rehearsal")
def rehearsal(request: HttpRequest, key: str, hands: Hand = 1) -> Any:
    return sheets.rehearsal(queries.site_row(key), hands)


@router.post("/{key}/run", response={201: Revised, **WRITE}, operation_id="start_run")
def start_run(request: HttpRequest, key: str, start: RunStart) -> Any:
    return Status(201, services.start_run(key, who(request), start.hands))


@router.patch("/{key}/run", response={200: Revised, **WRITE}, operation_id="change_run")
def change_run(request: HttpRequest, key: str, change: RunChange) -> Any:
    return services.change_run(key, who(request), **change.model_dump())


@router.get("/{key}/phone", response={200: PhoneWays, **REFUSED}, operation_id="phone")
def phone(request: HttpRequest, key: str, hand: Hand = 1) -> Any:
    return sheets.phone_ways(queries.site_row(key), hand, request.get_port())


@router.post("/{key}/bench/{step}", response={200: Revised, **WRITE}, operation_id="record_step")
def record_step(request: HttpRequest, key: str, step: str, change: StepChange) -> Any:
    word = Word(**change.model_dump(exclude={"revision"}) | {"reason": change.reason.strip()})
    return services.record_step(key, step, who(request), change.revision, word)


@router.get("/{key}/events", response={200: list[EventRow], 404: Refusal}, operation_id="events")
def events(request: HttpRequest, key: str, search: str = "") -> Any:
    return sheets.events(queries.site_row(key), search)
