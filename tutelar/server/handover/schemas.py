"""Shapes of what is taken away."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class FileRow:
    """A file of the site: its name in the address, its title, the endings it comes in."""

    name: str
    title: str
    endings: list[str]
