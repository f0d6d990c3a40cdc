"""Which keys are pressed to type a text on a telephone-style keypad? (ITU-T E.161 letters, multi-tap.)"""

import json
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

SHIFT = "shift"
LAYOUTS: dict[str, dict[str, str]] = {
    "telephone": {
        "1": "1.,-_!?@#%+",
        "2": "abc2",
        "3": "def3",
        "4": "ghi4",
        "5": "jkl5",
        "6": "mno6",
        "7": "pqrs7",
        "8": "tuv8",
        "9": "wxyz9",
        "0": "0 ",
        SHIFT: "*",
    },
    "digits": {digit: digit for digit in "1234567890"},
}


@dataclass(frozen=True, slots=True)
class Press:
    """One key pressed a number of times; a press of the shift key has the character "shift"."""

    character: str
    key: str
    times: int


@dataclass(frozen=True, slots=True)
class Typing:
    """The presses for a text, and the characters that the keypad cannot type, each once."""

    presses: tuple[Press, ...]
    cannot: tuple[str, ...]

    def as_dict(self) -> dict[str, Any]:
        """Return the presses as the contract prints them."""
        return {"presses": [asdict(press) for press in self.presses], "cannot": list(self.cannot)}


def layout_named(name: str) -> Mapping[str, str]:
    """Return a layout by its name, or from JSON like {"2": "abc2", "shift": "*"}: the characters that each key gives,
    in the order of presses. Raises ValueError with one sentence."""
    if name in LAYOUTS:
        return LAYOUTS[name]
    if not name.lstrip().startswith("{"):
        raise ValueError(f"'{name}' is no keypad layout; choose one of {', '.join(LAYOUTS)} or give one as JSON")
    try:
        layout = json.loads(name)
    except ValueError as error:
        raise ValueError(f"the layout is not JSON: {error}") from None
    wrong = next((key for key, letters in layout.items() if not isinstance(letters, str) or not letters), None)
    if wrong is not None:
        raise ValueError(f'the key \'{wrong}\' of the layout gives no characters; write it like "2": "abc2"')
    return layout  # type: ignore[no-any-return]


def keypad(text: str, layout: Mapping[str, str] = LAYOUTS["telephone"]) -> Typing:
    """Return the presses that type the text, letter by letter; capitals come after one press of the shift key."""
    shift = layout.get(SHIFT)
    where = {
        character: (key, at)
        for key, characters in layout.items()
        if key != SHIFT
        for at, character in reversed(list(enumerate(characters, 1)))
    }
    presses: list[Press] = []
    cannot: dict[str, None] = {}
    for character in text:
        small = character.lower()
        if character in where:
            presses.append(Press(character, *where[character]))
        elif shift and small != character and len(small) == 1 and small in where:
            presses += [Press(SHIFT, shift, 1), Press(character, *where[small])]
        else:
            cannot[character] = None
    return Typing(tuple(presses), tuple(cannot))
