"""What a link sends has to get through: masks and gateways as they really are, and what IT's rules let through.

Where nobody said how IT routes and nothing is known to be set otherwise, `route` and `outbound` have said it all.
"""

from tutelar.core.links.base import IT, YOU, Gap, Need, ResolvedLink
from tutelar.core.reach import reach
from tutelar.core.reach.ends import OUTSIDE

_BY_IT = frozenset({"not-allowed", "blocked"})
_BY_SETTING = frozenset({"other-mask", "no-gateway"})


def _reached(case: ResolvedLink) -> Gap | None:
    known = case.known
    devices = case.site.device_by_key
    for sent in case.kind.sends(case):
        if sent.port is None or (sent.source not in devices and sent.destination not in devices):
            continue
        ends = [end if end in devices else OUTSIDE for end in (sent.source, sent.destination)]
        if ends[0] == OUTSIDE:
            continue  # comes in by a forward or as an answer
        reason = reach(known.ends, ends[0], ends[1], sent.port, sent.protocol).reason
        if reason is None or reason.code not in _BY_IT | _BY_SETTING:
            continue  # what else is missing is asked for by the other needs
        said, _, mend = reason.message.removesuffix(".").rpartition(". ")
        by_it = reason.code in _BY_IT
        return Gap("reach", said, "survey" if by_it else "addresses", IT if by_it else YOU, nearest=mend)
    return None


reached = Need(
    "reach",
    lambda case: "What it sends gets through",
    _reached,
    idle=lambda known: not known.strays,
)
