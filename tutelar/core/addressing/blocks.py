"""Where in a network each family gets its block: readable starts, room to grow, less of both when space is short."""

from math import ceil

from tutelar.core.addressing.ranges import Span

ORDER = (
    "router",
    "switch",
    "injector",
    "recorder",
    "software-recorder",
    "encoder",
    "call-server",
    "joystick-desk",
    "door-station",
    "doorbell",
    "indoor-monitor",
    "panel",
    "reader",
    "keypad",
    "alarm-hub",
    "other",
    "camera",
)
FAMILY_RANK = {family: rank for rank, family in enumerate(ORDER)}
_MANY = 10  # from this number on a family deserves a start at .1, .101 or .201


def lay_blocks(free: list[Span], wanted: list[tuple[str, int]], growth: float, prefix: int) -> dict[str, Span]:
    """Return a contiguous block for each (family, number of new devices), in ascending order.

    Tried from generous to tight: blocks that start at .x1 (large families at .1, .101 or .201) with room to
    grow; at .x1 with growth; at .x1 without; directly one after the other. {} where none of these fits.
    """
    attempts = [(_hundreds, growth), (_decades, growth), (_decades, 0.0), (_anywhere, 0.0)]
    for start_at, extra in attempts if prefix <= 25 else [(_anywhere, growth), (_anywhere, 0.0)]:
        found: dict[str, Span] = {}
        cursor = 0
        for family, number in wanted:
            room = number + ceil(number * extra)
            start = _find(free, cursor, room, start_at, number)
            if start is None:
                break
            found[family] = (start, start + room - 1)
            cursor = start + room
        else:
            return found
    return {}


def _find(free: list[Span], cursor: int, room: int, start_at, number: int) -> int | None:  # type: ignore[no-untyped-def]
    for first, last in free:
        if last < cursor:
            continue
        start: int = start_at(max(first, cursor), number)
        if start + room - 1 <= last:
            return start
    return None


def _anywhere(lowest: int, number: int) -> int:
    return lowest


def _decades(lowest: int, number: int) -> int:
    """Return the first address from `lowest` on whose last number ends in 1."""
    octet = lowest & 255
    start = lowest + (1 - octet) % 10
    return start if start >> 8 == lowest >> 8 else (lowest | 255) + 2


def _hundreds(lowest: int, number: int) -> int:
    if number < _MANY:
        return _decades(lowest, number)
    octet = lowest & 255
    for base in (1, 101, 201):
        if octet <= base:
            return lowest - octet + base
    return (lowest | 255) + 2
