"""The bench."""

from dataclasses import asdict

from tutelar.core.contact import contact
from tutelar.core.progress import laptop_setting
from tutelar.core.run import Step
from tutelar.core.run.advice import advice
from tutelar.core.run.chain import Setting
from tutelar.core.site import Site
from tutelar.core.site.types import Device
from tutelar.server.sites import models, queries
from tutelar.server.sites.sheets.base import Sheet, adapter_lines, laptop_state, problem_rows
from tutelar.server.sites.sheets.values import step_groups


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
            "subject": device.key if device else current.id,
            "groups": step_groups(row, current, device),
            "contact": _contact(row, site, current, device, laptop_setting(order.steps, done)),
        },
        "left_s": 0 if current is None else order.total_s - current.start_s,
        "total_s": order.total_s,
        "lower_bound_s": order.lower_bound_s,
        "laptop": laptop_state(laptop_setting(order.steps, done)),
        "problems": problem_rows(order.problems, "run"),
    }  # fmt: skip


_WAYS = {
    "own-address": "it has its address already", "recorder-port": "through its recorder",
    "lease": "by the address it is lent", "factory-address": "at its factory address",
    "link-local": "at its link-local address", "unknown": "nothing is known of it",
}  # fmt: skip


def _contact(row: models.Site, site: Site, step: Step, device: Device | None, before: Setting | None) -> Sheet | None:
    """Return how the device in hand is reached, or how the laptop is set for the next one."""
    if step.kind == "adapter":
        way = f"set it to {step.adapter.address}" if step.adapter else "set it back to automatic"
        return {"way": way, "steps": [], "commands": adapter_lines(before, step.adapter)}
    if device is None or step.kind not in ("connect", "activate", "configure"):
        return None
    found = contact(site, device, addresses=queries.planned(row))
    lines = adapter_lines(None, found.adapter) if found.adapter and found.adapter != before else []
    return {"way": _WAYS[found.way], "steps": list(found.steps), "commands": lines}
