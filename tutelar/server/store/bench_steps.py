"""Which bench steps are done, and which of them are to be done anew because what was typed is no longer so."""

from collections.abc import Collection, Mapping

from tutelar.core.run.chain import KINDS, at_bench
from tutelar.core.run.typed import changed_since_typed, typed_values
from tutelar.server import models
from tutelar.server.store import documents, lookup
from tutelar.server.store.reads import asked_once
from tutelar.server.store.secret_marks import all_secret_marks

AFTER_TYPING = KINDS[KINDS.index("configure") :]


@asked_once
def typed_anew(row: models.Site) -> dict[str, str]:
    """Return the devices whose values changed after they were typed at a bench whose run is not over, with what did."""
    records = lookup.step_records(row)
    typed = {item.device_key: item.typed for item in records.values() if item.typed is not None}
    started = models.BenchRun.objects.filter(site=row).first() if typed else None
    if started is None or _is_over(row, records, started.set_aside):
        return {}
    now = values_typed_now(row)
    changed = {key: changed_since_typed(then, now[key]) for key, then in typed.items() if key in now}
    return {key: words for key, words in changed.items() if words and key not in started.set_aside}


def _is_over(row: models.Site, records: Mapping[str, models.StepRecord], aside: Collection[str]) -> bool:
    site = documents.document(row)
    last = "confirm" if site.policy.bench.confirm_s else "configure"
    done = lookup.finished(records)
    return all(f"{device.key}:{last}" in done for device in at_bench(site) if device.key not in aside)


def values_typed_now(row: models.Site) -> dict[str, dict[str, str]]:
    """Return what is typed into each device today (see `tutelar.core.run.typed`)."""
    return typed_values(documents.document(row), documents.planned(row), all_secret_marks(row))


@asked_once
def finished(row: models.Site) -> frozenset[str]:
    """Return the ids of the bench steps that are done or skipped; what is to be typed anew is neither."""
    done = lookup.finished(lookup.step_records(row))
    again = {f"{key}:{kind}" for key in typed_anew(row) for kind in AFTER_TYPING}
    return done - again
