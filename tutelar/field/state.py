"""What a device tells whoever logs in to its own page: address settings, remote access, channels, registration.

Everything may be missing or wrong; what cannot be understood is as if it had not been said.
"""

import ssl
from typing import Any

from tutelar.core.proof import ChannelSeen, LoginAnswer, Told
from tutelar.field.guard import Guard
from tutelar.field.http import get_as, text_or_none
from tutelar.field.login import Account

_MOST_CHANNELS = 1024


async def state(
    guard: Guard,
    address: str,
    port: int,
    account: Account,
    asks: list[str],
    *,
    timeout_s: float = 3.0,
    tls: ssl.SSLContext | None = None,
) -> tuple[LoginAnswer | None, Told | None]:
    """Return what became of the login (None: the page knows none), and what was told; `asks` as for `get_as`.

    Raises as `get`.
    """
    said = await get_as(guard, address, port, "/state", account, asks, timeout_s=timeout_s, tls=tls)
    if said.status in (401, 403, 423):
        return ("refused" if said.status == 401 else "locked"), None
    if said.status != 200:
        return None, None
    told = said.json()
    return "taken", None if told is None else _told(told)


def _told(page: dict[str, Any]) -> Told:
    network = page.get("network") if isinstance(page.get("network"), dict) else {}
    assert isinstance(network, dict)
    dns = network.get("dns")
    home = page.get("registered")
    return Told(
        prefix=_whole(network.get("prefix"), 32),
        gateway=text_or_none(network.get("gateway")),
        dns=tuple(item[:64] for item in dns if isinstance(item, str))[:8] if isinstance(dns, list) else None,
        relay=text_or_none(page.get("relay")),
        registered=_registered(home) if isinstance(home, dict) else None,
        disk=text_or_none(page.get("disk")),
        channels=_channels(page.get("channels")),
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
            found.append(ChannelSeen(number, source, shown, row.get("recording") is True))
    return tuple(found)
