"""Whether the certificate of the secure page is the one that was pinned at first contact."""

from tutelar.core.proof.check import Check, Outcome, Sight, fails, passes, skips
from tutelar.core.proof.identity import pinned


def _judge(at: Sight) -> Outcome:
    shown = at.seen.certificate
    if shown is None:
        return Outcome("not-shown")
    values = {"fingerprint": shown.fingerprint, "until": f"{shown.until:%Y-%m-%d}"}
    if at.device.certificate is None:
        return Outcome("first-seen", values)
    return Outcome("same" if pinned(at.device, at.seen) else "another", values)


CHECK = Check(
    key="certificate",
    title="Certificate is the device's own",
    rank=20,
    probe="ports",
    asked="devices with a secure page",
    wants=lambda of: {} if of.logs_in and "web-tls" in of.services else None,
    says="the one of its first contact",
    endings={
        "first-seen": passes("{fingerprint:mark} until {until}, pinned from now on"),
        "same": passes("{fingerprint:mark} until {until}"),
        "another": fails("the same device shows another certificate: {fingerprint:mark} until {until}"),
        "not-shown": skips("not told: no secure connection came about"),
    },
    judge=_judge,
    hangs=lambda of: {"certificate": of.device.certificate or ""},
    hung=("certificate",),
)
