"""The run: every device's chain laid one after the other for each technician, in an order that is always legal.

A technician stays with a device until it is confirmed. Waiting is not filled with other work yet, so the run
is legal but not the shortest; `lower_bound_s` says how short no run can be.
"""

from collections import defaultdict
from dataclasses import asdict, dataclass, field
from heapq import heappop, heappush
from ipaddress import IPv4Address
from math import ceil
from typing import Any

from tutelar.core.addressing.blocks import FAMILY_RANK
from tutelar.core.addressing.plan import plan
from tutelar.core.problems import Problem, in_order, problem
from tutelar.core.run.chain import (
    FROM_FACTORY,
    KINDS,
    Piece,
    Setting,
    address_in_force,
    chain_of,
    laptop_address,
    subnet_needed,
)
from tutelar.core.run.values import Value, values_to_type
from tutelar.core.setting import Settings
from tutelar.core.site.types import Device, Site
from tutelar.core.wording import listed

_TITLES = {kind: title for kind, _, title in KINDS}


@dataclass(frozen=True, slots=True)
class Step:
    """One step of the run; times in seconds from its start. `adapter` is the setting after an adapter step."""

    id: str
    device: str | None
    kind: str
    title: str
    start_s: float
    end_s: float
    hands: bool
    hand: int | None
    adapter: Setting | None = None
    needs: tuple[str, ...] = ()
    values: tuple[Value, ...] = ()

    def as_dict(self) -> dict[str, Any]:
        return asdict(self)


@dataclass(frozen=True)
class Run:
    """Steps in order of their start, with the sums of the contract."""

    steps: tuple[Step, ...]
    hands: int
    lower_bound_s: float
    problems: tuple[Problem, ...] = ()

    @property
    def total_s(self) -> float:
        return max((step.end_s for step in self.steps), default=0)

    @property
    def hands_s(self) -> float:
        return sum(step.end_s - step.start_s for step in self.steps if step.hands)

    @property
    def adapter_changes(self) -> int:
        return sum(1 for step in self.steps if step.kind == "adapter")

    def as_dict(self) -> dict[str, Any]:
        """Return the run as the contract prints it."""
        return {
            "total_s": self.total_s,
            "hands_s": self.hands_s,
            "idle_s": self.hands * self.total_s - self.hands_s,
            "adapter_changes": self.adapter_changes,
            "lower_bound_s": self.lower_bound_s,
            "steps": [step.as_dict() for step in self.steps],
            "problems": [item.as_dict() for item in self.problems],
        }


def run(site: Site, hands: int = 1) -> Run:
    """Return a legal run of all devices of the site for so many technicians.

    Raises ValueError for fewer than one hand. The plan's problems come along: what has no address cannot be typed.
    """
    if hands < 1:
        raise ValueError(f"{hands} hands cannot do a run; at least 1 is needed")
    planned = plan(site)
    order, problems = _device_order(site)
    problems += _bench_problems(site, hands)
    lane = _Lanes(site, hands, Settings(site, planned))
    for device in order:
        lane.add(device)
    lane.finish()
    steps = sorted(lane.steps, key=lambda step: (step.start_s, step.end_s))
    chains = [chain_of(site, device) for device in site.devices]
    return Run(tuple(steps), hands, _lower_bound(chains, hands), tuple(in_order([*planned.problems, *problems])))


def _bench_problems(site: Site, hands: int) -> list[Problem]:
    """Return what the bench lacks for this run."""
    bench = site.policy.bench
    found = []
    if not bench.leases:
        leased = {model.key for model in site.models if model.factory and model.factory.mode == "leased"}
        waiting = [device for device in site.devices if device.model in leased]
        if waiting:
            found.append(problem(
                "run.lease-missing", [device.key for device in waiting],
                f"{listed([device.label for device in waiting])} take their first address from a router, but nothing "
                "on the bench hands out addresses.",
                "Put a router that leases addresses on the bench; meanwhile they count as being in the site network.",
            ))  # fmt: skip
    if hands > bench.ports:
        found.append(problem(
            "run.ports", (), f"{hands} technicians share {bench.ports} powered ports on the bench.",
            f"{hands - bench.ports} of them have no port to work at.",
        ))  # fmt: skip
    return found


def _lower_bound(chains: list[list[Piece]], hands: int) -> float:
    """Return seconds that no run can beat: the longest chain, and all hand work shared out evenly."""
    work = sum(piece.seconds for chain in chains for piece in chain if piece.hands)
    longest = max((sum(piece.seconds for piece in chain) for chain in chains), default=0)
    return max(longest, ceil(work / hands * 1000) / 1000)


def waits_for(site: Site) -> dict[str, list[tuple[str, str]]]:
    """Return for each device the (step kind, device) pairs: that step waits for that device's confirm."""
    waits: dict[str, list[tuple[str, str]]] = defaultdict(list)
    for link in site.links:
        if link.from_ not in site.device_by_key or link.to not in site.device_by_key or link.from_ == link.to:
            continue
        if link.kind in ("registers-at", "extends"):
            waits[link.from_].append(("configure", link.to))
        elif link.kind == "records" and site.policy.passwords == "family":
            if site.family_of(site.device_by_key[link.from_]) == "camera":
                waits[link.from_].append(("activate", link.to))
    return {key: list(dict.fromkeys(pairs)) for key, pairs in waits.items()}


