"""The rehearsal: a pretend technician plays a run on a pretend bench, before the van leaves.

The bench knows nothing of the plan. Its devices boot, update and restart as long as their profiles say, answer only
at the address they have and only to a laptop in that network, and of several at one address any one may answer. So
the rehearsal fails where the run would.
"""

import random
from collections.abc import Iterator
from dataclasses import dataclass, field
from ipaddress import IPv4Address

from tutelar.core.addressing.assignment import Plan
from tutelar.core.run import Run, Step
from tutelar.core.run.chain import AdapterConfig, address_in_force, factory_network
from tutelar.core.site.types import Device, Site


@dataclass(frozen=True, slots=True)
class Played:
    """A step as it went: the second it began, and what went wrong with it, None where nothing did."""

    at_s: float
    step: Step
    fault: str | None


@dataclass
class PretendUnit:
    """A device on the bench: off, or powered since; at its factory settings, or set to an address of the site."""

    device: Device
    address: int | None
    ready_at: float = float("inf")
    on: bool = False
    woken: bool = False
    set_: bool = False
    seen: bool = False


@dataclass
class PretendBench:
    """Ports, units and laptops. `dice` decides who answers where several could."""

    site: Site
    addresses: Plan
    dice: random.Random
    units: dict[str, PretendUnit] = field(default_factory=dict)
    laptops: dict[int, AdapterConfig | None] = field(default_factory=dict)
    busy_until: dict[int, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.planned = {item.device: item.address for item in self.addresses.assignments}
        for device in self.site.devices:
            factory = address_in_force(self.site.model_of(device), self.site.policy.bench)
            self.units[device.key] = PretendUnit(device, int(factory.address) if factory and factory.address else None)

    def begin(self, step: Step, now: float) -> str | None:
        """Begin a step of hand work; return what is wrong with that, None where it goes."""
        hand = step.hand or 1
        if self.busy_until.get(hand, 0) > now + 1e-6:
            return f"Technician {hand} has the hands full for another {self.busy_until[hand] - now:.0f} s."
        self.busy_until[hand] = step.end_s
        if step.kind == "adapter":
            self.laptops[hand] = step.adapter
            return None
        unit = self.units[step.device or ""]
        if step.kind == "connect":
            return self._plug(unit)
        return self._stands(unit, step.kind, now) or self._answers(unit, step.kind, hand, now)

    def end(self, step: Step, now: float) -> None:
        """End a step of hand work: the device goes on by itself, or leaves the bench."""
        if step.device is None:
            return
        unit, model = self.units[step.device], self.site.model_of(self.units[step.device].device)
        timings = model.timings if model else None
        if step.kind == "connect":
            unit.on, unit.ready_at = True, now + ((timings.boot_s if timings else 0) or 0)
        elif step.kind == "activate":
            unit.woken = True
            update = timings.firmware_s if timings and self.site.policy.bench.update_firmware else 0
            unit.ready_at = now + (update or 0)
        elif step.kind == "configure":
            unit.set_, unit.ready_at = True, now + ((timings.restart_s if timings else 0) or 0)
            planned = self.planned.get(step.device)
            unit.address = int(IPv4Address(planned)) if planned else None
        elif step.kind == "confirm":
            unit.seen, unit.on = True, False

    def _plug(self, unit: PretendUnit) -> str | None:
        ports = self.site.policy.bench.ports
        taken = sum(1 for other in self.units.values() if other.on)
        if unit.on:
            return f"{unit.device.label} is plugged in already."
        if taken >= ports:
            return f"All {ports} ports of the bench are taken; {unit.device.label} finds none."
        return None

    def _stands(self, unit: PretendUnit, kind: str, now: float) -> str | None:
        label = unit.device.label
        if not unit.on:
            return f"{label} is not plugged in."
        if unit.ready_at > now + 1e-6:
            return f"{label} is busy by itself for another {unit.ready_at - now:.0f} s and does not answer."
        for link in self.site.links:
            other = self.units.get(link.to)
            if link.from_ != unit.device.key or other is None or other.seen or other is unit:
                continue
            lends = link.kind == "records" and self.site.policy.passwords == "family"
            if kind == "activate" and lends and self.site.family_of(unit.device) == "camera":
                return f"{label} takes its password from {other.device.label}, which is not set up yet."
            if kind == "configure" and link.kind in ("registers-at", "extends"):
                return f"{label} registers at {other.device.label}, which does not answer yet."
        return None

    def _answers(self, unit: PretendUnit, kind: str, hand: int, now: float) -> str | None:
        """Open the device from this hand's laptop; return who or what else answered."""
        label, at = unit.device.label, unit.address
        if not self._reaches(hand, unit):
            setting = self.laptops.get(hand)
            stands = str(setting.network) if setting else "the site network"
            return f"The laptop stands in {stands}; from there nothing answers at {IPv4Address(at or 0)} for {label}."
        if at is None:
            return None  # it has an address that was lent to it alone
        others = [
            other
            for other in self.units.values()
            if other.on and other.address == at and other.ready_at <= now and other.set_ == unit.set_
        ]
        answered = self.dice.choice(others) if others else unit
        if answered is not unit:
            return f"{answered.device.label} answered at {IPv4Address(at)} instead of {label}."
        return None

    def _reaches(self, hand: int, unit: PretendUnit) -> bool:
        if self.site.policy.bench.several_addresses:
            return True
        setting = self.laptops.get(hand)
        factory = address_in_force(self.site.model_of(unit.device), self.site.policy.bench)
        if unit.set_ or factory is None:
            return setting is None
        subnet = factory_network(factory)
        if any(subnet.overlaps(network.cidr) for network in self.site.networks):
            return setting is None
        return setting is not None and setting.network == subnet


def rehearse(site: Site, addresses: Plan, run: Run, seed: int = 1) -> Iterator[Played]:
    """Yield each step of hand work when it begins, in the order of the run, with what went wrong.

    Whoever wants to watch waits between them; the pretend clock is that of the run. A step that fails is left as it
    is, so that what follows from it shows as well.
    """
    bench = PretendBench(site, addresses, random.Random(seed))  # noqa: S311 - who answers, not a secret
    running: list[Step] = []
    for step in sorted((item for item in run.steps if item.manual), key=lambda item: (item.start_s, item.end_s)):
        for over in sorted(
            (item for item in running if item.end_s <= step.start_s + 1e-9), key=lambda item: item.end_s
        ):
            bench.end(over, over.end_s)
            running.remove(over)
        fault = bench.begin(step, step.start_s)
        if fault is None:
            running.append(step)
        yield Played(step.start_s, step, fault)
