"""Answers as people type them, and the document's values as people read them.

Lists of addresses and ports are separated by commas, places and ranges stand a line each, a range is
"first–last" with words after it where they are wanted.
"""

import copy
import re
from collections.abc import Callable, Mapping
from typing import Any, Literal

from tutelar.core.site.values import as_address, as_network
from tutelar.core.wording import sentence

Kind = Literal[
    "text",
    "address",
    "addresses",
    "network",
    "source",
    "number",
    "ports",
    "lines",
    "people",
    "ranges",
    "kept",
    "choice",
    "yes-no",
    "hertz",
    "whole",
    "services",
    "wholes",
    "limits",
    "signs",
    "apps",
]

# Parts of a row, the first ones asked for, as the document names them.
_ROWS: dict[str, tuple[tuple[str, ...], int]] = {
    "signs": (("sign", "means", "seconds"), 2),
    "apps": (("for", "system", "from"), 1),
}

_RANGE = re.compile(r"([\d.]+)\s*(?:[-–—]|to|bis)\s*([\d.]+)[\s,:;]*(.*)")


class Untypable(ValueError):
    """An answer that cannot be read: the path of its blank, and one sentence."""

    def __init__(self, path: str, sentence: str) -> None:
        self.path, self.sentence = path, sentence
        super().__init__(sentence)


def shown(value: Any, kind: Kind) -> str:
    """Return a value of the document as it stands in its blank; "" for what is not known."""
    if value is None:
        return ""
    if kind == "yes-no":
        return "yes" if value else "no"
    if kind in ("addresses", "ports", "people", "wholes"):
        return ", ".join(str(item) for item in value)
    if kind == "lines":
        return "\n".join(value)
    if kind == "services":
        return "\n".join(f"{name} {port}" for name, port in value.items())
    if kind == "limits":
        return "\n".join(f"{name} {_limit(said)}" for name, said in value.items())
    if kind in _ROWS:
        names, _ = _ROWS[kind]
        rows = [[shown(item.get(name), "text") for name in names] for item in value]
        return "\n".join(" | ".join(cells).rstrip(" |") for cells in rows)
    if kind in ("ranges", "kept"):
        return "\n".join(f"{item['first']}–{item['last']} {item.get('why') or ''}".rstrip() for item in value)
    return f"{value:g}" if isinstance(value, float) else str(value)


def read(text: str, kind: Kind) -> Any:
    """Return the document's value for what was typed, None for nothing. Raises ValueError with one sentence."""
    typed = text.strip()
    return _READERS[kind](typed) if typed else None


def answered(
    document: Mapping[str, Any], blanks: Mapping[str, Kind], typed: Mapping[str, str], none: frozenset[str]
) -> dict[str, Any]:
    """Return a copy of the site document with these answers in it.

    `blanks` gives the kind of each blank by its path ("networks.security.pools"), `typed` what stands in it
    now, `none` the paths answered with "there is none". An empty text takes the value away: it is unknown
    again; a blank of which nothing is said stays. Raises Untypable for the first answer that cannot be read.
    """
    result = copy.deepcopy(dict(document))
    survey = result.setdefault("survey", {})
    said = {path: kind for path, kind in blanks.items() if path in typed or path in none}
    known = {path for path in survey.get("none", []) if path not in said}
    for path, kind in said.items():
        if path in none:
            known.add(path)
        try:
            value = None if path in none else read(typed.get(path, ""), kind)
        except ValueError as error:
            raise Untypable(path, sentence(error)) from None
        _put(result, path, value)
    survey["none"] = sorted(known)
    if not survey["none"]:
        del survey["none"]
    return result


def value_at(document: Mapping[str, Any], path: str) -> Any:
    """Return what stands at a blank's path in the document, None where nothing does."""
    part, name = _holder(document, path, make=False)
    return None if part is None else part.get(name)


def _put(document: dict[str, Any], path: str, value: Any) -> None:
    part, name = _holder(document, path, make=value is not None)
    if part is None:
        return
    if value is None:
        part.pop(name, None)
    else:
        part[name] = value


def _holder(document: Any, path: str, *, make: bool) -> tuple[dict[str, Any] | None, str]:
    section, _, name = path.partition(".")
    if section == "networks":
        key, _, name = name.rpartition(".")
        return next((item for item in document.get("networks", []) if item["key"] == key), None), name
    if document.get(section) is None:
        if not make:
            return None, name
        document[section] = {}
    return document[section], name


def _number(typed: str) -> float | int:
    try:
        value = float(typed.replace(",", "."))
    except ValueError:
        raise ValueError(f"'{typed}' is not a number") from None
    if not 0 <= value <= 1_000_000:
        raise ValueError(f"{typed} cannot be; a number from 0 to 1000000 is expected")
    return int(value) if value == int(value) else value


