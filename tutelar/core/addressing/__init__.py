"""Which address should everything have?"""

from tutelar.core.addressing.assignment import Assignment, Plan
from tutelar.core.addressing.rules import address_problems

__all__ = ["Assignment", "Plan", "address_problems"]
