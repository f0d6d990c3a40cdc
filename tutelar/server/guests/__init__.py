"""Papers for people without an account: one paper by a link, until a day."""
