"""The certificate that the server shows beyond this machine: made at the first start, or the firm's own.

Made here, it is signed by nobody: a browser asks once whether it is the right one, and the fingerprint answers that.
"""

import ipaddress
import os
import socket
import ssl
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from tutelar.server.private import write_private

_LASTS, _RENEWED = timedelta(days=730), timedelta(days=30)


class CertificateError(Exception):
    """A certificate that cannot be used, in a sentence."""


@dataclass(frozen=True, slots=True)
class Certificate:
    """Where certificate and key lie, and the certificate's fingerprint (SHA-256, pairs of hexadecimal digits)."""

    file: Path
    key: Path
    fingerprint: str


def at_hand(folder: Path, addresses: Sequence[str], now: datetime | None = None) -> Certificate:
    """Return the firm's certificate where TUTELAR_CERTIFICATE and TUTELAR_CERTIFICATE_KEY name one, else that of this
    data folder: made where there is none, it ends within a month, or one of these addresses is not in it.

    Raises CertificateError for a firm's certificate that cannot be used.
    """
    named = os.environ.get("TUTELAR_CERTIFICATE"), os.environ.get("TUTELAR_CERTIFICATE_KEY")
    if all(named):
        return _used(Path(str(named[0])), Path(str(named[1])))
    if any(named):
        raise CertificateError("Name both, TUTELAR_CERTIFICATE and TUTELAR_CERTIFICATE_KEY, or neither.")
    file, key = folder / "certificate.pem", folder / "certificate-key.pem"
    wanted = {ipaddress.ip_address(address) for address in ("127.0.0.1", *addresses)}
    if not _serves(file, key, wanted, now or datetime.now(UTC)):
        _make(file, key, sorted(wanted, key=int), now or datetime.now(UTC))
    return _used(file, key)


def _used(file: Path, key: Path) -> Certificate:
    try:
        ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER).load_cert_chain(file, key)
        first = x509.load_pem_x509_certificates(file.read_bytes())[0]
    except (OSError, ValueError) as error:
        raise CertificateError(f"The certificate {file} and its key {key} cannot be used: {error}.") from None
    return Certificate(file, key, first.fingerprint(hashes.SHA256()).hex(":").upper())


def _serves(file: Path, key: Path, wanted: set[ipaddress.IPv4Address | ipaddress.IPv6Address], now: datetime) -> bool:
    try:
        _used(file, key)
        found = x509.load_pem_x509_certificate(file.read_bytes())
        names = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except (CertificateError, OSError, ValueError, x509.ExtensionNotFound):
        return False
    return wanted <= set(names.get_values_for_type(x509.IPAddress)) and now + _RENEWED < found.not_valid_after_utc


def _make(
    file: Path, key: Path, addresses: Sequence[ipaddress.IPv4Address | ipaddress.IPv6Address], now: datetime
) -> None:
    own = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Tutelar")])
    hosts = dict.fromkeys(("localhost", socket.gethostname()))
    names = [*(x509.DNSName(host) for host in hosts if host.isascii()), *(x509.IPAddress(one) for one in addresses)]
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(own.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))  # a phone's clock may be behind
        .not_valid_after(now + _LASTS)
        .add_extension(x509.SubjectAlternativeName(names), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(own, hashes.SHA256())
    )
    plain = serialization.NoEncryption()  # the folder is closed to other accounts
    pem = own.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, plain)
    write_private(key, pem)
    write_private(file, made.public_bytes(serialization.Encoding.PEM))
