"""The log of every site."""

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
    lines: list[FoundLine]
    more: bool
