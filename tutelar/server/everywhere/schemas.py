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
class RemovedSite:
    """A site that was removed, and when it goes for good."""

    key: str
    name: str
    removed_at: datetime
    removed_by: str
    gone_at: datetime
