"""The links that a device's proof looks at: who records it, and where it registers."""

from tutelar.core.site.types import Device, Link, Site

REGISTERING = ("registers-at", "extends")


def recordings(site: Site, device: Device) -> list[Link]:
    """Return the links by which recorders record a device, those with a channel."""
    return [
        link
        for link in site.links_of(device.key)
        if link.kind == "records"
        and link.from_ == device.key
        and link.slot is not None
        and link.to in site.device_by_key
        and site.services_of(site.device_by_key[link.to])
    ]


def registers(site: Site, link: Link) -> bool:
    """Return whether the start of a link registers at its end: at a main station, or at a call server of the site."""
    end = site.device_by_key.get(link.to)
    if end is None or link.from_ == link.to:
        return False
    return link.kind in REGISTERING or (link.kind == "calls" and site.family_of(end) == "call-server")


def registrations(site: Site, device: Device) -> list[Link]:
    """Return the links by which a monitor or station registers: main stations first, then call servers."""
    found = [link for link in site.links_of(device.key) if link.from_ == device.key and registers(site, link)]
    return sorted(found, key=lambda link: link.kind == "calls")
