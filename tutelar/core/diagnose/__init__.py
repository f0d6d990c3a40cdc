"""Why is it offline, and what is checked next? Faults, what each check shows under them, and which cause is likely."""

from tutelar.core.diagnose.causes import NOTHING, Cause, Hypothesis
from tutelar.core.diagnose.checks import CHECKS, UnknownCheck
from tutelar.core.diagnose.ground import Ground
from tutelar.core.diagnose.observations import Observations, Seen, read_observations
from tutelar.core.diagnose.outcome import shown
from tutelar.core.diagnose.verdict import Diagnoser, Diagnosis, diagnose
from tutelar.core.diagnose.wrong import Wrong

__all__ = [
    "CHECKS",
    "NOTHING",
    "Cause",
    "Diagnoser",
    "Diagnosis",
    "Ground",
    "Hypothesis",
    "Observations",
    "Seen",
    "UnknownCheck",
    "Wrong",
    "diagnose",
    "read_observations",
    "shown",
]
