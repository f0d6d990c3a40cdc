"""What several sheets share."""

from dataclasses import asdict
from typing import Any

from tutelar.core.contact import LAPTOPS, adapter_commands
from tutelar.core.problems import Problem
from tutelar.core.run.chain import AdapterConfig

Sheet = dict[str, Any]


def problem_rows(problems: tuple[Problem, ...], *families: str) -> list[Sheet]:
    """Return problems as the API sends them."""
    return [
        item.as_dict() | {"move": item.move and dict(zip(("device", "address"), item.move, strict=True))}
        for item in problems
        if not families or item.code.split(".")[0] in families
    ]


def laptop_state(setting: AdapterConfig | None) -> Sheet:
    """Return the laptop's adapter setting with the commands that set it back."""
    if setting is None:
        return {"fixed": False, "back": []}
    back = [{"laptop": laptop, "lines": adapter_commands(setting, laptop)[1]} for laptop in LAPTOPS]
    return {"fixed": True, "back": back, **asdict(setting)}


def adapter_lines(before: AdapterConfig | None, after: AdapterConfig | None) -> list[Sheet]:
    """Return what is typed on each kind of laptop to go from one adapter setting to another."""
    found = []
    for laptop in LAPTOPS:
        lines = list(adapter_commands(before, laptop)[1]) if before else []
        lines += list(adapter_commands(after, laptop)[0]) if after else []
        found.append({"laptop": laptop, "lines": lines})
    return found
