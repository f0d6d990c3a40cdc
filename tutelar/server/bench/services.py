"""The run at the bench: started, rested, and what becomes of its steps. After each word the rest is planned anew."""

from collections.abc import Mapping
from dataclasses import asdict, replace
from typing import Any

from django.db import transaction
from django.utils import timezone

from tutelar.core.run import Run
from tutelar.core.run.live import RunState, StepOutcome, as_it_stands, planned_again, with_started_steps
from tutelar.core.run.order import usual_effort
from tutelar.core.run.summary import spoken_time
from tutelar.core.run.transitions import ReportRejected, StepReport, apply_report, rested, step_named, with_technicians
from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.bench import queries
from tutelar.server.store import bench_steps, lookup
from tutelar.server.store.writes import Stale, WriteRejected, bump, checked, log, site_at_revision, site_for_update

_RULES = {
    "ports": "free ports",
    "leases": "leases from the bench's router",
    "several_addresses": "several addresses on the laptop",
    "update_firmware": "firmware is updated",
    "connect_s": "seconds to plug in",
    "adapter_s": "seconds to change the adapter",
    "confirm_s": "seconds to confirm",
}


def start_run(key: str, actor: Actor, technicians: int = 1) -> models.BenchRun:
    """Start the run of a site for so many technicians, at once; the worker betters its order meanwhile.

    Raises WriteRejected where it runs already, or nothing is to do.
    """
    row = lookup.site_row(key)
    if not row.device_set.exists():
        raise WriteRejected("There is no device in the kit yet, so there is nothing to do at the bench.")
    planned = queries.bench_first(row, technicians)
    with transaction.atomic():
        row = site_for_update(key)
        if queries.bench_row(row) is not None:
            raise WriteRejected("The run was started already; go on with it.", status=409)
        return _started(row, actor, planned)


def change_rules(key: str, actor: Actor, revision: int, part: dict[str, Any]) -> models.Site:
    """Change what stands at the bench, before a run is started. Raises WriteRejected while one is under way, Stale."""
    with transaction.atomic():
        row = site_at_revision(key, revision)
        if queries.bench_row(row) is not None:
            raise WriteRejected(
                "The run is under way; what stands at the bench is chosen before it starts.", status=409
            )
        before = row.policy.get("bench") or {}
        after = {**before, **part}
        row.policy = {**row.policy, "bench": after}
        row.save()
        checked(row)
        bump(row)
        said = ", ".join(f"{_RULES[name]} {_plain(value)}" for name, value in part.items())
        log(row, actor, "bench.rules", row.key, f"At the bench: {said}.", before, after)
    return row


def _plain(value: float | bool) -> str:
    return ("yes" if value else "no") if isinstance(value, bool) else f"{value:g}"


def better_order(pk: int, effort: int | None) -> bool:
    """Put what has not begun of a run into the best order found with this effort (None: the usual one); return whether
    it is another one. Words that are said meanwhile go first: then it is searched again."""
    for _ in range(BETTER_TRIES):
        started = models.BenchRun.objects.select_related("site").get(pk=pk)
        bench = _Bench(started.site, started, Actor(started.by, origin="worker"))
        site, now, live = bench.site, bench.now, bench.live
        found = planned_again(site, live, now, effort or usual_effort(len(site.devices), started.technicians))
        before, after = (as_it_stands(site, item, now).total_s for item in (live, found))
        if after >= before:
            return False
        with transaction.atomic():
            row = site_for_update(started.site.key)
            if not models.BenchRun.objects.filter(pk=pk, revision=started.revision).exists():
                continue
            if not bench.known.facts:
                started.planned_s = min(started.planned_s, after)
            bench.write(live)  # what somebody looks at by now stays in hand
            bench.store(found.order)
            said = f"A shorter order was found: {spoken_time(after)} instead of {spoken_time(before)}."
            log(row, bench.actor, "run.better", row.key, said)
            return True
    return False


BETTER_TRIES = 3


def _started(row: models.Site, actor: Actor, planned: Run) -> models.BenchRun:
    now = timezone.now()
    models.StepRecord.objects.filter(site=row).delete()
    said = f"The run at the bench was started for {count(planned.technicians, 'technician')}, planned at "
    log(row, actor, "run.start", row.key, f"{said}{spoken_time(planned.total_s)}.")
    return models.BenchRun.objects.create(
        site=row,
        technicians=planned.technicians,
        started_at=now,
        said_at=now,
        order=list(planned.order),
        by=actor.name,
        planned_technicians=planned.technicians,
        planned_s=planned.total_s,
        bound_s=planned.lower_bound_s,
        bound_why=planned.bound.why,
        one_by_one_s=planned.one_by_one_s,
    )


def change_run(key: str, actor: Actor, revision: int, change: str, technicians: int = 0) -> models.BenchRun:
    """Pause a run, resume it, or change how many technicians work on it. Raises Stale and Rejected."""
    with transaction.atomic():
        row = site_for_update(key)
        started = queries.bench_row(row)
        if started is None:
            raise WriteRejected("The run was not started yet.", status=409)
        if started.revision != revision:
            raise Stale("The run", {"change": change}, {"revision": started.revision}, started.revision)
        bench = _Bench(row, started, actor)
        live, now = bench.live, timezone.now()
        if change == "pause" and started.paused_at is None:
            started.paused_at = now
            log(row, actor, "run.pause", row.key, "The run rests; devices that work by themselves go on.")
        elif change == "resume" and started.paused_at is not None:
            rest = (now - started.paused_at).total_seconds()
            live, started.paused_at = rested(live, rest), None
            log(row, actor, "run.resume", row.key, f"The run goes on after {spoken_time(rest)} of rest.")
        elif change == "technicians":
            live, started.technicians = with_technicians(live, technicians, bench.now), technicians
            log(row, actor, "run.technicians", row.key, f"Technicians at the bench from now on: {technicians}.")
        bench.keep(live)
        return started


