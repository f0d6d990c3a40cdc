"""The tables of the handover pack: what stands where, is recorded, who may what, what was proven, asked, ticked."""

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import NamedTuple

from tutelar.core.access import AccessIndex
from tutelar.core.addressing.assignment import Plan
from tutelar.core.cards.card import VALUE
from tutelar.core.links.table import link_table
from tutelar.core.loose_ends import LooseEnd
from tutelar.core.proof import all_expectations, latest
from tutelar.core.recording import channels_of, storage_of
from tutelar.core.site.closing import WHOM
from tutelar.core.site.types import Site
from tutelar.paper.doors import access_table, alarm_table, doors_table
from tutelar.paper.recording import recording_table
from tutelar.paper.schedule import schedule_table
from tutelar.paper.tables import Cell, Table


class Photo(NamedTuple):
    """A photograph of the log: where it is kept, what it is about, when and by whom it was added, and its words."""

    path: Path
    about: str
    at: str
    by: str
    said: str

    def name(self, number: int) -> str:
        """Return its name in the pack: by day, what it is about, and its number."""
        return f"photographs/{self.at[:10]}-{self.about}-{number:03}.jpg"


def pack_tables(
    site: Site,
    planned: Plan,
    states: Mapping[str, str],
    ends: Sequence[LooseEnd],
    photos: Sequence[Photo],
) -> list[Table]:
    """Return the tables of the pack; those with nothing in them are left out, but for addresses and loose ends."""
    header, *links = link_table(site)
    found = [
        schedule_table(site, planned, states),
        Table("Links", tuple(header), tuple(map(tuple, links))),
        recording_table(site),
        _storage(site),
        doors_table(site),
        access_table(AccessIndex(site)),
        alarm_table(site),
        _exceptions(site),
        _proof(site, planned),
        _questions(site),
        _checklist(site),
        _photographs(site, photos),
        _loose(ends),
    ]
    return [table for table in found if table.rows or table.title in ("Addresses", "Loose ends")]


def _storage(site: Site) -> Table:
    rows: list[tuple[Cell, ...]] = []
    for item in storage_of(site, channels_of(site)):
        days = None if item.days is None else round(item.days, 1)
        usable = round(item.usable_bytes / 1e12, 3)
        rows.append((site.label_of(item.device), round(item.bytes_per_day / 1e9, 2), usable, days, item.wanted_days))
    header = ("Recorder", "GB a day", "Usable TB (10^12 bytes)", "Days kept", "Days promised")
    return Table("Retention", header, tuple(rows))


def _exceptions(site: Site) -> Table:
    rows = tuple(
        (site.label_of(item.device), item.check or "every check", item.reason, item.by, str(item.until or "for good"))
        for item in site.exceptions
    )
    return Table("Exceptions", ("Device", "Check", "Reason", "By", "Until"), rows)


def _proof(site: Site, planned: Plan) -> Table:
    last = latest(site.readings, site)
    rows: list[tuple[Cell, ...]] = []
    for key, items in all_expectations(site, planned.assignments).items():
        seen = [last[key, item.check].result for item in items if (key, item.check) in last]
        bad = sum(1 for result in seen if result in ("fail", "silent"))
        rows.append((site.label_of(key), len(items), seen.count("pass"), bad, len(items) - len(seen)))
    return Table("Proof", ("Device", "Checks", "Passed", "Failed", "Not measured"), tuple(rows))


def _questions(site: Site) -> Table:
    rows = tuple(
        (WHOM[item.of], item.question, item.holds, str(item.asked or ""), str(item.due or ""), item.answer)
        for item in site.asked
    )
    return Table("Questions to others", ("To", "Question", "Holds up", "Asked", "Wanted by", "Answer"), rows)


def _checklist(site: Site) -> Table:
    rows: list[tuple[Cell, ...]] = []
    for tick in site.checklist:
        name = site.about.name if tick.subject == "site" else site.label_of(tick.subject)
        rows.append(
            (name, tick.item, tick.state, tick.by, tick.at, str((tick.model_extra or {}).get(VALUE) or ""), tick.note)
        )
    return Table("Checklist", ("About", "Item", "State", "By", "When", "Value", "Note"), tuple(rows))


def _photographs(site: Site, photos: Sequence[Photo]) -> Table:
    rows = tuple(
        (photo.name(number).partition("/")[2], site.label_of(photo.about), photo.at[:10], photo.by, photo.said)
        for number, photo in enumerate(photos, 1)
    )
    return Table("Photographs", ("File", "About", "Day", "By", "Words"), rows)


def _loose(ends: Sequence[LooseEnd]) -> Table:
    rows = tuple(
        (end.code, end.subject, end.message, end.fix, end.whose, "yes" if end.blocks else "no") for end in ends
    )
    return Table("Loose ends", ("Code", "About", "What", "What closes it", "Whose turn", "Holds the signature"), rows)
