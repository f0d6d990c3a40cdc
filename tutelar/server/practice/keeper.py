"""Pretend sites that are kept up to practise on: one thread of one process plays them until they are taken down.

Where several processes serve, it is the one that started them, so that whichever answers sees the same site.
"""

import asyncio
import contextlib
import threading
from collections.abc import Collection
from concurrent.futures import Future
from dataclasses import dataclass

from tutelar.core.doors.circuit import DoorFault
from tutelar.core.site import Site
from tutelar.server.single import the_only
from tutelar.standin.faults import Fault
from tutelar.standin.site import Handling, StandIn
from tutelar.standin.unboxed import SimulatedStatus

_START_S = 60


@dataclass(frozen=True, slots=True)
class Started:
    """A pretend site that is up: (address, user, password) of each device, and where its relay is asked."""

    targets: dict[str, tuple[str, str, str]]
    relay: str | None


@dataclass(frozen=True, slots=True)
class Searchable:
    """What a search of a pretend site needs: where it is asked, and a laptop's neighbour table as it prints it."""

    addresses: list[str]
    neighbours: str


class SimulatedSites:
    """The stand-ins that are up, by the key of their site."""

    def __init__(self) -> None:
        self._loop: asyncio.AbstractEventLoop | None = None
        self._up: dict[str, StandIn] = {}
        self._lock = threading.Lock()

    def start(self, key: str, site: Site, faults: tuple[Fault, ...], *, boxed: bool = False) -> Started:
        """Play a site with these faults in place of what was up for its key; `boxed`: every device is still in its box.

        Raises CannotListen, NoRoomError.
        """
        with self._lock:
            self._stop(key)
            pretend = StandIn(site, faults, yields=True, boxed=boxed)
            self._run(pretend.__aenter__()).result(_START_S)
            self._up[key] = pretend
            return Started(pretend.targets(), pretend.relay)

    def handle(self, key: str, device: str, what: Handling) -> None:
        """Box, plug in or unplug a device of a site that is up. Raises KeyError where it is not, or has no such one."""
        with self._lock:
            self._run(self._up[key].handle(device, what)).result(_START_S)

    def standings(self, key: str) -> dict[str, SimulatedStatus]:
        """Return how each device of a site stands, nothing where the site is not up."""
        pretend = self._up.get(key)
        return {} if pretend is None else {device: pretend.standing(device) for device in pretend.devices}

    def searchable(self, key: str) -> Searchable | None:
        """Return what a search of a site needs, None where it is not up."""
        pretend = self._up.get(key)
        return None if pretend is None else Searchable(pretend.searched(), pretend.world.neighbours())

    def plant(self, key: str, panel: str, number: int, faults: Collection[DoorFault]) -> None:
        """Let a door of a panel have these faults, where its site is up."""
        pretend = self._up.get(key)
        if pretend is not None and panel in pretend.devices:
            pretend.devices[panel].doors.faults[number] = frozenset(faults)

    def door_events(self, key: str, panel: str) -> list[str]:
        """Return what a panel of a site that is up has written down about its doors."""
        return [str(event["what"]) for event in self._up[key].devices[panel].doors.events]

    def stop(self, key: str) -> None:
        """Take a pretend site down, if it is up."""
        with self._lock:
            self._stop(key)

    def _stop(self, key: str) -> None:
        pretend = self._up.pop(key, None)
        if pretend is not None:
            with contextlib.suppress(TimeoutError):
                self._run(pretend.__aexit__()).result(_START_S)

    def _run(self, work: "asyncio._CoroutineLike[object]") -> "Future[object]":
        if self._loop is None:
            self._loop = asyncio.new_event_loop()
            threading.Thread(target=self._loop.run_forever, name="pretend sites", daemon=True).start()
        return asyncio.run_coroutine_threadsafe(work, self._loop)  # type: ignore[arg-type]


KEEPER = the_only("pretend sites", SimulatedSites)
