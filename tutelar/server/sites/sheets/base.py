"""What several sheets share."""

from dataclasses import asdict
from typing import Any

from tutelar.core.problems import Problem
from tutelar.core.run.chain import Setting

Sheet = dict[str, Any]


def problem_rows(problems: tuple[Problem, ...], *families: str) -> list[Sheet]:
    return [
        item.as_dict() | {"move": item.move and dict(zip(("device", "address"), item.move, strict=True))}
        for item in problems
        if not families or item.code.split(".")[0] in families
    ]


def laptop_state(setting: Setting | None) -> Sheet:
    return {"fixed": False} if setting is None else {"fixed": True, **asdict(setting)}
