"""Logging in over HTTP and RTSP: Digest (RFC 7616, with MD5 as RFC 2617 has it) and Basic (RFC 7617)."""

import base64
import hashlib
import re
import secrets
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

_PAIR = re.compile(r'([a-zA-Z-]+)\s*=\s*(?:"((?:[^"\\]|\\.)*)"|([^\s,]+))')
_HASHES = {"SHA-256": hashlib.sha256, "MD5": hashlib.md5}  # the stronger first


@dataclass(frozen=True)
class Account:
    """A user with the password; the password is never shown by accident."""

    user: str
    password: str = field(repr=False)


def challenges(headers: Iterable[str]) -> list[tuple[str, dict[str, str]]]:
    """Return the challenges of WWW-Authenticate header values as (scheme in small letters, parameters)."""
    found: list[tuple[str, dict[str, str]]] = []
    for header in headers:
        scheme, _, rest = header.strip().partition(" ")
        if scheme:
            pairs = {name.lower(): quoted or plain for name, quoted, plain in _PAIR.findall(rest[:4096])}
            found.append((scheme.lower(), pairs))
    return found


def answer(
    headers: Iterable[str], account: Account, method: str, uri: str, *, plain_allowed: bool = False
) -> str | None:
    """Return the Authorization value for a request that was challenged, None where no way is known.

    The strongest Digest that is offered is taken; Basic only where `plain_allowed`, as it shows the password.
    """
    offered = challenges(headers)
    for name in _HASHES:
        for scheme, pairs in offered:
            if scheme == "digest" and pairs.get("algorithm", "MD5").upper() == name and "nonce" in pairs:
                return digest(pairs, account, method, uri, secrets.token_hex(8))
    if plain_allowed and any(scheme == "basic" for scheme, _ in offered):
        return "Basic " + base64.b64encode(f"{account.user}:{account.password}".encode()).decode()
    return None


def digest(pairs: Mapping[str, str], account: Account, method: str, uri: str, cnonce: str) -> str:
    """Return the Digest answer to a challenge (RFC 7616, section 3.4)."""
    algorithm = pairs.get("algorithm", "MD5").upper()
    realm, nonce = pairs.get("realm", ""), pairs["nonce"]
    qop = "auth" if "auth" in [item.strip() for item in pairs.get("qop", "").split(",")] else None
    response = expected_response(algorithm, realm, account, nonce, method, uri, qop, cnonce)
    parts = {"username": account.user, "realm": realm, "nonce": nonce, "uri": uri, "response": response}
    text = ", ".join(f'{name}="{_quoted(value)}"' for name, value in parts.items()) + f", algorithm={algorithm}"
    if qop:
        text += f', qop={qop}, nc=00000001, cnonce="{cnonce}"'
    if "opaque" in pairs:
        text += f', opaque="{_quoted(pairs["opaque"])}"'
    return f"Digest {text}"


def expected_response(
    algorithm: str, realm: str, account: Account, nonce: str, method: str, uri: str, qop: str | None, cnonce: str
) -> str:
    """Return the response value that proves knowledge of the password. Raises KeyError for an unknown algorithm."""
    make = _HASHES[algorithm]

    def hashed(text: str) -> str:
        return make(text.encode()).hexdigest()

    secret = hashed(f"{account.user}:{realm}:{account.password}")
    request = hashed(f"{method}:{uri}")
    middle = f"{nonce}:00000001:{cnonce}:{qop}" if qop else nonce
    return hashed(f"{secret}:{middle}:{request}")


def _quoted(text: str) -> str:
    plain = re.sub(r"[^\x20-\x7e]", "?", text)  # a header carries no more; what was hashed stays as it was said
    return plain.replace("\\", "\\\\").replace('"', '\\"')
