"""Whether a device's clock is right. Within 2 s is good, unless the policy says otherwise.

A device that takes long to answer read its clock at any moment of that: it is judged at the middle, and neither right
nor wrong where half of the exchange decides.
"""

from tutelar.core.proof.check import Check, Outcome, Sight, fails, passes, skips

_WORTH_SAYING_S = 0.3
CLOCK_GOOD_S = 2.0  # of a time server; of a device the policy may say otherwise


def _judge(at: Sight) -> Outcome:
    offset = at.seen.clock_offset_s
    if offset is None:
        return Outcome("no-time")
    give, within = at.seen.clock_give_s, float(at.wanted.get("within_s", CLOCK_GOOD_S))
    values: dict[str, str | float] = {"offset_s": round(offset, 1)}
    if give >= _WORTH_SAYING_S:
        values["give_s"] = round(give, 1)
    if abs(offset) <= within and give <= within:
        return Outcome("right", values)
    return Outcome("off" if abs(offset) > within + give else "slow", values)


CHECK = Check(
    key="clock",
    title="Clock is right",
    rank=24,
    probe="who it is",
    asked="devices that tell who they are",
    wants=lambda of: {"within_s": f"{of.site.policy.proof.clock_s:g}"} if of.tells_who else None,
    says="within {within_s} s",
    endings={
        "right": passes("{offset_s:offset}{give_s:give}"),
        "off": fails("{offset_s:offset}{give_s:give}"),
        "slow": skips("{offset_s:offset}{give_s:give}: it answers too slowly to tell"),
        "no-time": skips("not told: the device shows no time"),
    },
    judge=_judge,
    hangs=lambda of: {"time-zone": of.site.about.time_zone or ""},
    hung=("time-zone",),
)
