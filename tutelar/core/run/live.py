"""The run while it is being done: what happened so far, what is under way, and the rest laid anew from now.

Nothing here reads a clock: `now` counts seconds from the start of the run. What is done or in hand is never moved;
only what has not begun is put into another order, and only where that saves noticeable time.
"""

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

from tutelar.core.problems import Problem, problem
from tutelar.core.run.bound import Bound
from tutelar.core.run.chain import ALONE, STAGES, AdapterConfig, at_bench
from tutelar.core.run.dispatch import Stuck
from tutelar.core.run.order import Run, waits_that_can_be_met
from tutelar.core.run.schedule import ScheduledOperation, State, schedule
from tutelar.core.run.search import SeededRandom, search
from tutelar.core.run.steps import Step, device_title, laptop_title, laptop_values, steps_of
from tutelar.core.run.task import ANYWHERE, IN_SITE, NEVER, InitialState, Task, task_of
from tutelar.core.site.types import Site
from tutelar.core.wording import listed

AGAIN_EFFORT = 25_000  # pieces laid when the rest is planned again: well under 200 ms for 60 devices
OVERDUE_S = 5  # what should be over by now is not: it is taken to last at least so much longer
SOON = 200  # of the pieces to come, those among which the next one of every hand is
WORTH_S = 30  # an order that saves less than this does not replace the one people have in mind


@dataclass(frozen=True, slots=True)
class StepOutcome:
    """What became of one step. A step in hand, and one that runs by itself and takes longer, has no end yet."""

    step: str
    device: str | None
    kind: str
    state: Literal["doing", "done", "skipped"]
    hand: int | None
    start_s: float
    end_s: float | None = None
    adapter: AdapterConfig | None = None
    port: int | None = None
    more_s: float = 0
    why: str = ""
    reason: str = ""


@dataclass(frozen=True)
class RunState:
    """A run under way: `order` names each device once for each piece of hand work that is left, as last planned.

    `set_aside` holds devices that were set aside, with the reason; `anew` those whose values changed after they
    were typed, each with what changed: they are typed once more, in the site network, where they answer now.
    """

    technicians: int
    order: tuple[str, ...]
    facts: tuple[StepOutcome, ...] = ()
    set_aside: Mapping[str, str] = field(default_factory=dict)
    bound: Bound = field(default=Bound(0, ""))
    one_by_one_s: float = 0
    anew: Mapping[str, str] = field(default_factory=dict)
    since_s: float = 0  # the last word about the run: a hand that is at nothing begins nothing before it


def live_run(site: Site, live: RunState, now: float) -> Run:
    """Return the run as it stands: steps that were done with their real times, then the rest laid from now on."""
    return as_it_stands(site, with_started_steps(site, live, now), now)


def as_it_stands(site: Site, live: RunState, now: float) -> Run:
    """Return the run of which every hand's step in hand is known to have begun."""
    bench = _Bench(site, live, now)
    history, problems = bench.history(), list(bench.problems)
    try:
        pieces, state = bench.laid(bench.kept_order())
        rest = steps_of(bench.site, bench.task, pieces, state, before=history, anew=live.anew)
    except Stuck:
        problems.append(_stuck(bench))
        rest = ()
    steps = sorted([*history, *rest], key=lambda step: (step.start_s, step.end_s))
    return Run(tuple(steps), live.technicians, live.bound, live.one_by_one_s, live.order, tuple(problems))


def _stuck(bench: "_Bench") -> Problem:
    stands = bench.task.begun
    on_bench = [device for device, stage in zip(bench.task.devices, stands.stage, strict=True) if 0 < stage < 4]
    return problem(
        "run.stuck",
        [device.key for device in on_bench],
        f"Nothing can go on: {listed([device.label for device in on_bench]) or 'no device'} "
        f"{'holds' if len(on_bench) == 1 else 'hold'} the {len(stands.port_free)} ports of the bench, "
        "and the others wait for devices that find none.",
        "Set one of them aside, or put another powered port on the bench.",
        level="error",
    )


def with_started_steps(site: Site, live: RunState, now: float) -> RunState:
    """Return the run with a fact for the step that each hand is at by now, as the plan had it begin.

    A hand is at its next step as soon as it was done with the one before and the device was ready.
    """
    for _ in range(live.technicians):
        bench = _Bench(site, live, now)
        try:
            pieces, state = bench.laid(bench.kept_order())
        except Stuck:
            return live
        busy = {fact.hand for fact in live.facts if fact.state == "doing"}
        begins = {hand + 1: at for hand, at in enumerate(state.free) if state.setting[hand] > IN_SITE}  # set it back
        for item in reversed(pieces):
            begins[item.hand + 1] = item.start if item.changed_at is None else item.changed_at
        if not any(at <= now for hand, at in begins.items() if hand not in busy):
            return live
        soon = sorted(pieces, key=lambda item: item.start)[:SOON]
        steps = steps_of(bench.site, bench.task, soon, state, before=bench.history(), anew=live.anew)
        step = next((item for item in steps if item.manual and item.hand not in busy), None)
        if step is None or step.start_s > now:
            return live
        live = replace(live, facts=(*live.facts, fact_of(step, "doing", step.start_s)))
    return live


