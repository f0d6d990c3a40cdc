"""Measuring a whole site: every device asked politely, bounded overall, each reading as it comes."""

import asyncio
import time
from collections.abc import AsyncGenerator, Callable, Iterable, Mapping
from dataclasses import dataclass, field

from tutelar.core.proof import IDENTITY_SERVICES, Expectation, Identity, Observation, PortAnswer, judge
from tutelar.core.site.types import Device, Reading, Site
from tutelar.field.connect import NoAnswer, connect, unverified
from tutelar.field.guard import Guard
from tutelar.field.http import StrangeAnswer, identity
from tutelar.field.rtsp import ask


@dataclass(frozen=True)
class Target:
    """Where a device is asked: an address, and how its ports are reached there."""

    address: str
    port: Callable[[int], int] = lambda port: port


@dataclass
class Prover:
    """Asks devices. At most `together` connections are open at a time; `timeout_s` bounds each exchange."""

    guard: Guard
    together: int = 64
    timeout_s: float = 2.0
    _slots: asyncio.Semaphore = field(init=False)

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

        Devices without a target give skipped readings. Leaving the loop cancels what is under way.
        """
        chosen = set(wanted if only is None else only)
        devices = [device for device in site.device_by_key.values() if device.key in chosen and wanted.get(device.key)]
        tasks = [
            asyncio.create_task(self._prove(site, device, wanted[device.key], targets.get(device.key)))
            for device in devices
        ]
        try:
            for done in asyncio.as_completed(tasks):
                yield await done
        finally:
            for task in tasks:
                task.cancel()
            await asyncio.gather(*tasks, return_exceptions=True)

    async def _prove(
        self, site: Site, device: Device, wanted: list[Expectation], target: Target | None
    ) -> list[Reading]:
        seen = None if target is None else await self.observe(site, device, target)
        return judge(site, device, wanted, seen)

    async def observe(self, site: Site, device: Device, target: Target) -> Observation:
        """Return what a device shows on all its planned ports. Raises Refused where the guard forbids it."""
        services = site.services_of(device)
        teller = next((service for service in IDENTITY_SERVICES if service in services), None)
        answers = await asyncio.gather(
            *(self._ask(target, service, port, tells=service == teller) for service, port in services.items())
        )
        told = next(((who, offset) for _, who, offset in answers if who is not None), (None, None))
        ports = {service: answer for service, (answer, _, _) in zip(services, answers, strict=True)}
        return Observation(ports, *told)

    async def _ask(
        self, target: Target, service: str, port: int, *, tells: bool
    ) -> tuple[PortAnswer, Identity | None, float | None]:
        where = (self.guard, target.address, target.port(port))
        async with self._slots:
            start = time.perf_counter()
            try:
                if tells:
                    tls = unverified() if service == "web-tls" else None
                    who, offset, took = await identity(*where, timeout_s=self.timeout_s, tls=tls)
                    return PortAnswer(True, took), who, offset
                if service == "stream":
                    return PortAnswer(True, (await ask(*where, timeout_s=self.timeout_s)).took_ms), None, None
                connection = await connect(*where, timeout_s=self.timeout_s)
                connection.close()
                return PortAnswer(True, connection.took_ms), None, None
            except StrangeAnswer as error:
                fault = None if service == "control" else str(error)  # makers' control ports speak as they like
                return PortAnswer(True, (time.perf_counter() - start) * 1000, fault), None, None
            except NoAnswer:
                return PortAnswer(False, (time.perf_counter() - start) * 1000), None, None
