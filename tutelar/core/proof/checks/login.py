"""Whether a device takes the account that is planned for whoever logs in to it."""

from tutelar.core.links.base import login_slot
from tutelar.core.proof.check import Check, Outcome, Sight, Subject, Values, fails, passes, skips


def _judge(at: Sight) -> Outcome:
    return Outcome(at.seen.login or "not-tried")


def _hangs(of: Subject) -> Values:
    slot = login_slot(of.site, of.device)
    return {"account": slot, "password": of.marks.get((of.device.key, slot), "")}


CHECK = Check(
    key="login",
    title="Takes the planned login",
    rank=21,
    probe="login",
    asked="devices that are logged in to: all but readers, keypads and injectors",
    wants=lambda of: {} if of.logs_in else None,
    says="the planned account is taken",
    endings={
        "taken": passes("taken"),
        "refused": fails("refused: another password is set"),
        "locked": fails("locked after too many tries"),
        "not-tried": skips("not tried: no password of it is saved, or it has no page to log in"),
    },
    judge=_judge,
    hangs=_hangs,
    hung=("account", "password"),
    sources=("state", "device-interface"),
)