def fact_of(
    step: Step, state: Literal["doing", "done", "skipped"], start: float, end: float | None = None
) -> StepOutcome:
    """Return what became of a step of the plan, with all that the plan knew of it."""
    return StepOutcome(
        step.id, step.device, step.kind, state, step.hand, start, end, step.adapter, step.port, why=step.why
    )


def planned_again(site: Site, live: RunState, now: float, effort: int = AGAIN_EFFORT) -> RunState:
    """Return the run with the best order found for what has not begun; the present one where none saves much.

    Where nothing can go on, the order stays as well.
    """
    bench = _Bench(site, live, now)
    try:
        kept = bench.kept_order()
        before = bench.laid(kept)[1].total(bench.task)
    except Stuck:
        return live
    found = search(bench.task, effort, SeededRandom(len(live.facts) + 1), start=kept)
    after = bench.laid(found)[1].total(bench.task)
    order = found if after <= before - WORTH_S else kept
    return replace(live, order=tuple(bench.task.devices[device].key for device in order))


def _plugged_by_hand(site: Site) -> Site:
    """Return the site with a second for plugging in where its bench allows none: somebody does it, and says so."""
    bench = site.policy.bench
    if bench.connect_s:
        return site
    policy = site.policy.model_copy(update={"bench": bench.model_copy(update={"connect_s": 1.0})})
    return site.model_copy(update={"policy": policy})


def _where_they_answer(task: Task, anew: Mapping[str, str]) -> Task:
    """Return the task with devices that are typed anew met in the site network: their factory address is gone."""
    at = [number for number, device in enumerate(task.devices) if device.key in anew]
    if not at:
        return task
    need, twin = list(task.need), list(task.twin)
    for number in at:
        piece = 4 * number + STAGES.index("configure")
        need[piece] = ANYWHERE if need[piece] == ANYWHERE else IN_SITE
        twin[number] = -1
    return replace(task, need=tuple(need), twin=tuple(twin))


