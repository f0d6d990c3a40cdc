"""Doors: which there are, which of them are for escape, and at which device each is tested."""

from tutelar.core.doors.escape import as_told, door_label, escape_tests

__all__ = ["as_told", "door_label", "escape_tests"]
