"""Alarm hubs: how they were found and left, whether the station knows, their areas and users."""

from typing import Literal

from pydantic import Field, JsonValue

from tutelar.core.site.base import Line, Name, Part, Slug, Text

Armed = Literal["away", "home", "disarmed"]


class OnTest(Part):
    """The monitoring station takes signals of a hub as tests: from when until when, who there was told, by whom."""

    from_: Text | None = Field(default=None, alias="from")
    until: Text | None = None
    told: Line | None = None
    by: Line | None = None


class Area(Part):
    """A part of a hub that is armed for itself."""

    key: Slug
    name: Name | None = None


class HubUser(Part):
    """Somebody who may do something at a hub: arm and disarm, manage users, or install."""

    name: Name
    rights: Literal["arm", "manage", "install"]


class Hub(Part):
    """An alarm hub: `armed_as_found` and `armed_left` the state in which it was found and left."""

    hub: Slug
    on_test: OnTest | None = None
    armed_as_found: Armed | None = None
    armed_left: Armed | None = None
    areas: tuple[Area, ...] = ()
    users: tuple[HubUser, ...] = ()
    tests: tuple[dict[str, JsonValue], ...] = ()


class Alarm(Part):
    """The alarm hubs of a site."""

    hubs: tuple[Hub, ...] = ()
