"""What faults change: the weighed words that checks show under them, each worked out once."""

from collections.abc import Iterable, Sequence

from tutelar.core.diagnose.causes import Cause, Hypothesis
from tutelar.core.diagnose.ground import Ground
from tutelar.core.diagnose.observations import Cell, sorted_word
from tutelar.core.diagnose.outcome import shown
from tutelar.core.diagnose.wrong import Wrong

Effect = dict[Cell, str]


class Words:
    """What every check shows under every fault, as words that are weighed."""

    def __init__(self, ground: Ground) -> None:
        self.ground = ground
        self._sound = Wrong(ground)
        self._usual: dict[Cell, str] = {}
        self._wrong: dict[Cause, Wrong] = {}
        self._single: dict[Cause, dict[Cell, str]] = {}

    def _word(self, wrong: Wrong, cell: Cell) -> str:
        return sorted_word(self.ground, cell.check, cell.at, shown(self.ground, wrong, cell.check, cell.at))

    def usual(self, cell: Cell) -> str:
        """Return what a check shows where nothing is wrong."""
        found = self._usual.get(cell)
        if found is None:
            found = self._usual[cell] = self._word(self._sound, cell)
        return found

    def of(self, hypothesis: Hypothesis, cells: Sequence[Cell]) -> Effect:
        """Return those of the checks that show something else than usual under one or two faults."""
        effects = [self.one(cause, cells) for cause in hypothesis]
        return self.both(hypothesis, *effects) if len(effects) == 2 else effects[0] if effects else {}

    def one(self, cause: Cause, cells: Iterable[Cell]) -> Effect:
        """Return those of the checks that show something else than usual under one fault."""
        known = self._single.setdefault(cause, {})
        wrong = self._wrong.setdefault(cause, Wrong(self.ground, (cause,)))
        found = {}
        for cell in cells:
            word = known.get(cell)
            if word is None:
                word = known[cell] = self._word(wrong, cell)
            if word != self.usual(cell):
                found[cell] = word
        return found

    def both(self, hypothesis: Hypothesis, first: Effect, second: Effect) -> Effect:
        """Return what two faults change together, from what each changes alone.

        What only one of them changes, it changes in the same way beside the other; what both change is looked at. A
        double address is looked at throughout: it may hide the other fault; so is remote access, which a device that
        does not answer does not tell of.
        """
        found = {**first, **second}
        hides = any(cause.fault == "duplicate-address" for cause in hypothesis)
        shared = (
            list(found)
            if hides
            else [cell for cell in found if cell.check == "relay" or (cell in first and cell in second)]
        )
        if shared:
            wrong = Wrong(self.ground, hypothesis)
            for cell in shared:
                word = self._word(wrong, cell)
                if word == self.usual(cell):
                    del found[cell]
                else:
                    found[cell] = word
        return found
