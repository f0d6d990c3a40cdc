"""Who a device is: its unit, its pinned certificate, who else answers in its place, its login from the factory."""

from tutelar.core.proof.saying import short_mark
from tutelar.core.proof.seen import Identity, Observation
from tutelar.core.site.types import Device, Site
from tutelar.core.site.values import mac_or_none


def stranger(device: Device, seen: Observation) -> str | None:
    """Return who else answers at the device's address, None where it is itself or nobody can tell.

    Its hardware address counts most, as it says itself or as the laptop's neighbour table has it; then the serial
    number; then, where it says neither, the certificate that was pinned at first contact.
    """
    wanted, told = identities(device, seen)
    return told if wanted is not None and told is not None and told != wanted else None


def identities(device: Device, seen: Observation) -> tuple[str | None, str | None]:
    """Return (wanted, told) of what tells this device from others."""
    identity = seen.identity or Identity()
    mac = identity.mac if identity.mac is not None else seen.neighbour
    if device.macs and mac is not None:
        told = mac_or_none(mac) or mac
        return told if told in device.macs else device.macs[0], told
    if device.serial is not None and identity.serial is not None:
        return device.serial, identity.serial
    if device.certificate is not None and seen.certificate is not None:
        other = f"its certificate is {short_mark(seen.certificate.fingerprint)}"
        return device.certificate, device.certificate if pinned(device, seen) else other
    return device.unit, None


def pinned(device: Device, seen: Observation) -> bool:
    """Return whether the certificate is the one that was pinned at first contact."""
    return (
        device.certificate is not None
        and seen.certificate is not None
        and (device.certificate.replace(":", "").upper() == seen.certificate.fingerprint.replace(":", ""))
    )


def unit_of(site: Site, key: str) -> str:
    """Return what tells a unit from another one that takes its place: hardware address, serial number, else its key."""
    device = site.device_by_key.get(key)
    return (device.unit or key) if device else key


def factory_login(site: Site, device: Device) -> tuple[str, str] | None:
    """Return (user, password) that a device has from the factory, None where it has none or nobody knows it."""
    model = site.model_of(device)
    login = model.factory.login if model and model.factory else None
    if model is None or model.factory is None or login in (None, "", "default", "set-at-first-contact"):
        return None
    return model.factory.user or "admin", "" if login == "blank" else str(login)
