"""Proving 300 stand-in devices against a bare connect loop: python -m bench.proving [devices].

The reference makes the same number of connections to the same ports of the same stand-in, sends the same
request bytes and reads one answer where an answer is due, and does nothing else.
"""

import asyncio
import statistics
import sys
import time

from bench.sites import site_text
from tutelar.core.addressing import plan
from tutelar.core.proof import IDENTITY_SERVICES, all_expectations
from tutelar.core.site import Site, read_site, with_addresses
from tutelar.field.guard import Guard
from tutelar.field.prove import Prover, Target
from tutelar.standin.loopback import LoopbackMap, loopback_port
from tutelar.standin.site import StandIn

TOGETHER = 64
GET = b"GET /identity HTTP/1.1\r\nHost: device\r\nConnection: close\r\n\r\n"
OPTIONS = b"OPTIONS rtsp://device/ RTSP/1.0\r\nCSeq: 1\r\n\r\n"


def exchanges(site: Site, where: LoopbackMap) -> list[tuple[str, int, bytes | None]]:
    """Return (address, port, request or None for a mere connection) of all exchanges of a proof."""
    found: list[tuple[str, int, bytes | None]] = []
    for device in site.devices:
        model = site.model_of(device)
        services = model.services if model else {}
        teller = next((name for name in IDENTITY_SERVICES if name in services), None)
        for name, port in services.items():
            request = GET if name == teller else OPTIONS if name == "stream" else None
            found.append((where.addresses[device.key], loopback_port(port), request))
    return found


async def bare_loop(todo: list[tuple[str, int, bytes | None]]) -> None:
    slots = asyncio.Semaphore(TOGETHER)

    async def one(address: str, port: int, request: bytes | None) -> None:
        async with slots:
            reader, writer = await asyncio.open_connection(address, port)
            if request:
                writer.write(request)
                assert await reader.read(65536)
            writer.transport.abort()

    await asyncio.gather(*(one(*item) for item in todo))


async def prove(site: Site, where: LoopbackMap) -> int:
    wanted = all_expectations(site, plan(site).assignments)
    targets = {key: Target(address, loopback_port) for key, address in where.addresses.items()}
    prover = Prover(Guard(), together=TOGETHER)
    return sum([sum(item.result == "pass" for item in batch) async for batch in prover.readings(site, wanted, targets)])


async def measure(devices: int, rounds: int = 7) -> None:
    raw = read_site(site_text(devices, 3))
    site = with_addresses(raw, plan(raw).addresses())
    bare, proved = [], []
    async with StandIn(site, yields=True) as pretend:
        where = pretend.map
        todo = exchanges(site, where)
        for _ in range(rounds):
            start = time.perf_counter()
            await bare_loop(todo)
            middle = time.perf_counter()
            passed = await prove(site, where)
            bare.append(middle - start)
            proved.append(time.perf_counter() - middle)
    reference, took = statistics.median(bare), statistics.median(proved)
    print(f"proving: {devices} devices, {len(todo)} exchanges, {passed} readings passed")
    print(f"  bare connect loop    {reference * 1000:8.0f} ms   1.00")
    print(f"  prove                {took * 1000:8.0f} ms   {took / reference:.2f} (aim at most 2.0)")


if __name__ == "__main__":
    asyncio.run(measure(int(sys.argv[1]) if len(sys.argv) > 1 else 300))
