"""From pieces in their places to steps as people read them: what runs by itself, laptop changes, ports, values."""

from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass
from ipaddress import IPv4Address
from types import MappingProxyType
from typing import Any

from tutelar.core.run.chain import ALONE, STAGES, TITLES, AdapterConfig, address_in_force, laptop_address
from tutelar.core.run.schedule import ScheduledOperation, State
from tutelar.core.run.task import Task
from tutelar.core.run.values import Value, values_to_type
from tutelar.core.run.why import Reason, reasons
from tutelar.core.setting import DeviceSettings
from tutelar.core.site.types import Site


@dataclass(frozen=True, slots=True)
class Step:
    """One step of the run; times in seconds from its start. `adapter` is the setting after an adapter step.

    `port` counts the powered ports of the bench from 1; `why` says why a hand takes this step now, `wait` what it waits
    for before it ("" as soon as it has begun).
    """

    id: str
    device: str | None
    kind: str
    title: str
    start_s: float
    end_s: float
    manual: bool
    hand: int | None
    adapter: AdapterConfig | None = None
    needs: tuple[str, ...] = ()
    values: tuple[Value, ...] = ()
    port: int | None = None
    why: str = ""
    wait: str = ""

    def as_dict(self) -> dict[str, Any]:
        """Return the step as the contract prints it."""
        whole = {"hands" if name == "manual" else name: value for name, value in asdict(self).items()}
        whole["why"] = f"{whole.pop('wait')} {self.why}".strip()
        return whole


def steps_of(
    site: Site,
    task: Task,
    pieces: list[ScheduledOperation],
    end: State,
    *,
    settings: DeviceSettings | None = None,
    before: Iterable[Step] = (),
    anew: Mapping[str, str] = MappingProxyType({}),
) -> tuple[Step, ...]:
    """Return the pieces as steps in order of their start, with what runs by itself and the laptop changes between.

    `before` holds steps that were begun already: ports, laptops and partners go on from them. Values come along
    where `settings` are given. `anew` holds the devices whose values changed after they were typed, each with what
    changed.
    """
    writer = _Writer(site, task, settings, list(before))
    writer.anew = anew
    writer.why = reasons(site, task, pieces)
    for laid in sorted(pieces, key=lambda item: item.start):  # at the same second in the order they were laid
        writer.piece(laid)
    changes = [(laid.changed_at, laid.hand, laid.piece) for laid in pieces if laid.changed_at is not None]
    for at, hand, number in sorted(changes):
        device, stage = divmod(number, 4)
        cause = f"{task.devices[device].key}:adapter-{STAGES[stage]}"
        writer.laptop(cause, at, hand, task.need[number], writer.why[-1 - number].why)
    for hand, where in enumerate(end.setting):
        if where > 0:
            writer.laptop(f"hand-{hand + 1}:adapter-back", end.free[hand], hand, 0, "This laptop goes home as it came.")
    writer.steps.sort(key=lambda step: (step.start_s, step.end_s))
    return tuple(writer.steps)


