"""Lessons on one's own site: what a setting does, and what is wrong in a set-up."""
