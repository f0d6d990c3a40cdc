"""The certificates of pretend devices: self-signed, each its own, and the same again whenever the device is played."""

import ssl
import tempfile
from datetime import UTC, datetime
from functools import lru_cache
from hashlib import sha256
from pathlib import Path

_SINCE, _UNTIL = datetime(2024, 1, 1, tzinfo=UTC), datetime(2044, 1, 1, tzinfo=UTC)
_ORDER = 0xFFFFFFFF00000000FFFFFFFFFFFFFFFFBCE6FAADA7179E84F3B9CAC2FC632551  # of the curve P-256 (FIPS 186-5)


@lru_cache(maxsize=2048)
def server_context(secret: str) -> ssl.SSLContext:
    """Return a server context with the certificate that is made from a secret (P-256, 2024 to 2044)."""
    from cryptography import x509  # noqa: PLC0415  slow to import, needed for secure ports only
    from cryptography.hazmat.primitives import hashes, serialization  # noqa: PLC0415
    from cryptography.hazmat.primitives.asymmetric import ec  # noqa: PLC0415

    seed = int.from_bytes(sha256(f"certificate of {secret}".encode()).digest(), "big")
    key = ec.derive_private_key(seed % (_ORDER - 1) + 1, ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(x509.NameOID.COMMON_NAME, "pretend device")])
    certificate = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(seed >> 100 or 1)
        .not_valid_before(_SINCE)
        .not_valid_after(_UNTIL)
        .sign(key, hashes.SHA256(), ecdsa_deterministic=True)
    )
    private = key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "pretend.pem"
        path.write_bytes(private + certificate.public_bytes(serialization.Encoding.PEM))
        context.load_cert_chain(path)
    return context