class _Bench:
    """Facts read against the site: what each device, hand, port and twin group is at.

    A hand that is at nothing is free since it was done with its last step, so that what it is at shows by itself.
    """

    def __init__(self, site: Site, live: RunState, now: float) -> None:
        self.site, self.live, self.now = _plugged_by_hand(site), live, now
        site = self.site
        waits, self.problems = waits_that_can_be_met(site)
        devices = [item for item in at_bench(site) if item.key not in live.set_aside]
        self.number = {device.key: at for at, device in enumerate(devices)}
        task = _where_they_answer(task_of(site, devices, live.technicians, waits), live.anew)
        self.by_device: dict[str, dict[str, StepOutcome]] = defaultdict(dict)
        for fact in live.facts:
            if fact.device and fact.device not in live.set_aside:
                self.by_device[fact.device][fact.kind] = fact
        self.task = replace(task, begun=self._begun(task))

    def _ends(self, task: Task, fact: StepOutcome) -> float:
        """Return when a piece of hand work ended, or will end if nothing comes between."""
        if fact.end_s is not None:
            return fact.end_s
        if fact.device is None:
            return max(self.now + OVERDUE_S, fact.start_s + task.adapter_s)
        piece = 4 * self.number[fact.device] + STAGES.index(fact.kind)
        return max(self.now + OVERDUE_S, fact.start_s + task.seconds[piece])

    def _begun(self, task: Task) -> InitialState:
        stage, due = [0] * task.count, [0.0] * task.count
        confirmed = [NEVER] * task.count
        twin_free = [0.0] * len(task.begun.twin_free)
        ports_taken, left = 0, []
        for number, device in enumerate(task.devices):
            facts = self.by_device.get(device.key)
            if not facts:
                continue
            done = [at for at, kind in enumerate(STAGES) if kind in facts]
            stage[number] = done[-1] + 1 if done else 0
            if not done:
                continue
            end = self._ends(task, facts[STAGES[done[-1]]])
            due[number] = self._ready(task, number, done[-1], end, facts)
            while stage[number] < 4 and not task.seconds[4 * number + stage[number]]:  # left out, so over at once
                end = due[number]
                due[number] = end + task.lag[4 * number + stage[number]]
                stage[number] += 1
            if stage[number] == 4:
                confirmed[number] = end
                left.append(end)
            else:
                ports_taken += 1
            group = task.twin[number]
            if group >= 0:
                set_at = self._ends(task, facts["configure"]) if "configure" in facts else end
                twin_free[group] = max(twin_free[group], NEVER if stage[number] < 3 else set_at)
        free, setting = self._hands(task)
        empty = max(0, len(task.begun.port_free) - ports_taken)
        ports = sorted([*left, *([0.0] * empty)], reverse=True)[:empty] + [NEVER] * ports_taken
        return InitialState(
            tuple(stage),
            tuple(due),
            tuple(confirmed),
            tuple(twin_free),
            tuple(ports),
            tuple(free),
            tuple(setting),
        )

    def _ready(self, task: Task, number: int, stage: int, end: float, facts: dict[str, StepOutcome]) -> float:
        """Return when a device is ready for its next piece: as it was said, else after its usual time."""
        alone = facts.get(ALONE[stage])
        if alone and alone.end_s is not None:
            return alone.end_s
        return end + task.lag[4 * number + stage] + (alone.more_s if alone else 0)

    def _hands(self, task: Task) -> tuple[list[float], list[int]]:
        free, setting = [self.live.since_s] * task.technicians, [IN_SITE] * task.technicians
        for fact in sorted(self.live.facts, key=lambda item: item.start_s):
            if fact.hand is None or fact.hand > task.technicians:
                continue
            if fact.kind == "adapter":
                subnet = fact.adapter.network if fact.adapter else None
                setting[fact.hand - 1] = task.subnets.index(subnet) if subnet in task.subnets else len(task.subnets)
            if fact.end_s is not None:
                free[fact.hand - 1] = max(free[fact.hand - 1], fact.end_s)
            if fact.state == "doing" and (fact.device is None or fact.device not in self.live.set_aside):
                free[fact.hand - 1] = self._ends(task, fact)
        return free, setting

    def kept_order(self) -> list[int]:
        """Return the planned order without what is done, with what is new at its end, so that it can be laid."""
        stage = self.task.begun.stage
        left = {at: 4 - done for at, done in enumerate(stage)}
        order: list[int] = []
        for key in reversed(self.live.order):
            at = self.number.get(key, -1)
            if left.get(at, 0) > 0:
                left[at] -= 1
                order.append(at)
        order.reverse()
        taken_back = [at for at, many in left.items() if stage[at] > 0 for _ in range(many)]
        order = [*taken_back, *order, *(at for at, many in left.items() if stage[at] == 0 for _ in range(many))]
        if not order or schedule(self.task, order, State(self.task)):
            return order
        return search(self.task, 1, SeededRandom(1))

    def laid(self, order: list[int]) -> tuple[list[ScheduledOperation], State]:
        pieces: list[ScheduledOperation] = []
        state = State(self.task)
        if not schedule(self.task, order, state, into=pieces):
            raise Stuck
        return pieces, state

    def history(self) -> list[Step]:
        """Return the steps that were begun, with their real times."""
        steps = []
        for fact in self.live.facts:
            if fact.kind in ALONE or (fact.device and fact.device not in self.site.device_by_key):
                continue
            if fact.device is None:
                end = self._ends(self.task, fact)
                steps.append(
                    Step(
                        fact.step,
                        None,
                        "adapter",
                        laptop_title(fact.adapter),
                        fact.start_s,
                        end,
                        True,
                        fact.hand,
                        adapter=fact.adapter,
                        values=laptop_values(fact.adapter),
                        why=fact.why,
                    )
                )
            elif fact.device in self.live.set_aside:
                steps.append(self._step(fact, fact.end_s if fact.end_s is not None else fact.start_s))
            else:
                steps += self._with_wait(fact)
        return steps

    def _step(self, fact: StepOutcome, end: float) -> Step:
        label = self.site.device_by_key[fact.device or ""].label
        return Step(
            fact.step,
            fact.device,
            fact.kind,
            device_title(
                "configure-anew" if fact.kind == "configure" and fact.device in self.live.anew else fact.kind, label
            ),
            fact.start_s,
            end,
            True,
            fact.hand,
            port=fact.port,
            why=fact.why,
        )

    def _with_wait(self, fact: StepOutcome) -> list[Step]:
        """Return a device's hand work and what it does by itself afterwards, until it is taken up again."""
        key = fact.device or ""
        number, stage, facts = self.number[key], STAGES.index(fact.kind), self.by_device[key]
        end = self._ends(self.task, fact)
        ready = self._ready(self.task, number, stage, end, facts)
        ready = min([ready, *(facts[kind].start_s for kind in STAGES[stage + 1 :] if kind in facts)])
        found = [self._step(fact, end)]
        if ready > end:
            kind = ALONE[stage]
            title = device_title(kind, self.task.devices[number].label)
            found.append(
                Step(f"{key}:{kind}", key, kind, title, end, ready, False, None, needs=(fact.step,), port=fact.port)
            )
        return found
