"""Proving 300 stand-in devices against a bare connect loop: python -m bench.proving [devices].

The reference makes the same number of connections to the same ports of the same stand-in, sends the same
request bytes and reads one answer where an answer is due, and does nothing else.
"""

import asyncio
import contextlib
import resource
import statistics
import sys
import time

from bench.sites import site_text
from tutelar.core.planning import plan
from tutelar.core.proof import IDENTITY_SERVICES, Expectation, all_expectations
from tutelar.core.site import Site, read_site, with_addresses
from tutelar.field.connect import unverified
from tutelar.field.guard import Guard
from tutelar.field.look import Target
from tutelar.field.prove import Prover, targets_of
from tutelar.standin.loopback import LoopbackMap, loopback_port
from tutelar.standin.site import StandIn

TOGETHER = 64
GET = b"GET /identity HTTP/1.1\r\nHost: device\r\nConnection: close\r\n\r\n"
STATE = b"GET /state HTTP/1.1\r\nHost: device\r\nConnection: close\r\n\r\n"
OPTIONS = b"OPTIONS rtsp://device/ RTSP/1.0\r\nCSeq: 1\r\n\r\n"
DESCRIBE = b"DESCRIBE rtsp://device/ RTSP/1.0\r\nCSeq: 2\r\n\r\n"


Exchange = tuple[str, int, tuple[bytes, ...], bool]


def exchanges(site: Site, where: LoopbackMap) -> list[Exchange]:
    """Return (address, port, requests one after the other, none for a mere connection; whether it is a secure one) of
    all exchanges of a proof."""
    found: list[Exchange] = []
    for device in site.devices:
        services = site.services_of(device)
        teller = next((name for name in IDENTITY_SERVICES if name in services), None)
        for name, port in services.items():
            at = (where.addresses[device.key], loopback_port(port))
            if name == teller:
                found += [(*at, (GET,), False), (*at, (STATE,), False), (*at, (STATE,), False)]
            elif name == "stream":
                found += [(*at, (OPTIONS,), False), (*at, (OPTIONS, DESCRIBE, DESCRIBE), False)]
            else:
                found.append((*at, (), name == "web-tls"))
    return found


async def bare_loop(todo: list[Exchange]) -> None:
    slots = asyncio.Semaphore(TOGETHER)

    async def one(address: str, port: int, requests: tuple[bytes, ...], secure: bool) -> None:
        async with slots:
            reader, writer = await asyncio.open_connection(address, port, ssl=unverified() if secure else None)
            for request in requests:
                writer.write(request)
                assert await reader.read(65536)
            writer.transport.abort()

    await asyncio.gather(*(one(*item) for item in todo))


Wanted = dict[str, list[Expectation]]


async def prove(site: Site, pretend: StandIn, wanted: Wanted) -> int:
    targets = targets_of(pretend.targets(), loopback_port, site)
    prover = Prover(Guard(), together=TOGETHER)
    return sum([sum(item.result == "pass" for item in batch) async for batch in prover.readings(site, wanted, targets)])


async def measure(devices: int, rounds: int = 7) -> None:
    raw = read_site(site_text(devices, 3))
    site = with_addresses(raw, plan(raw).addresses())
    bare, proved = [], []
    wanted = all_expectations(site, plan(site).assignments)
    async with StandIn(site, yields=True) as pretend:
        where = pretend.map
        todo = exchanges(site, where)
        for _ in range(rounds):
            start = time.perf_counter()
            await bare_loop(todo)
            middle = time.perf_counter()
            passed = await prove(site, pretend, wanted)
            bare.append(middle - start)
            proved.append(time.perf_counter() - middle)
    reference, took = statistics.median(bare), statistics.median(proved)
    print(f"proving: {devices} devices, {len(todo)} exchanges, {passed} readings passed")
    print(f"  bare connect loop    {reference * 1000:8.0f} ms   1.00")
    print(f"  prove                {took * 1000:8.0f} ms   {took / reference:.2f} (aim at most 1.5)")
    await half_silent(site)
    await many()


async def half_silent(site: Site) -> None:
    """Print what a sweep costs where every second device takes connections and says nothing: it is bounded by the
    time-outs, laid one beside the other as many as may be open at a time."""
    budget_s = 2.0
    async with StandIn(site, yields=True) as pretend, _Deaf() as deaf:
        targets = targets_of(pretend.targets(), loopback_port, site)
        for at, key in enumerate(list(targets)):
            if at % 2:
                targets[key] = Target("127.0.0.1", lambda _: deaf.port, targets[key].account)
        wanted = all_expectations(site, plan(site).assignments)
        prover = Prover(Guard(), together=TOGETHER, timeout_s=budget_s)
        waits = sum(_waits(site, key) for at, key in enumerate(list(targets)) if at % 2)
        budget = waits * budget_s / TOGETHER
        start = time.perf_counter()
        async for _ in prover.readings(site, wanted, targets):
            pass
        took = time.perf_counter() - start
    said = f"{took / budget:.2f} of the time-out budget of {budget:.1f} s (aim at most 1.1)"
    print(f"  half of them silent  {took * 1000:8.0f} ms   {said}")


def _waits(site: Site, key: str) -> int:
    """Return how many exchanges with a deaf device wait for their time-out: those that expect an answer."""
    services = site.services_of(site.device_by_key[key])
    return ("stream" in services) + ("web-tls" in services) + any(name in services for name in IDENTITY_SERVICES)


class _Deaf:
    """A port that takes every connection and never says a word."""

    async def __aenter__(self) -> "_Deaf":
        async def keep(_reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            with contextlib.suppress(asyncio.CancelledError):
                await asyncio.sleep(60)
            writer.transport.abort()

        self.server = await asyncio.start_server(keep, "127.0.0.1", 0)
        self.port = int(self.server.sockets[0].getsockname()[1])
        return self

    async def __aexit__(self, *_: object) -> None:
        self.server.close()


async def many() -> None:
    """Print how long 1,000 stand-in devices take to start, and the memory of the process."""
    raw = read_site(site_text(1000, 5))
    site = with_addresses(raw, plan(raw).addresses())
    start = time.perf_counter()
    async with StandIn(site, yields=True):
        took = time.perf_counter() - start
        used = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"  1,000 stand-in devices start in {took:.1f} s (aim at most 5), {used:.0f} MB in the process (aim 500)")


if __name__ == "__main__":
    asyncio.run(measure(int(sys.argv[1]) if len(sys.argv) > 1 else 300))
