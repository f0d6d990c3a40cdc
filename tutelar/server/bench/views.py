"""The bench."""

from collections.abc import Mapping
from dataclasses import replace
from datetime import timedelta
from typing import cast

from django.conf import settings
from django.utils import timezone

from tutelar.core.contact import contact
from tutelar.core.progress import laptop_setting
from tutelar.core.run import Run, Step, said
from tutelar.core.run.advice import advice, web_address
from tutelar.core.run.chain import TIMED, AdapterConfig
from tutelar.core.run.summary import spoken_time
from tutelar.core.site import Site
from tutelar.core.site.types import Device
from tutelar.core.wording import count
from tutelar.server import models
from tutelar.server.bench import queries
from tutelar.server.bench import schemas as shapes
from tutelar.server.codes import code_svg
from tutelar.server.practice.views import practised
from tutelar.server.sheet import adapter_lines, laptop_state, problem_rows, shaped
from tutelar.server.store import bench_steps, documents, lookup
from tutelar.server.values.rows import step_groups
from tutelar.standin.rehearsal import rehearse


def bench(
    row: models.Site, hand: int = 1, technicians: int = 1, *, searched_by: str | None = None
) -> shapes.BenchSheet:
    """Return the bench as one technician sees it.

    Until the run is started, `technicians` says for how many, and `searched_by` who asks for the plan that would be
    started: it is searched for then. Raises WriteRejected.
    """
    site, started = documents.document(row), queries.bench_row(row)
    if started is not None:
        order = queries.bench_run(row)
    elif searched_by is not None:
        order = queries.bench_plan(row, technicians, searched_by)
    else:
        order = queries.bench_preview(row, technicians)
    records, done = lookup.step_records(row), bench_steps.finished(row)
    working = [step.hand or 1 for step in order.steps if step.manual and step.id not in done]
    hand = min(hand, max([order.technicians, *working]))  # who leaves sees the way home
    anew = bench_steps.typed_anew(row) if started else {}
    steps = [_step_row(step, records.get(step.id), anew) for step in order.steps]
    current = next((step for step in order.steps if step.hand == hand and step.id not in done), None)
    now = queries.bench_now(started) if started else 0.0
    return shapes.BenchSheet(
        revision=row.revision,
        run=_run(order, started, now, hand),
        steps=steps,
        current=_current(row, site, order, current, done, _answers_at(records, current, anew)) if current else None,
        left_s=max(0.0, order.total_s - now),
        total_s=order.total_s,
        lower_bound_s=order.lower_bound_s,
        laptop=laptop_state(laptop_setting(order.steps, done, hand)),
        times=_times(row, site),
        rules=shaped(shapes.BenchRules, site.policy.bench),
        problems=problem_rows(order.problems, "run"),
    )


def rehearsal(row: models.Site, technicians: int, person: str) -> shapes.Rehearsal:
    """Return how the run that would be started goes on the pretend bench. Raises WriteRejected."""
    planned = queries.bench_plan(row, technicians, person)
    played = list(rehearse(queries.bench_site(row), documents.planned(row), planned))
    return shapes.Rehearsal(
        played=len(played),
        total_s=planned.total_s,
        faults=[
            shapes.PlayedFault(step=item.step.id, title=item.step.title, at_s=item.at_s, fault=item.fault)
            for item in played
            if item.fault
        ],
    )


def phone_ways(row: models.Site, hand: int, port: str) -> shapes.PhoneWays:
    """Return where a phone in the same network opens this run; nothing unless the server listens beyond itself."""
    if not settings.LAN_ADDRESSES:
        note = "This server listens to this machine only. Start it with tutelar serve --lan, then phones can join."
        return shapes.PhoneWays(ways=[], note=note, fingerprint=None)
    scheme, ways = "https" if settings.TLS else "http", []
    for address in settings.LAN_ADDRESSES:
        url = f"{scheme}://{address}:{port}/sites/{row.key}/bench?hand={hand}"
        ways.append(shapes.PhoneWay(address=url, svg=code_svg(url)))
    note = "Scan it with a phone in the same network, and sign in there like anybody."
    return shapes.PhoneWays(ways=ways, note=note, fingerprint=settings.FINGERPRINT or None)


def _answers_at(records: Mapping[str, models.StepRecord], step: Step, anew: Mapping[str, str]) -> str | None:
    """Return the address that was typed into a device that is to be typed anew: it answers there until then."""
    record = records.get(step.id)
    if record is None or step.kind != "configure" or step.device not in anew:
        return None
    return (record.typed or {}).get("address")


