"""What the customer's people said that has no other place in the document."""

from typing import Literal

from pydantic import Field

from tutelar.core.site.base import Amount, Count, Name, Part, Text


class AnswerSource(Part):
    """Who gave an answer of the survey, when, and what was said of each blank ("" for "there is none")."""

    by: Text | None = None
    at: Text | None = None
    said: dict[Text, str] | None = None


class Survey(Part):
    """What the customer's people said that has no other place in the document; absent or null = not known.

    `none` holds the paths of blanks that were answered with "there is none"; `told` is by question.
    """

    installer: Text | None = None
    installer_telephone: Text | None = None
    network_run_by: Text | None = None
    router_changed_by: Text | None = None
    taken_over: bool | None = None
    powered_ports: Count | None = None
    powered_w: Amount | None = None
    cable_runs: Text | None = None
    mains_outlets: Text | None = None
    earthing: Text | None = None
    cabinets: Text | None = None
    remote_viewing: tuple[Name, ...] | None = None
    retention_days: Count | None = None
    audio: Literal["allowed", "forbidden"] | None = None
    escape_doors: tuple[Name, ...] | None = None
    alarms_watched_by: Text | None = None
    none: tuple[Text, ...] = ()
    told: dict[Text, AnswerSource] = Field(default_factory=dict)
