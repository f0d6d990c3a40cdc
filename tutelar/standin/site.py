"""Running the pretend site: one process, asyncio servers on loopback for every device that has an address."""

import asyncio
import contextlib
import resource
from collections.abc import Callable, Coroutine, Iterable
from ipaddress import IPv4Address
from time import monotonic
from typing import Literal

from tutelar.core.addressing.ranges import Span
from tutelar.core.planning import plan
from tutelar.core.site.types import Device, Site
from tutelar.core.site.values import dotted
from tutelar.standin.certificates import server_context
from tutelar.standin.datagrams import Datagrams, Search, Signalling
from tutelar.standin.device import PretendDevice, pretend_password
from tutelar.standin.faults import Fault
from tutelar.standin.interface import Interface
from tutelar.standin.loopback import LoopbackMap, loopback_map, loopback_port
from tutelar.standin.playing import apply_faults
from tutelar.standin.protocols import Clock, Quiet, Stream, utc_now
from tutelar.standin.relay import Relay, relay_device
from tutelar.standin.unboxed import SimulatedStatus, into_box, seconds_left, state_of, wake
from tutelar.standin.web import SecureWeb, Web
from tutelar.standin.world import World

Handling = Literal["box", "plug", "unplug"]
Listener = asyncio.Server | asyncio.DatagramTransport
SEARCH_PORT = 3702
_CLAIM_PORT = 9
_LOOPBACK = 127
_PAGES = (("web", "http"), ("web-tls", "https"), ("control", "http"))
SPEAKS: dict[str, type[Quiet]] = {
    "web": Web,
    "web-tls": SecureWeb,
    "control": Web,
    "stream": Stream,
    "signalling": Signalling,
    "device-interface": Interface,
}


class CannotListen(OSError):
    """A loopback port of the pretend site is not to be had; the sentence names it."""

    def __init__(self, sentence: str, address: str) -> None:
        super().__init__(sentence)
        self.sentence, self.address = sentence, address

    def __reduce__(self) -> tuple[type["CannotListen"], tuple[str, str]]:
        """Let it go from the process that plays to the one that answers."""
        return CannotListen, (self.sentence, self.address)


