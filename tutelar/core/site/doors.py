"""The doors of a site, each with a key of its own, on which its tests hang."""

from typing import Annotated, Literal

from pydantic import Field, PlainSerializer, ValidatorFunctionWrapHandler, WrapValidator

from tutelar.core.site.base import Count, Line, Name, Part, Slug, Text


def _as_written(value: object, read: ValidatorFunctionWrapHandler) -> object:
    """Return a number as it stands in the file, whole or not: what a panel is sent is told by its digits."""
    found = read(value)
    return value if type(value) is int else found


Figure = Annotated[
    float,
    Field(ge=0, le=1_000_000),
    WrapValidator(_as_written),
    PlainSerializer(lambda value: value, return_type=int | float, when_used="always"),
]


class Door(Part):
    """A door: `number` is its output at its panel, `lock_a` the lock's current in ampere, `relay` and `contact` say
    whether they close or open; `unlock_s` and `held_open_s` are seconds, `normal` how it is left."""

    key: Slug
    name: Name | None = None
    place: Line | None = None
    panel: Slug | None = None
    number: Annotated[Count, Field(ge=1)] | None = None
    lock: Literal["magnet", "strike-fail-secure", "strike-fail-safe", "gate"] | None = None
    lock_a: Figure | None = None
    relay: Literal["nc", "no"] | None = None
    exit_button: bool | None = None
    contact: Literal["nc", "no"] | None = None
    unlock_s: Figure | None = None
    held_open_s: Figure | None = None
    escape: bool = False
    normal: Text | None = None
    groups: tuple[Slug, ...] = ()

    @property
    def label(self) -> str:
        """The name people use, else the key."""
        return self.name or self.key
