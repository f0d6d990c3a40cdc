"""What the commands share: reading what was given, printing, exit statuses."""

import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from tutelar.cli.outcome import DONE, PROBLEMS, Unreadable
from tutelar.core.problems import Problem, has_errors
from tutelar.core.site import Device, Site, UnreadableSite, read_site, write_site


def read_file(path: str) -> bytes:
    """Return the text of a file, "-" for standard input. Raises Unreadable."""
    try:
        return sys.stdin.buffer.read() if path == "-" else Path(path).read_bytes()
    except OSError as error:
        raise Unreadable([f"{path}: cannot be read: {error.strerror}."]) from None


def read_the_site(path: str) -> Site:
    """Return the site of a file. Raises Unreadable with a line for each fault."""
    text, name = read_file(path), "standard input" if path == "-" else path
    try:
        return read_site(text)
    except UnreadableSite as error:
        raise Unreadable(fault_lines(name, error)) from None


def fault_lines(name: str, error: UnreadableSite) -> list[str]:
    """Return one line for each fault, with the file and its path."""
    return [f"{name}: {where}: {reason}" if where else f"{name}: {reason}" for where, reason in error.faults]


def print_json(document: Any) -> None:
    """Print one JSON document."""
    print(json.dumps(document, ensure_ascii=False, indent=1))


def print_problems(problems: Sequence[Problem]) -> None:
    """Print the problems as people read them."""
    for item in problems:
        print(f"{item.level:8} {item.message}" + (f"\n{'':8} → {item.fix}" if item.fix else ""))


def status_of(problems: Sequence[Problem]) -> int:
    """Return the exit status that problems ask for."""
    return PROBLEMS if has_errors(problems) else DONE


def write_the_site(path: str | None, site: Site) -> None:
    """Write a site file where a path is given. Raises Unreadable where that cannot be done."""
    if path:
        try:
            Path(path).write_text(write_site(site), encoding="utf-8")
        except OSError as error:
            raise Unreadable([f"{path}: cannot be written: {error.strerror}."]) from error


def device_of(site: Site, key: str) -> Device:
    """Return a device of the site. Raises Unreadable where it has none of this key."""
    device = site.device_by_key.get(key)
    if device is None:
        raise Unreadable([f"The site has no device '{key}'."])
    return device
