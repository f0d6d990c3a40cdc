"""Pretend sites that are kept up to practise on: one thread of this process plays them until they are taken down."""

import asyncio
import contextlib
import threading
from concurrent.futures import Future

from tutelar.core.site import Site
from tutelar.standin.faults import Fault
from tutelar.standin.site import Handling, StandIn
from tutelar.standin.unboxed import SimulatedStatus

_START_S = 60


class SimulatedSites:
    """The stand-ins that are up, by the key of their site."""

    def __init__(self) -> None:
        self._loop: asyncio.AbstractEventLoop | None = None
        self._up: dict[str, StandIn] = {}
        self._lock = threading.Lock()

    def start(self, key: str, site: Site, faults: tuple[Fault, ...], *, boxed: bool = False) -> StandIn:
        """Play a site with these faults in place of what was up for its key; `boxed`: every device is still in its box.

        Raises CannotListen, NoRoomError.
        """
        with self._lock:
            self._stop(key)
            pretend = StandIn(site, faults, yields=True, boxed=boxed)
            self._run(pretend.__aenter__()).result(_START_S)
            self._up[key] = pretend
            return pretend

    def handle(self, key: str, device: str, what: Handling) -> None:
        """Box, plug in or unplug a device of a site that is up. Raises KeyError where it is not, or has no such one."""
        with self._lock:
            self._run(self._up[key].handle(device, what)).result(_START_S)

    def standings(self, key: str) -> dict[str, SimulatedStatus]:
        """Return how each device of a site stands, nothing where the site is not up."""
        pretend = self.kept(key)
        return {} if pretend is None else {device: pretend.standing(device) for device in pretend.devices}

    def kept(self, key: str) -> StandIn | None:
        """Return the stand-in of a site that is up."""
        return self._up.get(key)

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


KEEPER = SimulatedSites()
