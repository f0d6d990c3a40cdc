"""Looking at one device: each port asked in its protocol, then, where it is surely the device, what it tells to whoever
logs in. Everything seen goes into one observation; nothing is judged here."""

import asyncio
import hashlib
import random
import time
from collections.abc import Awaitable, Callable, Collection
from dataclasses import dataclass, replace

from cryptography import x509

from tutelar.core.proof import (
    CLOCK_GOOD_S,
    PAGES,
    CertificateSeen,
    Identity,
    Observation,
    PortAnswer,
    PortFault,
    ReportedState,
    StreamSeen,
    spoken_offset,
    stranger,
)
from tutelar.core.site.types import Device, Site
from tutelar.field.connect import (
    ConnectError,
    Connection,
    ConnectionBroken,
    ConnectTimeout,
    ReadTimeout,
    connect,
    unverified,
)
from tutelar.field.evidence import trimmed
from tutelar.field.guard import Guard
from tutelar.field.http import HttpAnswer, NotTold, ProtocolError, identity
from tutelar.field.interface import InterfaceSeen, interface
from tutelar.field.login import Account
from tutelar.field.neighbours import Neighbours
from tutelar.field.rtsp import ask, described
from tutelar.field.sip import options
from tutelar.field.sntp import ask_time
from tutelar.field.state import state

_BREAKS = "breaks off each time"
TRIES = 3  # of an exchange that broke off; one that nobody takes is not tried again
BACK_OFF_S = 0.02
_OPEN_LOOK = frozenset({"answers", "cable"})  # what needs every port
_LOGGED_IN = frozenset(
    {
        "login",
        "factory-login",
        "mask",
        "gateway",
        "dns",
        "time-source",
        "disk",
        "registered",
        "relay",
        "paths",
        "inputs",
        "resolution",
    }
)
_BY_PAGE = frozenset({"right-device", "name", "clock", "date-order", "certificate"}) | _LOGGED_IN


@dataclass(frozen=True)
class Target:
    """Where a device is asked: an address, how its ports are reached there, as whom (None: without a login), with what
    password others register here, and the login that it had from the factory."""

    address: str
    port: Callable[[int], int] = lambda port: port
    account: Account | None = None
    registration: str | None = None
    factory: Account | None = None


@dataclass
class ProbeLimits:
    """How politely devices are asked; shared by all that are looked at in one sweep. Two exchanges begin `pace_s` apart
    and up to a quarter more, so that nothing beats in step."""

    guard: Guard
    slots: asyncio.Semaphore
    each: int
    timeout_s: float
    pace_s: float
    dice: random.Random
    neighbours: Neighbours
    keeps: bool = False  # what came over the wire
    _next: float = 0.0

    async def turn(self) -> None:
        """Wait until the next exchange may begin."""
        if self.pace_s:
            now = asyncio.get_running_loop().time()
            self._next = max(self._next + self.pace_s * (1 + self.dice.random() / 4), now)
            await asyncio.sleep(self._next - now)


