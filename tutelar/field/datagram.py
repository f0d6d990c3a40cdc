"""One datagram there and one back: the only place of the field floor where a datagram socket is made."""

import asyncio
import socket
import time
from collections.abc import Callable

from tutelar.field.connect import ConnectError, ConnectTimeout
from tutelar.field.guard import Guard

_MOST = 65535


class _Waiting(asyncio.DatagramProtocol):
    """Takes the first datagram that fits; whatever else comes is passed over."""

    def __init__(self, fits: Callable[[bytes], bool]) -> None:
        self.fits = fits
        self.came: asyncio.Future[tuple[bytes, float]] = asyncio.get_running_loop().create_future()

    def datagram_received(self, data: bytes, addr: object) -> None:
        if not self.came.done() and self.fits(data[:_MOST]):
            self.came.set_result((data[:_MOST], time.perf_counter()))

    def error_received(self, exc: Exception) -> None:
        if not self.came.done():
            self.came.set_exception(ConnectError(getattr(exc, "strerror", None) or "refused"))


async def exchange(
    guard: Guard, address: str, port: int, request: bytes, fits: Callable[[bytes], bool], *, timeout_s: float = 2.0
) -> tuple[bytes, float]:
    """Return the answer to a datagram and the milliseconds that it took. `fits` tells an answer from a stray one.

    Raises Refused before anything is sent, Late where nothing fitting comes in time, NoAnswer where it is refused.
    """
    guard.check(address)
    loop = asyncio.get_running_loop()
    start = time.perf_counter()
    try:
        transport, waiting = await loop.create_datagram_endpoint(lambda: _Waiting(fits), remote_addr=(address, port))
    except OSError as error:
        raise ConnectError(error.strerror or "refused") from None
    try:
        transport.sendto(request)
        async with asyncio.timeout(timeout_s):
            data, at = await waiting.came
    except TimeoutError:
        raise ConnectTimeout(f"no answer within {timeout_s:g} s") from None
    finally:
        transport.abort()
        waiting.came.cancel()
    return data, (at - start) * 1000


class _Gathering(asyncio.DatagramProtocol):
    """Takes every datagram that fits."""

    def __init__(self, fits: Callable[[bytes], bool], most: int) -> None:
        self.fits, self.most = fits, most
        self.came: list[bytes] = []

    def datagram_received(self, data: bytes, addr: object) -> None:
        if len(self.came) < self.most and self.fits(data[:_MOST]):
            self.came.append(data[:_MOST])


async def gather(
    guard: Guard,
    address: str,
    port: int,
    request: bytes,
    fits: Callable[[bytes], bool],
    *,
    wait_s: float,
    most: int,
    out_of: str | None = None,
) -> list[bytes]:
    """Return all fitting answers to a datagram that come within `wait_s`, at most `most`. `out_of` is the own address
    that it goes out from, to a group too. Raises Refused, NoAnswer."""
    guard.check(address)
    try:
        transport, gathering = await asyncio.get_running_loop().create_datagram_endpoint(
            lambda: _Gathering(fits, most),
            family=socket.AF_INET,
            local_addr=(out_of, 0) if out_of is not None else None,
        )
        if out_of is not None:
            group = transport.get_extra_info("socket")
            group.setsockopt(socket.IPPROTO_IP, socket.IP_MULTICAST_IF, socket.inet_aton(out_of))
    except OSError as error:
        raise ConnectError(error.strerror or "refused") from None
    try:
        transport.sendto(request, (address, port))
        await asyncio.sleep(wait_s)
    finally:
        transport.abort()
    return gathering.came
