"""Drills: faults hidden on a site, the complaint that shows them, and what the trainee's checks were worth.

A drill is scored by minutes against the best policy (the check that tells most for its minutes, every time) and against
the usual order of the trade's check lists; the first check that told far less than another is shown.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, NamedTuple, Protocol, TypeVar

from tutelar.core.diagnose.causes import INTERNET, LAPTOP, SORTS, Cause
from tutelar.core.diagnose.checks import CHECKS
from tutelar.core.diagnose.ground import Ground
from tutelar.core.diagnose.observations import Cell, Seen
from tutelar.core.diagnose.outcome import shown
from tutelar.core.diagnose.telling import SHORT
from tutelar.core.diagnose.verdict import Diagnoser, Diagnosis
from tutelar.core.diagnose.wrong import Wrong

Level = Literal["easy", "hard", "double"]
_Item = TypeVar("_Item")


class Dice(Protocol):
    """Chance, which comes from outside."""

    def choice(self, seq: Sequence[_Item], /) -> _Item:
        """Return one of them."""
        ...

    def sample(self, population: Sequence[_Item], k: int) -> list[_Item]:
        """Return so many of them."""
        ...


USUAL_ORDER = (
    *("power", "light", "swap-cable", "other-port", "answers", "address"),
    *("login", "page", "gateway", "outside", "elsewhere", "reset"),
)
_SHOWS = ("answers", "page", "login", "stream", "clock", "linked", "relay")
_EASY = frozenset(
    {"power-off", "cable", "wrong-address", "wrong-password", "clock-offset", "switch-off", "gateway-down"}
)
_TRIES = 500
_FAR_LESS = 0.5  # of what the best check would have told a minute


def hide(ground: Ground, dice: Dice, level: Level) -> list[Cause]:
    """Return faults at random that show somewhere: one of the frequent ones, any one, or two; none where nothing on the
    site would show any."""
    kinds = [kind for kind, sort in SORTS.items() if sort.scope != "laptop" and (level != "easy" or kind in _EASY)]
    scopes = {
        scope: [key for key in ground.places(scope) if key not in ground.site.wired]
        for scope in {SORTS[kind].scope for kind in kinds}
    }
    found: list[Cause] = []
    for _ in range(_TRIES):
        kind = dice.choice(kinds)
        places = scopes[SORTS[kind].scope]
        if not places:
            continue
        cause = Cause(kind, dice.choice(places))
        if cause not in found and complaint(ground, Wrong(ground, [cause]), cause, dice) is not None:
            found.append(cause)
        if len(found) == (2 if level == "double" else 1):
            break
    return found


def complaint(ground: Ground, wrong: Wrong, cause: Cause, dice: Dice) -> Seen | None:
    """Return the first thing that shows a cause, at its device or at one of those that it touches; None where nothing
    does."""
    sound = Wrong(ground)
    where = [cause.at]
    if cause.at not in ground.devices:
        touched = [key for key in ground.devices if cause.at in (INTERNET, LAPTOP, ground.network_key(key))]
        where = dice.sample(touched, min(3, len(touched)))
    for key in where:
        for name in _SHOWS:
            result = shown(ground, wrong, name, key)
            if result != shown(ground, sound, name, key):
                return Seen(check=name, at=key, result=result)
    return None


class Played(NamedTuple):
    """A case played to its end: the verdict, the minutes, and the checks that were made."""

    found: Diagnosis
    minutes: float
    asked: tuple[Cell, ...]


def play(diagnoser: Diagnoser, wrong: Wrong, first: Sequence[Seen], order: Sequence[str] = ()) -> Played:
    """Return how a case goes from its complaint, asking what tells most for its minutes, or in a given order."""
    seen, minutes = list(first), 0.0
    asked: list[Cell] = []
    left = [Cell(check, first[0].at) for check in order]
    while True:
        found = diagnoser.verdict(seen)
        if found.next is None or (order and not left):
            return Played(found, minutes, tuple(asked))
        cell = left.pop(0) if order else Cell(found.next.check, found.next.where)
        seen.append(Seen(check=cell.check, at=cell.at, result=shown(diagnoser.ground, wrong, *cell)))
        asked.append(cell)
        minutes += CHECKS[cell.check].minutes


def is_named(found: Diagnosis, causes: Sequence[Cause]) -> bool:
    """Return whether the likeliest cause, or one that no check tells from it, is exactly these faults."""
    truth = {cause.name for cause in causes}
    top = found.causes[0]
    return any({item.name for item in one} == truth for one in (top.faults, *top.alike))


class Left(NamedTuple):
    """A check that told far less for its minutes than another would have: its number, and the better one."""

    number: int
    made: Cell
    better: Cell
    bits: float
    better_bits: float


@dataclass(frozen=True, slots=True)
class Score:
    """A drill's score: whether the cause was named, minutes, those of the best policy and of the usual order, and where
    the best way was left first."""

    right: bool
    minutes: float
    best: float
    usual: float
    left: Left | None
    best_way: tuple[Cell, ...]


def score(
    diagnoser: Diagnoser, causes: Sequence[Cause], seen: Sequence[Seen], so_many: int, named: set[tuple[str, str]]
) -> Score:
    """Return the score of a drill: of what was seen the first `so_many` are the complaint; `named` are the faults that
    the trainee named. Faults that no check tells from the hidden ones are right too."""
    wrong = Wrong(diagnoser.ground, causes)
    first, asked = seen[:so_many], seen[so_many:]
    best = play(diagnoser, wrong, first)
    usual = play(diagnoser, wrong, first, USUAL_ORDER)
    left = None
    for number, item in enumerate(asked, 1):
        made = Cell(item.check, item.at)
        before = diagnoser.verdict(seen[: so_many + number - 1])
        if before.next is None:
            break
        bits = before.gains.get(made, 0.0)
        rate = bits / CHECKS[made.check].minutes
        if rate < _FAR_LESS * before.next.expected_gain / before.next.minutes:
            better = Cell(before.next.check, before.next.where)
            left = Left(number, made, better, bits, before.next.expected_gain)
            break
    right = named == {cause.name for cause in causes} or alike(diagnoser.ground, named, causes)
    minutes = sum(CHECKS[item.check].minutes for item in asked)
    return Score(right, minutes, best.minutes, usual.minutes, left, best.asked)


def put_right(ground: Ground, named: set[tuple[str, str]], causes: Sequence[Cause]) -> list[Cause]:
    """Return which of the hidden faults are gone once what was named is put right: those named, or all of them where no
    check tells them from what was named."""
    found = [cause for cause in causes if cause.name in named]
    return found or (list(causes) if alike(ground, named, causes) else [])


def alike(ground: Ground, named: set[tuple[str, str]], causes: Sequence[Cause]) -> bool:
    """Return whether no check at any device tells the named faults from the hidden ones."""
    if not named or len(named) != len(causes):
        return False
    one, other = Wrong(ground, causes), Wrong(ground, [Cause(*name) for name in named])
    places = {cause.at for cause in causes} | {at for _, at in named}
    keys = [
        key for key in ground.devices if places & {*ground.entities(key), ground.network_key(key), INTERNET, LAPTOP}
    ]
    return all(shown(ground, one, check, key) == shown(ground, other, check, key) for key in keys for check in CHECKS)


def left_said(names: Mapping[str, str], left: Left) -> str:
    """Return in words where the best way was left first."""
    made, better = CHECKS[left.made.check], CHECKS[left.better.check]
    rate, better_rate = left.bits / made.minutes, left.better_bits / better.minutes
    worth = "nothing" if rate < 0.001 else f"{better_rate / rate:.0f} times less a minute"
    return (
        f"Check {left.number}, {SHORT[left.made.check].lower()} of {names[left.made.at]} ({made.minutes:g} min), told "
        f"{worth}: {SHORT[left.better.check].lower()} of {names[left.better.at]} ({better.minutes:g} min) would have "
        "told most."
    )
