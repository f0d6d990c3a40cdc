"""First orders by a dispatch rule: always the piece with the least weighted start is taken next.

The rule of Giffler and Thompson (1960) with weights instead of one priority: how soon a piece can begin, what it costs
in laptop changes and waiting, how much hangs on it.
"""

from dataclasses import dataclass

from tutelar.core.run.schedule import State, schedule
from tutelar.core.run.task import NEVER, Task


class Stuck(Exception):
    """No piece can be laid any more: the rest waits for what never comes."""


@dataclass(frozen=True, slots=True)
class Weights:
    """Seconds of favour for each stage; favour a second of what hangs on a device; costs of changes and waiting."""

    stages: tuple[float, float, float, float] = (60.0, 20.0, 10.0, 0.0)
    remains: float = 0.05
    group: float = 0.02
    change: float = 1.0
    idle: float = 1.0


def dispatch(task: Task, weights: Weights, state: State | None = None, most: int | None = None) -> list[int]:
    """Return an order that can be laid, of all pieces or of the next `most` ones. Raises Stuck where there is none.

    The pieces are laid into the `state`, if there is one, so it goes on from there.

    A device is plugged in only when all it waits for is on the bench or done: otherwise the bench could fill with
    devices that wait for one that finds no port.
    """
    state = state or State(task)
    rule, order = _Rule(task, weights, state.stage), list[int]()
    while (rule.bench or rule.waiting) and (most is None or len(order) < most):
        device = rule.choose(state)
        schedule(task, [device], state)
        rule.took(device, state.stage[device])
        order.append(device)
    return order


class _Rule:
    def __init__(self, task: Task, weights: Weights, stage: list[int]) -> None:
        self.task, self.weights = task, weights
        self.bench = [device for device in range(task.count) if 0 < stage[device] < 4]
        self.waiting: dict[int, list[int]] = {}  # devices not plugged in yet, by kind, the first of each kind last
        for device in reversed(range(task.count)):
            if stage[device] == 0:
                self.waiting.setdefault(task.alike[device], []).append(device)
        self.load = [0.0] * len(task.begun.twin_free)
        for device, group in enumerate(task.twin):
            if group >= 0 and stage[device] < 3:
                self.load[group] += task.spans[device]
        self.worth = [weights.remains * seconds for seconds in task.followed]

    def choose(self, state: State) -> int:
        """Return the device whose next piece has the least weighted start."""
        task, weights, best, chosen = self.task, self.weights, NEVER, -1
        need, change, setting = task.need, task.adapter_s, state.setting
        for device in [*self.bench, *(kind[-1] for kind in self.waiting.values())] if state.ports else self.bench:
            step = state.stage[device]
            ready = self._ready(device, step, state)
            if ready == NEVER:
                continue
            value = weights.stages[step] + self.worth[device]
            if step < 3 and task.twin[device] >= 0:
                value += weights.group * self.load[task.twin[device]]
            where = need[4 * device + step]
            for hand, free in enumerate(state.free):
                start, cost = free, 0.0
                if where >= 0 and setting[hand] != where:
                    start += change
                    cost = weights.change * change
                if ready > start:
                    cost += weights.idle * (ready - start)
                    start = ready
                if start + cost - value < best:
                    best, chosen = start + cost - value, device
        if chosen < 0:
            raise Stuck
        return chosen

    def _ready(self, device: int, step: int, state: State) -> float:
        """Return when the device's next piece may begin, infinity where that is not known yet."""
        task, first = self.task, 4 * device
        ready = state.due[device]
        if step == 0:
            ready = max(ready, state.ports[0])
            if task.twin[device] >= 0:
                ready = max(ready, state.twin_free[task.twin[device]])
            if any(state.stage[other] == 0 for at in range(first, first + 4) for other in task.waits[at]):
                return NEVER
        for other in task.waits[first + step]:
            ready = max(ready, state.confirmed[other])
        return ready

    def took(self, device: int, stage: int) -> None:
        """Take note that a piece was laid, after which the device is at this stage."""
        if stage == 1:
            kind = self.waiting[self.task.alike[device]]
            kind.pop()
            if not kind:
                del self.waiting[self.task.alike[device]]
            self.bench.append(device)
        elif stage == 3 and self.task.twin[device] >= 0:
            self.load[self.task.twin[device]] -= self.task.spans[device]
        elif stage == 4:
            self.bench.remove(device)
