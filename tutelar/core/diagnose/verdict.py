"""The verdict: the causes by their likelihood, what each explains, and the check that tells most for its minutes.

The next check is the one with the greatest expected gain of information a minute (Gorry and Barnett 1968; de Kleer
and Williams 1987), in bits, over the hypotheses that are left.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

from tutelar.core.diagnose.causes import NOTHING, Cause, Hypothesis
from tutelar.core.diagnose.checks import CHECKS, LIE
from tutelar.core.diagnose.effects import Effect, Words
from tutelar.core.diagnose.ground import Ground
from tutelar.core.diagnose.observations import Cell, Seen, chance, sorted_word
from tutelar.core.diagnose.suspects import Suspects
from tutelar.core.diagnose.weighing import Weighed, Weighing

SURE = 0.95  # likelihood at which no further check is asked for
WORTH = 0.05  # bits below which a check is not worth its minutes
SHOWN = 20  # causes that are named
_ACTIVE, _LIGHT = 150, 2e-4  # hypotheses that checks are chosen for, and how light they may be
_PLACES, _STRANGE = 40, 12  # devices at which checks are thought of; of those that show something strange


class NextCheck(NamedTuple):
    """The check to make next: where, its minutes, and what it is expected to tell in bits."""

    check: str
    where: str
    minutes: float
    expected_gain: float


@dataclass(frozen=True, slots=True)
class Likely:
    """A cause: its faults (none: nothing is wrong), others that no check tells from it, its likelihood, and the
    numbers of the observations that it explains and that speak against it."""

    faults: Hypothesis
    alike: tuple[Hypothesis, ...]
    likelihood: float
    explains: tuple[int, ...]
    contradicts: tuple[int, ...]


@dataclass(frozen=True)
class Diagnosis:
    """The causes, the likeliest first, and the next check."""

    seen: tuple[Seen, ...]
    causes: tuple[Likely, ...]
    next: NextCheck | None
    focus: tuple[str, ...]
    fits: bool  # whether the likeliest cause explains what was seen at all; else it is none of these
    gains: Mapping[Cell, float]  # what checks that were not made are expected to tell, in bits

    def as_dict(self) -> dict[str, Any]:
        """Return the diagnosis as the contract prints it."""
        return {
            "causes": [self._cause(cause) for cause in self.causes],
            "next": None if self.next is None else self.next._asdict(),
        }

    def _cause(self, cause: Likely) -> dict[str, Any]:
        first = cause.faults[0] if cause.faults else Cause(NOTHING, "")
        row: dict[str, Any] = {"fault": first.fault, "at": first.at or None, "likelihood": cause.likelihood}
        if len(cause.faults) > 1:
            row["faults"] = [{"fault": item.fault, "at": item.at} for item in cause.faults]
        row["explains"] = [self.seen[number].model_dump() for number in cause.explains]
        row["contradicts"] = [self.seen[number].model_dump() for number in cause.contradicts]
        return row


class Diagnoser:
    """A site on which verdicts are asked for one after the other: what faults change is worked out once."""

    def __init__(self, ground: Ground, prior: Mapping[str, float] | None = None) -> None:
        self.ground = ground
        self._suspects = Suspects(ground, prior)
        self._words = Words(ground)

    def verdict(self, seen: Sequence[Seen]) -> Diagnosis:
        """Return the verdict on what was seen."""
        weighed = Weighing(self._words, seen, self._suspects).weighed()
        effects = _Effects(self._words, self._suspects, weighed)
        groups = effects.groups()
        asked = {Cell(item.check, item.at) for item in seen}
        sure = bool(groups) and groups[0][1] >= SURE
        gains = {} if sure else effects.gains(asked)
        causes = [self._likely(seen, members, share) for members, share in groups[:SHOWN]]
        fits = not causes or 2 * len(causes[0].contradicts) <= max(1, len(causes[0].explains))
        return Diagnosis(tuple(seen), tuple(causes), _next(gains), tuple(weighed.focus), fits, gains)

    def is_strange(self, seen: Seen) -> bool:
        """Return whether something shows what it would not where nothing is wrong."""
        usual = self._words.usual(Cell(seen.check, seen.at))
        return chance(seen.check, usual, sorted_word(self.ground, seen.check, seen.at, seen.result)) < 0.5

    def _likely(self, seen: Sequence[Seen], members: list[Hypothesis], share: float) -> Likely:
        cells = [Cell(item.check, item.at) for item in seen]
        changed = self._words.of(members[0], cells)
        explains, contradicts = [], []
        for number, (cell, item) in enumerate(zip(cells, seen, strict=True)):
            said = sorted_word(self.ground, item.check, item.at, item.result)
            usual = self._words.usual(cell)
            under = chance(item.check, changed.get(cell, usual), said)
            if under < 0.05:
                contradicts.append(number)
            elif chance(item.check, usual, said) < 0.5:
                explains.append(number)
        return Likely(members[0], tuple(members[1:]), share, tuple(explains), tuple(contradicts))


def diagnose(ground: Ground, seen: Sequence[Seen], prior: Mapping[str, float] | None = None) -> Diagnosis:
    """Return the verdict on what was seen at a site; `prior` replaces weights of faults."""
    return Diagnoser(ground, prior).verdict(seen)


class _Effects:
    """What each hypothesis changes at the devices in question, against nothing being wrong."""

    def __init__(self, words: Words, suspects: Suspects, weighed: Weighed) -> None:
        self.ground = words.ground
        self._suspects = suspects
        self._words = words
        self._focus = frozenset(weighed.focus)
        hypotheses = weighed.hypotheses
        active: list[tuple[Hypothesis, float]] = []
        self._rest: list[tuple[Hypothesis, float]] = []
        for number, item in enumerate(hypotheses):
            heavy = not item[0] or (number < _ACTIVE and item[1] >= _LIGHT)
            (active if heavy else self._rest).append(item)
        self._keys = self._places(active, weighed.focus)
        self._felt = {key: self._checks(key) for key in self._keys}
        self._singles: dict[Cause, Effect] = {}
        self._touched: dict[str, list[Cell]] = {}
        for key, checks in self._felt.items():
            for check, places in checks.items():
                for place in places:
                    self._touched.setdefault(place, []).append(Cell(check, key))
        self.active = [(found, share, self._effect(found)) for found, share in active]

    def _checks(self, key: str) -> dict[str, frozenset[str]]:
        """Return the checks that make sense at a device, each with what it feels: those that pass where all is well."""
        tied = any(link.kind == "relays" for link in self.ground.site.links_of(key)) or key in self._focus
        sensible = (check for check in CHECKS if check != "relay" or tied)
        cells = (Cell(check, key) for check in sensible)
        return {cell.check: self._suspects.felt_by(cell) for cell in cells if self._words.usual(cell) in ("pass", "on")}

    def _places(self, active: Sequence[tuple[Hypothesis, float]], focus: Sequence[str]) -> list[str]:
        """Return the devices where checks may tell something: the strange ones, where the causes would be, and one
        or two neighbours that hang on the same."""
        devices = self.ground.devices
        weights: dict[str, float] = {}
        for found, share in active:
            for cause in found:
                if cause.at in devices:
                    weights[cause.at] = weights.get(cause.at, 0.0) + share
        for key in focus[:_STRANGE]:
            weights[key] = weights.get(key, 0.0) + 1e-6
        heavy = sorted(weights, key=lambda key: -weights[key])[:_PLACES]
        found_keys = dict.fromkeys(heavy)
        strange = set(focus)
        for key in heavy[:12]:
            neighbours = [other for other in self.ground.below.get(key, ()) if other not in strange]
            found_keys.update(dict.fromkeys(neighbours[:1]))
            children = self.ground.below.get(key, ())
            found_keys.update(dict.fromkeys(children[:2]))
        return list(found_keys)

    def _effect(self, found: Hypothesis) -> Effect:
        effects = [self._alone(cause) for cause in found]
        return self._words.both(found, *effects) if len(effects) == 2 else effects[0] if effects else {}

    def _alone(self, cause: Cause) -> Effect:
        effect = self._singles.get(cause)
        if effect is None:
            places = [place for place in (cause.at, cause.other) if place is not None]
            cells = dict.fromkeys(cell for place in places for cell in self._touched.get(place, ()))
            effect = self._singles[cause] = self._words.one(cause, cells)
        return effect

    def groups(self) -> list[tuple[list[Hypothesis], float]]:
        """Return the hypotheses that no check tells apart as one, the heaviest first, with their likelihood."""
        found: dict[frozenset[tuple[Cell, str]], list[Hypothesis]] = {}
        shares: dict[frozenset[tuple[Cell, str]], float] = {}
        for hypothesis, share, effect in self.active:
            looked_at = all(cause.at in self._touched for cause in hypothesis)
            sign = frozenset(effect.items()) if looked_at else frozenset({(Cell(str(hypothesis), ""), "")})
            found.setdefault(sign, []).append(hypothesis)
            shares[sign] = shares.get(sign, 0.0) + share
        named: dict[tuple[tuple[str, str], ...], tuple[list[Hypothesis], float]] = {}
        alone = [([hypothesis], share) for hypothesis, share in self._rest]
        for members, share in [*((found[sign], shares[sign]) for sign in found), *alone]:
            name = tuple(sorted(cause.name for cause in members[0]))  # variants of one fault are one cause
            before = named.get(name, ([], 0.0))
            named[name] = ([*before[0], *members], before[1] + share)
        groups = list(named.values())
        return sorted(groups, key=lambda group: -group[1])

    def gains(self, asked: set[Cell]) -> dict[Cell, float]:
        """Return what each check that was not made yet is expected to tell, in bits."""
        words: dict[Cell, dict[str, float]] = {}
        for _, share, effect in self.active:
            for cell, word in effect.items():
                at = words.setdefault(cell, {})
                at[word] = at.get(word, 0.0) + share
        found = {}
        for cell, shares in words.items():
            if cell not in asked:
                found[cell] = _gain({**shares, self._words.usual(cell): max(0.0, 1 - sum(shares.values()))})
        return found


def _next(gains: Mapping[Cell, float]) -> NextCheck | None:
    """Return the check that tells most for its minutes, None where none is worth it."""
    best: NextCheck | None = None
    rate = 0.0
    for cell, gain in gains.items():
        minutes = CHECKS[cell.check].minutes
        if gain >= WORTH and gain / minutes > rate * (1 + 1e-9):
            best, rate = NextCheck(cell.check, cell.at, minutes, gain), gain / minutes
    return best


def _gain(shares: Mapping[str, float]) -> float:
    """Return what a check is expected to tell in bits, where its answer is wrong at the rate of lies."""
    words = [word for word, share in shares.items() if share > 0]
    if len(words) < 2:
        return 0.0
    other = LIE / (len(words) - 1)
    heard = [sum(shares[told] * (1 - LIE if told == word else other) for told in words) for word in words]
    noise = _bits((1 - LIE, *(other for _ in words[1:])))
    return max(0.0, _bits(heard) - noise)


def _bits(shares: Sequence[float]) -> float:
    return -sum(share * math.log2(share) for share in shares if share > 0)
