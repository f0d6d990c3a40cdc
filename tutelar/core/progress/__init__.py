"""How far the job is: what is open at each stage, and the one next thing, of each stage and of the site.

It is decided here, once; pages draw it. `act` names what a press does, `goes` the stage that a press leads to.
"""

from tutelar.core.progress.job import (
    STAGES,
    JobState,
    Next,
    Progress,
    StageProgress,
    laptop_setting,
    unanswered,
    unidentified,
)
from tutelar.core.progress.stages import progress

__all__ = [
    "STAGES",
    "JobState",
    "Next",
    "Progress",
    "StageProgress",
    "laptop_setting",
    "progress",
    "unanswered",
    "unidentified",
]
