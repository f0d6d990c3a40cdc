"""What can be taken away of a site: each stage lists its files under `EXPORTS`, one address serves them all."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cache
from importlib import import_module
from importlib.util import find_spec
from pathlib import Path

from tutelar.paper.tables import Separator, Table, as_csv, as_xlsx
from tutelar.server import models
from tutelar.server.stages import PLACES
from tutelar.server.store.writes import WriteRejected

MEDIA = {
    "conf": "text/plain; charset=utf-8",
    "csv": "text/csv; charset=utf-8",
    "ics": "text/calendar; charset=utf-8",
    "json": "application/json",
    "pdf": "application/pdf",
    "svg": "image/svg+xml",
    "zip": "application/zip",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """What a download says beside its name: words to look for, one device or several, the server's own address."""

    search: str = ""
    device: str = ""
    devices: tuple[str, ...] = ()
    base: str = "/"
    separator: Separator = "comma"


Build = Callable[[models.Site, Asked], str | bytes | Path]  # a path is sent, then removed


@dataclass(frozen=True, slots=True)
class Export:
    """Something that is taken away: its name in the address, its title for people, and how each ending is made.

    What has a `table` comes as csv and xlsx too. `offered` says whether a site has any use for it.
    """

    name: str
    title: str
    build: Mapping[str, Build] = field(default_factory=dict)
    table: Callable[[models.Site, Asked], Table] | None = None
    offered: Callable[[models.Site], bool] = lambda _row: True

    @property
    def endings(self) -> tuple[str, ...]:
        """The endings that it comes in."""
        return tuple(dict.fromkeys((*(("csv", "xlsx") if self.table else ()), *self.build)))

    def content(self, row: models.Site, ending: str, asked: Asked) -> str | bytes | Path:
        """Return the file. Raises WriteRejected for an ending that it does not come in, and where it cannot be made."""
        if ending not in self.endings:
            raise WriteRejected(f"{self.title} comes as {' or '.join(self.endings)}, not as '{ending}'.", status=404)
        if ending in self.build or self.table is None:
            return self.build[ending](row, asked)
        table = self.table(row, asked)
        return as_xlsx([table]) if ending == "xlsx" else as_csv(table.header, table.rows, asked.separator)


@cache
def exports() -> dict[str, Export]:
    """Return every export of every stage by its name, in the order of the stages."""
    modules = (f"tutelar.server.{stage}.exports" for stage in PLACES["/sites"])
    listed = (getattr(import_module(name), "EXPORTS", ()) for name in modules if find_spec(name))
    return {item.name: item for stage in listed for item in stage}
