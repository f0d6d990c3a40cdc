"""Whether two ends can be tied at all, whatever their numbers and passwords: are they there, are they two, do their
families fit, does a way lead from one to the other, and is there one head that the other follows?

A link that fails here is kept as a wish at most: it takes no number and gives nothing to type.
"""

from tutelar.core.links.base import Gap, ResolvedLink
from tutelar.core.links.needs import families

_WAYS = ("route", "one-network", "circle")
WISHES = frozenset({"route", "one-network"})  # what is lacking of a link that somebody may wish for all the same


def missing_end(case: ResolvedLink) -> Gap | None:
    """Return which of its devices the file does not have, None where both are there or the end is outside."""
    devices = case.site.device_by_key
    for device in (case.start, case.end):
        if device is not None and device.key not in devices:
            said = f"the file has no device '{device.key}'"
            return Gap("device", said, "kit", never=True, nearest="Add the device, or untie the link")
    return None


def to_itself(case: ResolvedLink) -> Gap | None:
    """Return that a link leads back to where it starts, None where it does not."""
    if case.link.from_ != case.link.to:
        return None
    return Gap("itself", f"{case.start.label} cannot be tied to itself", never=True, nearest="Choose another end")


def why_never(case: ResolvedLink) -> Gap | None:
    """Return why two ends cannot be tied, with the nearest thing that can; None where they can."""
    gap = missing_end(case) or to_itself(case) or families(case)
    if gap is not None:
        return gap
    found = (need.gap(case) for need in case.kind.needs if need.key in _WAYS)
    return next((gap for gap in found if gap is not None and gap.never), None)
