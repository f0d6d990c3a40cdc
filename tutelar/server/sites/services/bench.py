"""The run at the bench: started, rested, and what becomes of its steps. After each word the rest is planned anew."""

from dataclasses import asdict, replace
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from tutelar.core.run import Run, Step, run
from tutelar.core.run.dispatch import Stuck
from tutelar.core.run.live import ALONE, TIMED, Live, begun, live_run, planned_again
from tutelar.core.run.steps import device_title
from tutelar.core.run.task import STAGES
from tutelar.core.site import Site
from tutelar.server.sites import models, queries
from tutelar.server.sites.services.base import Rejected, Stale, lock, log

CREDIBLE_S = 5  # a step by hand that was shorter was ticked off afterwards, so its time says nothing


def start_run(key: str, by: str, hands: int = 1) -> models.BenchRun:
    """Start the run of a site for so many technicians. Raises Rejected where it runs already, or nothing is to do."""
    row = queries.site_row(key)
    if not row.device_set.exists():
        raise Rejected("There is no device in the kit yet, so there is nothing to do at the bench.")
    planned = run(queries.bench_site(row), hands)  # takes seconds, so outside of the transaction
    with transaction.atomic():
        row = lock(key)
        if queries.bench_row(row) is not None:
            raise Rejected("The run was started already; go on with it.", status=409)
        return _started(row, by, planned)


def _started(row: models.Site, by: str, planned: Run) -> models.BenchRun:
    now = timezone.now()
    started = models.BenchRun.objects.create(
        site=row, hands=planned.hands, started_at=now, said_at=now, order=list(planned.order), by=by,
        planned_s=planned.total_s, bound_s=planned.lower_bound_s, bound_why=planned.bound.why,
        one_by_one_s=planned.one_by_one_s,
    )  # fmt: skip
    models.StepRecord.objects.filter(site=row).delete()
    who = "1 technician" if planned.hands == 1 else f"{planned.hands} technicians"
    log(row, by, "run.start", row.key, f"The run at the bench was started for {who}, planned at "
        f"{planned.total_s / 60:.0f} min.")  # fmt: skip
    return started


def change_run(key: str, by: str, revision: int, change: str, hands: int = 0) -> models.BenchRun:
    """Pause a run, resume it, or change how many technicians work on it. Raises Stale and Rejected."""
    with transaction.atomic():
        row = lock(key)
        started = queries.bench_row(row)
        if started is None:
            raise Rejected("The run was not started yet.", status=409)
        if started.revision != revision:
            raise Stale("The run", {"change": change}, {"revision": started.revision}, started.revision)
        now = timezone.now()
        bench = _Bench(row, started, by)
        if change == "pause" and started.paused_at is None:
            bench.freeze()
            started.paused_at = now
            log(row, by, "run.pause", row.key, "The run rests; devices that work by themselves go on.")
        elif change == "resume" and started.paused_at is not None:
            rested = now - started.paused_at
            _shift_what_is_in_hand(row, rested)
            started.paused_at = None
            log(row, by, "run.resume", row.key, f"The run goes on after {rested.total_seconds() / 60:.0f} min of rest.")
        elif change == "hands":
            bench.freeze()
            models.StepRecord.objects.filter(site=row, state="doing", hand__gt=hands).delete()
            started.hands = hands
            log(row, by, "run.hands", row.key, f"Technicians at the bench from now on: {hands}.")
        bench.plan_again()
        return started


def _shift_what_is_in_hand(row: models.Site, rested: timedelta) -> None:
    for record in models.StepRecord.objects.filter(site=row, state="doing", hand__isnull=False):
        record.start_s += rested.total_seconds()
        record.save(update_fields=["start_s"])


