"""How a pretend device asks for a login and judges the answer: Digest (RFC 7616, and MD5 as RFC 2617 has it)."""

import hashlib
import hmac
import re
from collections.abc import Callable

from tutelar.standin.device import PretendDevice

_PAIR = re.compile(r'([a-zA-Z-]+)\s*=\s*(?:"((?:[^"\\\\]|\\\\.)*)"|([^\s,]+))')
_HASHES = {"SHA-256": hashlib.sha256, "MD5": hashlib.md5}
REALM = "device"


def _nonce(device: PretendDevice) -> str:
    return hashlib.sha256(f"{device.key} {device.password}".encode()).hexdigest()[:32]


def challenge(device: PretendDevice) -> list[str]:
    """Return the values of WWW-Authenticate, the stronger algorithm first."""
    nonce = _nonce(device)
    return [f'Digest realm="{REALM}", nonce="{nonce}", qop="auth", algorithm={name}' for name in _HASHES]


def accepts(device: PretendDevice, authorization: str, method: str) -> bool:
    """Return whether an Authorization value proves the device's password; a wrong one counts towards the lock."""
    proof = _proof(device, authorization, method)
    if proof is None:
        return False
    user, made, response = proof
    return device.takes(user, any(hmac.compare_digest(made(item), response) for item in device.passwords(user)))


def knows(device: PretendDevice, authorization: str, method: str, password: str) -> str | None:
    """Return the user of an Authorization value that proves this password, None for another; nothing is counted."""
    proof = _proof(device, authorization, method)
    if proof is None:
        return None
    user, made, response = proof
    return user if hmac.compare_digest(made(password), response) else None


Proof = tuple[str, Callable[[str], str], str]


def _proof(device: PretendDevice, authorization: str, method: str) -> Proof | None:
    """Return (user, what a password would make of the challenge, what was answered), None for no Digest of ours."""
    scheme, _, rest = authorization.partition(" ")
    if scheme.lower() != "digest":
        return None
    pairs = {name.lower(): quoted or plain for name, quoted, plain in _PAIR.findall(rest)}
    make = _HASHES.get(pairs.get("algorithm", "MD5").upper())
    if make is None or pairs.get("nonce") != _nonce(device):
        return None
    user = pairs.get("username", "")

    def hashed(text: str) -> str:
        return make(text.encode()).hexdigest()

    def made(password: str) -> str:
        middle = pairs["nonce"]
        if pairs.get("qop") == "auth":
            middle += f":{pairs.get('nc', '')}:{pairs.get('cnonce', '')}:auth"
        request = hashed(f"{method}:{pairs.get('uri', '')}")
        return hashed(f"{hashed(f'{user}:{REALM}:{password}')}:{middle}:{request}")

    return user, made, pairs.get("response", "")
