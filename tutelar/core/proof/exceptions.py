"""Checks that somebody decided to leave open: they hold until a day, with a reason and a name.

Source: docs/sources.md, proof.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import date

from tutelar.core.problems import Problem, problem
from tutelar.core.proof.registry import CHECK_BY_KEY, FIRST, check_of, never_open
from tutelar.core.site.types import Exemption, Site


@dataclass(frozen=True)
class Exceptions:
    """The exceptions of a site on one day; `holding` are those that still count, `over` those that ran out."""

    by_check: dict[tuple[str, str | None], Exemption]
    over: tuple[Exemption, ...]

    @classmethod
    def on(cls, site: Site, today: date) -> "Exceptions":
        """Return the exceptions that hold on a day, and those that are over."""
        holding = [item for item in site.exceptions if item.until is None or item.until >= today]
        over = tuple(item for item in site.exceptions if item.until is not None and item.until < today)
        return cls({(item.device, item.check): item for item in holding}, over)

    def of(self, device: str, check: str) -> Exemption | None:
        """Return the exception that covers a check; none covers one that is never left open (an escape door's egress
        test, a factory login)."""
        if not self.by_check:
            return None
        found = self.by_check.get((device, check)) or self.by_check.get((device, None))
        return None if found is None or never_open(check) else found

    def covered(self, device: str, checks: Iterable[str]) -> frozenset[str]:
        """Return those of the checks that are left open."""
        return frozenset(check for check in checks if self.of(device, check) is not None)


def exception_problems(site: Site) -> Iterator[Problem]:
    """Yield what is wrong with the document's exceptions and its rules of proof."""
    checks = {*CHECK_BY_KEY, *(name for model in site.models for name in model.services)}
    for item in site.exceptions:
        if item.device not in site.device_by_key:
            yield problem(
                "exception.unknown-device",
                (item.device,),
                f"An exception is for the device '{item.device}', which the file does not have.",
                "Add the device or remove the exception.",
            )
        elif never_open(item.check):
            never = check_of(str(item.check))
            yield problem(
                f"exception.{never.key.rpartition('.')[2]}",
                (item.device,),
                f"“{never.title}” is left open for {site.label_of(item.device)}, and it cannot be.",
                never.caution,
            )
        elif item.check is not None and item.check not in checks:
            yield problem(
                "exception.unknown-check",
                (item.device,),
                f"An exception for {site.label_of(item.device)} names the check '{item.check}', which there is not.",
                "Name a check of the proof sheet, or none for all of them.",
            )
    for name in site.policy.proof.left_out:
        if name in FIRST or never_open(name) or name not in checks:
            why = "it cannot be left out" if name in FIRST or never_open(name) else "there is no such check"
            yield problem(
                "policy.left-out",
                (name,),
                f"The policy leaves out the check '{name}', but {why}.",
                "Take it out of policy.proof.left_out.",
            )
