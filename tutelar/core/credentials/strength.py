"""How long would somebody have to guess? (zxcvbn, Wheeler 2016: guesses of an attacker who knows common patterns.)"""

from collections.abc import Iterable
from dataclasses import dataclass

from tutelar.core.wording import count

_HOLDS = 2  # the score from which a password is not guessed within a day
LONGEST = 72  # characters looked at; the estimator takes long over more, and a longer one is not weaker
_SPOKEN = 9  # a number of more digits tells nobody anything
_WORDS = ("guessed at once", "guessed within a day", "holds against guessing at the device", "strong", "very strong")


@dataclass(frozen=True, slots=True)
class Strength:
    """`score` 0 to 4, one sentence, and what would help (may be empty). Nothing of it quotes the password."""

    score: int
    sentence: str
    helps: tuple[str, ...]

    @property
    def weak(self) -> bool:
        """Whether it would be guessed within a day; one is kept with a reason only."""
        return self.score < _HOLDS


def strength(candidate: str, known: Iterable[str] = ()) -> Strength:
    """Return how well a password holds; `known` are words of the site that an attacker would try first."""
    if not candidate:
        return Strength(0, "Empty: there is nothing to guess.", ())
    from zxcvbn import zxcvbn  # noqa: PLC0415  its lists of words are large, and few commands want them

    found = zxcvbn(candidate[:LONGEST], user_inputs=[word for word in known if word])
    score = int(found["score"])
    sentence = f"{_WORDS[score].capitalize()}: {_tries(int(found['guesses']))} for {_length(candidate)}."
    return Strength(score, sentence, tuple(found["feedback"]["suggestions"]) if score < 3 else ())


def _tries(guesses: int) -> str:
    digits = len(str(guesses)) - 1
    return f"about {10**digits:,} guesses" if digits <= _SPOKEN else f"more than {10**_SPOKEN:,} guesses"


def _length(candidate: str) -> str:
    return count(len(candidate), "character")
