"""Words that open something by themselves, in links: shown once, kept as their hash."""

import hashlib
import secrets


def fresh_word() -> tuple[str, str]:
    """Return a word of 192 bits that nobody guesses, and what is kept of it."""
    word = secrets.token_urlsafe(24)
    return word, hashed_word(word)


def hashed_word(word: str) -> str:
    """Return what is kept of a word (SHA-256, hexadecimal): it has too many bits to be tried."""
    return hashlib.sha256(word.encode()).hexdigest()
