"""What is asked of all sites at once: their log, and which were removed."""

from datetime import datetime

from ninja import Schema


class FoundLine(Schema):
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


class FoundLines(Schema):
    """The newest lines found, and whether there are older ones."""

    lines: list[FoundLine]
    more: bool


class RemovedSite(Schema):
    """A site that was removed, and when it goes for good."""

    key: str
    name: str
    removed_at: datetime
    removed_by: str
    gone_at: datetime
