"""A second factor: codes of an authenticator app (TOTP, RFC 6238), and recovery codes for when it is lost.

The shared secret is sealed like every other one; of recovery codes the hashes are kept. A code is taken once.
"""

import hashlib
import re
import secrets
import time
from base64 import b32encode

from cryptography.hazmat.primitives.hashes import SHA1
from cryptography.hazmat.primitives.twofactor import InvalidToken
from cryptography.hazmat.primitives.twofactor.totp import TOTP
from django.contrib.auth.models import User
from django.db import transaction
from django.views.decorators.debug import sensitive_variables

from tutelar.server import models
from tutelar.server.codes import code_svg
from tutelar.server.secrets import sealing
from tutelar.server.store.writes import WriteRejected
from tutelar.server.vault import VaultLocked

STEP_S, DIGITS, BYTES = 30, 6, 20
_EARLIER_OR_LATER = 1  # steps by which the clock of a phone may differ
_CODES = 10


def has_second(user: User) -> bool:
    """Return whether somebody proves by a code too who he is."""
    return models.SecondFactor.objects.filter(user=user, confirmed=True).exists()


@sensitive_variables()
def begin(user: User) -> tuple[str, str, str]:
    """Return the secret of a new second factor in base 32, its address for an app, and that as a picture (SVG); it
    counts once it is confirmed. Raises WriteRejected where there is one already."""
    if has_second(user):
        raise WriteRejected("You have a second factor already; switch it off first.", status=409)
    key = secrets.token_bytes(BYTES)
    row = models.SecondFactor(user=user)
    row.sealed = sealing.opened().seal(key.hex(), sealing.place_of_factor(row))
    row.save()
    uri = _totp(key).get_provisioning_uri(user.get_username(), "Tutelar")
    return b32encode(key).decode(), uri, code_svg(uri)


def confirm(user: User, code: str) -> list[str]:
    """Let a second factor count from now on, and return recovery codes, which are shown this once. Raises WriteRejected
    where none was begun, or the code is not its own."""
    with transaction.atomic():
        row = models.SecondFactor.objects.filter(user=user, confirmed=False).first()
        if row is None:
            raise WriteRejected("Begin with the picture for your app.", status=409)
        if not _taken(row, code):
            raise WriteRejected("That is not the code that the app shows now.", [("code", "wrong")])
        codes = [_recovery() for _ in range(_CODES)]
        row.confirmed, row.recovery = True, [_hashed(one) for one in codes]
        row.save()
    return codes


def switch_off(user: User) -> None:
    """Take the second factor of somebody away."""
    models.SecondFactor.objects.filter(user=user).delete()


def passes(user: User, code: str) -> bool:
    """Return whether a code is the app's of now, or a recovery code that was not used yet; neither passes again.

    Raises WriteRejected (503) where the vault does not open; recovery codes pass then too.
    """
    with transaction.atomic():
        row = models.SecondFactor.objects.filter(user=user, confirmed=True).first()
        if row is None:
            return False
        hashed = _hashed(code)
        if hashed in row.recovery:
            row.recovery = [one for one in row.recovery if one != hashed]
            row.save()
            return True
        return _taken(row, code)


@sensitive_variables()
def _taken(row: models.SecondFactor, code: str) -> bool:
    """Take a code: return whether it is one of now that was not taken before."""
    digits = re.sub(r"\s", "", code)
    if not re.fullmatch(rf"[0-9]{{{DIGITS}}}", digits):
        return False
    try:
        totp = _totp(bytes.fromhex(sealing.opened().open(bytes(row.sealed), sealing.place_of_factor(row))))
    except VaultLocked as error:
        raise WriteRejected(str(error), status=503) from None
    now = int(time.time()) // STEP_S
    for step in range(max(now - _EARLIER_OR_LATER, row.last_step + 1), now + _EARLIER_OR_LATER + 1):
        try:
            totp.verify(digits.encode(), step * STEP_S)
        except InvalidToken:
            continue
        row.last_step = step
        row.save()
        return True
    return False


def _recovery() -> str:
    """Return a recovery code: 120 bits, in four groups of six letters and digits."""
    text = b32encode(secrets.token_bytes(15)).decode().lower()
    return "-".join(text[at : at + 6] for at in range(0, len(text), 6))


def _totp(key: bytes) -> TOTP:
    return TOTP(key, DIGITS, SHA1(), STEP_S)  # noqa: S303 - what authenticator apps know


def _hashed(code: str) -> str:
    return hashlib.sha256(re.sub(r"[\s-]", "", code).lower().encode()).hexdigest()
