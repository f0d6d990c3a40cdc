"""In which order, and what do I do while it reboots?"""

from tutelar.core.run.order import PIECES_A_SECOND, Run, run
from tutelar.core.run.steps import Step
from tutelar.core.run.summary import said

__all__ = ["PIECES_A_SECOND", "Run", "Step", "run", "said"]
