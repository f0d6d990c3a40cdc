"""Passwords and codes: sealed, shown one at a time."""
