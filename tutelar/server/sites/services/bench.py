"""Writing what became of bench steps."""

from django.db import transaction

from tutelar.server.sites import models, queries
from tutelar.server.sites.services.base import Rejected, Stale, lock, log


def record_step(
    key: str,
    step: str,
    by: str,
    revision: int,
    *,
    state: str,
    reason: str = "",
) -> models.StepRecord:
    """Record what became of a bench step: `state` open, done or skipped (with a reason).

    Raises Rejected for a step that the run does not have, or a skip without a reason; Stale where a second
    technician recorded the step meanwhile.
    """
    with transaction.atomic():
        row = lock(key)
        known = {item.id: item for item in queries.bench_run(row).steps}
        if step not in known:
            raise Rejected(f"The run of this site has no step '{step}'.", status=404)
        if state == "skipped" and not reason.strip():
            raise Rejected("Say why the step is skipped.", [("reason", "A reason is needed.")])
        record, _ = models.StepRecord.objects.get_or_create(site=row, step=step, defaults={"by": by})
        before = {"state": record.state}
        if record.revision != revision:
            raise Stale(f"The step '{known[step].title}'", {"state": state}, before, record.revision)
        record.by = by
        record.revision += 1
        record.state, record.reason = state, reason.strip()
        record.save()
        if state != before["state"]:
            words = {"done": "done", "skipped": f"skipped: {record.reason}", "open": "opened again"}
            sentence = f"{known[step].title}: {words[state]}."
            log(row, by, f"step.{state}", known[step].device or step, sentence, before, {"state": state})
    return record
