"""What the log says of a link: in the direction in which it works, with the names that people know."""

from tutelar.core.links.base import OUTSIDE_WORDS
from tutelar.core.links.registry import kind_between, slot_word
from tutelar.server import models


def says(link: models.Link) -> str:
    """Return a link as a sentence without a full stop: "Yard is recorded by Recorder 2, channel 3"."""
    end = link.end.model.family if link.end else None
    behind = link.end is not None and link.start.behind_id == link.end.pk
    kind = kind_between(link.kind, link.start.model.family, end, link.outside, behind)
    channel = link.extra.get("from_channel")
    start = f"{_name(link.start)}{f', {kind.part} {channel}' if channel is not None else ''}"
    return kind.says.replace("{from}", start).replace("{to}", where(link))


def where(link: models.Link) -> str:
    """Return where a link leads, with its number there: "Recorder 2, channel 3"."""
    name = _name(link.end) if link.end else OUTSIDE_WORDS.get(link.outside, link.outside)
    return name if link.slot is None else f"{name}, {slot_word(link.kind)} {link.slot}"


def _name(device: models.Device) -> str:
    return device.name or device.key
