"""Whether a device bears the name that it should."""

from tutelar.core.kit.shorter import shown_name
from tutelar.core.proof.check import Check, Outcome, Sight, Subject, Values, fails, passes


def _wants(of: Subject) -> Values | None:
    name = shown_name(of.site, of.device)
    return {"name": name} if name and of.tells_who else None


def _judge(at: Sight) -> Outcome:
    told = at.seen.identity.name if at.seen.identity else None
    if told is None:
        return Outcome("not-told")
    return Outcome("same" if told == at.wanted.get("name") else "another", {"name": told})


CHECK = Check(
    key="name",
    title="Carries its name",
    rank=23,
    probe="who it is",
    asked="devices that tell who they are",
    wants=_wants,
    says="{name}",
    endings={"same": passes("{name}"), "another": fails("{name}")},
    judge=_judge,
)
