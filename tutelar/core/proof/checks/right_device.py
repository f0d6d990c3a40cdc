"""Whether the device that answers is the one that was meant: by hardware address, serial number or certificate."""

from tutelar.core.proof.check import Check, Outcome, Sight, Subject, Values, fails, passes, skips
from tutelar.core.proof.identity import identities, stranger


def _wants(of: Subject) -> Values | None:
    who = of.device.network_mac or (f"serial {of.device.serial}" if of.device.serial else None)
    return {"who": who, "at": of.at} if who and of.tells_who else None


def _judge(at: Sight) -> Outcome:
    device, seen = at.device, at.seen
    other = stranger(device, seen)
    if other is not None:
        return Outcome("another", {"who": other})
    told = identities(device, seen)[1]
    if told is None:
        return Outcome("says-nothing" if seen.identity is None else "says-neither")
    if told == device.certificate:
        return Outcome("by-certificate", {"fingerprint": told})
    by_table = told in device.macs and (seen.identity is None or seen.identity.mac is None)
    return Outcome("by-table" if by_table else "itself", {"who": told})


CHECK = Check(
    key="right-device",
    title="Is the right device",
    rank=2,
    probe="who it is",
    asked="devices with a hardware address or serial number, and a page or the device interface",
    wants=_wants,
    says="{who} {at:at}",
    endings={
        "itself": passes("{who}"),
        "by-table": passes("{who} by the neighbour table"),
        "by-certificate": passes("the certificate is the one of the first contact ({fingerprint:mark})"),
        "another": fails("another device answers: {who}"),
        "says-nothing": skips("not told: the device did not say who it is"),
        "says-neither": skips("not told: neither hardware address nor serial number"),
    },
    judge=_judge,
    itself=False,
    first=True,
)
