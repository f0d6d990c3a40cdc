"""What a device tells whoever logs in to its own page: address settings, remote access, channels, registration.

Everything may be missing or wrong; what cannot be understood is as if it had not been said.
"""

from collections.abc import Callable
from typing import Any, TypeVar

from tutelar.core.proof import ChannelSeen, DiskSeen, LoginAnswer, ReportedState
from tutelar.field.guard import Guard
from tutelar.field.http import HttpAnswer, Page, get_as, text_or_none
from tutelar.field.login import Account

_MOST_CHANNELS = 1024
_MOST_DISKS = 256
_LONGEST_DAY = 2_000


async def state(
    guard: Guard,
    address: str,
    port: int,
    account: Account,
    asks: list[str],
    *,
    secure: bool = False,
    timeout_s: float = 3.0,
    reached: Callable[[int], int] = lambda port: port,
) -> tuple[LoginAnswer | None, ReportedState | None, HttpAnswer]:
    """Return what became of the login (None: the page knows none), what was told, and the answer; `asks` as for
    `get_as`. Raises as `get`."""
    page = Page(port, "/state", secure)
    said = await get_as(guard, address, page, account, asks, timeout_s=timeout_s, reached=reached)
    if said.status in (401, 403, 423):
        return ("refused" if said.status == 401 else "locked"), None, said
    if said.status != 200:
        return None, None, said
    told = said.json()
    return "taken", None if told is None else _told(told), said


def _told(page: dict[str, Any]) -> ReportedState:
    network = page.get("network") if isinstance(page.get("network"), dict) else {}
    assert isinstance(network, dict)
    dns = network.get("dns")
    home = page.get("registered")
    return ReportedState(
        prefix=_whole(network.get("prefix"), 32),
        gateway=text_or_none(network.get("gateway")),
        dns=tuple(item[:64] for item in dns if isinstance(item, str))[:8] if isinstance(dns, list) else None,
        relay=text_or_none(page.get("relay")),
        registered=_registered(home) if isinstance(home, dict) else None,
        disk=text_or_none(page.get("disk")),
        channels=_channels(page.get("channels")),
        disks=_disks(page.get("disks")),
        paths=_states(page.get("paths"), "name", text_or_none),
        inputs=_states(page.get("inputs"), "number", lambda value: _whole(value, 1_000_000)),
    )


def _whole(value: object, most: int) -> int | None:
    return value if type(value) is int and 0 <= value <= most else None


def _registered(home: dict[str, Any]) -> tuple[int | None, str] | None:
    said = text_or_none(home.get("state"))
    return None if said is None else (_whole(home.get("number"), 1_000_000), said)


def _channels(rows: object) -> tuple[ChannelSeen, ...] | None:
    if not isinstance(rows, list):
        return None
    found = []
    for row in rows[:_MOST_CHANNELS]:
        if not isinstance(row, dict):
            continue
        number, source = _whole(row.get("number"), 1_000_000), text_or_none(row.get("source"))
        shown = text_or_none(row.get("state"))
        if number is not None and source is not None and shown is not None:
            found.append(
                ChannelSeen(
                    number,
                    source,
                    shown,
                    row.get("recording") is True,
                    _figure(row.get("newest_s")),
                    text_or_none(row.get("mode")),
                    _week(row.get("week")),
                )
            )
    return tuple(found)


def _week(days: object) -> str | None:
    """Return the days of a week that a channel is set to as one line."""
    if not isinstance(days, list) or not all(isinstance(day, str) and len(day) <= _LONGEST_DAY for day in days):
        return None
    return "|".join(days[:7])


def _disks(rows: object) -> tuple[DiskSeen, ...] | None:
    if not isinstance(rows, list):
        return None
    found = []
    for row in rows[:_MOST_DISKS]:
        if not isinstance(row, dict):
            continue
        bay, size, shown = _whole(row.get("bay"), 1_000), _figure(row.get("tb")), text_or_none(row.get("state"))
        if bay is not None and size is not None and shown is not None:
            found.append(DiskSeen(bay, size, shown))
    return tuple(found)


def _figure(value: object) -> float | None:
    return float(value) if type(value) in (int, float) and -1 <= value <= 1e9 else None  # type: ignore[arg-type,operator]


_Key = TypeVar("_Key")


def _states(rows: object, name: str, key: Callable[[object], _Key | None]) -> dict[_Key, str] | None:
    """Return the state by its key of each row that has both."""
    if not isinstance(rows, list):
        return None
    found = {}
    for row in rows[:_MOST_CHANNELS]:
        if isinstance(row, dict):
            at, state = key(row.get(name)), text_or_none(row.get("state"))
            if at is not None and state is not None:
                found[at] = state
    return found
