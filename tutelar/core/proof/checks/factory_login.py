"""Whether a device still takes the login that it had from the factory."""

from tutelar.core.proof.check import Check, Outcome, Sight, fails, passes, skips
from tutelar.core.proof.identity import factory_login


def _judge(at: Sight) -> Outcome:
    if at.seen.factory is None:
        return Outcome("not-tried")
    return Outcome("taken" if at.seen.factory == "taken" else "refused")


CHECK = Check(
    key="factory-login",
    title="Refuses the factory login",
    rank=22,
    probe="login",
    asked="devices whose factory login is known",
    wants=lambda of: {} if of.logs_in and factory_login(of.site, of.device) is not None else None,
    says="the login from the factory is refused",
    endings={
        "refused": passes("refused"),
        "taken": fails("still taken: anybody who knows the model gets in"),
        "planned-not-taken": skips("not tried: the planned login was not taken"),
        "not-tried": skips("not tried: the device was not reached, or one more refused login would lock it"),
    },
    judge=_judge,
    never_open=True,
    caution="Nobody hands over a device that still takes the login it came with: set a password of its own first.",
)
