"""Whether a device answers at its address at all."""

from tutelar.core.proof.check import Check, Ending, Outcome, Sight, passes


def _judge(at: Sight) -> Outcome:
    times = [port.took_ms for port in at.seen.ports.values() if port.open]
    return Outcome("answered", {"ms": min(times)}, min(times)) if times else Outcome("no-answer")


CHECK = Check(
    key="answers",
    title="Answers at its address",
    rank=0,
    probe="ports",
    asked="every device with services",
    wants=lambda of: {"at": of.at},
    says="an answer {at:at}",
    endings={
        "answered": passes("answered {ms:ms}"),
        "no-answer": Ending("silent", "no answer on any of its ports"),
    },
    judge=_judge,
    itself=False,
    first=True,
    sources=("identity", "stream", "signalling"),
)
