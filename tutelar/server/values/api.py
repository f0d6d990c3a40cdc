"""The API of what is typed: values, ticks, secrets, clocks, ports, choices, and the page of one device."""

from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from django.utils.cache import add_never_cache_headers
from ninja import Body, Router, Status

from tutelar.server.http import REFUSED, WRITE, who
from tutelar.server.rights import DECIDE, REVEAL, SEE, WORK
from tutelar.server.schemas import ApiError, Revised
from tutelar.server.secrets import services as secrets_services
from tutelar.server.store import lookup
from tutelar.server.values import row_schemas as values
from tutelar.server.values import schemas as shapes
from tutelar.server.values import services, views
from tutelar.server.values.row_schemas import Judged, Revealed

router = Router(tags=["settings"])
SEEN = {404: ApiError}
SECRET = WRITE | {429: ApiError, 503: ApiError}


@router.post("/{key}/tellings", response={204: None, **REFUSED}, auth=WORK, operation_id="told")
def told(request: HttpRequest, key: str, told: values.Told) -> Any:
    """Tick that a device was told of a partner's changed value."""
    secrets_services.told(key, told.tellings, who(request))
    return Status(204, None)


@router.get("/{key}/secrets", response={200: shapes.Secrets, **SEEN}, auth=SEE, operation_id="secrets")
def secrets(request: HttpRequest, key: str) -> Any:
    """Return what is kept of every device's passwords and codes, never one of them."""
    return views.secrets(lookup.site_row(key))


@router.post(
    "/{key}/secrets/policy", response={200: Revised, **WRITE}, auth=DECIDE, operation_id="choose_password_policy"
)
def choose_password_policy(request: HttpRequest, key: str, policy: shapes.PasswordPolicy) -> Any:
    """Choose one administrator password a device, or one a family."""
    return services.choose_password_policy(key, who(request), policy.revision, policy.password_policy)


@router.post(
    "/{key}/secrets/make", response={200: values.Made, **SECRET, **WRITE}, auth=WORK, operation_id="make_secrets"
)
def make_secrets(request: HttpRequest, key: str, wanted: values.MakeMissing) -> Any:
    """Make every missing password and code that can be made, of one device or of all."""
    made, told = secrets_services.make_missing(key, who(request), wanted.device)
    return values.Made(made=made, told=told)


@router.put(
    "/{key}/devices/{device}/secrets/{slot}",
    response={204: None, **SECRET, **WRITE},
    auth=WORK,
    operation_id="set_secret",
)
def set_secret(request: HttpRequest, key: str, device: str, slot: str, fresh: values.NewSecret) -> Any:
    """Keep a typed secret, or make one; it must satisfy the rules of all that share it."""
    secrets_services.set_secret(key, device, slot, who(request), fresh.version, fresh.secret, fresh.reason)
    return Status(204, None)


@router.post(
    "/{key}/devices/{device}/secrets/{slot}/open",
    response={204: None, **WRITE},
    auth=WORK,
    operation_id="leave_slot_open",
)
def leave_slot_open(request: HttpRequest, key: str, device: str, slot: str, left: values.LeftEmpty) -> Any:
    """Leave a slot empty that only people can fill, with a reason."""
    secrets_services.leave_open(key, device, slot, who(request), left.reason, everywhere=left.everywhere)
    return Status(204, None)


@router.delete(
    "/{key}/devices/{device}/secrets/{slot}", response={204: None, **REFUSED}, auth=DECIDE, operation_id="forget_secret"
)
def forget_secret(request: HttpRequest, key: str, device: str, slot: str) -> Any:
    """Forget what is kept in a slot."""
    secrets_services.forget(key, device, slot, who(request))
    return Status(204, None)


@router.post(
    "/{key}/devices/{device}/secrets/{slot}/check",
    response={200: values.Judged, **REFUSED},
    auth=WORK,
    operation_id="check_secret",
)
def check_secret(request: HttpRequest, key: str, device: str, slot: str, candidate: values.Candidate) -> Any:
    """Return whether a secret fits its slot, and how long it would hold; it is not kept."""
    fails, found = secrets_services.check_secret(key, device, slot, candidate.secret)
    return Judged(
        fails=fails,
        weak=found is not None and found.weak,
        score=found.score if found else None,
        strength=found.sentence if found else None,
        helps=list(found.helps) if found else [],
    )


