"""What comes years later: a device is changed, dates come due, a recording is asked for (handbook 3.13)."""

from tutelar.core.later.change import KINDS, ChangeStep, change_steps
from tutelar.core.later.diary import Entry, diary
from tutelar.core.later.footage import Footage, Look, footage, looks_of

__all__ = ["KINDS", "ChangeStep", "Entry", "Footage", "Look", "change_steps", "diary", "footage", "looks_of"]
