"""Measuring a whole site: every device asked politely, bounded overall and per device, each reading as it comes."""

import asyncio
import random
import time
from collections.abc import AsyncGenerator, Awaitable, Callable, Iterable, Mapping
from dataclasses import dataclass, field

from tutelar.core.proof import (
    CLOCK_GOOD_S,
    IDENTITY_SERVICES,
    Expectation,
    Identity,
    LoginAnswer,
    Observation,
    PortAnswer,
    StreamSeen,
    Told,
    judge,
    spoken_offset,
    stranger,
)
from tutelar.core.proof.checks import recordings
from tutelar.core.site.types import Device, Reading, Site
from tutelar.field.connect import BrokenOff, Late, NoAnswer, connect, unverified
from tutelar.field.guard import Guard
from tutelar.field.http import StrangeAnswer, identity
from tutelar.field.login import Account
from tutelar.field.rtsp import ask, described
from tutelar.field.sip import options
from tutelar.field.sntp import ask_time
from tutelar.field.state import state

TRIES = 3  # of an exchange that broke off; one that nobody takes is not tried again
BACK_OFF_S = 0.02


@dataclass(frozen=True)
class Target:
    """Where a device is asked: an address, how its ports are reached there, and as whom (None: without a login)."""

    address: str
    port: Callable[[int], int] = lambda port: port
    account: Account | None = None


def targets_of(places: Mapping[str, tuple[str, str, str]], port: Callable[[int], int]) -> dict[str, Target]:
    """Return targets from (address, user, password) by device key."""
    return {key: Target(at, port, Account(user, password)) for key, (at, user, password) in places.items()}


@dataclass
class _Look:
    """One device while it is asked: what it has shown so far."""

    target: Target
    tries: int = 0
    lost: int = 0
    late: int = 0
    identity: Identity | None = None
    offset: float | None = None
    login: LoginAnswer | None = None
    told: Told | None = None
    stream: StreamSeen | None = None


