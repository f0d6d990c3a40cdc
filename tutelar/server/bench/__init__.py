"""The run at the bench."""