def _whole(typed: str) -> int:
    value = _number(typed)
    if not isinstance(value, int):
        raise ValueError(f"'{typed}' is not a whole number")
    return value


def _ports(typed: str) -> list[int]:
    found = [_whole(word) for word in re.split(r"[\s,;]+", typed) if word]
    wrong = next((port for port in found if not 1 <= port <= 65535), None)
    if wrong is not None:
        raise ValueError(f"{wrong} is not a port; a number from 1 to 65535 is expected")
    return found


def _ranges(typed: str, *, why: bool) -> list[dict[str, str]]:
    found = []
    for line in filter(None, (line.strip() for line in typed.split("\n"))):
        match = _RANGE.fullmatch(line)
        alone = re.fullmatch(r"([\d.]+)[\s,:;]*(.*)", line)
        if match is None and (alone is None or (alone[2] and not why)):
            raise ValueError(f"'{line}' is not a range; write it like 10.62.8.150–10.62.8.199")
        first, last, words = match.groups() if match else (alone[1], alone[1], alone[2])  # type: ignore[index]
        if re.fullmatch(r"\.?\d{1,3}", last):  # "10.62.8.150–199" means the same network
            last = f"{first.rpartition('.')[0]}.{last.lstrip('.')}"
        entry = {"first": str(as_address(first)), "last": str(as_address(last))}
        if words and not why:
            raise ValueError(f"'{line}' has words after the range; only first–last is expected")
        found.append(entry | ({"why": words} if words else {}))
    return found


def _limit(said: Any) -> str:
    if isinstance(said, Mapping):
        said = [said.get("first"), said.get("last")]
    if isinstance(said, list):
        return "–".join("" if item is None else str(item) for item in said)
    return str(said)


def _limits(typed: str) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for line in filter(None, (line.strip() for line in typed.split("\n"))):
        match = re.fullmatch(r"([a-z0-9-]+)[\s:=]+(?:(\d+)?\s*[-–—]\s*)?(\d+)?", line)
        if match is None or (match[2] is None and match[3] is None):
            raise ValueError(
                f"'{line}' is no name with its numbers; write it like 'monitors 8' or 'extensions 201–899'"
            )
        first, last = (None if word is None else int(word) for word in match.groups()[1:])
        ends = {"first": first, "last": last}
        found[match[1]] = last if first is None else [first, last] if last is not None else ends
    return found


def _rows(typed: str, kind: str) -> list[dict[str, Any]]:
    names, needed = _ROWS[kind]
    found = []
    for line in filter(None, (line.strip() for line in typed.split("\n"))):
        cells = [cell.strip() for cell in line.split("|")]
        if len(cells) > len(names) or len([cell for cell in cells[:needed] if cell]) < needed:
            raise ValueError(f"'{line}' cannot be read; write it like '{' | '.join(names)}'")
        row: dict[str, Any] = {name: cell for name, cell in zip(names, cells, strict=False) if cell}
        found.append(row | ({"seconds": _number(row["seconds"])} if "seconds" in row else {}))
    return found


def _services(typed: str) -> dict[str, int]:
    found = {}
    for line in filter(None, (line.strip() for line in typed.split("\n"))):
        match = re.fullmatch(r"([a-z0-9-]+)[\s:=]+(\d+)", line)
        if match is None:
            raise ValueError(f"'{line}' is no service with its port; write it like 'web 80'")
        found[match[1]] = _ports(match[2])[0]
    return found


def _yes_no(typed: str) -> bool:
    if typed.lower() not in ("yes", "no"):
        raise ValueError(f"'{typed}' is neither yes nor no")
    return typed.lower() == "yes"


def _words(typed: str) -> list[str]:
    return [word.strip() for word in re.split(r"[,;\n]", typed) if word.strip()]


_READERS: dict[Kind, Callable[[str], Any]] = {
    "text": str,
    "choice": str,
    "source": str,
    "address": lambda typed: str(as_address(typed)),
    "addresses": lambda typed: [str(as_address(word)) for word in re.split(r"[\s,;]+", typed) if word],
    "network": lambda typed: str(as_network(typed)),
    "number": _number,
    "hertz": _whole,
    "whole": _whole,
    "services": _services,
    "ports": _ports,
    "wholes": lambda typed: [_whole(word) for word in re.split(r"[\s,;]+", typed) if word],
    "limits": _limits,
    "signs": lambda typed: _rows(typed, "signs"),
    "apps": lambda typed: _rows(typed, "apps"),
    "lines": lambda typed: list(dict.fromkeys(line.strip() for line in typed.split("\n") if line.strip())),
    "people": _words,
    "ranges": lambda typed: _ranges(typed, why=False),
    "kept": lambda typed: _ranges(typed, why=True),
    "yes-no": _yes_no,
}
