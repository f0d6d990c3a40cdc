"""Values that one end types of the other: its port where it is not the usual one, its account, its password."""

from tutelar.core.line import Line
from tutelar.core.links.base import ResolvedLink, login_slot
from tutelar.core.site.types import Device, Site

USUAL_PORTS = {"web": 80, "web-tls": 443, "stream": 554, "signalling": 5060, "signalling-tls": 5061}
_SLOT_WORDS = {
    "login": "login for recorders and desks",
    "administrator": "administrator password",
    "registration": "registration password of stations",
}
_USERS = {"login": "viewer"}


def entry_key(case: ResolvedLink) -> str:
    """Return the key of what one end has of the other: each channel of an encoder is an entry of its own."""
    other = case.held.key if case.held is not None else case.link.to
    return f"partner-{case.link.kind}-{other}{'' if case.link.slot is None else f'-{case.link.slot}'}"


def account(case: ResolvedLink) -> str:
    """Return the user that the holder of a link logs in as."""
    if case.held is None:
        return "admin"
    slot = login_slot(case.site, case.held)
    if slot in _USERS:
        return _USERS[slot]
    return administrator_of(case.site, case.held)


def administrator_of(site: Site, device: Device) -> str:
    """Return the user that the administrator of a device logs in as."""
    model = site.model_of(device)
    return (model.factory.user if model and model.factory else None) or "admin"


def address_line(case: ResolvedLink, what: str, why: str) -> list[Line]:
    """Return the other's address, [] where it has none yet."""
    at = case.address(case.held) if case.held is not None else case.link.at
    return [Line(entry_key(case), what, at, why)] if at else []


def port_lines(case: ResolvedLink, what: str) -> list[Line]:
    """Return the port to type where it is not the one that everybody expects."""
    found = case.port()
    if found is None or USUAL_PORTS.get(found[0]) == found[1]:
        return []
    return [Line(f"{entry_key(case)}-port", f"{what}, port", str(found[1]), f"Its {found[0]} port; not the usual one.")]


def login_lines(case: ResolvedLink, what: str) -> list[Line]:
    """Return user and password of the other device."""
    if case.held is None:
        return []
    user = Line(
        f"{entry_key(case)}-user",
        f"{what}, user",
        account(case),
        "An account with limited rights where the device has one.",
    )
    return [user, secret_line(case, what, login_slot(case.site, case.held))]


def secret_line(case: ResolvedLink, what: str, slot: str) -> Line:
    """Return the other device's secret as a value to type."""
    held = case.held
    name, owner = (held.label, held.key) if held is not None else (case.to, "")
    why = f"{_SLOT_WORDS[slot].capitalize()} of {name}."
    return Line(f"{entry_key(case)}-{slot}", f"{what}, password", "", why, slot=slot, owner=owner)


def own_account(case: ResolvedLink) -> list[Line]:
    """Return what has to be on the device that is logged in to: lines of its own settings, under their own keys."""
    held = case.held
    if held is None:
        return []
    slot = login_slot(case.site, held)
    found = (
        [Line("login-user", "User for recorders and desks", "viewer", "An account of its own.")]
        if slot == "login"
        else []
    )
    return [
        *found,
        Line(slot, _SLOT_WORDS[slot].capitalize(), "", "What the others log in with.", slot=slot, owner=held.key),
    ]
