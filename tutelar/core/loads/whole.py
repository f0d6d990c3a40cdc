"""All loads of a site at once."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from tutelar.core.loads.budget import Budget, budgets, supply_problems
from tutelar.core.loads.cables import Cable, cable_problems, cables
from tutelar.core.loads.recorders import recorder_rows
from tutelar.core.loads.supplies import PanelLocks, SupplyLoad, feeding_problems, panels, supplies
from tutelar.core.loads.uplinks import Uplink, uplink_problems, uplinks
from tutelar.core.loads.upstream import Upstream, upstream_of
from tutelar.core.problems import Problem
from tutelar.core.recording.channels import channels_of
from tutelar.core.recording.storage import storage_of
from tutelar.core.site.types import Site


@dataclass(frozen=True, slots=True)
class Loads:
    """What is used of everything that has a limit, in the order of the document."""

    recorders: list[dict[str, Any]]
    switches: list[Budget]
    uplinks: list[Uplink]
    internet: Upstream | None
    cables: list[Cable]
    supplies: list[SupplyLoad]
    panels: list[PanelLocks]

    def as_dict(self) -> dict[str, Any]:
        """Return the loads as the contract prints them."""
        return {
            "recorders": self.recorders,
            "switches": [row.as_dict() for row in self.switches],
            "uplinks": [row.as_dict() for row in self.uplinks],
            "internet": None if self.internet is None else self.internet.as_dict(),
            "cables": [row.as_dict() for row in self.cables],
            "supplies": [row.as_dict() for row in self.supplies],
            "panels": [row.as_dict() for row in self.panels],
        }


def loads_of(site: Site, viewers: int = 3) -> Loads:
    """Return all loads of a site, its line for so many viewers (see docs/loads.md)."""
    channels = channels_of(site)
    return Loads(
        recorders=recorder_rows(site, channels, storage_of(site, channels)),
        switches=budgets(site),
        uplinks=uplinks(site),
        internet=upstream_of(site, channels, viewers),
        cables=cables(site),
        supplies=supplies(site),
        panels=panels(site),
    )


def load_problems(site: Site, found: Loads | None = None) -> Iterator[Problem]:
    """Yield what is fed, cabled or sent beyond what holds; recorders beyond their channels are a matter of links."""
    yield from supply_problems(site, None if found is None else found.switches)
    yield from uplink_problems(site, uplinks(site) if found is None else found.uplinks)
    yield from cable_problems(site, cables(site, wrong=True) if found is None else found.cables)
    fed = (supplies(site), panels(site)) if found is None else (found.supplies, found.panels)
    yield from feeding_problems(site, *fed)
