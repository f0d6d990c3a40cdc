"""The doors of a site, each with a key of its own, on which its tests hang."""

from typing import Annotated, Literal

from pydantic import Field

from tutelar.core.site.base import Amount, Count, Line, Name, Part, Seconds, Slug, Text


class Door(Part):
    """A door: `number` is its output at its panel, `lock_a` the lock's current in ampere, `relay` and `contact` say
    whether they close or open; `unlock_s` and `held_open_s` are seconds, `normal` how it is left."""

    key: Slug
    name: Name | None = None
    place: Line | None = None
    panel: Slug | None = None
    number: Annotated[Count, Field(ge=1)] | None = None
    lock: Literal["magnet", "strike-fail-secure", "strike-fail-safe", "gate"] | None = None
    lock_a: Amount | None = None
    relay: Literal["nc", "no"] | None = None
    exit_button: bool | None = None
    contact: Literal["nc", "no"] | None = None
    unlock_s: Seconds | None = None
    held_open_s: Seconds | None = None
    escape: bool = False
    normal: Text | None = None
    groups: tuple[Slug, ...] = ()

    @property
    def label(self) -> str:
        """The name people use, else the key."""
        return self.name or self.key