def _device_order(site: Site) -> tuple[list[Device], list[Problem]]:
    """Return the devices so that each comes after those it waits for; infrastructure first, then as one walks.

    A topological order with a priority queue (Kahn 1962).
    """
    devices = list(site.device_by_key.values())
    rank = {device.key: at for at, device in enumerate(site.walking_order(devices))}
    before = {key: {other for _, other in pairs} for key, pairs in waits_for(site).items()}
    after: dict[str, list[str]] = defaultdict(list)
    for key, others in before.items():
        for other in others:
            after[other].append(key)

    def priority(device: Device) -> tuple[int, int]:
        family = site.family_of(device)
        return (0 if family in ("recorder", "software-recorder") else 1 + FAMILY_RANK.get(family, 0), rank[device.key])

    ready = [(priority(device), device.key) for device in devices if not before.get(device.key)]
    ready.sort()
    order: list[Device] = []
    while ready:
        _, key = heappop(ready)
        order.append(site.device_by_key[key])
        for follower in after[key]:
            before[follower].discard(key)
            if not before[follower]:
                heappush(ready, (priority(site.device_by_key[follower]), follower))
    done = {device.key for device in order}
    circle = [device for device in devices if device.key not in done]
    if not circle:
        return order, []
    names = listed([device.label for device in circle])
    stuck = problem(
        "run.circle", [device.key for device in circle],
        f"{names} wait for each other, so none of them can be finished first.",
        "Remove one of the links between them.", level="error",
    )  # fmt: skip
    return [*order, *circle], [stuck]


@dataclass
class _Hand:
    number: int
    free_at: float = 0
    setting: Setting | None = None


@dataclass
class _Lanes:
    """The growing run: who is free when, in which adapter setting, and when each device was done with."""

    site: Site
    hands: int
    settings: Settings
    steps: list[Step] = field(default_factory=list)
    confirmed: dict[str, Step] = field(default_factory=dict)
    twin_free_at: dict[int, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        bench = self.site.policy.bench
        self.team = [_Hand(number) for number in range(1, min(self.hands, bench.ports) + 1)]
        self.waits = waits_for(self.site)
        in_force = (address_in_force(model, bench) for model in self.site.models)
        self.factory_addresses = {int(factory.address) for factory in in_force if factory and factory.address}

    def add(self, device: Device) -> None:
        hand = min(self.team, key=lambda item: (item.free_at, item.number))
        factory = address_in_force(self.site.model_of(device), self.site.policy.bench)
        twin = int(factory.address) if factory and factory.address else None
        hand.free_at = max(hand.free_at, self.twin_free_at.get(twin or -1, 0))
        subnet = subnet_needed(self.site, device)
        previous: Step | None = None
        waiting: dict[str, list[Step]] = {kind: [] for kind in FROM_FACTORY}
        for kind, other in self.waits.get(device.key, []):
            if other in self.confirmed:
                waiting[kind].append(self.confirmed[other])
        for piece in chain_of(self.site, device):
            if piece.kind in FROM_FACTORY and not self.site.policy.bench.several_addresses:
                if subnet is not None and (hand.setting is None or hand.setting.network != subnet):
                    others = {int(IPv4Address(item.setting.address)) for item in self.team if item.setting}
                    self._set_adapter(hand, laptop_address(subnet, self.factory_addresses | others), device.key)
                elif subnet is None and hand.setting is not None:
                    self._set_adapter(hand, None, device.key)
            elif piece.kind == "confirm" and hand.setting is not None:
                self._set_adapter(hand, None, device.key)
            awaited = waiting.get(piece.kind, [])
            start = max([hand.free_at if piece.hands else 0, *(step.end_s for step in awaited)])
            if previous is not None:
                start = max(start, previous.end_s) if piece.hands else previous.end_s
            needs = tuple(dict.fromkeys([*([previous.id] if previous else []), *(step.id for step in awaited)]))
            previous = self._step(device, piece, start, hand, needs)
            if piece.kind != "format":
                hand.free_at = previous.end_s
                self.confirmed[device.key] = previous
            if twin is not None and piece.kind in ("connect", "boot", "activate", "update", "configure"):
                self.twin_free_at[twin] = previous.end_s

    def _step(self, device: Device, piece: Piece, start: float, hand: _Hand, needs: tuple[str, ...]) -> Step:
        step = Step(
            id=f"{device.key}:{piece.kind}",
            device=device.key,
            kind=piece.kind,
            title=_TITLES[piece.kind].format(name=device.label),
            start_s=start,
            end_s=start + piece.seconds,
            hands=piece.hands,
            hand=hand.number if piece.hands else None,
            needs=needs,
            values=values_to_type(self.settings, device, piece.kind),
        )
        self.steps.append(step)
        return step

    def _set_adapter(self, hand: _Hand, setting: Setting | None, cause: str) -> None:
        """Add an adapter step. Its id names the device that it serves, so that it survives changes elsewhere."""
        seconds = self.site.policy.bench.adapter_s
        title = f"Set this laptop to {setting.address}" if setting else "Set this laptop back to the site network"
        mask = [("Laptop address", setting.address), ("Laptop mask", str(setting.network.netmask))] if setting else []
        values = tuple(Value(label, value) for label, value in mask)
        step = f"{cause}:adapter-{'out' if setting else 'back'}"
        end = hand.free_at + seconds
        self.steps.append(
            Step(step, None, "adapter", title, hand.free_at, end, True, hand.number, adapter=setting, values=values)
        )
        hand.free_at += seconds
        hand.setting = setting

    def finish(self) -> None:
        """Bring every laptop back into the site network."""
        for hand in self.team:
            if hand.setting is not None:
                self._set_adapter(hand, None, f"hand-{hand.number}")
