"""Writing a site document: the same keys that were read, in the order of the types."""

import json
from collections.abc import Mapping
from ipaddress import IPv4Address
from typing import Any

from tutelar.core.site.base import Part
from tutelar.core.site.types import Site


def as_document(part: Part) -> Any:
    """Return a part of the document as plain JSON values; what was not given is not written."""
    return part.model_dump(mode="json", by_alias=True, exclude_unset=True)


def write_site(site: Site) -> str:
    """Return the document as JSON text, indented by one, ending in a newline. read_site(write_site(s)) == s."""
    return json.dumps(as_document(site), ensure_ascii=False, indent=1) + "\n"


def with_addresses(site: Site, addresses: Mapping[str, str]) -> Site:
    """Return the site with the addresses given by device key filled in; all other devices stay as they are."""
    devices = tuple(
        device.model_copy(update={"address": IPv4Address(addresses[device.key])})
        if device.key in addresses and str(device.address) != addresses[device.key]
        else device
        for device in site.devices
    )
    return site.model_copy(update={"devices": devices})
