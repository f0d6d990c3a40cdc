"""The one list of checks: the modules in `checks/`, found by themselves; adding a check adds a file."""

import pkgutil
from functools import cache
from importlib import import_module

from tutelar.core.proof import checks
from tutelar.core.proof.check import Check
from tutelar.core.proof.checks.door import door_check
from tutelar.core.proof.checks.ports import port_check
from tutelar.core.proof.saying import ORDERS


def _found() -> tuple[Check, ...]:
    modules = (import_module(f"{checks.__name__}.{item.name}") for item in pkgutil.iter_modules(checks.__path__))
    all_ = [check for module in modules for check in getattr(module, "CHECKS", None) or (module.CHECK,)]
    return tuple(sorted(all_, key=lambda check: check.rank))


CHECKS: tuple[Check, ...] = _found()
CHECK_BY_KEY = {check.key: check for check in CHECKS}
WITNESSED = {check.key: check.title for check in CHECKS if check.witnessed}
FIRST = frozenset(check.key for check in CHECKS if check.first)  # without these nothing else means anything


def never_open(key: str | None) -> bool:
    """Return whether no policy and no exception covers a check."""
    return key is not None and check_of(key).never_open


@cache
def check_of(key: str) -> Check:
    """Return the check of this key; a service without a protocol of its own has one too, and each escape door."""
    return CHECK_BY_KEY.get(key) or door_check(key) or port_check(key)


def check_title(check: str, date_order: str = "DMY") -> str:
    """Return the check as a plain sentence of the proof sheet."""
    if check == "date-order":
        return f"Date is {ORDERS[date_order]}"
    return check_of(check).title
