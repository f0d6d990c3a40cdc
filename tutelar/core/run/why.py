"""Why a hand takes this piece of work now, in one sentence a technician would say."""

from bisect import bisect_right
from collections import defaultdict
from dataclasses import dataclass
from operator import itemgetter

from tutelar.core.run.chain import address_in_force
from tutelar.core.run.schedule import ScheduledOperation
from tutelar.core.run.task import IN_SITE, Task
from tutelar.core.site.types import Site
from tutelar.core.wording import count


@dataclass(frozen=True, slots=True)
class Reason:
    """What the hand waits for before a piece, "" where it does not, and why it then takes this piece."""

    why: str
    wait: str = ""


def reasons(site: Site, task: Task, pieces: list[ScheduledOperation]) -> dict[int, Reason]:
    """Return for each piece of hand work why it is taken when it is, by what else was possible at that moment.

    Where the laptop is changed for a piece, the reason of the change stands under the negative of its number less 1.
    """
    return _Reasons(site, task, pieces).all()


AHEAD = 60  # pieces of one hand that a reason looks ahead


class _Reasons:
    def __init__(self, site: Site, task: Task, pieces: list[ScheduledOperation]) -> None:
        self.site, self.task = site, task
        self.pieces = sorted(pieces, key=lambda item: item.start)
        self.at = {laid.piece: laid for laid in self.pieces}
        self.end = {laid.piece: laid.start + task.seconds[laid.piece] for laid in self.pieces}
        self.by_hand: dict[int, list[ScheduledOperation]] = defaultdict(list)
        for laid in self.pieces:
            self.by_hand[laid.hand].append(laid)
        self.led: dict[int, int] = defaultdict(int)
        for piece, others in enumerate(task.waits):
            for other in others:
                self.led[other] += piece // 4 != other
        self.plugged: dict[int, list[tuple[float, int]]] = defaultdict(list)  # when, by group of twins
        self.own: dict[int, list[tuple[float, int]]] = defaultdict(list)  # when each has its own address
        for device, group in enumerate(task.twin):
            if group >= 0:
                if 4 * device in self.at:
                    self.plugged[group].append((self.at[4 * device].start, device))
                if 4 * device + 2 in self.end:
                    self.own[group].append((self.end[4 * device + 2], device))
        for times in (*self.plugged.values(), *self.own.values()):
            times.sort()

    def all(self) -> dict[int, Reason]:
        """Return the reasons by piece (see `reasons`)."""
        found = {}
        for mine in self.by_hand.values():
            before = None
            for number, laid in enumerate(mine):
                later = mine[number + 1 : number + 1 + AHEAD]
                found[laid.piece] = Reason(self._choice(laid, later), self._wait(laid, before))
                if laid.changed_at is not None:
                    found[-1 - laid.piece] = Reason(self._trip(laid, later))
                before = laid
        return found

    def _label(self, device: int) -> str:
        return self.task.devices[device].label

    def _wait(self, laid: ScheduledOperation, before: ScheduledOperation | None) -> str:
        """Say what the hand waits for, where it waits before this piece."""
        free = self.end[before.piece] if before else self.task.begun.free[laid.hand]
        idle = laid.start - free - (self.task.adapter_s if laid.changed_at is not None else 0)
        if idle < 1:
            return ""
        return f"Wait {count(round(idle), 'second')} first: {self._blocker(laid)}."

    def _blocker(self, laid: ScheduledOperation) -> str:
        """Say what makes the piece possible at its start and not before."""
        device, stage = divmod(laid.piece, 4)
        for other in self.task.waits[laid.piece]:
            if abs(self.end.get(4 * other + 3, -1) - laid.start) < 1e-6:
                return f"{self._label(other)} comes before it"
        if stage > 0:
            word = ("boots", "updates", "restarts")[stage - 1]
            return f"{self._label(device)} {word} until then and nothing else is quicker"
        twin = self._freed(device, laid.start - 1e-6, laid.start + 1e-6)
        if twin is not None:
            return f"{self._label(twin)} has its address until then"
        return "the bench has no free port until then"

    def _choice(self, laid: ScheduledOperation, later: list[ScheduledOperation]) -> str:
        device, stage = divmod(laid.piece, 4)
        choose = (self._connect, self._activate, self._configure, self._confirm)[stage]
        return choose(laid, device, later)

    def _connect(self, laid: ScheduledOperation, device: int, later: list[ScheduledOperation]) -> str:
        twins = self._still_to_plug(device, laid.start)
        boot = self.task.lag[laid.piece]
        parts = []
        freed = self._freed(device, laid.start - 1, laid.start)
        if freed is not None:
            parts.append(f"{self._label(freed)} has just left {self._address(device)}")
        if twins:
            who = self._label(twins[0][1]) if len(twins) == 1 else f"{len(twins)} others"
            parts.append(f"{who} would answer at the same {self._address(device)} and must wait for this one")
        if boot and later and self._starts(4 * device + 1) - self.end[laid.piece] > 0:
            filled = [item for item in later if item.start < self.end[laid.piece] + boot and item.piece // 4 != device]
            if filled:
                parts.append(f"while it boots for {round(boot)} s there is other work for your hands")
        if not parts:
            parts.append("a port is free, and the sooner it is plugged in, the sooner its wait is over")
        return _sentence(parts)

    def _activate(self, laid: ScheduledOperation, device: int, later: list[ScheduledOperation]) -> str:
        waiting = self.task.waits[laid.piece]
        if waiting:
            return f"It takes its password from {self._label(waiting[0])}, which is ready."
        twins = self._still_to_plug(device, laid.start)
        if twins:
            return (
                f"It has booted, and {count(len(twins), 'device')} can be plugged in only once it has its own address."
            )
        return "It has booted, and the laptop stands in the right network for it."

    def _configure(self, laid: ScheduledOperation, device: int, later: list[ScheduledOperation]) -> str:
        waiting = self.task.waits[laid.piece]
        if waiting:
            return f"{self._label(waiting[0])} answers already, so this one can be told of it."
        if self.task.lag[laid.piece]:
            return f"The page is open; its restart of {round(self.task.lag[laid.piece])} s then runs by itself."
        return "The page is open: go on with it."

    def _confirm(self, laid: ScheduledOperation, device: int, later: list[ScheduledOperation]) -> str:
        if self.led[device]:
            return f"{count(self.led[device], 'device')} can only go on once this one answers."
        if self.task.lag[laid.piece]:
            return f"Its disk then formats by itself for {round(self.task.lag[laid.piece])} s."
        freed = [item for item in later if item.piece % 4 == 0 and abs(item.start - self.end[laid.piece]) < 1]
        if freed:
            return f"It frees a bench port for {self._label(freed[0].piece // 4)}."
        return "It has restarted, and the laptop is in the site network anyway."

    def _trip(self, laid: ScheduledOperation, later: list[ScheduledOperation]) -> str:
        """Say how much work one change of the laptop serves."""
        where = self.task.need[laid.piece]
        served = 1
        for item in later:
            need = self.task.need[item.piece]
            if need >= 0 and need != where:
                break
            served += need == where
        subnet = self.task.subnets[where]
        place = "in the site network" if where == IN_SITE else f"at {subnet}"
        return (
            f"One change of the laptop serves the next {served} steps {place}."
            if served > 1
            else (f"Nothing else can be done sooner, so the laptop changes for this one step {place}.")
        )

    def _still_to_plug(self, device: int, at: float) -> list[tuple[float, int]]:
        """Return the devices that answer at the same address and are plugged in after a moment, with when."""
        times = self.plugged[self.task.twin[device]]
        return times[bisect_right(times, at, key=itemgetter(0)) :]

    def _freed(self, device: int, first: float, last: float) -> int | None:
        """Return the device that leaves the same address after `first` and not after `last`."""
        times = self.own[self.task.twin[device]]
        within = times[bisect_right(times, first, key=itemgetter(0)) : bisect_right(times, last, key=itemgetter(0))]
        return min((other for _, other in within if other != device), default=None)

    def _starts(self, piece: int) -> float:
        laid = self.at.get(piece)
        return laid.start if laid else -1.0

    def _address(self, device: int) -> str:
        factory = address_in_force(self.site.model_of(self.task.devices[device]), self.site.policy.bench)
        return str(factory.address) if factory else "address"


def _sentence(parts: list[str]) -> str:
    text = ", and ".join(parts)
    return text[0].upper() + text[1:] + "."
