"""How a pretend device asks for a login and judges the answer: Digest (RFC 7616, and MD5 as RFC 2617 has it)."""

import hashlib
import hmac
import re

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
    scheme, _, rest = authorization.partition(" ")
    if scheme.lower() != "digest":
        return False
    pairs = {name.lower(): quoted or plain for name, quoted, plain in _PAIR.findall(rest)}
    make = _HASHES.get(pairs.get("algorithm", "MD5").upper())
    if make is None or pairs.get("nonce") != _nonce(device):
        return False

    def hashed(text: str) -> str:
        return make(text.encode()).hexdigest()

    user = pairs.get("username", "")
    secret = hashed(f"{user}:{REALM}:{device.password}")
    request = hashed(f"{method}:{pairs.get('uri', '')}")
    middle = pairs["nonce"]
    if pairs.get("qop") == "auth":
        middle += f":{pairs.get('nc', '')}:{pairs.get('cnonce', '')}:auth"
    right = hmac.compare_digest(hashed(f"{secret}:{middle}:{request}"), pairs.get("response", ""))
    return device.takes(user, right)
