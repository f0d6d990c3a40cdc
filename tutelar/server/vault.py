"""Sealing secrets: Fernet (AES-128-CBC with HMAC-SHA-256) under a key that is never in the database.

The key comes from a passphrase (scrypt, RFC 7914, with a salt of this database) or from a key file, which may hold
several, the newest first. What is sealed names its place, so that a sealed value copied into another row does not open.
"""

import base64
import hashlib
import hmac
import json
import secrets
from collections.abc import Sequence
from functools import lru_cache
from pathlib import Path

from cryptography.fernet import Fernet, InvalidToken, MultiFernet
from cryptography.hazmat.primitives.kdf.scrypt import Scrypt
from django.conf import settings
from django.views.decorators.debug import sensitive_variables

from tutelar.server.private import write_private

_KNOWN = "tutelar vault"
_SCRYPT = {"length": 32, "n": 2**15, "r": 8, "p": 1}


class VaultLocked(Exception):
    """The key at hand does not open what is stored; the sentence says what to do."""


class Vault:
    """Seals and opens with the keys given, the first one seals."""

    def __init__(self, keys: Sequence[bytes]) -> None:
        self._fernet = MultiFernet([Fernet(key) for key in keys])
        self._key = hashlib.sha256(b"equal secrets " + keys[0]).digest()

    @sensitive_variables()
    def seal(self, secret: str, place: str) -> bytes:
        """Return a secret sealed for a place."""
        return self._fernet.encrypt(json.dumps([place, secret]).encode())

    @sensitive_variables()
    def open(self, sealed: bytes, place: str) -> str:
        """Return the secret. Raises VaultLocked where the key is another one, or the value was sealed elsewhere."""
        try:
            at, secret = json.loads(self._fernet.decrypt(bytes(sealed)))
        except InvalidToken:
            raise VaultLocked(WRONG_KEY) from None
        if at != place:
            raise VaultLocked(f"What is stored for {place} was sealed for another place; set it again.")
        return str(secret)

    @sensitive_variables()
    def alike(self, secret: str) -> str:
        """Return what is the same for equal secrets under the sealing key, 64 hexadecimal digits (HMAC-SHA-256)."""
        return hmac.new(self._key, secret.encode(), hashlib.sha256).hexdigest()

    def proof(self) -> bytes:
        """Return what tells later whether a key is this one."""
        return self.seal(_KNOWN, _KNOWN)

    def fits(self, proof: bytes) -> bool:
        """Return whether a key is the one that sealed."""
        try:
            return self.open(proof, _KNOWN) == _KNOWN
        except VaultLocked:
            return False


WRONG_KEY = (
    "The key at hand is not the one that the passwords were sealed with: start Tutelar with the right "
    "TUTELAR_PASSPHRASE or TUTELAR_KEY_FILE."
)


MISSING_KEY = (
    "The key that the passwords were sealed with is gone: {path} is not there. Put it back (a sealed backup holds it), "
    "or start Tutelar with TUTELAR_KEY_FILE; no new one is made meanwhile."
)


def key_is_missing() -> bool:
    """Return whether the key would come from a file that is not there."""
    return not settings.VAULT_PASSPHRASE and not settings.VAULT_KEY_FILE.exists()


def fresh_salt() -> bytes:
    """Return a new salt, 16 bytes."""
    return secrets.token_bytes(16)


@lru_cache(maxsize=4)
def from_passphrase(passphrase: str, salt: bytes) -> bytes:
    """Return the key of a passphrase; it takes a noticeable moment on purpose."""
    return base64.urlsafe_b64encode(Scrypt(salt=salt, **_SCRYPT).derive(passphrase.encode()))


def from_file(path: Path) -> list[bytes]:
    """Return the keys of a key file, the newest first; the file is made where there is none yet.

    Raises VaultLocked where it holds anything else.
    """
    if not path.exists():
        write_keys(path, [Fernet.generate_key()])
    keys = path.read_bytes().split()
    try:
        MultiFernet([Fernet(key) for key in keys])
    except ValueError:
        raise VaultLocked(f"{path} is no key file: a line of 44 letters and digits a key is expected.") from None
    return keys


def write_keys(path: Path, keys: Sequence[bytes]) -> None:
    """Write a key file that only its owner reads; it is whole at every moment."""
    path.parent.mkdir(parents=True, exist_ok=True)
    write_private(path, b"\n".join(keys) + b"\n")


def at_hand(salt: bytes) -> Vault:
    """Return the vault with the key that the settings name. Raises VaultLocked."""
    if settings.VAULT_PASSPHRASE:
        return Vault([from_passphrase(settings.VAULT_PASSPHRASE, salt)])
    return Vault(from_file(settings.VAULT_KEY_FILE))
