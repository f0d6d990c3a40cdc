"""The bench."""

from dataclasses import asdict

from tutelar.core.progress import laptop_setting
from tutelar.core.run.advice import advice
from tutelar.server.sites import models, queries
from tutelar.server.sites.sheets.base import Sheet, laptop_state, problem_rows


def bench(row: models.Site) -> Sheet:
    site, order = queries.document(row), queries.bench_run(row)
    records = queries.step_records(row)
    done = queries.finished(records)
    steps = []
    for step in order.steps:
        record = records.get(step.id)
        steps.append({
            "id": step.id, "device": step.device, "kind": step.kind, "title": step.title, "start_s": step.start_s,
            "end_s": step.end_s, "hands": step.hands, "state": record.state if record else "open",
            "reason": record.reason if record else "", "by": record.by if record else None,
            "revision": record.revision if record else 0,
            "ticked": record.ticked if record else [], "values": [asdict(value) for value in step.values],
        })  # fmt: skip
    current = next((step for step in order.steps if step.hands and step.id not in done), None)
    following = {item.device: item for item in queries.planned(row).assignments}
    device = site.device_by_key.get(current.device or "") if current else None
    return {
        "revision": row.revision,
        "steps": steps,
        "current": None if current is None else {
            "step": current.id,
            **asdict(advice(site, current, following.get(current.device or ""), done)),
            **{name: getattr(device, name, None) for name in ("place", "serial", "mac")},
            "name": device.label if device else None,
        },
        "left_s": 0 if current is None else order.total_s - current.start_s,
        "total_s": order.total_s,
        "lower_bound_s": order.lower_bound_s,
        "laptop": laptop_state(laptop_setting(order.steps, done)),
        "problems": problem_rows(order.problems, "run"),
    }  # fmt: skip