def _step_row(step: Step, record: models.StepRecord | None, anew: Mapping[str, str]) -> shapes.StepRow:
    state = cast(shapes.StepState, record.state) if record else "open"
    again = step.device in anew and step.kind in bench_steps.AFTER_TYPING and state != "doing"
    state = "open" if again else state
    return shapes.StepRow(
        id=step.id,
        device=step.device,
        kind=step.kind,
        title=step.title,
        start_s=step.start_s,
        end_s=step.end_s,
        manual=step.manual,
        hand=step.hand,
        port=step.port,
        why=f"{step.wait} {step.why}".strip() if state == "open" else step.why,
        state=state,
        reason=record.reason if record and not again else "",
        by=record.by if record and record.state != "doing" and not again else None,
        revision=record.revision if record else 0,
    )


def _run(order: Run, started: models.BenchRun | None, now: float, hand: int) -> shapes.RunState:
    """Return how the run stands: times on its clock in seconds, the end as a moment."""
    return shapes.RunState(
        state="planned" if started is None else "paused" if started.paused_at else "running",
        revision=started.revision if started else 0,
        hand=hand,
        technicians=started.technicians if started else order.technicians,
        now_s=now,
        started_at=started.started_at.isoformat() if started else None,
        ends_at=(timezone.now() + timedelta(seconds=max(0.0, order.total_s - now))).isoformat(),
        planned_s=started.planned_s if started else order.total_s,
        said=_said(started) if started else said(order),
        set_aside=[
            shapes.SetAside(device=key, reason=reason) for key, reason in (started.set_aside if started else {}).items()
        ],
    )


def _said(started: models.BenchRun) -> str:
    """Return what was planned when the run was started; what it comes to stands beside it."""
    return (
        f"Planned at {spoken_time(started.planned_s)} for {count(started.planned_technicians, 'technician')}. "
        f"One device after the "
        f"other takes {spoken_time(started.one_by_one_s)}. With the usual times no run can be shorter than "
        f"{spoken_time(started.bound_s)}: {started.bound_why}."
    )


def _current(
    row: models.Site, site: Site, order: Run, step: Step, done: frozenset[str], answers_at: str | None
) -> shapes.CurrentAdvice:
    device = site.device_by_key.get(step.device or "")
    planned = {item.device: item for item in documents.planned(row).assignments}
    beside = advice(site, step, planned.get(step.device or ""), done)
    way = _contact(row, site, step, device, laptop_setting(order.steps, done, step.hand))
    if answers_at is not None and device is not None:
        beside = replace(beside, open=web_address(site.services_of(device), answers_at), keep_off=())
        steps = [f"{device.label} answers at {answers_at}, as it was typed before: open it there."]
        way = shapes.ContactRow(way="at the address it has now", steps=steps, commands=[])
    return shapes.CurrentAdvice(
        step=step.id,
        open=beside.open,
        expect=beside.expect,
        keep_off=list(beside.keep_off),
        caution=beside.caution,
        name=device.label if device else None,
        place=device.place if device else None,
        serial=device.serial if device else None,
        mac=device.mac if device else None,
        contact=way,
        subject=device.key if device else step.id,
        groups=step_groups(row, step, device),
        waits_for=_wait(order, step),
        practised=practised(row, site, device) if device else None,
    )


def _wait(order: Run, step: Step) -> str | None:
    """Return the id of the step that runs by itself and must end before this one."""
    return next((item.id for item in order.steps if item.id in step.needs and not item.manual), None)


def _times(row: models.Site, site: Site) -> list[shapes.TimeRow]:
    """Return the times that benches taught, beside what the profiles say."""
    profiles = {model.key: model for model in site.models}
    return [
        shapes.TimeRow(
            model=profiles[key].name or key,
            kind=kind,
            seconds=seconds,
            readings=number,
            profile_s=getattr(profiles[key].timings, TIMED[kind], None),
        )
        for (key, kind), (seconds, number) in sorted(queries.bench_times(row).items())
    ]


_WAYS = {
    "own-address": "it has its address already",
    "recorder-port": "through its recorder",
    "lease": "by its DHCP lease",
    "factory-address": "at its factory address",
    "link-local": "at its link-local address",
    "unknown": "nothing is known of it",
}


def _contact(
    row: models.Site, site: Site, step: Step, device: Device | None, before: AdapterConfig | None
) -> shapes.ContactRow | None:
    """Return how the device in hand is reached, or how the laptop is set for the next one."""
    if step.kind == "adapter":
        way = f"set it to {step.adapter.address}" if step.adapter else "set it back to automatic"
        return shapes.ContactRow(way=way, steps=[], commands=adapter_lines(before, step.adapter))
    if device is None or step.kind not in ("connect", "activate", "configure"):
        return None
    found = contact(site, device, addresses=documents.planned(row))
    lines = adapter_lines(None, found.adapter) if found.adapter and found.adapter != before else []
    return shapes.ContactRow(way=_WAYS[found.way], steps=list(found.steps), commands=lines)
