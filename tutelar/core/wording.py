"""Counting and listing in spoken English, so that every sentence does it the same way."""

from collections.abc import Sequence
from datetime import date

_FAMILIES = {
    "camera": "cameras",
    "recorder": "recorders",
    "software-recorder": "software recorders",
    "encoder": "encoders",
    "joystick-desk": "joystick desks",
    "door-station": "door stations",
    "indoor-monitor": "indoor monitors",
    "call-server": "call servers",
    "panel": "panels",
    "reader": "readers",
    "keypad": "keypads",
    "alarm-hub": "alarm hubs",
    "doorbell": "doorbells",
    "switch": "switches",
    "router": "routers",
    "injector": "injectors",
    "other": "other devices",
}


def family_plural(family: str) -> str:
    """Return what several devices of a family are called: "alarm hubs"."""
    return _FAMILIES.get(family, "other devices")


def one_of_family(family: str) -> str:
    """Return what one device of a family is called, with its article: "an alarm hub"."""
    return (
        article(family.replace("-", " ")) if family in _FAMILIES and family != "other" else "a device of another kind"
    )


def article(word: str) -> str:
    """Return a word with "a" or "an" before it, as it is spoken: "an extension", "a unit"."""
    return f"{'an' if word[:1].lower() in 'aeio' or word.lower().startswith('up') else 'a'} {word}"


DATE_ORDERS = {"DMY": "day, month, year", "MDY": "month, day, year", "YMD": "year, month, day"}


def capital(words: str) -> str:
    """Return the words with a capital first; the rest stays as it is."""
    return words[:1].upper() + words[1:]


def sentence(error: Exception) -> str:
    """Return what an error says as a sentence: a capital first, a full stop last."""
    words = str(error)
    return f"{capital(words)}{'' if words.endswith('.') else '.'}"


def count(number: int, singular: str, plural: str | None = None) -> str:
    """Return "1 camera", "2 cameras"."""
    return f"{number} {singular if number == 1 else plural or singular + 's'}"


def listed(items: Sequence[str], most: int = 4) -> str:
    """Return "a, b and c"; of a long list the first few and how many more."""
    if len(items) > most:
        return f"{', '.join(items[: most - 1])} and {len(items) - most + 1} more"
    return " and ".join(filter(None, (", ".join(items[:-1]), items[-1]))) if items else "none"


FOOT_M = 0.3048


def spoken_length(metres: float, units: str = "metric") -> str:
    """Return a length as the site says it: "55 m", or "180.4 ft" where its units are imperial."""
    if units == "imperial":
        return f"{round(metres / FOOT_M, 1):g} ft"
    return f"{metres:g} m"


def spoken_address(address: str, prefix: int) -> str:
    """Return ".114" for an address in a network of /24 or smaller, the whole address otherwise."""
    return f".{address.rpartition('.')[2]}" if prefix >= 24 else address


def spoken_date(day: date) -> str:
    """Return a date with the month as a word: "8 June 2026"."""
    return f"{day.day} {day:%B %Y}"
