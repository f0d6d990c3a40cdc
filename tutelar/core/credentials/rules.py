"""Which password may these devices have together? Their rules intersected, made, and checked.

A password is drawn uniformly from all that satisfy the rule at its length: every character is drawn from the whole
alphabet, and the draw is repeated until the kinds of characters suffice (rejection sampling). The source of
randomness is an argument; callers pass the system's (`secrets.choice`).
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from tutelar.core.keypad import keypad
from tutelar.core.site.model import PasswordRule
from tutelar.core.site.types import Device, Site
from tutelar.core.wording import count, listed

LOWER, UPPER, DIGITS = "abcdefghijklmnopqrstuvwxyz", "ABCDEFGHIJKLMNOPQRSTUVWXYZ", "0123456789"
SYMBOLS = "!#%+-._@?,"
LOOK_ALIKE = frozenset("0OoQ1lI|5S2Z8B")  # as they stand on labels and small screens
LONG = 12  # enough by itself; shorter only where a device takes no more
MOST = 64


@dataclass(frozen=True, slots=True)
class Rule:
    """What a password must be: length, number of kinds of characters, the symbols and letters it may have."""

    min: int
    max: int
    classes: int
    symbols: str
    digits_only: bool

    def as_dict(self) -> dict[str, Any]:
        """Return the rule as the contract prints it."""
        return asdict(self)


@dataclass(frozen=True, slots=True)
class Shared:
    """The rules of several devices in one, and why no password can satisfy them (empty: one can)."""

    rule: Rule
    conflicts: tuple[str, ...]
    keypad_of: str | None
    allowed: str

    @property
    def words(self) -> str:
        """The rule as people say it: "8 to 16 characters, 2 kinds of characters, symbols !#%"."""
        rule = self.rule
        size = f"{max(rule.min, 1)}{f' to {rule.max}' if rule.max > rule.min else ''}"
        if rule.digits_only:
            return f"{size} digits"
        kinds = f", {rule.classes} kinds of characters" if rule.classes > 1 else ""
        symbols = f", symbols {rule.symbols}" if rule.symbols else ", no symbols"
        keys = f", typed on the keys of {self.keypad_of}" if self.keypad_of else ""
        return f"{size} characters{kinds}{symbols}{keys}"

    @property
    def satisfiable(self) -> bool:
        """Whether any password can satisfy it."""
        return not self.conflicts


def shared_rule(site: Site, devices: Sequence[Device], typed_on: Sequence[Device] = ()) -> Shared:
    """Return the intersection of the devices' rules; they always share one password here.

    Devices that it is only `typed_on` to log in to others ask for no length and no kinds of characters; they limit
    what can be typed.
    A joystick desk types passwords on telephone-style keys: where one is among the devices, or steers one of them,
    every character must be on its keys.
    """
    rules = [(device, _rule_of(site, device)) for device in devices]
    rules += [(device, _rule_of(site, device).model_copy(update={"min": 0, "classes": 1})) for device in typed_on]
    low_device, low = max(rules, key=lambda item: item[1].min)
    caps = [(device, rule.max) for device, rule in rules if rule.max is not None]
    high_device, high = min(caps, key=lambda item: item[1] or 0) if caps else (None, MOST)
    most = max(rules, key=lambda item: item[1].classes)
    digits = [device for device, rule in rules if rule.digits_only]
    symbols = "".join(
        symbol for symbol in dict.fromkeys(rules[0][1].symbols) if all(symbol in rule.symbols for _, rule in rules)
    )
    desk = _desk(site, [*devices, *typed_on])
    if desk is not None:
        symbols = "".join(symbol for symbol in symbols if not keypad(symbol).cannot)
    rule = Rule(low.min, min(high or 0, MOST), most[1].classes, "" if digits else symbols, bool(digits))
    allowed = _allowed(rule)
    conflicts = [
        f"The rule of {device.label} contradicts itself: {said}." for device, item in rules if (said := _odd(item))
    ]
    if not conflicts:
        conflicts = _conflicts(
            rule, (low_device.label, high_device.label if high_device else ""), most[0].label, digits
        )
    return Shared(rule, tuple(conflicts), desk.label if desk else None, allowed)


def _rule_of(site: Site, device: Device) -> PasswordRule:
    model = site.model_of(device)
    return (model.password_rule if model else None) or PasswordRule(symbols=SYMBOLS)


def _odd(rule: PasswordRule) -> str | None:
    if rule.max is not None and rule.max < max(rule.min, 1):
        return f"at least {rule.min} and at most {rule.max} characters"
    if rule.digits_only and rule.classes > 1:
        return f"digits only, and {rule.classes} kinds of characters"
    if rule.classes > 4:
        return f"{rule.classes} kinds of characters, but there are four"
    if rule.classes == 4 and not rule.symbols:
        return "four kinds of characters, but no symbol is allowed"
    if rule.max is not None and rule.classes > rule.max:
        return f"{rule.classes} kinds of characters in at most {rule.max}"
    return None


def _conflicts(rule: Rule, lengths: tuple[str, str], strict: str, digits: Sequence[Device]) -> list[str]:
    found = []
    if rule.min > rule.max:
        found.append(f"{lengths[0]} wants at least {rule.min} characters, {lengths[1]} takes at most {rule.max}.")
    if digits and rule.classes > 1:
        names = listed([device.label for device in digits])
        found.append(f"{names} takes digits only, {strict} wants {rule.classes} kinds of characters.")
    elif rule.classes == 4 and not rule.symbols:
        found.append(f"{strict} wants four kinds of characters, but no symbol is allowed by all and typeable.")
    if not found and rule.classes > rule.max:
        found.append(f"{strict} wants {rule.classes} kinds of characters in at most {rule.max}.")
    return found


def _desk(site: Site, devices: Sequence[Device]) -> Device | None:
    """Return the joystick desk on whose keys the password is typed, None where there is none."""
    keys = {device.key for device in devices}
    for device in devices:
        if site.family_of(device) == "joystick-desk":
            return device
    for link in (link for device in devices for link in site.links_of(device.key)):
        start = site.device_by_key.get(link.from_)
        if link.kind == "steers" and link.to in keys and start is not None:
            return start
    return None


def _allowed(rule: Rule) -> str:
    return DIGITS if rule.digits_only else LOWER + UPPER + DIGITS + rule.symbols


def kinds_in(text: str) -> int:
    """Return how many kinds of characters a text has: small and capital letters, digits, everything else."""
    others = any(letter not in LOWER + UPPER + DIGITS for letter in text)
    return sum(any(letter in kind for letter in text) for kind in (LOWER, UPPER, DIGITS)) + others


def fails(shared: Shared, candidate: str) -> list[str]:
    """Return one sentence for each rule that a password breaks; they never quote it."""
    rule, found = shared.rule, []
    if len(candidate) < max(rule.min, 1):
        found.append(f"It has {count(len(candidate), 'character')}; at least {max(rule.min, 1)} are wanted.")
    if len(candidate) > rule.max:
        found.append(f"It has {count(len(candidate), 'character')}; at most {rule.max} are taken.")
    strange = [letter for letter in candidate if letter not in shared.allowed]
    if strange and rule.digits_only:
        found.append("It has characters other than digits; only digits are taken.")
    elif strange:
        allowed = f"letters, digits and {rule.symbols}" if rule.symbols else "letters and digits"
        number = len(dict.fromkeys(strange))
        found.append(f"It has {count(number, 'character')} that cannot be used; only {allowed} can.")
    if kinds_in(candidate) < rule.classes:
        found.append(f"It has {count(kinds_in(candidate), 'kind')} of characters; {rule.classes} are wanted.")
    return found


def generate(shared: Shared, choose: Callable[[str], str], *, length: int = LONG) -> str:
    """Return a password that satisfies the rule, without look-alike characters, uniformly drawn by `choose`.

    Raises ValueError with the first conflict where no password can satisfy the rule.
    """
    if not shared.satisfiable:
        raise ValueError(shared.conflicts[0])
    rule = shared.rule
    size = min(max(rule.min, length, rule.classes), rule.max)
    alphabet = shared.allowed if rule.digits_only else _plain(shared.allowed)
    while True:
        drawn = "".join(choose(alphabet) for _ in range(size))
        if kinds_in(drawn) >= rule.classes:
            return drawn


def _plain(letters: Iterable[str]) -> str:
    return "".join(letter for letter in letters if letter not in LOOK_ALIKE)
