"""The bench work of a site in numbers: what the search lays out and the bound reckons with.

Every device has four pieces of hand work, numbered 4 x device + stage: connect, activate, configure, confirm.
What a device does by itself after a piece stands as that piece's `lag`; a piece that takes no time needs no laptop.
"""

from collections import defaultdict
from dataclasses import dataclass, field, replace
from functools import cached_property
from ipaddress import IPv4Network

from tutelar.core.graphs import in_order
from tutelar.core.run.chain import ALONE, STAGES, address_in_force, chain_of, subnet_needed
from tutelar.core.run.hand_times import hand_times
from tutelar.core.site.types import Device, Site

ANYWHERE, IN_SITE = -1, 0  # laptop settings; factory subnets count from 1
NEVER = float("inf")


@dataclass(frozen=True)
class InitialState:
    """Where the bench stands when the rest is laid: all at the start of a run, or what is under way.

    `stage` counts the pieces of each device that are done or in hand, `due` is when its next one may begin,
    `confirmed` when its confirm ended or will end. A twin group that is taken and a device on the bench have no
    time yet. `free` and `setting` belong to the hands.
    """

    stage: tuple[int, ...]
    due: tuple[float, ...]
    confirmed: tuple[float, ...]
    twin_free: tuple[float, ...]
    port_free: tuple[float, ...]
    free: tuple[float, ...]
    setting: tuple[int, ...]


@dataclass(frozen=True)
class Task:
    """Seconds, laptop settings and who waits for whom; `subnets[0]` stands for the site network."""

    devices: tuple[Device, ...]
    seconds: tuple[float, ...]
    lag: tuple[float, ...]
    need: tuple[int, ...]
    twin: tuple[int, ...]
    waits: tuple[tuple[int, ...], ...]
    subnets: tuple[IPv4Network | None, ...]
    adapter_s: float
    technicians: int
    begun: InitialState
    alike: tuple[int, ...] = field(default=())  # devices with one number are interchangeable until they are connected

    @property
    def count(self) -> int:
        """How many devices it is about."""
        return len(self.devices)

    @cached_property
    def spans(self) -> list[float]:
        """Return for each device the seconds for which it keeps its twins away: connect to the end of configure."""
        firsts = range(0, 4 * self.count, 4)
        return [sum(self.seconds[first : first + 3]) + sum(self.lag[first : first + 2]) for first in firsts]

    @cached_property
    def followed(self) -> list[float]:
        """Return for each device the seconds of its chain and of the longest line of devices that wait for it."""
        firsts = range(0, 4 * self.count, 4)
        own = [sum(self.seconds[first : first + 4]) + sum(self.lag[first : first + 4]) for first in firsts]
        longest = list(own)
        for _ in range(3):  # recorder before camera, main station before monitor: lines are short
            for piece, others in enumerate(self.waits):
                for other in others:
                    longest[other] = max(longest[other], own[other] + longest[piece // 4])
        return longest


def task_of(site: Site, devices: list[Device], technicians: int, waits: dict[str, list[tuple[str, str]]]) -> Task:
    """Return the bench work of these devices, all still to come; waits on other devices count as met."""
    bench = site.policy.bench
    number = {device.key: at for at, device in enumerate(devices)}
    seconds, lag, need, twin = [], [], [], []
    awaited: list[tuple[int, ...]] = []
    subnets: dict[IPv4Network | None, int] = {None: IN_SITE}
    groups: dict[int, int] = {}
    assumed = hand_times(site)
    for device in devices:
        work, alone = [0.0] * 4, [0.0] * 4
        for piece in chain_of(site, device, assumed):
            if piece.manual:
                work[STAGES.index(piece.kind)] = piece.seconds
            else:
                alone[ALONE.index(piece.kind)] = piece.seconds
        subnet = subnet_needed(site, device)
        where = subnets.setdefault(subnet, len(subnets))
        wanted = [ANYWHERE, where, where, IN_SITE]
        need += [
            place if took and not bench.several_addresses else ANYWHERE
            for place, took in zip(wanted, work, strict=True)
        ]
        seconds += work
        lag += alone
        factory = address_in_force(site.model_of(device), bench)
        at = int(factory.address) if factory and factory.address else None
        twin.append(-1 if at is None else groups.setdefault(at, len(groups)))
        mine = {
            kind: [number[key] for step, key in waits.get(device.key, []) if step == kind and key in number]
            for kind in STAGES
        }
        awaited += [tuple(mine[kind]) if took else () for kind, took in zip(STAGES, work, strict=True)]
    fresh = InitialState(
        stage=(0,) * len(devices),
        due=(0.0,) * len(devices),
        confirmed=(NEVER,) * len(devices),
        twin_free=(0.0,) * len(groups),
        port_free=(0.0,) * bench.ports,
        free=(0.0,) * technicians,
        setting=(IN_SITE,) * technicians,
    )
    task = Task(
        tuple(devices),
        tuple(seconds),
        tuple(lag),
        tuple(need),
        tuple(twin),
        tuple(awaited),
        tuple(subnets),
        bench.adapter_s,
        technicians,
        fresh,
    )
    return replace(task, alike=_alike(task))


def _alike(task: Task) -> tuple[int, ...]:
    """Return a number for each device, the same where two have the same seconds, settings, twins and partners."""
    followers: dict[int, list[tuple[int, int]]] = defaultdict(list)
    for piece, others in enumerate(task.waits):
        for other in others:
            followers[other].append(divmod(piece, 4))
    kinds: dict[object, int] = {}
    found = []
    for device in range(task.count):
        own = slice(4 * device, 4 * device + 4)
        led = tuple(followers[device])
        looks = (task.seconds[own], task.lag[own], task.need[own], task.twin[device], task.waits[own], led)
        found.append(kinds.setdefault(looks, len(kinds)))
    return tuple(found)


def by_precedence(task: Task) -> list[int]:
    """Return the devices in an order in which each comes after those it waits for."""
    waits = {
        at: [other for piece in range(4 * at, 4 * at + 4) for other in task.waits[piece]] for at in range(task.count)
    }
    return in_order(waits)
