"""Job cards of a site: what is open where, and ticking it."""
