"""Which of many devices reach which: ends that stand alike are asked once.

Two devices of one network with its own mask and gateway, named by no rule of IT apart, reach the same and are reached
by the same; what is set otherwise stands for itself.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property

from tutelar.core.reach.ends import End, Ends
from tutelar.core.reach.walk import Reason, reach


@dataclass(frozen=True)
class Matrix:
    """The class of each device, and for each pair of classes why the one does not reach the other (None: it does)."""

    class_of: Mapping[str, int]
    verdicts: tuple[tuple[Reason | None, ...], ...]

    def reason(self, start: str, goal: str) -> Reason | None:
        """Return why a device does not reach another on its usual port, None where it does; the place is that of a
        device that stands like this one."""
        return self.verdicts[self.class_of[start]][self.class_of[goal]]

    def reached(self, start: str) -> list[str]:
        """Return the devices that a device reaches, class by class."""
        row = self.verdicts[self.class_of[start]]
        return [key for members, reason in zip(self._members, row, strict=True) if reason is None for key in members]

    @cached_property
    def _members(self) -> list[list[str]]:
        found: list[list[str]] = [[] for _ in self.verdicts]
        for key, number in self.class_of.items():
            found[number].append(key)
        return found


def matrix(ends: Ends, keys: Iterable[str], port_of: Mapping[str, int]) -> Matrix:
    """Return which of these devices reach which, each on its port in `port_of`."""
    routing = ends.site.routing
    named = {end for rule in (routing.rules if routing is not None else ()) for end in (rule.from_, rule.to)}
    numbers: dict[tuple[object, ...], int] = {}
    first: list[tuple[str, str]] = []  # of each class two members, where there are two: one asks the other
    class_of: dict[str, int] = {}
    for key in keys:
        stands = (*_stands(ends, ends.of(key), named), port_of.get(key))
        number = numbers.setdefault(stands, len(numbers))
        if number == len(first):
            first.append((key, key))
        elif first[number][0] == first[number][1]:
            first[number] = (first[number][0], key)
        class_of[key] = number
    verdicts = tuple(
        tuple(
            reach(ends, one[0], other[1] if one is other else other[0], port_of.get(other[0], 0)).reason
            for other in first
        )
        for one in first
    )
    return Matrix(class_of, verdicts)


def _stands(ends: Ends, end: End, named: set[str]) -> tuple[object, ...]:
    """Return all by which an end differs from others for whoever asks or is asked."""
    network = ends.site.network_by_key.get(end.ground)
    usual = network is not None and end.address is not None and end.prefix == network.cidr.prefixlen
    if network is None or not usual or end.key in named or end.address not in network.cidr:
        return (end.key,)
    model = end.device.model if end.device is not None else None
    services = end.device.services if end.device is not None else None
    holds = bool(end.device is not None and ends.hides(end.key))
    return (
        end.ground,
        end.gateway,
        model,
        None if services is None else tuple(services.items()),
        end.key if holds else None,
    )
