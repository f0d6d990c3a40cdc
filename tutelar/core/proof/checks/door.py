"""The tests of each door, kept at the device that holds it; the egress test of an escape door is always asked for, of a
named person."""

import re
from collections.abc import Callable
from dataclasses import replace

from tutelar.core.doors import door_tests
from tutelar.core.doors.sequence import KINDS, test_of
from tutelar.core.proof.check import Check, Ending, Subject, Values
from tutelar.core.proof.checks.witnessed import DOORS, partners, seen

EGRESS_CAUTION = "Local fire code and licensed people decide about escape doors. Try it without power, card and code."
_DOOR = re.compile(rf"door\.(.+)\.({'|'.join(KINDS)})")
_ENDINGS = {"seen": Ending("pass", "{words}"), "not-so": Ending("fail", "{words}")}
EGRESS = Check(
    key="egress",
    title="Escape door opens from inside",
    rank=54,
    probe="a person",
    asked="who holds an escape door: always, a check a door, named by its number at its panel, else by its key",
    wants=lambda _: None,  # it is asked of each door by itself
    says="{door:door}: opens from inside without power, card or code",
    endings=_ENDINGS,
    judge=seen,
    hangs=partners(DOORS),
    witnessed=True,
    hung=("partners",),
    never_open=True,
    caution=EGRESS_CAUTION,
)
SEQUENCE = Check(
    key="door",
    title="Door does what it should",
    rank=54,
    probe="a person",
    asked="panels with doors: each door's sequence, a check a test, named as the egress test is",
    wants=lambda _: None,  # it is asked of each test of each door by itself
    says="{door:door}: {expect}",
    endings=_ENDINGS,
    judge=seen,
    hangs=partners(DOORS),
    witnessed=True,
    hung=("partners",),
)
CHECKS = (EGRESS, SEQUENCE)
_TITLES = {
    "unlocks": "unlocks and locks again",
    "card-granted": "opens for a card that may",
    "card-denied": "stays shut for a card that may not",
    "exit-button": "exit button",
    "contact": "contact",
    "network-out": "without the network",
    "power-out": "with the panel without power",
    "lock-supply-out": "without the lock's supply",
    "fire": "fire alarm",
    "normal": "left as usual",
}


def door_check(key: str) -> Check | None:
    """Return one test of one door by its key ("door.2.egress", "door.2.unlocks"), None for any other check."""
    found = _DOOR.fullmatch(key)
    if found is None:
        return None
    name, kind = found.groups()
    if kind == "egress":
        return replace(EGRESS, key=key, title=f"Escape door {name} opens from inside", wants=_wants(key))
    return replace(SEQUENCE, key=key, title=f"Door {name}, {_TITLES[kind]}", wants=_wants(key, kind))


def _wants(key: str, kind: str | None = None) -> Callable[[Subject], Values | None]:
    def wanted(of: Subject) -> Values | None:
        door = door_tests(of.site).get(of.device.key, {}).get(key)
        if door is None:
            return None
        test = test_of(door, kind) if kind is not None else None
        return {"door": door.key} | ({"expect": test.expect} if test is not None else {})

    return wanted