class _Writer:
    def __init__(self, site: Site, task: Task, settings: DeviceSettings | None, before: list[Step]) -> None:
        self.site, self.task, self.settings = site, task, settings
        self.steps: list[Step] = []
        self.why: dict[int, Reason] = {}
        self.anew: Mapping[str, str] = {}
        in_force = (address_in_force(model, site.policy.bench) for model in site.models)
        self.factory = {int(factory.address) for factory in in_force if factory and factory.address}
        self.taken_ids = {step.id for step in before}
        self.laptops: dict[int, AdapterConfig | None] = {}
        self.last: dict[str, Step] = {}
        self.confirmed: dict[str, Step] = {}
        self.port_of: dict[str, int] = {}
        self.ports = dict.fromkeys(range(1, site.policy.bench.ports + 1), 0.0)
        for step in sorted(before, key=lambda item: item.start_s):
            if step.device is None:
                self.laptops[(step.hand or 1) - 1] = step.adapter
            else:
                self._remember(step)
                if step.port is not None:
                    self.port_of[step.device] = step.port
                    self.ports[step.port] = step.end_s if step.kind in ("confirm", "format") else float("inf")

    def _remember(self, step: Step) -> None:
        if step.device:
            self.last[step.device] = step
            if step.kind != "format":
                self.confirmed[step.device] = step

    def piece(self, laid: ScheduledOperation) -> None:
        """Write the hand work of a piece, and what the device does by itself after it."""
        number, stage = divmod(laid.piece, 4)
        device = self.task.devices[number]
        if stage == 0:
            free = [port for port, since in self.ports.items() if since <= laid.start]
            if free:
                self.port_of[device.key] = free[0]
                self.ports[free[0]] = float("inf")
        awaited = [self.task.devices[other].key for other in self.task.waits[laid.piece]]
        partners = [self.confirmed[key] for key in awaited if key in self.confirmed]
        at = laid.start
        for kind, seconds in (
            (STAGES[stage], self.task.seconds[laid.piece]),
            (ALONE[stage], self.task.lag[laid.piece]),
        ):
            if not seconds:
                continue
            manual = kind in STAGES
            previous = [self.last[device.key]] if device.key in self.last else []
            reason = self.why[laid.piece] if manual else Reason("")
            changed = self.anew.get(device.key) if kind == "configure" else None
            step = Step(
                id=f"{device.key}:{kind}",
                device=device.key,
                kind=kind,
                title=device_title("configure-anew" if changed else kind, device.label),
                start_s=at,
                end_s=at + seconds,
                manual=manual,
                hand=laid.hand + 1 if manual else None,
                needs=tuple(dict.fromkeys(item.id for item in [*previous, *(partners if manual else [])])),
                values=values_to_type(self.settings, device, kind) if self.settings else (),
                port=self.port_of.get(device.key),
                why=changed or reason.why,
                wait=reason.wait,
            )
            self.steps.append(step)
            self._remember(step)
            at = step.end_s
        if stage == 3 and device.key in self.port_of:
            self.ports[self.port_of[device.key]] = laid.start + self.task.seconds[laid.piece]

    def laptop(self, cause: str, at: float, hand: int, where: int, why: str) -> None:
        """Write the step that takes a laptop to a subnet of the task, 0 the site network."""
        subnet = self.task.subnets[where]
        setting = None
        if subnet is not None:
            others = {int(IPv4Address(item.address)) for key, item in self.laptops.items() if item and key != hand}
            setting = laptop_address(subnet, self.factory | others)
        self.laptops[hand] = setting
        self.steps.append(
            Step(
                id=self._fresh(cause),
                device=None,
                kind="adapter",
                title=laptop_title(setting),
                start_s=at,
                end_s=at + self.task.adapter_s,
                manual=True,
                hand=hand + 1,
                adapter=setting,
                values=laptop_values(setting),
                why=why,
            )
        )

    def _fresh(self, cause: str) -> str:
        """Return an id that no step has yet: after a change of plan the same device can need the laptop again."""
        number, found = 2, cause
        while found in self.taken_ids:
            found, number = f"{cause}-{number}", number + 1
        self.taken_ids.add(found)
        return found


def laptop_title(setting: AdapterConfig | None) -> str:
    """Return what a step says that sets a laptop; None stands for the site network."""
    return f"Set this laptop to {setting.address}" if setting else "Set this laptop back to the site network"


def laptop_values(setting: AdapterConfig | None) -> tuple[Value, ...]:
    """Return what is typed into a laptop, nothing where it goes back to automatic."""
    if setting is None:
        return ()
    return (
        Value("laptop-address", "Laptop address", setting.address),
        Value("laptop-mask", "Laptop mask", str(setting.network.netmask)),
    )


def device_title(kind: str, label: str) -> str:
    """Return what a step of a kind says of a device with this name."""
    return TITLES[kind].format(name=label)
