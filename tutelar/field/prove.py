"""Measuring a whole site: every device asked politely, bounded overall and per device, each reading as it comes."""

import asyncio
import random
from collections.abc import AsyncGenerator, Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from tutelar.core.links.ties import recordings, registrations
from tutelar.core.proof import Expectation, Observation, factory_login, judge, stranger
from tutelar.core.site.types import Device, Link, Reading, Site
from tutelar.field.connect import ConnectError
from tutelar.field.evidence import trimmed
from tutelar.field.guard import Guard
from tutelar.field.http import ProtocolError
from tutelar.field.login import Account
from tutelar.field.look import DeviceProbe, ProbeLimits, Target
from tutelar.field.neighbours import Neighbours, known
from tutelar.field.sip import listed

Keep = Callable[[str, Observation], None]


def targets_of(places: Mapping[str, tuple[str, str, str]], port: Callable[[int], int], site: Site) -> dict[str, Target]:
    """Return targets from (address, user, password) by device key; others register with the same password."""
    return {
        key: Target(at, port, Account(user, password), password, factory_account(site, site.device_by_key[key]))
        for key, (at, user, password) in places.items()
    }


def factory_account(site: Site, device: Device) -> Account | None:
    """Return the login that a device had from the factory, None where it has none or nobody knows it."""
    found = factory_login(site, device)
    return None if found is None else Account(*found)


LIVE_MANNERS: Any = {"together": 16, "each": 2, "timeout_s": 3.0, "pace_s": 0.02}  # at most 50 exchanges a second


@dataclass
class Prover:
    """Asks devices. At most `together` connections are open at a time, `each` of them to one device; `timeout_s`
    bounds each exchange; two begin at least `pace_s` apart. `dice` spreads the tries, so that not all come at once.
    `neighbours` looks up the hardware address behind an address in the laptop's own table."""

    guard: Guard
    together: int = 64
    each: int = 4
    timeout_s: float = 2.0
    pace_s: float = 0.0
    dice: random.Random = field(default_factory=lambda: random.Random(1))  # noqa: S311 - no secret hangs on it
    neighbours: Neighbours = field(default_factory=lambda: known({}))
    _manners: ProbeLimits = field(init=False)

    def __post_init__(self) -> None:
        slots = asyncio.Semaphore(self.together)
        self._manners = ProbeLimits(
            self.guard, slots, self.each, self.timeout_s, self.pace_s, self.dice, self.neighbours
        )

    async def readings(
        self,
        site: Site,
        wanted: Mapping[str, list[Expectation]],
        targets: Mapping[str, Target],
        only: Iterable[str] | None = None,
        keep: Keep | None = None,
    ) -> AsyncGenerator[list[Reading], None]:
        """Yield the readings of one device after the other, in the order in which devices are done.

        Devices without a target give skipped readings. A device is asked no more than what is wanted of it needs;
        recorders are looked at for what they tell of their cameras, main stations for whom they list, even where only
        those are wanted. `keep` is given what was seen of each. Leaving the loop cancels what is under way.
        """
        self._manners.keeps = keep is not None
        chosen = set(wanted if only is None else only)
        devices = [device for device in site.device_by_key.values() if device.key in chosen and wanted.get(device.key)]
        full = {device.key: {item.check for item in wanted[device.key]} for device in devices}
        looks: dict[str, asyncio.Task[Observation | None]] = {}
        refused: set[str] = set()

        def look(key: str) -> asyncio.Task[Observation | None]:
            if key not in looks:
                device, target = site.device_by_key[key], targets.get(key)
                needed = _NEEDED_OF.get(site.family_of(device), frozenset())
                looks[key] = asyncio.create_task(self._look(site, device, target, full.get(key, set()) | needed))
            return looks[key]

        async def prove(device: Device) -> list[Reading]:
            checks = full[device.key]
            seen = await look(device.key)
            others = {}
            if checks & {"linked", "records"}:
                others = {link.to: await look(link.to) for link in recordings(site, device)}
            if seen is not None and "registered" in checks:
                seen = await self._listed(site, device, seen, look, targets, refused)
            if keep is not None and seen is not None:
                keep(device.key, seen)
            return judge(site, device, wanted[device.key], seen, others)

        tasks = [asyncio.create_task(prove(device)) for device in devices]
        try:
            for done in asyncio.as_completed(tasks):
                yield await done
        finally:
            for task in (*tasks, *looks.values()):
                task.cancel()
            await asyncio.gather(*tasks, *looks.values(), return_exceptions=True)

    async def _look(
        self, site: Site, device: Device, target: Target | None, checks: set[str] | None = None
    ) -> Observation | None:
        return None if target is None else await self.observe(site, device, target, checks)

    async def observe(self, site: Site, device: Device, target: Target, checks: set[str] | None = None) -> Observation:
        """Return what a device shows on its planned ports, for these checks only where they are given. Raises Refused
        where the guard forbids it."""
        return await DeviceProbe(self._manners, site, device, target).all(checks)

    async def _listed(
        self,
        site: Site,
        device: Device,
        seen: Observation,
        look: Callable[[str], "asyncio.Task[Observation | None]"],
        targets: Mapping[str, Target],
        refused: set[str],
    ) -> Observation:
        """Return what was seen with what each station lists for the device's number there; a station that refused
        the question once is not asked again."""
        for link in registrations(site, device):
            seen = await self._listed_at(link, site, seen, look, targets, refused)
        return seen

    async def _listed_at(
        self,
        link: Link,
        site: Site,
        seen: Observation,
        look: Callable[[str], "asyncio.Task[Observation | None]"],
        targets: Mapping[str, Target],
        refused: set[str],
    ) -> Observation:
        target = targets.get(link.to)
        port = site.services_of(site.device_by_key[link.to]).get("signalling")
        if link.slot is None or target is None or port is None or link.to in refused:
            return seen
        home = await look(link.to)
        answers = home is not None and home.ports.get("signalling")
        if home is None or not answers or not answers.open or answers.fault or home.identity is None:
            return seen
        if stranger(site.device_by_key[link.to], home) is not None or link.to in refused:
            return seen
        number = str(link.slot)
        account = Account(number, target.registration) if target.registration is not None else None
        async with self._manners.slots:
            await self._manners.turn()
            try:
                said = await listed(
                    self.guard, target.address, target.port(port), number, account, timeout_s=self.timeout_s
                )
            except (ConnectError, ProtocolError):
                return seen
        if said.addresses is None:
            refused.add(link.to)
            return seen
        shown = trimmed(said.answer.head, [target.registration or ""])
        before = seen.evidence.get("registrar")
        evidence = {**seen.evidence, "registrar": shown if before is None else f"{before}\n\n{shown}"}
        return replace(seen, listed={**seen.listed, link.to: said.addresses}, evidence=evidence)


# What others need of a device: what a recorder tells of its cameras, whether a main station is itself and signals.
_NEEDED_OF = {
    "recorder": frozenset({"login"}),
    "software-recorder": frozenset({"login"}),
    "door-station": frozenset({"signalling", "right-device"}),
    "call-server": frozenset({"signalling", "right-device"}),
}
