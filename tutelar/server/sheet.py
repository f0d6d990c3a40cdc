"""What several views share."""

from dataclasses import fields
from typing import Any, TypeVar

from tutelar.core.contact import LAPTOPS, adapter_commands
from tutelar.core.problems import Problem
from tutelar.core.run.chain import AdapterConfig
from tutelar.server.schemas import Commands, Laptop, Move, ProblemRow

Row = TypeVar("Row")


def shaped(row: type[Row], source: object, **more: Any) -> Row:
    """Return a row of the API made of `more` and, for what is not named there, of the attributes of `source`.

    Raises AttributeError where the source lacks one.
    """
    names = (item.name for item in fields(row) if item.name not in more)  # type: ignore[arg-type]
    return row(**{name: getattr(source, name) for name in names}, **more)


def problem_rows(problems: tuple[Problem, ...], *families: str) -> list[ProblemRow]:
    """Return problems as the API sends them."""
    return [
        shaped(
            ProblemRow,
            item,
            subjects=list(item.subjects),
            move=Move(device=item.move[0], address=item.move[1]) if item.move else None,
        )
        for item in problems
        if not families or item.code.split(".")[0] in families
    ]


def laptop_state(setting: AdapterConfig | None) -> Laptop:
    """Return the laptop's adapter setting with the commands that set it back."""
    if setting is None:
        return Laptop(fixed=False, back=[])
    back = [Commands(laptop=laptop, lines=list(adapter_commands(setting, laptop)[1])) for laptop in LAPTOPS]
    return Laptop(fixed=True, address=setting.address, prefix=setting.prefix, back=back)


def adapter_lines(before: AdapterConfig | None, after: AdapterConfig | None) -> list[Commands]:
    """Return what is typed on each kind of laptop to go from one adapter setting to another."""
    found = []
    for laptop in LAPTOPS:
        lines = list(adapter_commands(before, laptop)[1]) if before else []
        lines += list(adapter_commands(after, laptop)[0]) if after else []
        found.append(Commands(laptop=laptop, lines=lines))
    return found
