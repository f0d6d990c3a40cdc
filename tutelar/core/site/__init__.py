"""What is here: the site document as types, and reading and writing it."""

from tutelar.core.site.base import OUTSIDE_ENDS
from tutelar.core.site.model import Model
from tutelar.core.site.reading import UnreadableSite, read_site, site_from
from tutelar.core.site.types import Device, Link, Network, Reading, Site
from tutelar.core.site.writing import with_addresses, write_site

__all__ = [
    "OUTSIDE_ENDS",
    "Device",
    "Link",
    "Model",
    "Network",
    "Reading",
    "Site",
    "UnreadableSite",
    "read_site",
    "site_from",
    "with_addresses",
    "write_site",
]
