"""The result of planning: which address each device has, with everything that is typed beside it."""

from dataclasses import dataclass
from typing import Any, Literal, NamedTuple

from tutelar.core.problems import Problem

Source = Literal["locked", "kept", "planned"]


class Assignment(NamedTuple):
    """The address of one device with everything that is typed beside it, and one sentence why."""

    device: str
    network: str
    address: str
    prefix: int
    gateway: str | None
    dns: tuple[str, ...]
    source: Source
    why: str

    def as_dict(self) -> dict[str, Any]:
        """Return the assignment as the contract prints it."""
        return self._asdict() | {"dns": list(self.dns)}


@dataclass(frozen=True)
class Plan:
    """The result of planning: assignments in the order of the file, room per network, and every problem."""

    assignments: tuple[Assignment, ...]
    networks: tuple[dict[str, Any], ...]
    problems: tuple[Problem, ...]

    def as_dict(self) -> dict[str, Any]:
        """Return the plan as the contract prints it."""
        return {
            "assignments": [item.as_dict() for item in self.assignments],
            "networks": list(self.networks),
            "problems": [item.as_dict() for item in self.problems],
        }

    def addresses(self) -> dict[str, str]:
        """Return the address of each device by its key."""
        return {item.device: item.address for item in self.assignments}
