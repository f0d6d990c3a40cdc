"""When to stop trying: a device locks the account after some refused passwords (docs/sources.md, passwords)."""

from dataclasses import dataclass

from tutelar.core.site.model import PasswordRule
from tutelar.core.wording import count

UNKNOWN_LIMIT = 3  # where the model does not say, stop before the fewest that devices are known to allow


@dataclass(frozen=True, slots=True)
class Tries:
    """How many passwords were refused since the last good one, how many may still be tried, and one sentence."""

    refused: int
    left: int
    stop: bool
    sentence: str


def tries(rule: PasswordRule | None, refused: int) -> Tries:
    """Return whether to go on after `refused` wrong passwords; the last one before a lock-out is never advised."""
    limit = (rule.tries if rule else None) or 0
    if not limit:
        left = max(0, UNKNOWN_LIMIT - 1 - refused)
        known = "How many it takes before it locks is not known"
    else:
        left = max(0, limit - 1 - refused)
        wait = f" for {rule.lock_min} min" if rule and rule.lock_min else ""
        known = f"It locks{wait} after {count(limit, 'refused password')}"
    if refused == 0:
        return Tries(0, left, stop=left == 0, sentence=f"{known}.")
    said = f"{count(refused, 'password was', 'passwords were')} refused."
    if left:
        return Tries(refused, left, stop=False, sentence=f"{said} {known}; {count(left, 'try', 'tries')} left.")
    return Tries(
        refused,
        0,
        stop=True,
        sentence=f"Stop: {said} {known}. Wait, ask who set it, or reset the device; do not guess on.",
    )
