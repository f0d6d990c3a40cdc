"""How likely is each cause after what was seen? Bayes' rule over single faults and pairs.

Each fault has a weight before anything was seen; every result multiplies it by how likely that result is under the
fault (de Kleer and Williams 1987; Pearl 1988; docs/diagnosis.md). A fault changes only what hangs on it, so results
elsewhere count the same for all and are left out. On small sites all pairs are weighed; on large ones those that the
heaviest faults and the results they leave unexplained call for.
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from ipaddress import IPv4Address

from tutelar.core.diagnose.causes import (
    INTERNET,
    LAPTOP,
    NOTHING_STRANGE,
    PAIR,
    PAIR_UNCALLED,
    WEIGHT_OF_NOTHING,
    Cause,
    Hypothesis,
)
from tutelar.core.diagnose.effects import Words
from tutelar.core.diagnose.observations import Cell, Seen, chance, sorted_word
from tutelar.core.diagnose.suspects import Suspect, Suspects

_ALL_PAIRS = 160  # single faults up to which every pair is weighed
_HEAVIEST, _LEADERS = 60, 16  # beyond that: pairs among the heaviest, and of the leaders with whatever helps them
_SEARCHED = 16  # places that are thought of where nothing strange was seen
_HEAVY = 1.5  # natural logarithm of about the heaviest weight
_NEGLIGIBLE = 8.0  # natural logarithm by which a hypothesis may lag behind the best one


@dataclass(frozen=True, slots=True)
class Weighed:
    """The hypotheses with their likelihoods (they sum to 1; the empty one is that nothing is wrong), the heaviest
    first, and the devices that do not show what they should."""

    hypotheses: list[tuple[Hypothesis, float]]
    focus: list[str]


@dataclass(frozen=True)
class _Single:
    suspect: Suspect
    prior: float  # natural logarithm of its weight
    gains: dict[int, float]  # what it adds at each result that it may change, against nothing being wrong
    explains: frozenset[int]  # the results that nothing else would explain

    @cached_property
    def added(self) -> float:
        return sum(self.gains.values())

    @property
    def score(self) -> float:
        return self.prior + self.added


class Weighing:
    """What was seen on a site, weighed."""

    def __init__(self, words: Words, seen: Sequence[Seen], suspects: Suspects) -> None:
        ground = self.ground = words.ground
        self.suspects = suspects
        self._words = words
        self._cells = [Cell(item.check, item.at) for item in seen]
        self._said = [sorted_word(ground, item.check, item.at, item.result) for item in seen]
        self._raw = [item.result for item in seen]
        self._usual = [self._chance(words.usual(cell), number) for number, cell in enumerate(self._cells)]
        self._uncalled = PAIR_UNCALLED
        self._strange = frozenset(number for number, usual in enumerate(self._usual) if usual < 0.5)
        self._felt: dict[str, list[int]] = {}
        for number, cell in enumerate(self._cells):
            for place in suspects.felt_by(cell):
                self._felt.setdefault(place, []).append(number)

    def weighed(self) -> Weighed:
        """Return the hypotheses with their likelihoods."""
        focus = self.focus()
        self._uncalled = PAIR_UNCALLED / max(1, len(focus))
        singles = self._singles(focus)
        singles.sort(key=lambda single: -single.score)
        nothing = WEIGHT_OF_NOTHING
        if not self._strange:
            nothing = max(nothing, NOTHING_STRANGE * sum(single.suspect.weight for single in singles))
        found: dict[Hypothesis, float] = {(): math.log(nothing)}
        for single in singles:
            if single.explains or not self._strange:
                found[(single.suspect.cause,)] = single.score
        best = max(found.values())
        for one, other in self._pairs(singles):
            score = self._pair(one, other, best - _NEGLIGIBLE)
            if score is not None:
                found[one.suspect.cause, other.suspect.cause] = score
                best = max(best, score)
        return Weighed(_normal(found, best), focus)

    def focus(self) -> list[str]:
        """Return the devices that do not show what they should; without any those that were looked at, and where
        nothing was looked at all that there are."""
        strange = [self._cells[number].at for number in sorted(self._strange)]
        return list(dict.fromkeys(strange or [cell.at for cell in self._cells] or self.ground.devices))

    def _singles(self, focus: Sequence[str]) -> list[_Single]:
        """Return the faults that are weighed: those that what was seen may come from, the most felt places first.

        Where one fault explains all that is strange at a place, and much more than anything there could, the faults
        there are not looked at.
        """
        found: list[_Single] = []
        best: _Single | None = None
        strange_places = frozenset(focus)
        for place in self._suspected(focus):
            felt = [number for number in self._felt.get(place, ()) if number in self._strange]
            if best is not None and best.explains.issuperset(felt):
                most = sum(-math.log(self._usual[number]) for number in felt)
                if most + _HEAVY < best.score - 2 * _NEGLIGIBLE:
                    continue
            for suspect in self.suspects.at(place):
                single = self._single(suspect)
                # of faults elsewhere only those that explain something of what is strange
                if single.explains or not self._strange or place in strange_places:
                    found.append(single)
                    if single.explains and (best is None or single.score > best.score):
                        best = single
        for cell, said, raw in zip(self._cells, self._said, self._raw, strict=True):
            if said == "taken":
                other = self.ground.by_address[IPv4Address(raw)]
                found.append(self._single(self.suspects.doubling(cell.at, other)))
        return found

    def _suspected(self, focus: Sequence[str]) -> list[str]:
        """Return the places whose faults may be behind what was seen, those first that are felt most."""
        if not self._strange and len(focus) > _SEARCHED:  # what most hangs on comes first
            focus = sorted(focus, key=lambda key: -len(self.ground.below.get(key, ())))[:_SEARCHED]
        places: dict[str, None] = dict.fromkeys(focus)
        for key in focus:
            places.update(dict.fromkeys(sorted(self.ground.entities(key))))
            network = self.ground.network_key(key)
            if network is not None:
                places[network] = None
        for number in sorted(self._strange):
            places.update(dict.fromkeys(sorted(self.suspects.felt_by(self._cells[number]))))
        places[INTERNET] = places[LAPTOP] = None
        return sorted(places, key=lambda place: -len(self._felt.get(place, ())))

    def _single(self, suspect: Suspect) -> _Single:
        touched = self._touched(suspect.cause)
        effect = self._words.one(suspect.cause, [self._cells[number] for number in touched])
        gains = {}
        for number in touched:
            word = effect.get(self._cells[number])
            if word is not None:
                gains[number] = math.log(self._chance(word, number) / self._usual[number])
        explains = frozenset(
            number
            for number, gain in gains.items()
            if number in self._strange and self._usual[number] * math.exp(gain) > 0.05
        )
        return _Single(suspect, math.log(suspect.weight), gains, explains)

    def _touched(self, cause: Cause) -> Iterable[int]:
        numbers = self._felt.get(cause.at, [])
        if cause.fault == "duplicate-address" and cause.other is not None:
            return dict.fromkeys((*numbers, *self._felt.get(cause.other, [])))
        return numbers

    def _chance(self, word: str, number: int) -> float:
        return chance(self._cells[number].check, word, self._said[number])

    def _pairs(self, singles: Sequence[_Single]) -> Iterable[tuple[_Single, _Single]]:
        if len(singles) <= _ALL_PAIRS:
            heavy: Sequence[_Single] = singles
        else:
            heavy = singles[:_HEAVIEST]
        for at, one in enumerate(heavy):
            for other in heavy[at + 1 :]:
                yield one, other
        if len(singles) <= _ALL_PAIRS:
            return
        for one in heavy[:_LEADERS]:
            unexplained = {
                number for number, usual in enumerate(self._usual) if usual * math.exp(one.gains.get(number, 0.0)) < 0.5
            }
            for other in singles[_HEAVIEST:]:
                if any(other.gains.get(number, 0.0) > 0 for number in unexplained & other.gains.keys()):
                    yield one, other

    def _pair(self, one: _Single, other: _Single, least: float) -> float | None:
        """Return the score of both at once, None where it is negligible."""
        if one.suspect.cause.name == other.suspect.cause.name:
            return None
        called = bool(one.explains - other.explains and other.explains - one.explains)
        if not called and not (one.explains or other.explains):
            return None
        score = one.prior + other.prior + math.log(PAIR if called else self._uncalled)
        hides = "duplicate-address" in (one.suspect.cause.fault, other.suspect.cause.fault)
        shared = one.gains.keys() | other.gains.keys() if hides else one.gains.keys() & other.gains.keys()
        if not shared:
            score += one.added + other.added
            return score if score >= least else None
        score += sum(gain for number, gain in one.gains.items() if number not in shared)
        score += sum(gain for number, gain in other.gains.items() if number not in shared)
        if score - sum(math.log(self._usual[number]) for number in shared) < least:
            return None
        both = (one.suspect.cause, other.suspect.cause)
        cells = [self._cells[number] for number in shared]
        effect = self._words.of(both, cells)
        for number, cell in zip(shared, cells, strict=True):
            score += math.log(self._chance(effect.get(cell, self._words.usual(cell)), number) / self._usual[number])
        return score if score >= least else None


def _normal(scores: dict[Hypothesis, float], best: float) -> list[tuple[Hypothesis, float]]:
    kept = [(found, math.exp(score - best)) for found, score in scores.items() if score >= best - _NEGLIGIBLE]
    if () not in (found for found, _ in kept):
        kept.append(((), math.exp(max(scores[()] - best, -600))))
    total = sum(share for _, share in kept)
    return sorted(((found, share / total) for found, share in kept), key=lambda item: -item[1])