class DeviceProbe:
    """One device while it is asked; `seen` is what it has shown so far."""

    def __init__(self, manners: ProbeLimits, site: Site, device: Device, target: Target) -> None:
        self.manners, self.site, self.device, self.target = manners, site, device, target
        self.services = site.services_of(device)
        self.own = asyncio.Semaphore(manners.each)
        self.seen = Observation()
        self.ports: dict[str, PortAnswer] = {}
        self.evidence: dict[str, Callable[[], str]] = {}
        self.tries = self.lost = self.late = 0
        self.asks: list[str] = []
        self.stream_uri: str | None = None

    async def all(self, checks: Collection[str] | None = None) -> Observation:
        """Return what the device shows, for these checks only where they are given. It is logged in to only where
        nobody else answers in its place. Raises Refused where the guard forbids it."""
        wanted = set(checks) if checks is not None else None
        first = next((name for name in PAGES if name in self.services), None)
        names = [name for name in self.services if _asked(name, wanted, first)]
        answers = await asyncio.gather(*(self._port(name, tells=name == first) for name in names))
        self.ports.update(zip(names, answers, strict=True))
        self.seen = replace(self.seen, neighbour=await self.manners.neighbours(self.target.address))
        by_page = wanted is None or bool(wanted & _BY_PAGE)
        teller = await self._teller(first) if by_page else None
        if self.target.account is not None and (wanted is None or wanted & _LOGGED_IN):
            await self._logged_in(teller, wanted)
        factory = self.target.factory
        if teller is not None and factory is not None and (wanted is None or "factory-login" in wanted):
            await self._factory(teller, factory)
        return replace(
            self.seen,
            ports=self.ports,
            tries=self.tries,
            lost=self.lost,
            evidence=self._shown() if self.manners.keeps else {},
        )

    def _shown(self) -> dict[str, str]:
        """Return what came over the wire as a person may read it."""
        accounts = (self.target.account, self.target.factory)
        known = [account.password for account in accounts if account is not None]
        secrets = [*known, self.target.registration or ""]
        return {source: trimmed(text(), secrets) for source, text in self.evidence.items()}

    async def _teller(self, first: str | None) -> str | None:
        """Return the service on which the device tells who it is, asked anew where the usual one is closed."""
        for name in PAGES:
            if name in self.ports and self.ports[name].open:
                if name != first and not self.late:
                    self.ports[name] = await self._port(name, tells=True)
                return name
            if name in self.services and name not in self.ports and not self.late:
                self.ports[name] = await self._port(name, tells=True)
                if self.ports[name].open:
                    return name
        return None

    async def _logged_in(self, teller: str | None, wanted: set[str] | None) -> None:
        """Log in once and ask how the device is set; no password is offered to a stranger."""
        account = self.target.account
        assert account is not None
        if stranger(self.device, self.seen) is not None:
            return
        if teller is not None and self.seen.identity is not None and await self._state(teller, account) == "broken-off":
            return  # each may have counted as a refused login
        interface_open = self.ports.get("device-interface", PortAnswer(False, 0)).open
        if interface_open and self.seen.login in (None, "taken"):
            await self._exchange("device-interface", lambda: self._interface(account), self._logins())
        if self.seen.login != "taken":
            return
        streams = self.ports.get("stream", PortAnswer(False, 0)).open
        if streams and (wanted is None or "resolution" in wanted):
            await self._exchange("stream", lambda: self._describe(account))

    async def _state(self, teller: str, account: Account) -> str | None:
        async def how() -> float:
            start = time.perf_counter()
            login, told, said = await state(
                *self._where(teller),
                account,
                self.asks,
                secure=teller == "web-tls",
                timeout_s=self.manners.timeout_s,
                reached=self.target.port,
            )
            self.seen = replace(self.seen, login=login, told=told)
            self.evidence["state"] = said.shown
            return (time.perf_counter() - start) * 1000

        fault = (await self._exchange(teller, how, self._logins())).fault
        return fault.code if fault is not None else None

    async def _factory(self, teller: str, account: Account) -> None:
        """Try the factory login once, where one refused try locks nobody out, and only at whoever is the device: it
        says so, or it took the planned login."""
        known = self.seen.identity is not None or self.seen.login == "taken"
        if self._logins() < 1 or not known or stranger(self.device, self.seen) is not None:
            return

        async def how() -> float:
            start = time.perf_counter()
            got, _, _ = await state(
                *self._where(teller),
                account,
                list(self.asks),
                secure=teller == "web-tls",
                timeout_s=self.manners.timeout_s,
                reached=self.target.port,
            )
            self.seen = replace(self.seen, factory=got)
            return (time.perf_counter() - start) * 1000

        await self._exchange(teller, how, self._logins())

    def _logins(self) -> int:
        """Return how often a login that broke off may be tried: the device may have counted each as a refused one."""
        model = self.site.model_of(self.device)
        tries = model.password_rule.tries if model and model.password_rule else None
        return TRIES + 1 if tries is None else min(TRIES + 1, tries - 1)

    async def _interface(self, account: Account | None) -> float:
        start = time.perf_counter()
        found = await interface(*self._where("device-interface"), account, timeout_s=self.manners.timeout_s)
        self.evidence["device-interface"] = lambda: found.shown
        self._take(found)
        return (time.perf_counter() - start) * 1000

    def _take(self, found: InterfaceSeen) -> None:
        """Add what the device interface told to what the device's own page did not."""
        seen, page = self.seen, self.seen.identity or Identity()
        who = Identity(
            page.name or found.identity.name,
            page.mac or found.identity.mac,
            page.serial or found.identity.serial,
            page.date_order,
        )
        told = seen.told or ReportedState()
        settings = {
            name: getattr(told, name) if getattr(told, name) is not None else getattr(found.told, name)
            for name in ("prefix", "gateway", "dns", "time_source")
        }
        self.seen = replace(
            seen,
            identity=who if who != Identity() else None,
            login=seen.login or found.login,
            clock_offset_s=found.offset_s if seen.clock_offset_s is None else seen.clock_offset_s,
            clock_give_s=found.give_s if seen.clock_offset_s is None else seen.clock_give_s,
            told=replace(told, **settings) if found.login == "taken" else seen.told,
        )
        self.stream_uri = found.stream

    async def _describe(self, account: Account) -> float:
        """Ask for the stream's description with a login that the page has taken: no try is spent on a refused one."""
        said = await ask(
            *self._where("stream"),
            timeout_s=self.manners.timeout_s,
            describe=True,
            account=account,
            uri=self.stream_uri or self._model_path(),
        )
        missing = StreamSeen(no_path=said.path) if said.status == 404 else None
        self.seen = replace(self.seen, stream=missing or described(said.description))
        self.evidence["description"] = lambda: said.description or said.head
        return said.took_ms

    def _model_path(self) -> str | None:
        """Return where the model's profile says that the main stream is, None where it does not say."""
        model = self.site.model_of(self.device)
        return model.stream_path("main") if model else None

    def _where(self, service: str) -> tuple[Guard, str, int]:
        return self.manners.guard, self.target.address, self.target.port(self.services[service])

    async def _port(self, service: str, *, tells: bool) -> PortAnswer:
        """Ask one port: who it is where it `tells`, else in its own protocol, else whether it is open."""
        where, wait = self._where(service), self.manners.timeout_s
        works: dict[str, Callable[[], Awaitable[float]]] = {
            "stream": self._stream,
            "signalling": self._signal,
            "time": self._time,
            "web-tls": self._secure,
            "device-interface": lambda: self._interface(None),
        }

        async def who() -> float:
            told: Identity | None = self.seen.identity
            try:
                told, offset, said = await identity(
                    *where, secure=service == "web-tls", timeout_s=wait, reached=self.target.port
                )
            except NotTold as error:  # a page like most: it opens and asks for a login
                offset, said = error.said.clock_offset_s(), error.said
            self.seen = replace(self.seen, identity=told)
            if offset is not None:
                self.seen = replace(self.seen, clock_offset_s=offset, clock_give_s=said.give_s)
            self.evidence["identity"] = said.shown
            self._certificate(said)
            return said.took_ms

        async def knock() -> float:
            connection = await connect(*where, timeout_s=wait)
            connection.close()
            return connection.took_ms

        return await self._exchange(service, who if tells else works.get(service, knock))

    async def _secure(self) -> float:
        connection = await connect(*self._where("web-tls"), timeout_s=self.manners.timeout_s, tls=unverified())
        connection.close()
        self._certificate(connection)
        return connection.took_ms

    def _certificate(self, shown: HttpAnswer | Connection) -> None:
        seen = None if shown.certificate is None else certificate_of(shown.certificate)
        if seen is not None:
            self.seen = replace(self.seen, certificate=seen)
            good = f"from {seen.since:%Y-%m-%d %H:%M} until {seen.until:%Y-%m-%d %H:%M} UTC"
            self.evidence["certificate"] = lambda: f"SHA-256 {seen.fingerprint}\ngood {good}"

    async def _stream(self) -> float:
        said = await ask(*self._where("stream"), timeout_s=self.manners.timeout_s)
        self.evidence["stream"] = lambda: said.head
        return said.took_ms

    async def _signal(self) -> float:
        said = await options(*self._where("signalling"), timeout_s=self.manners.timeout_s)
        self.evidence["signalling"] = lambda: f"over {said.transport}\n{said.head}"
        return said.took_ms

    async def _time(self) -> float:
        said = await ask_time(*self._where("time"), timeout_s=self.manners.timeout_s)
        self.evidence["time"] = lambda: f"stratum {said.stratum}, {said.offset_s:+.3f} s against this machine"
        if not said.synchronised:
            raise ProtocolError(f"answers, and is not synchronised itself (stratum {said.stratum})")
        if abs(said.offset_s) > CLOCK_GOOD_S:
            raise ProtocolError(f"serves a time that is {spoken_offset(said.offset_s)}")
        return said.took_ms

    async def _exchange(self, service: str, work: Callable[[], Awaitable[float]], most: int = TRIES + 1) -> PortAnswer:
        """Do one exchange, again where it broke off, so often at most and once at least; return how the port did."""
        async with self.own, self.manners.slots:
            start = time.perf_counter()

            def passed() -> float:
                return (time.perf_counter() - start) * 1000

            for attempt in range(max(1, most)):
                self.tries += 1
                await self.manners.turn()
                try:
                    took = await work()
                    self.lost += attempt
                    return PortAnswer(True, took)
                except ProtocolError as error:
                    fault = (
                        None if service == "control" else PortFault("wrong-protocol", str(error))
                    )  # makers' control ports speak as they like
                    return PortAnswer(True, passed(), fault)
                except ConnectionBroken:
                    await asyncio.sleep(BACK_OFF_S * 2**attempt * (1 + self.manners.dice.random()))
                except ReadTimeout as error:
                    self.late += 1
                    return PortAnswer(
                        True, passed(), None if service == "control" else PortFault("says-nothing", str(error))
                    )
                except ConnectError as error:
                    late = isinstance(error, ConnectTimeout)
                    self.late += late
                    return PortAnswer(False, passed(), PortFault("no-answer" if late else "no-connection", str(error)))
            return PortAnswer(True, passed(), PortFault("broken-off", _BREAKS))


def _asked(service: str, wanted: set[str] | None, first: str | None) -> bool:
    """Return whether a port must be asked for the checks that are wanted (None: for all)."""
    if wanted is None or service in wanted or wanted & _OPEN_LOOK:
        return True
    if service == first:
        return bool(wanted & _BY_PAGE)
    needed = {"stream": {"resolution"}, "web-tls": {"certificate"}, "device-interface": _BY_PAGE}
    return bool(wanted & needed.get(service, frozenset()))


def certificate_of(data: bytes) -> CertificateSeen | None:
    """Return what a certificate (DER) is known by and how long it is good, None for what cannot be read."""
    try:
        read = x509.load_der_x509_certificate(data)
        since, until = read.not_valid_before_utc, read.not_valid_after_utc
    except (ValueError, OverflowError):
        return None
    mark = hashlib.sha256(data).hexdigest().upper()
    return CertificateSeen(":".join(mark[at : at + 2] for at in range(0, len(mark), 2)), since, until)
