"""Which clock should a device show, what is wrong with the one it shows, and what does it follow?"""

from tutelar.core.clock.coming import Coming, coming
from tutelar.core.clock.difference import Difference, difference
from tutelar.core.clock.drift import Drift, drift
from tutelar.core.clock.rules import ClockRule, Turn, clock_rule, spoken_turn
from tutelar.core.clock.sources import DeviceTime, TimePlan, has_clock, time_of, time_plan
from tutelar.core.clock.zones import UnknownZone, transitions, zone_named, zone_names, zone_of

__all__ = [
    "ClockRule",
    "Coming",
    "DeviceTime",
    "Difference",
    "Drift",
    "TimePlan",
    "Turn",
    "UnknownZone",
    "clock_rule",
    "coming",
    "difference",
    "drift",
    "has_clock",
    "spoken_turn",
    "time_of",
    "time_plan",
    "transitions",
    "zone_named",
    "zone_names",
    "zone_of",
]
