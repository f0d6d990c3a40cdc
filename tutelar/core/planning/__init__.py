"""The plan with everything that is wrong with it, or its addresses alone; a move, a renumbering."""

from tutelar.core.planning.plan import placed, plan

__all__ = ["placed", "plan"]
