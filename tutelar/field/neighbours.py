"""The laptop's own neighbour table: which hardware address answers for an address on the same network."""

import asyncio
import contextlib
import time
from collections.abc import Awaitable, Callable, Mapping
from pathlib import Path

from tutelar.core.site.values import mac_or_none
from tutelar.field.tables import read_table

_LINUX = Path("/proc/net/arp")
_WAIT_S = 3.0
_MOST = 1_000_000
Neighbours = Callable[[str], Awaitable[str | None]]


async def laptop_table(linux: Path = _LINUX) -> str:
    """Return the table as the machine prints it, "" where it cannot be had. Nothing is sent for it, no name is
    looked up."""
    with contextlib.suppress(OSError):
        return (await asyncio.to_thread(linux.read_text))[:_MOST]
    with contextlib.suppress(OSError, TimeoutError):
        asked = await asyncio.create_subprocess_exec("arp", "-an", stdout=asyncio.subprocess.PIPE)
        async with asyncio.timeout(_WAIT_S):
            return (await asked.communicate())[0][:_MOST].decode("utf-8", "replace")
    return ""


def hardware_by_address(text: str) -> dict[str, str]:
    """Return the hardware address by address of a table's lines; an entry without an answer is none."""
    found = {}
    for item in read_table(text)[1]:
        mac = mac_or_none(item.mac)
        if mac is not None and mac != "00:00:00:00:00:00":
            found[item.address] = mac
    return found


class LaptopTable:
    """Looks up addresses in the laptop's table, which knows a device only once it was talked to: read again after
    `keep_s`."""

    def __init__(self, read: Callable[[], Awaitable[str]] = laptop_table, keep_s: float = 0.5) -> None:
        self._read, self._keep_s = read, keep_s
        self._known: dict[str, str] = {}
        self._at = float("-inf")

    async def __call__(self, address: str) -> str | None:
        if address not in self._known and time.monotonic() - self._at > self._keep_s:
            self._at = time.monotonic()
            self._known = hardware_by_address(await self._read())
        return self._known.get(address)


def known(table: Mapping[str, str]) -> Neighbours:
    """Return the look-up of a table that does not change."""

    async def look(address: str) -> str | None:
        return table.get(address)

    return look
