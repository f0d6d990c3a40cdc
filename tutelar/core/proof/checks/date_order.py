"""Whether a device writes dates in the site's order."""

from tutelar.core.proof.check import PAGES, Check, Outcome, Sight, fails, passes


def _judge(at: Sight) -> Outcome:
    told = at.seen.identity.date_order if at.seen.identity else None
    if told is None:
        return Outcome("not-told")
    return Outcome("same" if told == at.wanted.get("order") else "another", {"order": told})


CHECK = Check(
    key="date-order",
    title="Date order is right",
    rank=25,
    probe="who it is",
    asked="devices with a page",
    wants=lambda of: {"order": of.site.about.date_order} if any(page in of.services for page in PAGES) else None,
    says="{order:order}",
    endings={"same": passes("{order:order}"), "another": fails("{order:order}")},
    judge=_judge,
)
