"""The run: the shortest order found for the bench work of a site, as steps with times, laptop settings and values."""

from collections import defaultdict
from dataclasses import dataclass
from typing import Any

from tutelar.core.addressing import Plan
from tutelar.core.graphs import circles
from tutelar.core.planning import plan
from tutelar.core.problems import Problem, in_order, problem
from tutelar.core.run.bound import Bound, lower_bound
from tutelar.core.run.chain import STAGES, at_bench
from tutelar.core.run.hand_times import times_problems
from tutelar.core.run.schedule import ScheduledOperation, State, schedule, total
from tutelar.core.run.search import SeededRandom, search
from tutelar.core.run.steps import Step, steps_of
from tutelar.core.run.task import by_precedence, task_of
from tutelar.core.setting import DeviceSettings
from tutelar.core.site.types import Link, Site
from tutelar.core.wording import listed

PIECES_A_SECOND = 500_000  # laid by the search on a small machine
EFFORT = 2_000_000  # pieces laid while searching, two to three seconds; more for more than 60 devices


@dataclass(frozen=True)
class Run:
    """Steps in order of their start, with the sums of the contract.

    `one_by_one_s` is what the same work takes one device after the other; `bound` is proved, and `gap` is the share
    by which the run may still be longer than the best there is.
    """

    steps: tuple[Step, ...]
    technicians: int
    bound: Bound
    one_by_one_s: float
    order: tuple[str, ...] = ()
    problems: tuple[Problem, ...] = ()

    @property
    def total_s(self) -> float:
        """Seconds from the start of the run to the end of its last step."""
        return max((step.end_s for step in self.steps), default=0)

    @property
    def lower_bound_s(self) -> float:
        """Seconds below which no run of this work can be, as is proved."""
        return self.bound.seconds

    @property
    def gap(self) -> float:
        """The share, 0 to 1, by which the run may still be longer than the shortest there is."""
        return (self.total_s - self.lower_bound_s) / self.total_s if self.total_s else 0

    @property
    def hands_s(self) -> float:
        """Seconds of work by hand, all technicians together."""
        return sum(step.end_s - step.start_s for step in self.steps if step.manual)

    @property
    def adapter_changes(self) -> int:
        """How often a laptop is set to another network, the way back included."""
        return sum(1 for step in self.steps if step.kind == "adapter")

    def as_dict(self) -> dict[str, Any]:
        """Return the run as the contract prints it."""
        return {
            "total_s": self.total_s,
            "hands_s": self.hands_s,
            "idle_s": self.technicians * self.total_s - self.hands_s,
            "adapter_changes": self.adapter_changes,
            "lower_bound_s": self.lower_bound_s,
            "steps": [step.as_dict() for step in self.steps],
            "problems": [item.as_dict() for item in self.problems],
            "lower_bound_why": self.bound.why,
            "gap": round(self.gap, 4),
            "one_by_one_s": self.one_by_one_s,
        }


def run(
    site: Site,
    technicians: int = 1,
    effort: int | None = None,
    seed: int = 1,
    *,
    planned: Plan | None = None,
    values: bool = True,
) -> Run:
    """Return the shortest run found for all devices of the site and so many technicians.

    The same site, hands, effort and seed give the same run; more effort never a longer one of the same seed's first
    orders. `planned`: the site's plan, where it is known already; `values`: whether steps at devices carry what is
    typed there. Raises ValueError for fewer than one hand. The plan's problems come along: what has no address cannot
    be typed.
    """
    if technicians < 1:
        raise ValueError(f"{technicians} hands cannot do a run; at least 1 is needed")
    planned = plan(site) if planned is None else planned
    waits, problems = waits_that_can_be_met(site)
    problems += [*_bench_problems(site, technicians), *times_problems(site)]
    task = task_of(site, at_bench(site), technicians, waits)
    bound = lower_bound(task)
    order = search(task, effort or usual_effort(task.count, technicians), SeededRandom(seed), bound.seconds)
    pieces: list[ScheduledOperation] = []
    state = State(task)
    schedule(task, order, state, into=pieces)
    one_by_one = [device for device in by_precedence(task) for _ in STAGES]
    return Run(
        steps=steps_of(site, task, pieces, state, settings=DeviceSettings(site, planned) if values else None),
        technicians=technicians,
        bound=bound,
        one_by_one_s=total(task, one_by_one),
        order=tuple(task.devices[device].key for device in order),
        problems=tuple(in_order([*planned.problems, *problems])),
    )


def usual_effort(devices: int, technicians: int = 1) -> int:
    """Return for how many laid pieces the search goes on if nobody says: seconds, not minutes. Where two work, far more
    orders differ, and it takes three quarters more to come as near to the best."""
    return (EFFORT + 10_000 * min(400, max(0, devices - 60))) * (7 if technicians > 1 else 4) // 4


def _bench_problems(site: Site, technicians: int) -> list[Problem]:
    """Return what the bench lacks for this run."""
    bench = site.policy.bench
    found = []
    if not bench.leases:
        leased = {model.key for model in site.models if model.factory and model.factory.mode == "leased"}
        waiting = [device for device in site.devices if device.model in leased]
        if waiting:
            found.append(
                problem(
                    "run.lease-missing",
                    [device.key for device in waiting],
                    f"{listed([device.label for device in waiting])} take their first address from a router, but "
                    "nothing on the bench hands out addresses.",
                    "Put a router that leases addresses on the bench; "
                    "meanwhile they count as being in the site network.",
                )
            )
    if technicians > bench.ports:
        found.append(
            problem(
                "run.ports",
                (),
                f"{technicians} technicians share {bench.ports} powered ports on the bench.",
                f"{technicians - bench.ports} of them have no port to work at.",
            )
        )
    return found


def waits_for(site: Site) -> dict[str, list[tuple[str, str]]]:
    """Return for each device the (step kind, device) pairs: that step waits for that device's confirm."""
    waits: dict[str, list[tuple[str, str]]] = defaultdict(list)
    for link in site.links:
        if link.from_ not in site.device_by_key or link.to not in site.device_by_key or link.from_ == link.to:
            continue
        if link.kind in ("registers-at", "extends") or _follows_panel(site, link):
            waits[link.from_].append(("configure", link.to))
        elif link.kind == "records" and site.policy.passwords == "family":
            if site.family_of(site.device_by_key[link.from_]) == "camera":
                waits[link.from_].append(("activate", link.to))
    return {key: list(dict.fromkeys(pairs)) for key, pairs in waits.items()}


def _follows_panel(site: Site, link: Link) -> bool:
    """Return whether a link names the primary panel of a secondary one: the primary comes first."""
    ends = (site.device_by_key[link.from_], site.device_by_key[link.to])
    return link.kind == "manages" and all(site.family_of(device) == "panel" for device in ends)


def waits_that_can_be_met(site: Site) -> tuple[dict[str, list[tuple[str, str]]], list[Problem]]:
    """Return who waits for whom without the circles, in which nothing could ever be finished, and a word on those."""
    waits = waits_for(site)
    circle = {
        key for keys in circles({key: [other for _, other in pairs] for key, pairs in waits.items()}) for key in keys
    }
    if not circle:
        return waits, []
    names = listed([device.label for device in site.devices if device.key in circle])
    stuck = problem(
        "run.circle",
        sorted(circle),
        f"{names} wait for each other, so none of them can be finished first.",
        "Remove one of the links between them.",
        level="error",
    )
    met = {key: [pair for pair in pairs if not (key in circle and pair[1] in circle)] for key, pairs in waits.items()}
    return met, [stuck]
