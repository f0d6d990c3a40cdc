"""Measuring on a machine that may be held up: what was measured across a stop tells nothing and is measured again."""

import asyncio
import time
from collections.abc import Awaitable, Callable
from contextlib import suppress
from typing import TypeVar

T = TypeVar("T")
TRIES, LOOK_S = 4, 0.02


async def undisturbed(measure: Callable[[], Awaitable[T]], timeout_s: float) -> T:
    """Return what `measure` returns, from the first of a few tries during which nothing stood still for half of a
    probe's time-out; from the last where none was."""
    for _ in range(TRIES):
        worst = 0.0

        async def watch() -> None:
            nonlocal worst
            while True:
                before = time.monotonic()
                await asyncio.sleep(LOOK_S)
                worst = max(worst, time.monotonic() - before - LOOK_S)

        watching = asyncio.create_task(watch())
        found = await measure()
        watching.cancel()
        with suppress(asyncio.CancelledError):
            await watching
        if worst < timeout_s / 2:
            break
    return found
