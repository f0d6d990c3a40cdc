"""The slots of a device: which passwords and codes it has, which devices share one, and who logs in with it.

Two schools (docs/sources.md, passwords): one password a device; or one a family and site, because a
recorder hands its own password to the cameras that it activates. Accounts of the customer and of other devices
are not administrators: they view, move and talk, but do not create accounts or change the network.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from tutelar.core.credentials.rules import Rule, Shared, shared_rule
from tutelar.core.links.base import LIMITED_LOGINS, login_slot
from tutelar.core.links.holding import TypedIn, holder_of, logs_in
from tutelar.core.site.base import RECORDERS
from tutelar.core.site.types import Device, Link, Site

_PICTURES = frozenset({"camera", "encoder"})
_NO_LOGIN = frozenset({"reader", "injector"})
LIMITED = "View, move, talk; no accounts, no network settings"


@dataclass(frozen=True, slots=True)
class Slot:
    """A kind of secret that a device may hold; `user` is the name to log in with, `limited` an account with few
    rights, `kind` says how it is typed: a password, a code of digits, or an e-mail address; `short` stands in lists."""

    key: str
    title: str
    short: str
    why: str
    kind: Literal["password", "code", "address"] = "password"
    user: str | None = None
    limited: bool = False

    @property
    def makeable(self) -> bool:
        """Whether one can be drawn; an address is somebody's."""
        return self.kind != "address"

    def undecided(self, *, kept: bool, said: bool) -> bool:
        """Return whether somebody has to fill it, or to say why it stays empty: nothing is kept and nothing said."""
        return not self.makeable and not kept and not said


SLOTS = {
    slot.key: slot
    for slot in (
        Slot(
            "administrator",
            "Administrator password",
            "administrator",
            "Set at first contact; nobody works with it day by day.",
        ),
        Slot(
            "operator",
            "Operator password for the customer",
            "operator",
            f"What the customer's people log in with. {LIMITED}.",
            user="operator",
            limited=True,
        ),
        Slot(
            "login",
            "Login for recorders and desks",
            "login for recorders",
            f"What recorders, monitors and desks log in with. {LIMITED}.",
            user="viewer",
            limited=True,
        ),
        Slot(
            "registration",
            "Registration password of stations",
            "registration",
            "Every monitor and further station that registers here types it.",
        ),
        Slot(
            "relay-code",
            "Relay code of the door",
            "relay code",
            "Typed on a monitor or phone to open. Whoever knows it opens the door.",
            kind="code",
        ),
        Slot(
            "remote-code",
            "Registration code for remote access",
            "registration code",
            "Chosen in the device, asked for when it is registered in the customer's account; not a row of digits.",
        ),
        Slot(
            "recovery",
            "Recovery address",
            "recovery address",
            "Where the device sends what resets a lost password; an address of the customer, not of the installer.",
            kind="address",
        ),
    )
}
_OPERATORS = RECORDERS | {"panel", "alarm-hub", "call-server"}
_DOORS = frozenset({"door-station", "panel"})


def slots_of(site: Site, device: Device) -> tuple[Slot, ...]:
    """Return the slots of a device in the order in which they are set, () where it has no login."""
    family = site.family_of(device)
    if family in _NO_LOGIN:
        return ()
    keys = ["administrator", "recovery"]
    keys += ["operator"] if family in _OPERATORS else []
    keys += ["login"] if family in LIMITED_LOGINS else []
    keys += ["registration"] if _registrants(site, device) else []
    keys += ["relay-code"] if family in _DOORS else []
    keys += ["remote-code"] if any(link.kind == "relays" for link in site.links_of(device.key)) else []
    return tuple(SLOTS[key] for key in keys)


def holders(site: Site, device: Device, slot: str) -> tuple[Device, ...]:
    """Return the devices that have the secret of this slot in common, the device among them, in walking order.

    Under the school "family" these are the administrators of a family; cameras and encoders that a recorder
    records share one with the recorders.
    """
    if slot != "administrator" or site.policy.passwords == "device":
        return (device,)
    families = _family_group(site, site.family_of(device))
    return tuple(site.walking_order([item for item in site.devices if site.family_of(item) in families]))


def _family_group(site: Site, family: str) -> frozenset[str]:
    """Return the families that share one password with this one: those that recording links tie together."""
    together = _PICTURES | RECORDERS
    if family not in together:
        return frozenset({family})
    by_key = site.device_by_key
    tied = {
        site.family_of(by_key[end])
        for link in site.links
        if link.kind == "records"
        for end in (link.from_, link.to)
        if end in by_key
    } & together
    return frozenset(tied) if family in tied else frozenset({family})


def logins_with(site: Site, device: Device, slot: str) -> tuple[TypedIn, ...]:
    """Return the other devices that have this device's secret typed in, each once, in the order of the links.

    Recorders, monitors and desks log in with the slot "login"; under the school "family" with the administrator's.
    """
    found: dict[str, TypedIn] = {}
    if slot in ("login", login_slot(site, device)):
        for link in site.links_of(device.key):
            does = logs_in(site, link)
            holder = holder_of(site, link, device) if does else None
            if holder is not None:
                slotted = f" on channel {link.slot}" if link.kind == "records" and link.slot is not None else ""
                why = f"{does} {device.label}{slotted}"
                found.setdefault(holder.key, TypedIn(holder.key, why))
    if slot == "registration":
        for link in _registrants(site, device):
            found.setdefault(link.from_, TypedIn(link.from_, f"registers at {device.label}"))
    if slot == "relay-code":
        for link in site.links_of(device.key):
            if link.kind in ("registers-at", "extends", "calls", "shows-on"):
                other = link.to if link.from_ == device.key else link.from_
                if other in site.device_by_key:
                    found.setdefault(other, TypedIn(other, f"opens the door of {device.label}"))
    found.pop(device.key, None)
    return tuple(found.values())


def _registrants(site: Site, device: Device) -> list[Link]:
    family = site.family_of(device)
    return [
        link
        for link in site.links_of(device.key)
        if link.to == device.key
        and link.from_ in site.device_by_key
        and (link.kind in ("registers-at", "extends") or (link.kind == "calls" and family == "call-server"))
    ]


def rule_for(site: Site, device: Device, slot: Slot) -> Shared:
    """Return what a secret of a slot must be: the rules of all that share it, typeable on all that log in with it.

    A registration password is no account of the main station: what counts is where it is typed.
    """
    if slot.kind == "code":
        return Shared(Rule(4, 8, 1, "", digits_only=True), (), None, "0123456789")
    group: Sequence[Device] = holders(site, device, slot.key)
    own = {item.key for item in group}
    typing = dict.fromkeys(login.device for item in group for login in logins_with(site, item, slot.key))
    others = [site.device_by_key[key] for key in typing if key not in own]
    return shared_rule(site, () if slot.key == "registration" else group, others)
