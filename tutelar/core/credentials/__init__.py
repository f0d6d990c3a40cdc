"""Which passwords and codes does a device have, what must they be, and who else has to be told?"""

from tutelar.core.credentials.candidate import faults, known_words, make, rivals, rule_conflicts, told_of_change
from tutelar.core.credentials.rules import LOOK_ALIKE, Shared, fails, generate, kinds_in, shared_rule
from tutelar.core.credentials.slots import SLOTS, Slot, holders, logins_with, rule_for, slots_of
from tutelar.core.credentials.strength import Strength, strength
from tutelar.core.credentials.tries import Tries, tries

__all__ = [
    "LOOK_ALIKE",
    "SLOTS",
    "Shared",
    "Slot",
    "Strength",
    "Tries",
    "fails",
    "faults",
    "generate",
    "holders",
    "kinds_in",
    "known_words",
    "logins_with",
    "make",
    "rivals",
    "rule_conflicts",
    "rule_for",
    "shared_rule",
    "slots_of",
    "strength",
    "told_of_change",
    "tries",
]
