"""Finding a short run: many quick first orders, then one of them bettered piece by piece.

First orders come from a dispatch rule (always the piece that can begin next, with weights that differ from try to
try); the best is improved by simulated annealing on the order of pieces (Kirkpatrick, Gelatt, Vecchi 1983). The same
task, seed and effort give the same order on every machine: effort is counted in pieces laid, never in seconds.
"""

from collections import Counter
from math import log

from tutelar.core.run.dispatch import Stuck, Weights, dispatch
from tutelar.core.run.schedule import State, schedule, total
from tutelar.core.run.task import Task


class SeededRandom:
    """A small source of repeatable chance: the minimal standard generator (Park and Miller 1988)."""

    def __init__(self, seed: int) -> None:
        self.state = seed % 2147483646 + 1

    def below(self, limit: int) -> int:
        """Return a whole number from 0 up to, not including, the limit."""
        self.state = self.state * 48271 % 2147483647
        return self.state * limit // 2147483647

    def share(self) -> float:
        """Return a number from 0 to 1."""
        self.state = self.state * 48271 % 2147483647
        return self.state / 2147483647


def _any_weights(dice: SeededRandom) -> Weights:
    """Return weights as different as makes sense; those of groups and remains span several powers of ten."""
    return Weights(
        stages=(dice.share() * 200, dice.share() * 100, dice.share() * 100, dice.share() * 100 - 50),
        remains=0.003 * 100 ** dice.share(),
        group=0.003 * 200 ** dice.share(),
        change=dice.share() * 5,
        idle=dice.share() * 2,
    )


def _near(weights: Weights, dice: SeededRandom) -> Weights:
    """Return weights a little different from these."""
    connect, activate, configure, confirm = (value * (0.5 + dice.share()) for value in weights.stages)
    return Weights(
        stages=(connect, activate, configure, confirm),
        remains=weights.remains * (0.5 + dice.share()),
        group=weights.group * (0.5 + dice.share()),
        change=weights.change * (0.5 + dice.share()),
        idle=weights.idle * (0.5 + dice.share()),
    )


def _first_order(task: Task, tries: int, dice: SeededRandom) -> list[int]:
    """Return the best order of so many dispatch rules: the usual one, others at random, then some near the best."""
    kept = Weights()
    order = dispatch(task, kept)
    best = total(task, order)
    for number in range(1, tries):
        weights = _any_weights(dice) if 2 * number < tries else _near(kept, dice)
        trial = dispatch(task, weights)
        length = total(task, trial)
        if length < best:
            best, kept, order = length, weights, trial
    return order


def search(task: Task, effort: int, dice: SeededRandom, bound: float = 0, start: list[int] | None = None) -> list[int]:
    """Return the best order found with about so many pieces laid, from a known order or from dispatch rules.

    A small task is annealed several times, each time from the best so far. Raises Stuck where nothing can be laid.
    """
    size = sum(4 - stage for stage in task.begun.stage)
    if size == 0:
        return []
    rules = effort * min(0.7, max(0.2, size / 1500))
    tries = min(1000, max(1, int(rules) // (20 * size)))
    order = _first_order(task, tries, dice)
    if start and total(task, start) <= total(task, order):
        order = start
    rounds = 1 + 160 // (size + 80)
    for _ in range(rounds):
        order = improve(task, order, int(effort - rules) // rounds, dice, bound)
    return _in_walking_order(task, order)


def _in_walking_order(task: Task, order: list[int]) -> list[int]:
    """Return the order with interchangeable devices named so that those in front are taken first."""
    first = list(dict.fromkeys(device for device in order if task.begun.stage[device] == 0))
    kinds: dict[int, list[int]] = {}
    for device in sorted(first, reverse=True):
        kinds.setdefault(task.alike[device], []).append(device)
    renamed = {device: kinds[task.alike[device]].pop() for device in first}
    return [renamed.get(device, device) for device in order]


GRAIN = 16  # pieces from one remembered state to the next


def improve(task: Task, order: list[int], effort: int, dice: SeededRandom, bound: float = 0) -> list[int]:
    """Return an order at least as good, after laying about `effort` pieces or as soon as the bound is reached.

    Simulated annealing: a trial that is longer is taken up with a chance that falls with its length and with time.
    The allowance is drawn before the trial, so that a hopeless one ends early.
    """
    size = len(order)
    begun = State(task)
    work = sum(task.seconds[4 * at + step] for at in range(task.count) for step in range(begun.stage[at], 4))
    spent = work + sum(begun.free)
    marks = _marks(task, order, [begun], 0)
    now = best = marks[-1].total(task)
    kept = list(order)
    left = effort
    hot = min(30.0, max(3.0, 1200 / (size + 1)))
    while left > 0 and best > bound + 1e-6 and size > 1:
        heat = hot * (COLD / hot) ** (1 - left / effort)
        if dice.below(REGROW) == 0:
            trial, mark = _regrown(task, order, marks, dice)
            left -= 10 * WINDOW
        else:
            trial, first = _moved(order, dice)
            mark = first // GRAIN
        allowed = now - heat * log(dice.share())
        state = marks[mark].copy()
        done = schedule(task, trial[mark * GRAIN :], state, allowed + 1e-6, task.technicians * allowed - spent + 1e-6)
        left -= 8 + (size - mark * GRAIN) // (1 if done else 3)
        if done and (total := state.total(task)) <= allowed:
            order, now = trial, total
            del marks[mark + 1 :]
            _marks(task, order, marks, mark)
            left -= size - mark * GRAIN
            if total < best:
                best, kept = total, order
    return kept


COLD = 0.5
REGROW = 8  # one trial in so many is grown anew from a dispatch rule for a while
WINDOW = 60  # pieces


def _regrown(task: Task, order: list[int], marks: list[State], dice: SeededRandom) -> tuple[list[int], int]:
    """Return the order with the pieces after some mark chosen by another dispatch rule, and that mark.

    Ruin and recreate (Schrimpf and others 2000): what the rule did not take follows in the order it had.
    """
    mark = dice.below(len(marks) - 1)
    try:
        fresh = dispatch(task, _any_weights(dice), marks[mark].copy(), 8 + dice.below(2 * WINDOW))
    except Stuck:  # a bench full of devices that wait for others, which the rule would not have made
        return order, mark
    taken = Counter(fresh)
    rest = []
    for device in order[mark * GRAIN :]:
        if taken[device]:
            taken[device] -= 1
        else:
            rest.append(device)
    return [*order[: mark * GRAIN], *fresh, *rest], mark


def _marks(task: Task, order: list[int], marks: list[State], mark: int) -> list[State]:
    """Lay the order on from a remembered state, and remember every GRAIN pieces; the last state is the end."""
    for at in range(mark * GRAIN, len(order), GRAIN):
        state = marks[-1].copy()
        schedule(task, order[at : at + GRAIN], state)
        marks.append(state)
    return marks


def _moved(order: list[int], dice: SeededRandom) -> tuple[list[int], int]:
    """Return the order with one piece, or a few in a row, taken elsewhere, and the first place that differs."""
    size = len(order)
    trial = order[:]
    at = dice.below(size)
    kind = dice.below(10)
    reach = (4, 12, 40, size)[dice.below(4)]
    to = min(size - 1, max(0, at + dice.below(2 * reach + 1) - reach))
    if kind < 6:
        trial.insert(to, trial.pop(at))
    elif kind < 8:
        trial[at], trial[to] = trial[to], trial[at]
    else:
        block = trial[at : at + 2 + dice.below(4)]
        del trial[at : at + len(block)]
        to = min(to, len(trial))
        trial[to:to] = block
    return trial, min(at, to)