class StandIn:
    """The pretend site. Use as an async context manager; servers are up inside it, where `map` says.

    Where another process, say a second stand-in of the same site, holds a port, it moves on loopback if it `yields`;
    else it raises CannotListen, so that nobody is surprised who reckons the map himself. What is changed on a device's
    page is taken up by a restart that takes the model's time, `pace` times as fast. `boxed`: every device is still in
    its box; `handle` plugs it in.
    """

    def __init__(
        self,
        site: Site,
        faults: tuple[Fault, ...] = (),
        now: Clock = utc_now,
        *,
        yields: bool = False,
        pace: float = 10.0,
        boxed: bool = False,
    ) -> None:
        self.map: LoopbackMap = loopback_map(site)
        self.site = site
        self.yields, self.pace = yields, pace
        self.now = now
        planned = {item.device: item for item in plan(site).assignments}
        self.devices = {
            device.key: PretendDevice.of(site, device, _ground(device), planned.get(device.key))
            for device in site.devices
            if device.address is not None and (device.behind or device.network) in self.map.shifts
        }
        self.world = World.of(site, self.devices)
        self.world.restart = self._restart
        self.strangers = apply_faults(faults, self.world)
        for device in self.devices.values() if boxed else ():
            into_box(device, self.world)
        self.relay: str | None = None  # where the pretend relay is asked
        self._up: dict[str, list[Listener]] = {}
        self._tasks: set[asyncio.Task[None]] = set()

    async def __aenter__(self) -> "StandIn":
        _allow_many_files()
        occupied: list[Span] = []
        while True:
            try:
                await self._claim()
                for (address, port), (service, device) in self._listeners().items():
                    await self._listen(address, port, service, device)
                await self._listen_for_searches()
                await self._listen_as_relay()
            except BaseException as error:
                await self.__aexit__()
                if not (self.yields and isinstance(error, CannotListen)):
                    raise
                first = int(IPv4Address(error.address)) & ~0xFFFF
                occupied.append((first, first | 0xFFFF))
                self.map = loopback_map(self.site, occupied)
            else:
                for device in self.devices.values():
                    if device.flaps_s:
                        self._begin(self._flap(device))
                return self

    async def __aexit__(self, *_: object) -> None:
        for task in self._tasks:
            task.cancel()
        await asyncio.gather(*self._tasks, return_exceptions=True)
        closing = [self._silence(key) for key in list(self._up)]
        with contextlib.suppress(TimeoutError):
            await asyncio.wait_for(asyncio.gather(*closing), 2)

    def targets(self) -> dict[str, tuple[str, str, str]]:
        """Return where each device is asked by plan, with user and password that it has by plan."""
        return {
            key: (address, self.devices[key].user, pretend_password(self.site, key))
            for key, address in self.map.addresses.items()
        }

    def neighbours(self) -> dict[str, str]:
        """Return the hardware address that answers at each loopback address: the pretend laptop's neighbour table."""
        found = {}
        for (ground, address), device in self.world.answering().items():
            if device.mac and ground in self.map.shifts and (at := self._image(ground, address)) is not None:
                found[at] = device.mac
        return found

    def _image(self, ground: str, address: int) -> str | None:
        """Return where a site address stands on loopback, None where it falls outside of it."""
        number = address + self.map.shifts[ground]
        return self.map.image(ground, address) if number >> 24 == _LOOPBACK else None

    def _listeners(self) -> dict[tuple[str, int], tuple[str, PretendDevice]]:
        """Return who answers at which loopback address and port. Of two at one address the intruder does."""
        present: Iterable[PretendDevice] = [*self.devices.values(), *self.strangers]
        found: dict[tuple[str, int], tuple[str, PretendDevice]] = {}
        for device in sorted((item for item in present if item.reachable), key=lambda item: item.intrudes):
            for service, (address, port) in self._places(device).items():
                found[address, port] = (service, device)
        return found

    def _places(self, device: PretendDevice) -> dict[str, tuple[str, int]]:
        address = self._image(device.ground, device.site_address)
        if address is None:
            return {}
        return {service: (address, loopback_port(port)) for service, port in device.services.items()}

    async def _listen(self, address: str, port: int, service: str, device: PretendDevice) -> None:
        loop = asyncio.get_running_loop()
        kind = SPEAKS.get(service, Quiet)
        secure = server_context(device.certificate) if service == "web-tls" and not device.mute else None
        make: Callable[[], Quiet] = lambda: kind(device, self.world, self.now)  # noqa: E731
        up = self._up.setdefault(device.key, [])
        try:
            if service != "time":
                up.append(await loop.create_server(make, address, port, ssl=secure))
            if service in ("signalling", "time"):
                transport, _ = await loop.create_datagram_endpoint(
                    lambda: Datagrams(service, device, self.world, self.now), local_addr=(address, port)
                )
                up.append(transport)
        except OSError as error:
            raise CannotListen(
                f"{address}:{port} ({device.name}, {service}) is taken on this machine: {error.strerror}. "
                "Is a stand-in of this site running already?",
                address,
            ) from None

    async def _claim(self) -> None:
        """Hold the last address of each range, and of every 256 addresses that a device stands among: another stand-in
        then sees that the place is taken, whoever is plugged in and whatever its ports are."""
        loop = asyncio.get_running_loop()
        ends = {self._image(ground, last) for ground, (_, last) in self.map.spans.items()}
        ends |= {f"{at.rpartition('.')[0]}.255" for at in self.map.addresses.values()}
        for at in sorted(filter(None, ends - {"127.255.255.255"})):
            try:
                transport, _ = await loop.create_datagram_endpoint(
                    asyncio.DatagramProtocol, local_addr=(at, loopback_port(_CLAIM_PORT))
                )
            except OSError as error:
                if not self.yields:  # who yields saw it taken by another one, and sees it taken still
                    continue
                raise CannotListen(f"{at} is taken on this machine: {error.strerror}.", at) from None
            self._up.setdefault(f"claim of {at}", []).append(transport)

    def searched(self) -> list[str]:
        """Return the loopback addresses at which a search is answered: one for each network, its broadcast address."""
        grounds = [(item.key, int(item.cidr.broadcast_address)) for item in self.site.networks]
        images = [self._image(key, address) for key, address in grounds if key in self.map.shifts]
        return [at for at in images if at is not None]

    async def _listen_for_searches(self) -> None:
        """Answer searches where they arrive on loopback, in place of the group."""
        if not any("device-interface" in device.services for device in self.devices.values()):
            return
        for at in self.searched():
            transport, _ = await asyncio.get_running_loop().create_datagram_endpoint(
                lambda: Search(self.world), local_addr=(at, loopback_port(SEARCH_PORT))
            )
            self._up.setdefault(f"search at {at}", []).append(transport)

    async def _listen_as_relay(self) -> None:
        """Be the relay that devices register with, at the first address for it that nobody else uses."""
        if not any(link.kind == "relays" for link in self.site.links):
            return
        device, loop = relay_device(), asyncio.get_running_loop()
        for at in (f"127.254.0.{number}" for number in range(1, 255)):
            with contextlib.suppress(OSError):
                server = await loop.create_server(lambda: Relay(device, self.world, self.now), at, loopback_port(80))
                self._up.setdefault(device.key, []).append(server)
                self.relay = f"http://{at}:{loopback_port(80)}/"
                return

    async def _silence(self, key: str) -> None:
        """Close everything that a device listens on."""
        for listener in (closing := self._up.pop(key, [])):
            listener.close()
        for listener in closing:
            if isinstance(listener, asyncio.Server):
                await listener.wait_closed()

    async def handle(self, key: str, what: Handling) -> None:
        """Put a device back into its box, plug it in, or pull its plug. A device from the box boots, and wakes at its
        first address; of several at one address the first that is there answers."""
        device = self.devices[key]
        if what == "plug" and device.on:
            return
        device.turn += 1
        await self._silence(key)
        if what == "plug":
            device.on = device.down = True
            if not device.site_address:
                wake(device, self.world)
            device.ready_at = monotonic() + device.boot_s / self.pace
            self._begin(self._down_for(device, device.boot_s / self.pace))
            return
        device.on = device.down = False
        if what == "box":
            into_box(device, self.world)
        await self._listen_again()

    def standing(self, key: str) -> SimulatedStatus:
        """Return how a device stands now. Raises KeyError for one that is not played."""
        device = self.devices[key]
        first, last = self.map.spans[device.ground]
        inside = first <= device.site_address <= last
        state = state_of(device, listens=bool(self._up.get(key)), inside=inside)
        if state not in ("up", "shadowed", "outside"):
            return SimulatedStatus(state, seconds_left(device) if state == "busy" else 0)
        places = self._places(device) if state == "up" else {}
        pages = [(scheme, places[service]) for service, scheme in _PAGES if service in places]
        page = f"{pages[0][0]}://{pages[0][1][0]}:{pages[0][1][1]}/" if pages else None
        return SimulatedStatus(state, 0, dotted(device.site_address), page)

    async def _listen_again(self) -> None:
        """Let whoever found its address taken answer there, now that somebody is gone."""
        for device in self.devices.values():
            if device.reachable and not self._up.get(device.key):
                await self._answer(device)

    async def _answer(self, device: PretendDevice) -> None:
        for service, (address, port) in self._places(device).items():
            with contextlib.suppress(CannotListen):
                await self._listen(address, port, service, device)

    def _begin(self, work: Coroutine[None, None, None]) -> None:
        task = asyncio.get_running_loop().create_task(work)
        self._tasks.add(task)
        task.add_done_callback(self._tasks.discard)

    def _restart(self, device: PretendDevice) -> None:
        self._begin(self._down_for(device, device.restart_s / self.pace))

    async def _down_for(self, device: PretendDevice, seconds: float) -> None:
        """Let a device be silent for a while; then it answers where it is set to, if nobody else does there."""
        turn = device.turn
        await asyncio.sleep(0.05)  # what it was saying still goes out
        if device.turn != turn:
            return
        device.down, device.ready_at = True, monotonic() + seconds
        await self._silence(device.key)
        await asyncio.sleep(seconds)
        if device.turn != turn:  # its plug was pulled meanwhile
            return
        device.down = device.restarting = False
        device.ground = self.map.ground_of(_ground(self.site.device_by_key[device.key]), device.site_address)
        await self._answer(device)
        await self._listen_again()

    async def _flap(self, device: PretendDevice) -> None:
        while True:
            await self._down_for(device, device.flaps_s)
            await asyncio.sleep(device.flaps_s)


def _ground(device: Device) -> str:
    return device.behind or device.network or ""


def _allow_many_files() -> None:
    """Raise the soft limit of open files to the hard one: a listener is a file, and a site has thousands."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    if soft != hard:
        with contextlib.suppress(ValueError, OSError):
            resource.setrlimit(resource.RLIMIT_NOFILE, (hard, hard))
