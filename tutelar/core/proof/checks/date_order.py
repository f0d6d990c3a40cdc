"""Whether a device writes dates in the site's order."""

from tutelar.core.proof.check import PAGES, Check, as_wanted, fails, passes

CHECK = Check(
    key="date-order",
    title="Date order is right",
    rank=25,
    probe="who it is",
    asked="devices with a page",
    wants=lambda of: {"order": of.site.about.date_order} if any(page in of.services for page in PAGES) else None,
    says="{order:order}",
    endings={"same": passes("{order:order}"), "another": fails("{order:order}")},
    judge=as_wanted("order", lambda seen: seen.identity.date_order if seen.identity else None),
)
