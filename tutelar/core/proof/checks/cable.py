"""Whether exchanges break off on the way and go well when they are tried again: a cable, a plug, a worn port."""

from tutelar.core.proof.check import Check, Outcome, Sight, fails, passes


def _judge(at: Sight) -> Outcome:
    code = "lost" if at.seen.lost else "none-lost"
    return Outcome(code, {"lost": at.seen.lost, "tries": at.seen.tries})


CHECK = Check(
    key="cable",
    title="No packets are lost",
    rank=1,
    probe="ports",
    asked="every device with services",
    wants=lambda of: {},
    says="no try lost",
    endings={
        "none-lost": passes("{tries} tries, none lost"),
        "lost": fails("{lost} of {tries} tries broke off"),
    },
    judge=_judge,
    itself=False,
)
