"""What a proposal is made of: one change after the other, and the devices that are not finished without a link."""

from dataclasses import dataclass
from typing import Literal

from tutelar.core.links.registry import KINDS, link_index
from tutelar.core.site.types import Link, Site

RECORDED = frozenset({"camera", "encoder"})


@dataclass(frozen=True, slots=True)
class Change:
    """One proposed change: a link to add, or one at a position of the document that gets a number or another target,
    or is taken out because it finds no room."""

    action: Literal["add", "number", "move", "remove"]
    link: Link
    why: str
    position: int | None = None


def untied(site: Site) -> list[str]:
    """Return the keys of devices that are not finished without a link, and have none that could be made.

    In the order of the file. A link to what the file does not have, or that no way leads along, ties nothing.
    """
    wanted = {family for kind in KINDS for family in kind.expected}
    families, known = site.family_by_model, link_index(site, {})
    waiting = [device for device in site.devices if families.get(device.model, "other") in wanted]
    keys = {device.key for device in waiting}
    recorded, tied = set[str](), set[str]()
    for link in site.links:
        if link.from_ in keys and (case := known.case(link)) is not None and known.never(case) is None:
            recorded.update({link.from_} if link.kind == "records" else ())
            tied.update({link.from_} if link.kind not in ("relays", "pages") else ())
    return [
        device.key
        for device in waiting
        if device.key not in (recorded if families.get(device.model) in RECORDED else tied)
    ]


def has_target(site: Site, key: str) -> bool:
    """Return whether the kit holds any device that an untied one could be tied to."""
    family = site.family_of(site.device_by_key[key])
    wanted = [kind for kind in KINDS if family in kind.expected]
    present = {site.family_of(device) for device in site.devices if device.key != key}
    return any(kind.ends is None or kind.ends & present for kind in wanted)
