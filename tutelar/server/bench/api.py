"""The API of the bench."""

from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router, Status

from tutelar.core.run.transitions import StepReport
from tutelar.server.bench import services, starting, ticks, views
from tutelar.server.bench.schemas import (
    BenchRulesChange,
    BenchSheet,
    PhoneWays,
    Rehearsal,
    RunChange,
    RunStart,
    StepChange,
)
from tutelar.server.bench.search import SEARCHES
from tutelar.server.http import REFUSED, WRITE, page_of, who
from tutelar.server.rights import DECIDE, SEE, WORK
from tutelar.server.schemas import Revised
from tutelar.server.store import lookup
from tutelar.server.values.row_schemas import Tick

router = Router(tags=["bench"])


Hand = Annotated[int, Query(ge=1, le=20)]


@router.get("/{key}/bench", response={200: BenchSheet, **WRITE}, auth=SEE, operation_id="bench")
def bench(request: HttpRequest, key: str, hand: Hand = 1, technicians: Hand = 1, searched: bool = False) -> Any:
    """Return the run at the bench as one technician has it."""
    searched_by = who(request).name if searched else None
    return views.bench(lookup.site_row(key), hand, technicians, searched_by=searched_by)


@router.delete("/{key}/run/search", response={204: None, **REFUSED}, auth=SEE, operation_id="stop_search")
def stop_search(request: HttpRequest, key: str, technicians: Hand = 1) -> Any:
    """Stop looking for the best order of a run, where this person waits for it."""
    SEARCHES.stop(who(request).name, lookup.site_row(key).pk, technicians)
    return Status(204, None)


@router.patch("/{key}/bench/rules", response={200: Revised, **WRITE}, auth=DECIDE, operation_id="change_bench_rules")
def change_rules(request: HttpRequest, key: str, change: BenchRulesChange) -> Any:
    """Change what stands at the bench, before the run is started."""
    part = change.model_dump(exclude={"revision"}, exclude_none=True)
    return services.change_rules(key, who(request), change.revision, part)


@router.get("/{key}/rehearsal", response={200: Rehearsal, **WRITE}, auth=SEE, operation_id="rehearsal")
def rehearsal(request: HttpRequest, key: str, technicians: Hand = 1) -> Any:
    """Return where the run would fail, played on a pretend bench."""
    return views.rehearsal(lookup.site_row(key), technicians, who(request).name)


@router.post("/{key}/run", response={201: Revised, **WRITE}, auth=WORK, operation_id="start_run")
def start_run(request: HttpRequest, key: str, start: RunStart) -> Any:
    """Start the run."""
    return Status(201, starting.start_run(key, who(request), start.technicians))


@router.patch("/{key}/run", response={200: Revised, **WRITE}, auth=WORK, operation_id="change_run")
def change_run(request: HttpRequest, key: str, change: RunChange) -> Any:
    """Let the run rest or go on, or change the number of technicians."""
    return services.change_run(key, who(request), **change.model_dump())


@router.get("/{key}/phone", response={200: PhoneWays, **REFUSED}, auth=SEE, operation_id="phone")
def phone(request: HttpRequest, key: str, hand: Hand = 1) -> Any:
    """Return how a phone opens the bench."""
    return views.phone_ways(lookup.site_row(key), hand, request.get_port())


@router.post("/{key}/bench/{step}", response={200: Revised, **WRITE}, auth=WORK, operation_id="record_step")
def record_step(request: HttpRequest, key: str, step: str, change: StepChange) -> Any:
    """Keep what became of a step."""
    word = StepReport(**change.model_dump(exclude={"revision"}) | {"reason": change.reason.strip()})
    return services.record_step(key, step, who(request), change.revision, word)


@router.post("/{key}/typed", response={204: None, **WRITE}, auth=WORK, operation_id="tick")
def tick(request: HttpRequest, key: str, tick: Tick) -> Any:
    """Tick that a value was typed, or take that back."""
    ticks.tick(key, tick.subject, tick.line, tick.value, who(request), done=tick.done, page=page_of(request))
    return Status(204, None)
