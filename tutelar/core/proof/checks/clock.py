"""Whether a device's clock is right. Within 2 s is good, unless the policy says otherwise."""

from tutelar.core.proof.check import Check, Outcome, Sight, fails, passes, skips

CLOCK_GOOD_S = 2.0  # of a time server; of a device the policy may say otherwise


def _judge(at: Sight) -> Outcome:
    offset = at.seen.clock_offset_s
    if offset is None:
        return Outcome("no-time")
    good = abs(offset) <= float(at.wanted.get("within_s", CLOCK_GOOD_S))
    return Outcome("right" if good else "off", {"offset_s": round(offset, 1)})


CHECK = Check(
    key="clock",
    title="Clock is right",
    rank=24,
    probe="who it is",
    asked="devices that tell who they are",
    wants=lambda of: {"within_s": f"{of.site.policy.proof.clock_s:g}"} if of.tells_who else None,
    says="within {within_s} s",
    endings={
        "right": passes("{offset_s:offset}"),
        "off": fails("{offset_s:offset}"),
        "no-time": skips("not told: the device shows no time"),
    },
    judge=_judge,
    hangs=lambda of: {"time-zone": of.site.about.time_zone or ""},
    hung=("time-zone",),
)
