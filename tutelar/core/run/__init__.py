"""In which order, and what do I do while it reboots?"""

from tutelar.core.run.order import Run, Step, run

__all__ = ["Run", "Step", "run"]
