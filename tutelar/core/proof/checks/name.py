"""Whether a device bears the name that it should."""

from tutelar.core.kit.shorter import shown_name
from tutelar.core.proof.check import Check, Subject, Values, as_wanted, fails, passes


def _wants(of: Subject) -> Values | None:
    name = shown_name(of.site, of.device)
    return {"name": name} if name and of.tells_who else None


CHECK = Check(
    key="name",
    title="Carries its name",
    rank=23,
    probe="who it is",
    asked="devices that tell who they are",
    wants=_wants,
    says="{name}",
    endings={"same": passes("{name}"), "another": fails("{name}")},
    judge=as_wanted("name", lambda seen: seen.identity.name if seen.identity else None),
)