@router.post(
    "/{key}/devices/{device}/secrets/{slot}/reveal",
    response={200: values.Revealed, **SECRET},
    auth=REVEAL,
    operation_id="reveal",
)
def reveal(
    request: HttpRequest,
    response: HttpResponse,
    key: str,
    device: str,
    slot: str,
    look: Annotated[values.Look | None, Body()] = None,
) -> Any:
    """Return a secret to who has to type it; each look is logged, with its reason."""
    add_never_cache_headers(response)
    secret, typing = secrets_services.reveal(key, device, slot, who(request), look.reason if look else "")
    return Revealed(secret=secret, presses=list(typing.presses) if typing else None)


@router.post("/{key}/devices/{device}/tries", response={204: None, **REFUSED}, auth=WORK, operation_id="count_try")
def count_try(request: HttpRequest, key: str, device: str, said: values.Taken) -> Any:
    """Count a refused or a taken login, so that nobody runs into the lock-out."""
    secrets_services.count_refused(key, device, who(request), taken=said.taken)
    return Status(204, None)


@router.get("/{key}/clocks", response={200: shapes.Clocks, **SEEN}, auth=SEE, operation_id="clocks")
def clocks(request: HttpRequest, key: str) -> Any:
    """Return the site's time and each device's clock."""
    return views.clocks(lookup.site_row(key))


@router.post(
    "/{key}/devices/{device}/clock", response={200: shapes.Finding, **REFUSED}, auth=WORK, operation_id="clock_shown"
)
def clock_shown(request: HttpRequest, key: str, device: str, look: shapes.ClockShown) -> Any:
    """Keep what a device's clock showed, and return what is wrong with it."""
    found = services.clock_shown(key, device, look.shown, look.ago_s, who(request), keep=look.keep)
    return shapes.Finding(offset_s=found.offset_s, finding=found.finding, message=found.message)


@router.get("/{key}/ports", response={200: shapes.Ports, **SEEN}, auth=SEE, operation_id="ports")
def ports(request: HttpRequest, key: str) -> Any:
    """Return the ports of every device and what is forwarded from outside."""
    return views.ports(lookup.site_row(key))


@router.put("/{key}/devices/{device}/ports", response={200: Revised, **WRITE}, auth=WORK, operation_id="change_ports")
def change_ports(request: HttpRequest, key: str, device: str, fresh: shapes.NewPorts) -> Any:
    """Change ports of one device; who has them typed in is to be told."""
    return services.change_ports(key, device, who(request), fresh.revision, fresh.ports)


@router.post("/{key}/forwards", response={201: Revised, **WRITE}, auth=DECIDE, operation_id="decide_forward")
def decide_forward(request: HttpRequest, key: str, forward: shapes.NewForward) -> Any:
    """Keep the decision to forward a port, with its reason and who took it."""
    part = forward.model_dump(exclude={"revision"})
    return Status(201, services.decide_forward(key, who(request), forward.revision, part))


@router.delete("/{key}/forwards/{outside}", response={200: Revised, **WRITE}, auth=DECIDE, operation_id="drop_forward")
def drop_forward(request: HttpRequest, key: str, outside: int, revision: int) -> Any:
    """Drop the forwarding of a port."""
    return services.drop_forward(key, who(request), revision, outside)


@router.get("/{key}/choices", response={200: shapes.Choices, **SEEN}, auth=SEE, operation_id="choices")
def choices(request: HttpRequest, key: str) -> Any:
    """Return the settings on which schools differ, and the site's own word."""
    return views.choices(lookup.site_row(key))


@router.put("/{key}/choices", response={200: Revised, **WRITE}, auth=WORK, operation_id="choose")
def choose(request: HttpRequest, key: str, choice: shapes.Choice) -> Any:
    """Keep the site's own word for a setting of a family."""
    return services.choose(key, who(request), choice.revision, choice.family, choice.setting, choice.value)


@router.put("/{key}/choices/stream", response={200: Revised, **WRITE}, auth=WORK, operation_id="choose_stream")
def choose_stream(request: HttpRequest, key: str, choice: shapes.StreamWanted) -> Any:
    """Keep what the site sets of a family's stream in numbers."""
    numbers = choice.model_dump(exclude={"revision", "family", "setting"})
    return services.choose_stream(key, who(request), choice.revision, choice.family, choice.setting, numbers)