def record_step(
    key: str, step: str, by: str, revision: int, *, state: str, reason: str = "", after: str = "", seconds: float = 0,
    hand: int = 0,
) -> models.StepRecord:  # fmt: skip
    """Record what becomes of a step of the run, which is started by it where it was not.

    `state`: done; skipped (with a reason); failed (with a reason, `after` it retry, reset or aside); ready or longer
    (by `seconds`) for what a device does by itself; open takes the word back; back takes up what was set aside.
    Raises Rejected for a step that the run does not have or that cannot be yet, and for a missing reason; Stale where
    a second technician recorded the step meanwhile.
    """
    row = queries.site_row(key)
    fresh = queries.bench_preview(row) if queries.bench_row(row) is None else None
    with transaction.atomic():
        row = lock(key)
        started = queries.bench_row(row)
        if started is None:
            started = _started(row, by, fresh or queries.bench_preview(row))
        bench = _Bench(row, started, by)
        found = {item.id: item for item in bench.run.steps}.get(step)
        if state == "back" and found is None:
            found = bench.aside(step)
        if found is None:
            raise Rejected(f"The run of this site has no step '{step}'.", status=404)
        if state in ("skipped", "failed") and not reason.strip():
            raise Rejected("Say why the step is skipped.", [("reason", "A reason is needed.")])
        record = models.StepRecord.objects.filter(site=row, step=step).first()
        standing = record.revision if record else 0
        if standing != revision:
            now = {"state": record.state if record else "open"}
            raise Stale(f"The step '{found.title}'", {"state": state}, now, standing)
        bench.freeze()
        bench.say(found, state, reason.strip(), after, seconds, hand)
        bench.plan_again()
        return models.StepRecord.objects.filter(site=row, step=step).first() or models.StepRecord(revision=0)


