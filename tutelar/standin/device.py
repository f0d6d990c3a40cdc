"""One device of the pretend site as plain state: what it is, how it is set, what it shows, whether it is on."""

from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from hashlib import sha256
from itertools import count
from typing import Any

from tutelar.core.addressing.assignment import Assignment
from tutelar.core.credentials import Shared, generate, shared_rule
from tutelar.core.kit.shorter import shown_name
from tutelar.core.site.types import Device, Site
from tutelar.standin.doors import PretendDoors

VIEWER = "viewer"  # the account with few rights that others log in with; here with the same password
TRIES = 5  # refused passwords after which an account is locked, where the model does not say


@dataclass
class PretendDevice:
    """What a device is like. `ground` and `site_address` say where it stands; `services` maps names to site ports.

    `relay` is what its remote access would be with the right address settings; `drops` the share of connections that
    break off; `counts` how many came, by port. `lost` = it stands in a network where nobody of the site finds it.
    `slow_s` delays whatever it says, `mute` says nothing at all, `flaps_s` is how long it is down and up in turn.
    `factory` is a login from the factory that it still takes. In its box it has no password and no `site_address`
    (0); `turn` counts how often it was plugged in or out. `secure_only` sends one on from the open page to the secure
    one; `certificate` is what its own is made from.
    """

    key: str
    name: str
    model_name: str
    family: str
    serial: str | None
    mac: str | None
    date_order: str
    ground: str
    site_address: int
    services: dict[str, int]
    user: str = "admin"
    password: str = ""
    prefix: int | None = None
    gateway: str | None = None
    dns: tuple[str, ...] = ()
    stream: dict[str, Any] | None = None
    streams: dict[str, dict[str, Any]] = field(default_factory=dict)  # by the path at which it answers; empty: at any
    clock_offset_s: float = 0.0
    on: bool = True
    intrudes: bool = False
    lost: bool = False
    drops: float = 0.0
    relay: str = "online"
    writes: bool = True
    disk: str = "ok"
    disks: list[dict[str, Any]] = field(default_factory=list)  # bay, tb, state
    number: int | None = None
    tries: int = TRIES
    refused: int = 0
    slow_s: float = 0.0
    mute: bool = False
    flaps_s: float = 0.0
    down: bool = False
    factory: tuple[str, str] | None = None
    time_source: str | None = None
    paths: dict[str, str] = field(default_factory=dict)
    inputs: dict[int, str] = field(default_factory=dict)
    secure_only: bool = False
    certificate: str = ""
    restart_s: float = 0.0
    boot_s: float = 0.0
    leased: bool = False  # its address was handed out to it
    turn: int = 0
    ready_at: float = 0.0  # on the machine's monotonic clock, while it boots or restarts
    restarting: bool = False  # what was changed last is taken up by a restart
    code: str = ""
    doors: PretendDoors = field(default_factory=PretendDoors)
    people: list[dict[str, str]] = field(default_factory=list)  # of an alarm hub: who may do what
    armed: bool = False  # of an alarm hub: it takes no settings then
    rule: Shared | None = None  # what its model takes as a password
    sessions: set[str] = field(default_factory=set)
    counts: dict[int, int] = field(default_factory=dict)

    @classmethod
    def of(cls, site: Site, device: Device, ground: str, planned: Assignment | None = None) -> "PretendDevice":
        """Return the device as it should be: everything set as planned."""
        model = site.model_of(device)
        main = site.main_stream_of(device)
        rule = model.password_rule if model else None
        network = site.network_by_key.get(device.network or "")
        capacity = model.capacity if model else None
        return cls(
            key=device.key,
            name=shown_name(site, device) or device.key,
            model_name=model.label if model else device.model,
            family=model.family if model else "other",
            serial=device.serial,
            mac=device.network_mac,
            date_order=site.about.date_order,
            ground=ground,
            site_address=int(device.address or 0),
            services=dict(site.services_of(device)),
            user=(model.factory.user if model and model.factory else None) or "admin",
            password=pretend_password(site, device.key),
            rule=_password_rule(site, device, known=rule is not None),
            prefix=planned.prefix if planned else None,
            gateway=planned.gateway if planned else None,
            dns=planned.dns if planned else (),
            stream=main.model_dump() if main is not None else None,
            streams=_streams_by_path(site, device),
            tries=(rule.tries if rule else None) or TRIES,
            time_source=network.time_source if network else None,
            paths=dict.fromkeys((capacity.paths if capacity else None) or ("network",), "up"),
            inputs=dict.fromkeys(range(1, ((capacity.inputs if capacity else None) or 0) + 1), "rest"),
            certificate=f"{site.about.key} {device.key} {device.serial} {device.mac}",
            restart_s=(model.timings.restart_s if model and model.timings else None) or 30.0,
            leased=device.addressing != "fixed",
            boot_s=(model.timings.boot_s if model and model.timings else None) or 30.0,
            code=pretend_code(site, device.key),
            doors=PretendDoors.of(site, device.key),
            people=_people(site, device.key),
            disks=[
                {"bay": at if disk.bay is None else disk.bay, "tb": disk.tb, "state": "ok"}
                for at, disk in enumerate(device.disks or (), 1)
            ],
        )

    def stranger(self, site_address: int, services: dict[str, int]) -> "PretendDevice":
        """Return another maker's device that sits at an address of this one's network with these ports open."""
        return replace(
            self,
            key=f"stranger at {self.key}",
            name="Printer",
            model_name="unknown",
            serial="unknown",
            mac="02:5e:ee:00:00:01",
            site_address=site_address,
            services=services,
            intrudes=True,
            on=True,
            lost=False,
            drops=0.0,
            refused=0,
            stream=None,
            streams={},
            counts={},
            slow_s=0.0,
            mute=False,
            flaps_s=0.0,
            down=False,
            factory=None,
            certificate="the stranger's own",
            sessions=set(),
            password=sha256(b"the stranger's own").hexdigest(),
        )

    @property
    def reachable(self) -> bool:
        """Whether anything answers at it at all."""
        return self.on and not self.down and not self.lost and self.drops < 1

    def breaks_off(self, port: int) -> bool:
        """Return whether the connection that comes now to a port breaks off; never two in a row up to a half."""
        came = self.counts[port] = self.counts.get(port, 0) + 1
        before, now = (came - 1) * self.drops, came * self.drops
        return -(-now // 1) > -(-before // 1)  # the first of each round is the one that breaks off

    def passwords(self, user: str) -> list[str]:
        """Return what a user may log in with: the planned password, and the factory's where that was never closed."""
        factory = [self.factory[1]] if self.factory is not None and user == self.factory[0] else []
        return [self.password, *factory] if self.password else factory

    @property
    def new(self) -> bool:
        """Whether it has no password yet, so that whoever comes first chooses it."""
        return not self.password and self.factory is None

    def takes(self, user: str, right: bool) -> bool:
        """Return whether a login is taken; a refused one counts, and too many lock the account."""
        if self.locked:
            return False
        if right and user in (self.user, VIEWER):
            self.refused = 0
            return True
        self.refused += 1
        return False

    @property
    def locked(self) -> bool:
        """Whether too many refused logins have locked it."""
        return self.refused >= self.tries

    def clock(self, now: datetime) -> datetime:
        """Return the time that the device shows when it is really `now`."""
        return now + timedelta(seconds=self.clock_offset_s)

    def identity(self, now: datetime) -> dict[str, Any]:
        """Return what the device says of itself in machine-readable form."""
        return {
            "name": self.name,
            "model": self.model_name,
            "family": self.family,
            "serial": self.serial,
            "hardware_address": self.mac,
            "clock": self.clock(now).isoformat(timespec="milliseconds"),
            "date_order": self.date_order,
        }


def _people(site: Site, key: str) -> list[dict[str, str]]:
    """Return the users of an alarm hub with their rights."""
    hubs = site.alarm.hubs if site.alarm is not None else ()
    users = next((hub.users for hub in hubs if hub.hub == key), ())
    return [{"name": user.name, "rights": user.rights} for user in users]


def _streams_by_path(site: Site, device: Device) -> dict[str, dict[str, Any]]:
    """Return what is sent at each path that the model names, the main stream first."""
    model = site.model_of(device)
    names = sorted((model.stream_paths or {}) if model else (), key=lambda name: name != "main")
    sent = site.streams_by_model.get(device.model, {})
    return {str(model and model.stream_path(name)): sent[name].model_dump() if name in sent else {} for name in names}


def _password_rule(site: Site, device: Device, *, known: bool) -> Shared:
    """Return what a pretend device takes as a password: its model's rule, else anything of eight characters."""
    shared = shared_rule(site, [device])
    return shared if known else replace(shared, rule=replace(shared.rule, min=8))


def pretend_password(site: Site, key: str) -> str:
    """Return the password that a pretend device has by plan, as its model's rule wants it; it is nobody's secret."""
    seed = f"pretend {site.about.key} {key}"
    device = site.device_by_key.get(key)
    rule = shared_rule(site, [device]) if device is not None else None
    if rule is None or not rule.satisfiable:
        return sha256(seed.encode()).hexdigest()[:16]
    turns = count(1)

    def choose(letters: str) -> str:
        drawn = sha256(f"{seed} {next(turns)}".encode()).digest()
        return letters[int.from_bytes(drawn[:4]) % len(letters)]

    return generate(rule, choose, length=16)


def pretend_code(site: Site, key: str) -> str:
    """Return the registration code that a pretend device has by plan."""
    return sha256(f"code {site.about.key} {key}".encode()).hexdigest()[:8]
