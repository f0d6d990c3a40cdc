"""What can be looked at: each check with its minutes, the words it answers in, and what has to be minded."""

from typing import NamedTuple


class UnknownCheck(ValueError):
    """A check, a place or a word that is not known."""


class Check(NamedTuple):
    """A check: minutes with the way there, the words of its answer, whether the laptop can do it by itself, what it
    takes hold of, and what is asked; `{at}` stands for the name of the device."""

    minutes: float
    words: tuple[str, ...]
    by_laptop: bool
    asks: str
    where: str
    caution: str = ""


_THREE = ("pass", "fail", "silent")
_TWO = ("pass", "fail")
_LAPTOP = "At the laptop, in the network of {at}"
_AT = "At {at}"
_SWITCH = "At the switch that {at} is plugged into"
_HIGH = "Ladder: a second person, hands free, the phone on a lanyard."
CHECKS: dict[str, Check] = {
    "answers": Check(1, _THREE, True, "Does {at} answer at its address?", _LAPTOP),
    "page": Check(1, _THREE, True, "Does the page of {at} open?", _LAPTOP),
    "login": Check(2, _THREE, True, "Does {at} take the planned login?", _LAPTOP, "Once only: tries may be counted."),
    "stream": Check(1, _THREE, True, "Does {at} send its picture?", _LAPTOP),
    "clock": Check(1, _THREE, True, "Does the clock of {at} show the right time and date?", _LAPTOP),
    "linked": Check(1, _THREE, True, "Is {at} shown, recorded or registered by its partners?", _LAPTOP),
    "relay": Check(1, _THREE, True, "Does {at} say that its remote access is online?", _LAPTOP),
    "light": Check(5, ("on", "off"), False, "Is the link lamp at the socket of {at} lit?", _AT, _HIGH),
    "power": Check(5, _TWO, False, "Is the power lamp of {at} lit?", _AT, _HIGH),
    "swap-cable": Check(
        8, _TWO, False, "Does {at} answer with a cable that is known to be good?", _AT, f"{_HIGH} Only its own cable."
    ),
    "other-port": Check(
        6, _TWO, False, "Does {at} answer at another port of its switch?", _SWITCH, "Only the plug of this device."
    ),
    "address": Check(3, ("pass", "link-local", "other"), False, "Which address does {at} say it has?", _AT),
    "neighbour": Check(
        1, _THREE, True, "Does the laptop's table show the hardware address of {at} at its address?", _LAPTOP
    ),
    "vlan": Check(4, _TWO, False, "Is the switch port of {at} in the planned network?", _SWITCH, "Ask IT, not guess."),
    "gateway": Check(1, _TWO, True, "Does the gateway answer in the network of {at}?", _LAPTOP),
    "name": Check(1, _TWO, True, "Are names found (DNS) in the network of {at}?", _LAPTOP),
    "outside": Check(1, _TWO, True, "Does a host outside answer on 443 from the network of {at}?", _LAPTOP),
    "elsewhere": Check(30, _TWO, False, "Does {at} go online on another connection?", _AT, _HIGH),
    "reset": Check(
        25,
        _TWO,
        False,
        "Does {at} answer after a factory reset, set up anew?",
        _AT,
        "A reset loses its address, name, login, zones and links: have the list of what is set again first.",
    ),
}
LAPTOP_WORDS = frozenset(key for key, check in CHECKS.items() if check.words == _THREE)
LIE = 0.02  # how often a check says something else than what is so
MISHEARD = 0.06  # how often "it says nothing" and "it says no" are taken for each other


def canonical(check: str, result: str) -> str:
    """Return the word that a result stands for: a lamp that says "fail" is off, a gateway that is silent fails."""
    if check == "light":
        return {"pass": "on", "fail": "off", "silent": "off"}.get(result, result)
    if check != "address" and check not in LAPTOP_WORDS:
        return {"silent": "fail", "on": "pass", "off": "fail"}.get(result, result)
    return result


def words_of(check: str) -> tuple[str, ...]:
    """Return the words in which a check may be answered; an address besides, where an address is asked for."""
    if check == "address":
        return ("pass", "fail", "silent", "link-local")
    return ("on", "off") if check == "light" else ("pass", "fail", "silent")
