"""Opening a connection: the only place of the field floor where a stream socket is made."""

import asyncio
import ssl
import time
from dataclasses import dataclass
from functools import lru_cache

from tutelar.field.guard import Guard


class ConnectError(OSError):
    """Nobody took the connection, or nothing came back in time; the sentence says which."""


class ConnectTimeout(ConnectError):
    """Nothing came within the time-out."""


class ReadTimeout(ConnectTimeout):
    """The connection was taken, and nothing came over it within the time-out."""


class ConnectionBroken(ConnectError):
    """The connection was taken and broke off before an answer came: worth another try."""


@dataclass
class Connection:
    """An open connection and how long it took to open, in milliseconds; of a secure one the certificate (DER)."""

    reader: asyncio.StreamReader
    writer: asyncio.StreamWriter
    took_ms: float
    certificate: bytes | None = None

    def close(self) -> None:
        """Close the connection; what is still under way is dropped."""
        self.writer.transport.abort()


@lru_cache(maxsize=1)
def unverified() -> ssl.SSLContext:
    """Return a client context that takes any certificate: devices sign their own, and theirs is pinned."""
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
    context.check_hostname = False
    context.verify_mode = ssl.CERT_NONE
    return context


async def connect(
    guard: Guard, address: str, port: int, *, timeout_s: float = 2.0, tls: ssl.SSLContext | None = None
) -> Connection:
    """Return an open connection. Raises Refused (guard) before anything is sent, NoAnswer where nobody takes it,
    BrokenOff where it was taken and reset."""
    guard.check(address)
    start = time.perf_counter()
    try:
        async with asyncio.timeout(timeout_s):
            reader, writer = await asyncio.open_connection(address, port, ssl=tls, limit=65536)
    except TimeoutError:
        raise ConnectTimeout(f"no answer within {timeout_s:g} s") from None
    except (ConnectionResetError, ssl.SSLEOFError, ssl.SSLZeroReturnError, BrokenPipeError):
        raise ConnectionBroken("the connection broke off") from None
    except (OSError, ssl.SSLError) as error:
        raise ConnectError(error.strerror or str(error) or "refused") from None
    took = (time.perf_counter() - start) * 1000
    shown = writer.get_extra_info("ssl_object")
    return Connection(reader, writer, took, shown.getpeercert(binary_form=True) if shown is not None else None)
