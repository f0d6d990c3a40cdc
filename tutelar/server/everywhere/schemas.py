"""What is asked of all sites at once: their log, and which were removed."""

from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundLine:
    """A line of some site's log. `name`: the device's, None where it is none or no longer there; `gone`: no such site
    is kept any more."""

    id: int
    at: datetime
    by: str
    site: str
    site_name: str
    gone: bool
    subject: str
    name: str | None
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundLines:
    """The newest lines found, and whether there are older ones."""

    lines: list[FoundLine]
    more: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundDevice:
    """A device of some site, with what it is known by."""

    site: str
    site_name: str
    key: str
    name: str
    place: str | None
    model: str
    address: str | None
    mac: str | None
    serial: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundPaper:
    """A paper of some site, and the endings it comes in."""

    site: str
    site_name: str
    name: str
    title: str
    endings: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundThings:
    """Devices and papers of all sites that answer to every word, and whether there are more devices."""

    devices: list[FoundDevice]
    more: bool
    papers: list[FoundPaper]


@dataclass(frozen=True, slots=True, kw_only=True)
class RemovedSite:
    """A site that was removed, and when it goes for good."""

    key: str
    name: str
    removed_at: datetime
    removed_by: str
    gone_at: datetime
