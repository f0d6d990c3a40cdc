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


def registration(site: Site, device: Device) -> Link | None:
    """Return the link by which a monitor or station registers, None where it registers nowhere."""
    return next(
        (
            link
            for link in site.links_of(device.key)
            if link.kind in REGISTERING and link.from_ == device.key and link.to in site.device_by_key
        ),
        None,
    )
