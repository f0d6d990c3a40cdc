"""Running the pretend site: one process, asyncio servers on loopback for every device that has an address."""

import asyncio
import contextlib
import resource
import ssl
import tempfile
from collections.abc import Callable, Iterable
from datetime import UTC, datetime, timedelta
from ipaddress import IPv4Address
from pathlib import Path

from tutelar.core.addressing import plan
from tutelar.core.addressing.ranges import Span
from tutelar.core.site.types import Device, Site
from tutelar.standin.datagrams import Datagrams, Signalling
from tutelar.standin.device import PretendDevice, pretend_password
from tutelar.standin.faults import Fault, apply_faults
from tutelar.standin.loopback import LoopbackMap, loopback_map, loopback_port
from tutelar.standin.protocols import SPEAKS, Clock, Quiet, utc_now
from tutelar.standin.world import World


class CannotListen(OSError):
    """A loopback port of the pretend site is not to be had; the sentence names it."""

    def __init__(self, sentence: str, address: str) -> None:
        super().__init__(sentence)
        self.address = address


class StandIn:
    """The pretend site. Use as an async context manager; servers are up inside it, where `map` says.

    Where another process, say a second stand-in of the same site, holds a port, it moves on loopback if it `yields`;
    else it raises CannotListen, so that nobody is surprised who reckons the map himself.
    """

    def __init__(
        self, site: Site, faults: tuple[Fault, ...] = (), now: Clock = utc_now, *, yields: bool = False
    ) -> None:
        self.map: LoopbackMap = loopback_map(site)
        self.site = site
        self.yields = yields
        self.now = now
        planned = {item.device: item for item in plan(site).assignments}
        self.devices = {
            device.key: PretendDevice.of(site, device, _ground(device), planned.get(device.key))
            for device in site.devices
            if device.address is not None and (device.behind or device.network) in self.map.shifts
        }
        self.world = World.of(site, self.devices)
        self.strangers = apply_faults(faults, self.world)
        self._servers: list[asyncio.Server] = []
        self._datagrams: list[asyncio.DatagramTransport] = []

    async def __aenter__(self) -> "StandIn":
        _allow_many_files()
        occupied: list[Span] = []
        while True:
            try:
                for (address, port), (service, device) in self._listeners().items():
                    await self._listen(address, port, service, device)
            except BaseException as error:
                await self.__aexit__()
                if not (self.yields and isinstance(error, CannotListen)):
                    raise
                first = int(IPv4Address(error.address)) & ~0xFFFF
                occupied.append((first, first | 0xFFFF))
                self.map = loopback_map(self.site, occupied)
            else:
                return self

    async def __aexit__(self, *_: object) -> None:
        for server in self._servers:
            server.close()
        for transport in self._datagrams:
            transport.close()
        self._datagrams.clear()
        with contextlib.suppress(TimeoutError):
            await asyncio.wait_for(asyncio.gather(*(server.wait_closed() for server in self._servers)), 2)
        self._servers.clear()

    def targets(self) -> dict[str, tuple[str, str, str]]:
        """Return where each device is asked by plan, with user and password that it has by plan."""
        return {
            key: (address, self.devices[key].user, pretend_password(self.site, key))
            for key, address in self.map.addresses.items()
        }

    def _listeners(self) -> dict[tuple[str, int], tuple[str, PretendDevice]]:
        """Return who answers at which loopback address and port. Of two at one address the intruder does."""
        present: Iterable[PretendDevice] = [*self.devices.values(), *self.strangers]
        found: dict[tuple[str, int], tuple[str, PretendDevice]] = {}
        for device in sorted((item for item in present if item.reachable), key=lambda item: item.intrudes):
            address = self.map.image(device.ground, device.site_address)
            for service, port in device.services.items():
                found[address, loopback_port(port)] = (service, device)
        return found

    async def _listen(self, address: str, port: int, service: str, device: PretendDevice) -> None:
        loop = asyncio.get_running_loop()
        kind = Signalling if service == "signalling" else SPEAKS.get(service, Quiet)
        secure = _certificate() if service == "web-tls" else None
        make: Callable[[], Quiet] = lambda: kind(device, self.world, self.now)  # noqa: E731
        try:
            if service != "time":
                self._servers.append(await loop.create_server(make, address, port, ssl=secure))
            if service in ("signalling", "time"):
                transport, _ = await loop.create_datagram_endpoint(
                    lambda: Datagrams(service, device, self.now), local_addr=(address, port)
                )
                self._datagrams.append(transport)
        except OSError as error:
            raise CannotListen(
                f"{address}:{port} ({device.name}, {service}) is taken on this machine: {error.strerror}. "
                "Is a stand-in of this site running already?",
                address,
            ) from None


def _ground(device: Device) -> str:
    return device.behind or device.network or ""


def _allow_many_files() -> None:
    """Raise the soft limit of open files to the hard one: a listener is a file, and a site has thousands."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    if soft != hard:
        with contextlib.suppress(ValueError, OSError):
            resource.setrlimit(resource.RLIMIT_NOFILE, (hard, hard))


_contexts: list[ssl.SSLContext] = []


def _certificate() -> ssl.SSLContext:
    """Return a server context with a self-signed certificate, made once a process (P-256, ten years)."""
    if not _contexts:
        from cryptography import x509  # noqa: PLC0415  slow to import, needed for secure ports only
        from cryptography.hazmat.primitives import hashes, serialization  # noqa: PLC0415
        from cryptography.hazmat.primitives.asymmetric import ec  # noqa: PLC0415

        key = ec.generate_private_key(ec.SECP256R1())
        name = x509.Name([x509.NameAttribute(x509.NameOID.COMMON_NAME, "pretend device")])
        start = datetime.now(UTC) - timedelta(days=1)
        certificate = (
            x509.CertificateBuilder()
            .subject_name(name)
            .issuer_name(name)
            .public_key(key.public_key())
            .serial_number(x509.random_serial_number())
            .not_valid_before(start)
            .not_valid_after(start + timedelta(days=3650))
            .sign(key, hashes.SHA256())
        )
        private = key.private_bytes(
            serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
        )
        context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "pretend.pem"
            path.write_bytes(private + certificate.public_bytes(serialization.Encoding.PEM))
            context.load_cert_chain(path)
        _contexts.append(context)
    return _contexts[0]