class _Bench:
    """One word about the run: it is read once, changed, and planned again."""

    def __init__(self, row: models.Site, started: models.BenchRun, by: str) -> None:
        self.row, self.started, self.by = row, started, by
        self.site: Site = queries.bench_site(row)
        self.now = queries.bench_now(started)
        self.live: Live = queries.live(started, self.site)
        self.run: Run = live_run(self.site, self.live, self.now)

    def freeze(self) -> None:
        """Write down what every hand is at, so that no new plan moves it."""
        if self.started.paused_at is not None:
            return
        known = {fact.step for fact in self.live.facts}
        for fact in begun(self.site, self.live, self.now).facts:
            if fact.step not in known:
                self._write(fact.step, fact.device, fact.kind, "doing", fact.start_s, None, fact.hand, fact.port,
                            asdict(fact.adapter) if fact.adapter else None, bump=False, why=fact.why)  # fmt: skip

    def _write(
        self, step: str, device: str | None, kind: str, state: str, start: float, end: float | None,
        hand: int | None, port: int | None, adapter: Any, reason: str = "", *, bump: bool = True, more: float = 0,
        why: str = "",
    ) -> models.StepRecord:  # fmt: skip
        record, _ = models.StepRecord.objects.get_or_create(site=self.row, step=step, defaults={"by": self.by})
        record.by, record.state, record.reason = self.by, state, reason
        record.device_key, record.kind, record.hand = device or "", kind, hand
        record.start_s, record.end_s, record.port, record.adapter, record.more_s = start, end, port, adapter, more
        record.why = why or record.why
        record.revision += bump
        record.save()
        return record

    def say(self, step: Step, state: str, reason: str, after: str, seconds: float, hand: int) -> None:
        """Take in what somebody says of a step."""
        before = self._state_of(step)
        if state == "open":
            self._take_back(step)
        elif state == "back":
            self.started.aside.pop(step.device or "", None)
        elif state == "failed":
            self._failed(step, after, reason)
        elif not step.hands:
            self._alone(step, state, seconds)
        elif state in ("done", "skipped"):
            self._settle(step, state, reason, hand)
        else:
            raise Rejected(f"'{step.title}' is done by hand: it is done, skipped or failed.", [("state", state)])
        words = {
            "done": "done", "skipped": f"skipped: {reason}", "open": "opened again", "ready": "ready",
            "longer": f"takes {seconds:.0f} s longer", "back": "taken up again",
            "failed": f"failed: {reason} ({_AFTER.get(after, after)})",
        }  # fmt: skip
        sentence = f"{step.title}: {words[state]}."
        log(self.row, self.by, f"step.{state}", step.device or step.id, sentence, before, {"state": state})

    def _state_of(self, step: Step) -> dict[str, str]:
        record = models.StepRecord.objects.filter(site=self.row, step=step.id).first()
        return {"state": record.state if record else "open"}

    def _settle(self, step: Step, state: str, reason: str, hand: int) -> None:
        settled = {fact.step for fact in self.live.facts if fact.state in ("done", "skipped")}
        if step.id in settled and state == "done":
            return
        missing = next((need for need in self._hand_needs(step) if need not in settled), None)
        if missing is not None:
            title = next((item.title for item in self.run.steps if item.id == missing), missing)
            raise Rejected(f"'{step.title}' comes after '{title}', which is not done yet.", [("step", missing)], 409)
        record = models.StepRecord.objects.filter(site=self.row, step=step.id, state="doing").first()
        start = record.start_s if record else min(step.start_s, self.now)
        port, adapter = step.port, asdict(step.adapter) if step.adapter else None
        self._write(step.id, step.device, step.kind, state, start, self.now, hand or step.hand, port, adapter, reason)
        if state == "done":
            self._took(step, self.now - start)

    def aside(self, step: str) -> Step | None:
        """Return the first step of a device that was set aside before anything was done with it."""
        key = step.rsplit(":", 1)[0]
        device = self.site.device_by_key.get(key)
        if device is None or key not in self.started.aside:
            return None
        return Step(step, key, "connect", device_title("connect", device.label), 0, 0, True, None)

    def _hand_needs(self, step: Step) -> list[str]:
        """Return the steps by hand that come before a step, directly or with a wait between."""
        by_id = {item.id: item for item in self.run.steps}
        found = []
        for need in step.needs:
            before = by_id.get(need)
            if before is None or before.hands:
                found.append(need)
            else:
                found += self._hand_needs(before)
        return found

    def _took(self, step: Step, seconds: float) -> None:
        device = self.site.device_by_key.get(step.device or "")
        if device is not None and step.kind in TIMED and seconds >= CREDIBLE_S:
            models.Took.objects.create(
                model_key=device.model, kind=step.kind, seconds=seconds, site_key=self.row.key, device_key=device.key
            )

    def _alone(self, step: Step, state: str, seconds: float) -> None:
        """A device is ready before its time, or needs more of it."""
        record = models.StepRecord.objects.filter(site=self.row, step=step.id).first()
        more = (record.more_s if record else 0) + (seconds if state == "longer" else 0)
        if state == "longer" and step.end_s < self.now:
            more += self.now - step.end_s
        if state == "ready":
            self._write(
                step.id, step.device, step.kind, "done", step.start_s, self.now, None, step.port, None, more=more
            )
            self._took(step, self.now - step.start_s)
        elif state == "longer":
            self._write(step.id, step.device, step.kind, "doing", step.start_s, None, None, step.port, None, more=more)
        else:
            raise Rejected(f"'{step.title}' goes by itself: it is ready, or takes longer.", [("state", state)])

    def _failed(self, step: Step, after: str, reason: str) -> None:
        records = models.StepRecord.objects.filter(site=self.row)
        records.filter(step=step.id, state="doing").delete()
        if after == "aside" and step.device:
            self.started.aside[step.device] = reason
            records.filter(device_key=step.device, state="doing").delete()
        elif after == "reset" and step.device:
            records.filter(device_key=step.device).exclude(kind="connect").delete()
            records.filter(device_key=step.device, kind="connect").update(end_s=self.now)
        elif after != "retry" or not step.hands:
            raise Rejected("Say what comes next: retry, reset or aside.", [("after", after)])

    def _take_back(self, step: Step) -> None:
        """Open a step again, unless something was built on it."""
        if step.device and step.kind in STAGES:
            later = STAGES[STAGES.index(step.kind) + 1 :]
            records = models.StepRecord.objects.filter(site=self.row, device_key=step.device)
            if records.filter(kind__in=later, state__in=("done", "skipped")).exists():
                raise Rejected(f"'{step.title}' was built on already; take back the later step first.", status=409)
            records.filter(kind__in=[*later, ALONE[STAGES.index(step.kind)]]).delete()
        if step.kind == "connect":
            self.live = replace(self.live, order=(step.device or "", *self.live.order))
        models.StepRecord.objects.filter(site=self.row, state="doing", hand=step.hand).exclude(step=step.id).delete()
        record = models.StepRecord.objects.filter(site=self.row, step=step.id).first()
        if record:
            record.state, record.end_s, record.revision, record.by = "open", None, record.revision + 1, self.by
            record.save()

    def plan_again(self) -> None:
        """Plan what has not begun, and store its order; where nothing can go on, it stays and the page says so."""
        live = replace(queries.live(self.started, self.site), order=self.live.order, since_s=self.now)
        try:
            self.started.order = list(planned_again(self.site, live, self.now).order)
        except Stuck:
            self.started.order = list(live.order)
        self.started.revision += 1
        self.started.said_at = timezone.now()
        self.started.save()


_AFTER = {"retry": "once more", "reset": "factory reset", "aside": "set aside"}
