"""Doing something at a door of the pretend panel, as somebody standing there would."""

from collections.abc import Callable

from tutelar.field.guard import Guard
from tutelar.field.http import Page, ProtocolError, get_as, text_or_none
from tutelar.field.login import Account


async def try_door(
    guard: Guard,
    address: str,
    port: int,
    account: Account,
    number: int,
    does: str,
    *,
    secure: bool = False,
    reached: Callable[[int], int] = lambda port: port,
) -> str:
    """Return in words what is seen when something is done at a door of a panel. Raises ProtocolError where the panel
    refuses the login or tells nothing, and as `get`."""
    page = Page(port, f"/doors/{number}/{does}", secure)
    said = await get_as(guard, address, page, account, [], reached=reached)
    if said.status in (401, 403, 423):
        raise ProtocolError("the panel refuses the login")
    told = said.json() if said.status == 200 else None
    seen = text_or_none(told.get("seen")) if told is not None else None
    if seen is None:
        raise ProtocolError(f"the panel does not tell of door {number} (status {said.status})")
    return seen
