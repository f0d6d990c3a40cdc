"""A value to type, and the group of values in which devices ask for it."""

from dataclasses import dataclass
from typing import Literal

At = Literal["activate", "configure", "links"]


@dataclass(frozen=True, slots=True)
class Line:
    """One value: its key within the device, the label that devices give it, the value in words, and why that one.

    `proof` is the check whose reading proves it. A secret has no value but a `slot`, and `owner` says whose slot it
    is; `chosen` tells that the site has a word of its own for it, `usual` what it would be without.
    """

    key: str
    label: str
    value: str
    why: str
    proof: str | None = None
    slot: str | None = None
    owner: str | None = None
    chosen: bool = False
    usual: str | None = None


@dataclass(frozen=True, slots=True)
class Group:
    """Values that stand together on a device's pages; `at` says at which step they are typed. A caution shows once."""

    key: str
    title: str
    at: At
    lines: tuple[Line, ...]
    caution: str | None = None
