"""The plan with everything that is wrong with it, a move, a renumbering."""

from tutelar.core.planning.plan import plan

__all__ = ["plan"]
