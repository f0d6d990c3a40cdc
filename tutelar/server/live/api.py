"""The API of live work: who answers for it."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from tutelar.server.http import REFUSED, WRITE, who
from tutelar.server.live import services
from tutelar.server.live.schemas import NewAuthority
from tutelar.server.rights import LEADING, WORK

router = Router(tags=["live"])


@router.put("/{key}/authority", response={204: None, **WRITE}, auth=LEADING, operation_id="confirm_authority")
def confirm_authority(request: HttpRequest, key: str, given: NewAuthority) -> Any:
    """Keep who answers for testing which real networks."""
    services.confirm_authority(key, who(request), given.person)
    return Status(204, None)


@router.delete("/{key}/authority", response={204: None, **REFUSED}, auth=WORK, operation_id="withdraw_authority")
def withdraw_authority(request: HttpRequest, key: str) -> Any:
    """End that: no real device is asked any more."""
    services.withdraw_authority(key, who(request))
    return Status(204, None)
