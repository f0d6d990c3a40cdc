"""Doors: which there are, which of them are for escape, and at which device each is tested."""

from tutelar.core.doors.escape import as_told, door_label, door_tests, escape_tests

__all__ = ["as_told", "door_label", "door_tests", "escape_tests"]
