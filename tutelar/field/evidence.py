"""What came over the wire, cut to what a person reads, with everything secret taken out."""

import re
from collections.abc import Iterable, Mapping

MOST = 2000
_PAIR = re.compile(
    r"""(?ix)(["']?[\w-]*(?:pass|pwd|secret|token|nonce|opaque|cookie|psk|credential|response|authori[sz]ation|_code)[\w-]*["']?
    \s*[:=]\s*)("(?:[^"\\]|\\.)*"|'[^']*'|[^\s,;&<>]+(?:[ ][^\r\n]*)?)"""
)
_TELLING = re.compile(r"(?i)pass|pwd|secret|token|nonce|opaque|cookie|psk|credential|response|authori[sz]ation|_code")
_ELEMENT = re.compile(r"(?is)(<(?:\w+:)?(?:pass\w*|pwd|nonce|psk)\b[^>]*>)[^<]*")
_IN_URL = re.compile(r"(?i)\b([a-z]+://)[^\s/@]+@")
_HIDDEN_FIELDS = frozenset({"www-authenticate", "authorization", "set-cookie", "proxy-authenticate"})


def trimmed(text: str, secrets: Iterable[str] = ()) -> str:
    """Return at most 2,000 characters that print, without what looks like a secret and without the given ones."""
    plain = text.replace("\r\n", "\n")
    for secret in secrets:
        if len(secret) >= 3:
            plain = plain.replace(secret, "…")
    if _TELLING.search(plain):
        plain = _ELEMENT.sub(r"\1…", _PAIR.sub(r"\1…", plain))
    plain = _IN_URL.sub(r"\1…@", plain)
    if not plain.replace("\n", "").isprintable():
        plain = "".join(item if item in "\n\t" or item.isprintable() else "·" for item in plain)
    return plain if len(plain) <= MOST else plain[: MOST - 1] + "…"


def head(first: str, fields: Mapping[str, str]) -> str:
    """Return the head of an answer: its first line and its fields, those left out that carry a login."""
    shown = [f"{name}: {value}" for name, value in fields.items() if name not in _HIDDEN_FIELDS]
    return "\n".join([first, *shown])