@dataclass
class Prover:
    """Asks devices. At most `together` connections are open at a time, `each` of them to one device; `timeout_s`
    bounds each exchange; two begin at least `pace_s` apart. `dice` spreads the tries, so that not all come at once."""

    guard: Guard
    together: int = 64
    each: int = 4
    timeout_s: float = 2.0
    pace_s: float = 0.0
    dice: random.Random = field(default_factory=lambda: random.Random(1))  # noqa: S311 - no secret hangs on it
    _slots: asyncio.Semaphore = field(init=False)
    _next: float = field(init=False, default=0.0)

    def __post_init__(self) -> None:
        self._slots = asyncio.Semaphore(self.together)

    async def readings(
        self,
        site: Site,
        wanted: Mapping[str, list[Expectation]],
        targets: Mapping[str, Target],
        only: Iterable[str] | None = None,
    ) -> AsyncGenerator[list[Reading], None]:
        """Yield the readings of one device after the other, in the order in which devices are done.

        Devices without a target give skipped readings. Recorders are looked at for what they tell of their cameras,
        even where only those are wanted. Leaving the loop cancels what is under way.
        """
        chosen = set(wanted if only is None else only)
        devices = [device for device in site.device_by_key.values() if device.key in chosen and wanted.get(device.key)]
        looks: dict[str, asyncio.Task[Observation | None]] = {}

        def look(key: str) -> asyncio.Task[Observation | None]:
            if key not in looks:
                looks[key] = asyncio.create_task(self._look(site, site.device_by_key[key], targets.get(key)))
            return looks[key]

        async def prove(device: Device) -> list[Reading]:
            seen = await look(device.key)
            others = {link.to: await look(link.to) for link in recordings(site, device)}
            return judge(site, device, wanted[device.key], seen, others)

        tasks = [asyncio.create_task(prove(device)) for device in devices]
        try:
            for done in asyncio.as_completed(tasks):
                yield await done
        finally:
            for task in (*tasks, *looks.values()):
                task.cancel()
            await asyncio.gather(*tasks, *looks.values(), return_exceptions=True)

    async def _look(self, site: Site, device: Device, target: Target | None) -> Observation | None:
        return None if target is None else await self.observe(site, device, target)

    async def observe(self, site: Site, device: Device, target: Target) -> Observation:
        """Return what a device shows on all its planned ports; it is logged in to only where nobody else answers in its
        place. Raises Refused where the guard forbids it."""
        services, look, own = site.services_of(device), _Look(target), asyncio.Semaphore(self.each)
        first = next((name for name in IDENTITY_SERVICES if name in services), None)
        answers = await asyncio.gather(
            *(self._ask(look, own, service, port, tells=service == first) for service, port in services.items())
        )
        ports = dict(zip(services, answers, strict=True))
        teller = next((name for name in IDENTITY_SERVICES if name in ports and ports[name].open), None)
        if teller is not None and teller != first and not look.late:  # the usual page is moved; another port may tell
            ports[teller] = await self._ask(look, own, teller, services[teller], tells=True)
        known = look.identity is not None and stranger(device, look.identity) is None  # nobody else gets its password
        if teller is not None and known and target.account is not None:
            await self._log_in(look, own, teller, services[teller], target.account)
            if look.login == "taken" and "stream" in services and ports["stream"].open:
                await self._describe(look, own, services["stream"], target.account)
        return Observation(
            ports, look.identity, look.offset, look.login, look.told, look.stream, look.tries, look.lost
        )  # fmt: skip

    async def _log_in(
        self, look: _Look, own: asyncio.Semaphore, service: str, port: int, account: Account
    ) -> None:  # fmt: skip
        """Log in once and ask how the device is set."""
        tls = unverified() if service == "web-tls" else None
        asks: list[str] = []

        async def how() -> float:
            start = time.perf_counter()
            where = (self.guard, look.target.address, look.target.port(port))
            look.login, look.told = await state(*where, account, asks, timeout_s=self.timeout_s, tls=tls)
            return (time.perf_counter() - start) * 1000

        await self._exchange(look, own, service, how)

    async def _describe(self, look: _Look, own: asyncio.Semaphore, port: int, account: Account) -> None:
        """Ask for the stream's description with a login that the page has taken: no try is spent on a refused one."""

        async def stream() -> float:
            where = (self.guard, look.target.address, look.target.port(port))
            said = await ask(*where, timeout_s=self.timeout_s, describe=True, account=account)
            look.stream = described(said.description)
            return said.took_ms

        await self._exchange(look, own, "stream", stream)

    async def _ask(
        self, look: _Look, own: asyncio.Semaphore, service: str, port: int, *, tells: bool
    ) -> PortAnswer:  # fmt: skip
        """Ask one port: who it is where it `tells`, for its description where it streams, else whether it is open."""
        where = (self.guard, look.target.address, look.target.port(port))

        async def who() -> float:
            tls = unverified() if service == "web-tls" else None
            look.identity, look.offset, took = await identity(*where, timeout_s=self.timeout_s, tls=tls)
            return took

        async def knock() -> float:
            connection = await connect(*where, timeout_s=self.timeout_s)
            connection.close()
            return connection.took_ms

        async def stream() -> float:
            return (await ask(*where, timeout_s=self.timeout_s)).took_ms

        async def signal() -> float:
            return (await options(*where, timeout_s=self.timeout_s)).took_ms

        async def time_of_day() -> float:
            said = await ask_time(*where, timeout_s=self.timeout_s)
            if not said.synchronised:
                raise StrangeAnswer(f"answers, and is not synchronised itself (stratum {said.stratum})")
            if abs(said.offset_s) > CLOCK_GOOD_S:
                raise StrangeAnswer(f"serves a time that is {spoken_offset(said.offset_s)}")
            return said.took_ms

        works = {"stream": stream, "signalling": signal, "time": time_of_day}
        work = who if tells else works.get(service, knock)
        return await self._exchange(look, own, service, work)

    async def _turn(self) -> None:
        """Wait until the next exchange may begin."""
        if self.pace_s:
            now = asyncio.get_running_loop().time()
            self._next = max(self._next + self.pace_s, now)
            await asyncio.sleep(self._next - now)

    async def _exchange(
        self, look: _Look, own: asyncio.Semaphore, service: str, work: Callable[[], Awaitable[float]]
    ) -> PortAnswer:
        """Do one exchange, again where it broke off; return how the port did."""
        async with own, self._slots:
            start = time.perf_counter()
            for attempt in range(TRIES + 1):
                look.tries += 1
                await self._turn()
                try:
                    took = await work()
                    look.lost += attempt
                    return PortAnswer(True, took)
                except StrangeAnswer as error:
                    fault = None if service == "control" else str(error)  # makers' control ports speak as they like
                    return PortAnswer(True, (time.perf_counter() - start) * 1000, fault)
                except BrokenOff:
                    await asyncio.sleep(BACK_OFF_S * 2**attempt * (1 + self.dice.random()))
                except NoAnswer as error:
                    look.late += isinstance(error, Late)
                    return PortAnswer(False, (time.perf_counter() - start) * 1000)
            return PortAnswer(True, (time.perf_counter() - start) * 1000, "breaks off each time")
