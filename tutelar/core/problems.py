"""What is wrong, said once, the same way everywhere."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

Level = Literal["error", "warning", "note"]

# error: cannot work as written. warning: works and will bite. Whatever is not listed is a note.
_ERRORS = frozenset(
    """address.outside address.network address.broadcast address.gateway address.dns address.reserved
    address.in-pool address.duplicate network.full network.gateway-outside network.overlap mac.duplicate
    mac.invalid link.slot-taken link.unknown-device device.no-network recorder.over-capacity key.duplicate
    range.backward device.unknown-model device.unknown-network device.unknown-recorder device.unknown-supply
    device.not-a-recorder device.behind-itself device.two-homes reading.unknown-device run.circle port.clash
    port.outside-twice port.router-own port.blocked forward.not-reachable forward.unknown-device
    forward.unknown-service exception.unknown-device exception.egress
    exception.factory-login
    recording.overlap recording.past-midnight recording.backwards recording.too-many-periods recording.unknown
    recording.raid-disks recording.too-many-disks recording.no-disk recording.audio-forbidden
    uplink.circle cable.drop supply.too-short panel.locks-over
    card.too-large card.bits-differ card.twice frame.overlap frame.backwards
    door.relay-sense door.number-taken door.too-many
    link.itself link.circle link.two-primaries device.camera-port access.unknown""".split()  # noqa: SIM905
)
_WARNINGS = frozenset(
    """address.factory-clash network.pool-outside network.reserved-outside pool.overlaps-reserved serial.duplicate
    name.duplicate name.too-long name.charset device.leased-but-linked link.no-slot link.not-reachable
    link.wrong-family switch.over-budget switch.port-taken device.unknown-place pool.holds-gateway
    run.lease-missing run.ports forward.administration forward.undecided number.taken paging.zone
    ring.too-short mac.eleven-digits device.indoor-outside exception.unknown-check policy.left-out
    stream.beyond-model recording.gap recording.too-small recording.audio-undecided switch.no-margin uplink.over
    cable.too-long supply.over access.not-sent door.escape-fail-secure door.no-exit""".split()  # noqa: SIM905
)
_RANK = {"error": 0, "warning": 1, "note": 2}


@dataclass(frozen=True, slots=True)
class Problem:
    """One thing that is wrong: a code, the keys it concerns, one sentence that names the values, and a fix or None.

    `move` is (device key, address) where the fix is to give that device that address.
    """

    code: str
    level: Level
    subjects: tuple[str, ...]
    message: str
    fix: str | None = None
    move: tuple[str, str] | None = None

    def as_dict(self) -> dict[str, Any]:
        """Return the problem as the contract prints it."""
        return {
            "code": self.code,
            "level": self.level,
            "subjects": list(self.subjects),
            "message": self.message,
            "fix": self.fix,
        }


def problem(
    code: str,
    subjects: Iterable[str],
    message: str,
    fix: str | None = None,
    level: Level | None = None,
    move: tuple[str, str] | None = None,
) -> Problem:
    """Return a problem with the level that belongs to its code, unless the case asks for another."""
    usual: Level = "error" if code in _ERRORS else "warning" if code in _WARNINGS else "note"
    return Problem(code, level or usual, tuple(subjects), message, fix, move)


def in_order(problems: Iterable[Problem]) -> list[Problem]:
    """Return the problems with the errors first, then warnings, then notes; otherwise as they came, each once."""
    return sorted(dict.fromkeys(problems), key=lambda item: _RANK[item.level])


def has_errors(problems: Iterable[Problem]) -> bool:
    """Return whether any of the problems keeps the site from working as written."""
    return any(item.level == "error" for item in problems)
