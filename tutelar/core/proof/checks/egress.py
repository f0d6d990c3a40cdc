"""The egress test of each escape door, kept at the device that holds the door; always asked for, of a named person."""

import re
from collections.abc import Callable
from dataclasses import replace

from tutelar.core.doors import escape_tests
from tutelar.core.proof.check import Check, Ending, Subject, Values
from tutelar.core.proof.checks.witnessed import DOORS, partners, seen

EGRESS_CAUTION = "Local fire code and licensed people decide about escape doors. Try it without power, card and code."
_DOOR = re.compile(r"door\.(.+)\.egress")
CHECK = Check(
    key="egress",
    title="Escape door opens from inside",
    rank=54,
    probe="a person",
    asked="who holds an escape door: always, a check a door, named by its number at its panel, else by its key",
    wants=lambda _: None,  # it is asked of each door by itself
    says="{door:door}: opens from inside without power, card or code",
    endings={"seen": Ending("pass", "{words}"), "not-so": Ending("fail", "{words}")},
    judge=seen,
    hangs=partners(DOORS),
    witnessed=True,
    hung=("partners",),
    never_open=True,
    caution=EGRESS_CAUTION,
)


def egress_check(key: str) -> Check | None:
    """Return the egress test of one door by its key ("door.2.egress"), None for any other check."""
    found = _DOOR.fullmatch(key)
    if found is None:
        return None
    return replace(CHECK, key=key, title=f"Escape door {found[1]} opens from inside", wants=_wants(key))


def _wants(key: str) -> Callable[[Subject], Values | None]:
    def wanted(of: Subject) -> Values | None:
        door = escape_tests(of.site).get(of.device.key, {}).get(key)
        return {"door": door.key} if door is not None else None

    return wanted
