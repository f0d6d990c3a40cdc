"""Taking in what somebody says of a run under way: done, ready, longer, failed and what next, taken back."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from itertools import count as count_from

from tutelar.core.run.chain import ALONE, STAGES, TIMED
from tutelar.core.run.durations import CREDIBLE_S
from tutelar.core.run.live import RunState, StepOutcome, fact_of
from tutelar.core.run.order import Run
from tutelar.core.run.steps import Step, device_title
from tutelar.core.site.types import Site

_FOLLOWS = dict(zip(STAGES, ALONE, strict=True))
NEXT = {"retry": "once more", "reset": "factory reset", "aside": "set aside"}


class ReportRejected(ValueError):
    """What was said cannot be. `at` is the part of it that is wrong; `missing`: there is no such step."""

    def __init__(self, message: str, at: str = "", *, missing: bool = False, early: bool = False) -> None:
        super().__init__(message)
        self.message, self.at, self.missing, self.early = message, at, missing, early


@dataclass(frozen=True, slots=True)
class StepReport:
    """What is said of a step: `state` done, skipped, failed (`after` it retry, reset or aside), ready, longer (by
    `seconds`), open (it is taken back), or back (a device that was set aside). `hand` is who says it."""

    state: str
    reason: str = ""
    after: str = ""
    seconds: float = 0
    hand: int = 0


@dataclass(frozen=True, slots=True)
class RunTransition:
    """The run after a word, one sentence of it, and what a step of a model really took, if that was learned."""

    live: RunState
    sentence: str
    took: tuple[str, str, float] | None = None  # model, kind, seconds


def step_named(site: Site, live: RunState, run: Run, name: str) -> Step:
    """Return the step that a word is about: one of the run, or the first of a device that was set aside.

    Raises NotSo where there is none.
    """
    for step in run.steps:
        if step.id == name:
            return step
    device = site.device_by_key.get(name.rsplit(":", 1)[0])
    if device is None or device.key not in live.set_aside:
        raise ReportRejected(f"The run of this site has no step '{name}'.", missing=True)
    return Step(name, device.key, "connect", device_title("connect", device.label), 0, 0, True, None)


def apply_report(site: Site, live: RunState, run: Run, step: Step, word: StepReport, now: float) -> RunTransition:
    """Return the run after a word about one of its steps. `live` knows what every hand is at, `run` is how it stands.

    Raises NotSo for what the step cannot be: its turn has not come, something was built on it, a reason is missing.
    """
    facts = {fact.step: fact for fact in live.facts}
    took = None
    if word.state in ("skipped", "failed") and not word.reason:
        raise ReportRejected("Say why the step is skipped.", "reason")
    if word.state == "open":
        live = _taken_back(live, facts, step)
    elif word.state == "back":
        live = replace(live, set_aside={key: why for key, why in live.set_aside.items() if key != step.device})
    elif word.state == "failed":
        live = _failed(live, facts, step, word, now)
    elif word.state == "skipped" and step.kind == "connect":
        live = _set_aside(live, facts, step, word.reason)  # what is not plugged in has no other step
    elif step.manual and word.state in ("done", "skipped"):
        settled = _settled(run, facts, step, word, now)
        live = _with(live, facts, settled)
        took = _learned(site, settled) if word.state == "done" else None
    elif not step.manual and word.state in ("ready", "longer"):
        waited = _waited(run, facts, step, word, now)
        live = _with(live, facts, waited)
        took = _learned(site, waited) if word.state == "ready" else None
    elif step.manual:
        raise ReportRejected(f"'{step.title}' is done by hand: it is done, skipped or failed.", "state")
    else:
        raise ReportRejected(f"'{step.title}' goes by itself: it is ready, or takes longer.", "state")
    live = _all_home(replace(live, since_s=now), now)
    return RunTransition(live, f"{step.title}: {_said(step, word)}.", took)


def rested(live: RunState, seconds: float) -> RunState:
    """Return the run after so many seconds of rest, which do not count for what hands are at."""
    facts = [
        replace(fact, start_s=fact.start_s + seconds) if fact.state == "doing" and fact.hand else fact
        for fact in live.facts
    ]
    return replace(live, facts=tuple(facts))


def with_technicians(live: RunState, technicians: int, now: float) -> RunState:
    """Return the run with so many technicians; what the others had in hand is open again.

    A technician who leaves while the laptop stands in a factory subnet first gets the step that sets it back.
    """
    left = [
        fact.step
        for fact in live.facts
        if fact.state == "doing" and (fact.hand or 0) > technicians and not _goes_home(fact)
    ]
    stays = _without(live, {fact.step: fact for fact in live.facts}, left)
    return _all_home(replace(stays, technicians=technicians, since_s=now), now)


def _all_home(live: RunState, now: float) -> RunState:
    """Return the run with a step that sets the laptop back for each technician who left it in a factory subnet."""
    last: dict[int, StepOutcome] = {}
    for fact in sorted(live.facts, key=lambda item: item.start_s):
        if fact.kind == "adapter" and fact.hand is not None and fact.hand > live.technicians:
            last[fact.hand] = fact
    facts, taken = list(live.facts), {fact.step for fact in live.facts}
    for hand, fact in last.items():
        if fact.adapter is not None:
            names = (f"hand-{hand}:adapter-back{'' if number == 1 else f'-{number}'}" for number in count_from(1))
            step = next(name for name in names if name not in taken)
            why = "This technician leaves the run; the laptop goes home as it came."
            facts.append(StepOutcome(step, None, "adapter", "doing", hand, now, why=why))
    return replace(live, facts=tuple(facts))


def _goes_home(fact: StepOutcome) -> bool:
    return fact.kind == "adapter" and fact.adapter is None


def _said(step: Step, word: StepReport) -> str:
    out = "; the device is out of the run" if step.kind == "connect" else ""
    return {
        "done": "done",
        "skipped": f"skipped: {word.reason}{out}",
        "open": "opened again",
        "ready": "ready",
        "longer": f"takes {word.seconds:.0f} s longer",
        "back": "taken up again",
        "failed": f"failed: {word.reason} ({NEXT.get(word.after, word.after)})",
    }[word.state]


def _with(live: RunState, facts: dict[str, StepOutcome], fact: StepOutcome) -> RunState:
    return replace(live, facts=tuple((facts | {fact.step: fact}).values()))


def _without(live: RunState, facts: dict[str, StepOutcome], gone: Iterable[str]) -> RunState:
    """Return the run without these steps, and without the waits that follow them."""
    names = set(gone)
    left = facts.keys() - names - {_wait_after(name) for name in names}
    return replace(live, facts=tuple(fact for name, fact in facts.items() if name in left))


def _in_turn(run: Run, step: Step, before: set[str]) -> None:
    """Raise ReportRejected where a step by hand that comes before this one is not among those."""
    titles = {item.id: item.title for item in run.steps}
    for need in _hand_needs(run, step):
        if need not in before:
            message = f"'{step.title}' comes after '{titles.get(need, need)}', which is not done yet."
            raise ReportRejected(message, "step", early=True)


def _wait_after(name: str) -> str:
    """Return the step that a device does by itself after one of a hand; the step itself where it has none."""
    device, _, kind = name.rpartition(":")
    return f"{device}:{_FOLLOWS[kind]}" if kind in _FOLLOWS else name


def _settled(run: Run, facts: dict[str, StepOutcome], step: Step, word: StepReport, now: float) -> StepOutcome:
    _in_turn(run, step, {name for name, fact in facts.items() if fact.state in ("done", "skipped")})
    known = facts.get(step.id)
    start = known.start_s if known else min(step.start_s, now)
    found = fact_of(step, "done" if word.state == "done" else "skipped", start, now)
    return replace(found, hand=word.hand or step.hand, reason=word.reason)


def _hand_needs(run: Run, step: Step) -> list[str]:
    """Return the steps by hand that come before a step, directly or with a wait between."""
    by_id = {item.id: item for item in run.steps}
    found, look = [], list(step.needs)
    while look:
        need = look.pop()
        before = by_id.get(need)
        if before is None or before.manual:
            found.append(need)
        else:
            look += before.needs
    return found


def _waited(run: Run, facts: dict[str, StepOutcome], step: Step, word: StepReport, now: float) -> StepOutcome:
    """Return a wait that is over before its time, or lasts longer than it should, from now where it is overdue.

    Whoever waits may see it before the other technician has ticked what comes before, but not before it was begun.
    """
    _in_turn(run, step, set(facts))
    more = facts[step.id].more_s if step.id in facts else 0.0
    if word.state == "ready":
        return replace(fact_of(step, "done", min(step.start_s, now), now), more_s=more)
    more += word.seconds + max(0.0, now - step.end_s)
    return replace(fact_of(step, "doing", step.start_s), more_s=more)


def _learned(site: Site, fact: StepOutcome) -> tuple[str, str, float] | None:
    device = site.device_by_key.get(fact.device or "")
    seconds = (fact.end_s or 0) - fact.start_s
    if device is None or fact.kind not in TIMED or seconds < CREDIBLE_S:
        return None
    return device.model, fact.kind, seconds


def _failed(live: RunState, facts: dict[str, StepOutcome], step: Step, word: StepReport, now: float) -> RunState:
    """Return the run after a failure: the step comes again, the device boots again, or is out of the run."""
    mine = {name: fact for name, fact in facts.items() if fact.device == step.device and step.device}
    doing = [name for name, fact in facts.items() if fact.state == "doing" and (name == step.id or name in mine)]
    if word.after == "aside" and step.device:
        return _set_aside(live, facts, step, word.reason)
    if word.after == "reset" and step.device:
        first = facts.get(f"{step.device}:connect")
        kept = {first.step: replace(first, end_s=now)} if first and first.state != "doing" else {}
        others = {name: fact for name, fact in facts.items() if name not in mine}
        return replace(live, facts=tuple({**others, **kept}.values()))
    if word.after != "retry" or not step.manual:
        raise ReportRejected("Say what comes next: retry, reset or aside.", "after")
    return _without(live, facts, [step.id] if step.id in doing else [])


def _set_aside(live: RunState, facts: dict[str, StepOutcome], step: Step, reason: str) -> RunState:
    """Return the run without a device: it gives free its port, its factory address and whoever was at it."""
    doing = [name for name, fact in facts.items() if fact.state == "doing" and fact.device == step.device]
    return replace(_without(live, facts, doing), set_aside={**live.set_aside, step.device or "": reason})


def _taken_back(live: RunState, facts: dict[str, StepOutcome], step: Step) -> RunState:
    """Return the run with a step open again, unless something was built on it; its hand lets go of what it is at."""
    gone = {step.id}
    if step.manual:
        gone |= {name for name, fact in facts.items() if fact.state == "doing" and fact.hand == step.hand}
    if step.kind in STAGES:
        stage = STAGES.index(step.kind)
        later = {f"{step.device}:{kind}" for kind in STAGES[stage + 1 :]}
        if any(facts[name].state in ("done", "skipped") for name in later & facts.keys()):
            raise ReportRejected(
                f"'{step.title}' was built on already; take back the later step first.", "step", early=True
            )
        gone |= later
    order = (step.device or "", *live.order) if step.kind == "connect" else live.order
    return replace(_without(live, facts, gone), order=order)
