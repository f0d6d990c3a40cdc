"""The stage of recordings: what is recorded when, and how long it is kept."""
