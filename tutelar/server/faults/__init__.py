"""Fault finding: cases of what is offline, from the complaint to measured again, and drills of the same kind."""
