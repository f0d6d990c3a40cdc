"""Addresses: the plan, moves, renumbering, what was seen in the field."""
