"""Which clock should a device show, and what is wrong with the one it shows?"""

from tutelar.core.clock.difference import Difference, difference
from tutelar.core.clock.rules import ClockRule, Turn, clock_rule
from tutelar.core.clock.zones import UnknownZone, transitions, zone_named, zone_names

__all__ = [
    "ClockRule", "Difference", "Turn", "UnknownZone", "clock_rule", "difference", "transitions", "zone_named",
    "zone_names",
]  # fmt: skip
