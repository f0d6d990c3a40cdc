"""Laying pieces of hand work, in a given order, onto hands, twin groups and bench ports, each as early as it can."""
# ruff: noqa: PLR1730, PLR0915 - comparisons instead of calls of max: the search spends its time in this loop

from dataclasses import dataclass
from heapq import heapify, heappop, heappush

from tutelar.core.run.task import IN_SITE, NEVER, Task


@dataclass(frozen=True, slots=True)
class ScheduledOperation:
    """One piece in its place. `changed_at` is when the hand begins to change its laptop for it, None if it need not."""

    piece: int
    hand: int
    start: float
    changed_at: float | None = None


class State:
    """How far the laying has come; it is copied, so that many trials can go on from one beginning."""

    __slots__ = ("confirmed", "due", "free", "last", "lost", "ports", "setting", "stage", "twin_free")

    def __init__(self, task: Task) -> None:
        begun = task.begun
        self.stage, self.due, self.confirmed = list(begun.stage), list(begun.due), list(begun.confirmed)
        self.twin_free, self.free, self.setting = list(begun.twin_free), list(begun.free), list(begun.setting)
        self.ports = [at for at in begun.port_free if at != NEVER]
        heapify(self.ports)
        ended = [due for due, stage in zip(self.due, self.stage, strict=True) if stage == 4]
        self.last = max([*self.free, *ended])
        self.lost = 0.0  # seconds of hands that went by idle or on laptops

    def copy(self) -> "State":
        """Return a state that may be laid on by itself."""
        other = State.__new__(State)
        other.stage, other.due, other.confirmed = self.stage[:], self.due[:], self.confirmed[:]
        other.twin_free, other.free, other.setting = self.twin_free[:], self.free[:], self.setting[:]
        other.ports, other.last, other.lost = self.ports[:], self.last, self.lost
        return other

    def total(self, task: Task) -> float:
        """Return when the last step ends once nothing is left to lay: the laptops are set back."""
        back = (
            at if where <= IN_SITE else at + task.adapter_s for at, where in zip(self.free, self.setting, strict=True)
        )
        return max(self.last, *back)


def schedule(
    task: Task,
    order: list[int],
    state: State,
    stop: float = NEVER,
    lose: float = NEVER,
    into: list[ScheduledOperation] | None = None,
) -> bool:
    """Lay the devices' next pieces in this order, into the state; return False where that cannot be.

    A serial schedule generation scheme: every piece goes to the hand that can begin it first, and is never moved for
    a later one. It gives up as soon as something ends after `stop`, or more than `lose` seconds of hands are lost.
    """
    stage, due, confirmed, twin_free = state.stage, state.due, state.confirmed, state.twin_free
    free, setting, ports, last, lost = state.free, state.setting, state.ports, state.last, state.lost
    seconds, lag, need, twin, waits, change = task.seconds, task.lag, task.need, task.twin, task.waits, task.adapter_s
    several, hand = task.technicians > 1, 0
    for device in order:
        step = stage[device]
        stage[device] = step + 1
        piece = 4 * device + step
        ready = due[device]
        if step == 0:
            group = twin[device]
            if group >= 0:
                if twin_free[group] > ready:
                    ready = twin_free[group]
                twin_free[group] = NEVER
            if not ports:
                return False
            port = heappop(ports)
            if port > ready:
                ready = port
        if waits[piece]:
            for other in waits[piece]:
                if confirmed[other] > ready:
                    ready = confirmed[other]
        if ready == NEVER:
            return False
        took = seconds[piece]
        if not took:  # left out: what follows begins at once, and no hand is needed
            if into is not None:
                into.append(ScheduledOperation(piece, 0, ready))
            end = ready
        else:
            where = need[piece]
            if several:
                best = NEVER
                for each, at in enumerate(free):
                    begin = at if where < 0 or setting[each] == where else at + change
                    rank = (begin if begin > ready else ready) + 1e-7 * (begin - at) - 1e-8 * at
                    if rank < best:
                        best, hand = rank, each
            before = start = free[hand]
            changed = where >= 0 and setting[hand] != where
            if changed:
                start += change
                setting[hand] = where
            if ready > start:
                start = ready
            if into is not None:
                into.append(ScheduledOperation(piece, hand, start, before if changed else None))
            lost += start - before
            end = start + took
            free[hand] = end
        due[device] = ready = end + lag[piece]
        if step == 3:
            confirmed[device] = end
            heappush(ports, end)
            if ready > last:
                last = ready
        elif step == 2 and twin[device] >= 0:
            twin_free[twin[device]] = end
        if lost > lose or last >= stop:
            return False
    state.last, state.lost = last, lost
    return True


def total(task: Task, order: list[int]) -> float:
    """Return when the last step ends if the pieces are taken in this order, infinity where that cannot be."""
    state = State(task)
    return state.total(task) if schedule(task, order, state) else NEVER
