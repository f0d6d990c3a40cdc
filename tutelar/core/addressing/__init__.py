"""Which address should everything have?"""

from tutelar.core.addressing.plan import Assignment, Plan, plan
from tutelar.core.addressing.rules import address_problems

__all__ = ["Assignment", "Plan", "address_problems", "plan"]