def record_step(key: str, step: str, actor: Actor, revision: int, word: StepReport) -> models.StepRecord:
    """Record a word about a step of the run, which is started by it where it was not.

    Raises Rejected for a step that the run does not have or that cannot be so, and for a missing reason; Stale where
    a second technician recorded the step meanwhile.
    """
    row = lookup.site_row(key)
    fresh = queries.bench_preview(row) if queries.bench_row(row) is None else None
    with transaction.atomic():
        row = site_for_update(key)
        started = queries.bench_row(row) or _started(row, actor, fresh or queries.bench_preview(row))
        bench = _Bench(row, started, actor)
        records = models.StepRecord.objects.filter(site=row, step=step)
        before = records.first() or models.StepRecord(revision=0, state="open")
        if before.state == word.state == "done" and step in bench_steps.finished(row):
            return before  # somebody else said so already
        try:
            stands = as_it_stands(bench.site, bench.live, bench.now)
            found = step_named(bench.site, bench.live, stands, step)
            if before.revision != revision and word.state != "back":  # a device that is aside shows no steps
                raise Stale(
                    f"The step '{found.title}'", {"state": word.state}, {"state": before.state}, before.revision
                )
            told = apply_report(bench.site, bench.live, stands, found, word, bench.now)
        except ReportRejected as error:
            status = 404 if error.missing else 409 if error.early else 422
            raise WriteRejected(error.message, [(error.at, error.message)] if error.at else [], status) from None
        bench.keep(told.live)
        became = {"state": before.state}, {"state": word.state}
        log(row, actor, f"step.{word.state}", found.device or found.id, told.sentence, *became)
        if told.took:
            model, kind, seconds = told.took
            models.StepDuration.objects.create(
                model_key=model, kind=kind, seconds=seconds, site_key=row.key, device_key=found.device or ""
            )
        return records.first() or models.StepRecord(revision=0)


class _Bench:
    """The run of a site, read with what every hand is at by now, and written back as it was told."""

    def __init__(self, row: models.Site, started: models.BenchRun, actor: Actor) -> None:
        self.row, self.started, self.actor = row, started, actor
        self.site, self.now = queries.bench_site(row), queries.bench_now(started)
        self.known = queries.live(started, self.site)
        self.live = with_started_steps(self.site, self.known, self.now)

    def keep(self, live: RunState) -> None:
        """Store what became of the run: every step that is told otherwise than it stands, and the order of the rest."""
        self.write(live)
        self.started.set_aside = dict(live.set_aside)
        self.started.said_at = timezone.now()
        self.store(planned_again(self.site, replace(live, since_s=self.now), self.now).order)

    def write(self, live: RunState) -> None:
        """Write every step that is told otherwise than it stands."""
        stood = {fact.step: fact for fact in queries.step_outcomes(self.started, self.site)}
        values = bench_steps.values_typed_now(self.row)
        told = {fact.step: fact for fact in live.facts}
        self._say_anew(stood, told)
        for step in stood.keys() | told.keys():
            if stood.get(step) != told.get(step):
                noticed = step not in stood and told[step].state == "doing"
                self._write(step, told.get(step), values, noticed=noticed)

    def _say_anew(self, stood: Mapping[str, StepOutcome], told: Mapping[str, StepOutcome]) -> None:
        """Log which devices are to be typed anew, once: from now on their steps are open."""
        for key, changed in self.live.anew.items():
            step = f"{key}:configure"
            if step in stood and step not in told:
                said = f"{self.site.label_of(key)} is to be typed again. {changed}"
                log(self.row, self.actor, "step.anew", key, said, {"state": "done"}, {"state": "open"})

    def store(self, order: tuple[str, ...]) -> None:
        """Store the order of the rest."""
        self.started.order = list(order)
        self.started.revision += 1
        self.started.save()

    def _write(
        self, step: str, fact: StepOutcome | None, values: Mapping[str, dict[str, str]], *, noticed: bool
    ) -> None:
        """Write what became of a step; None: it is open again. What was only noticed is no new word about it."""
        record = models.StepRecord.objects.filter(site=self.row, step=step).first()
        record = record or models.StepRecord(site=self.row, step=step)
        record.by, record.state, record.end_s = self.actor.name, "open", None
        if fact is not None:
            record.device_key, record.kind, record.hand = fact.device or "", fact.kind, fact.hand
            record.state, record.reason, record.why, record.port = fact.state, fact.reason, fact.why, fact.port
            record.start_s, record.end_s, record.more_s = fact.start_s, fact.end_s, fact.more_s
            record.adapter = asdict(fact.adapter) if fact.adapter else None
            if (fact.kind, fact.state) == ("configure", "done"):
                record.typed = values.get(fact.device or "")
        record.revision += not noticed
        record.save()
