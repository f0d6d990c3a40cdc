"""The handover pack: everything that is left behind, readable by somebody who never saw Tutelar.

Credentials are no part of it: they are handed over apart. The same state gives the same bytes, file by file.
"""

import hashlib
import io
import re
import shutil
import zipfile
from collections.abc import Callable, Mapping, Sequence
from datetime import date
from functools import cache
from pathlib import Path
from typing import IO, Any, BinaryIO, NamedTuple

from reportlab.platypus import Flowable, HRFlowable, Spacer

from tutelar.core.access import AccessIndex
from tutelar.core.addressing.assignment import Plan
from tutelar.core.addressing.reservations import SERVERS, by_network, reservations
from tutelar.core.cards.card import VALUE
from tutelar.core.handover.request import request
from tutelar.core.later.diary import YEARLY
from tutelar.core.later.footage import Look
from tutelar.core.links.numbering import own_numbers
from tutelar.core.links.table import link_table
from tutelar.core.loose_ends import LooseEnd, may_sign
from tutelar.core.proof import all_expectations, device_state, is_planned, latest
from tutelar.core.recording import channels_of, storage_of
from tutelar.core.site.types import Site
from tutelar.core.site.writing import write_site
from tutelar.core.survey.asked import WHOM
from tutelar.core.wording import count, spoken_date
from tutelar.paper.calendar import calendar_ics
from tutelar.paper.doors import access_table, alarm_table, doors_table
from tutelar.paper.labels import Label, label_pdf
from tutelar.paper.page import INK, TITLE, grid, heading, lines, pdf, signatures, words
from tutelar.paper.recording import recording_table
from tutelar.paper.request import tables as request_tables
from tutelar.paper.schedule import schedule_table
from tutelar.paper.tables import Cell, Table, as_csv, as_xlsx

SUMS = "SHA256SUMS"
_LONG_AGO = (1980, 1, 1, 0, 0, 0)  # the first moment that a ZIP knows
_LOG = ("When", "Who", "What", "About", "Sentence")
Log = Sequence[tuple[str, str, str, str, str]]


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


class Piece(NamedTuple):
    """A file of the pack: its name, how long its making takes beside others, and what makes it (a path: as it is)."""

    name: str
    weight: float
    make: Callable[[], bytes | Path]


def pieces(
    site: Site,
    planned: Plan,
    ends: Sequence[LooseEnd],
    today: date,
    log: Log = (),
    *,
    looks: Mapping[str, Sequence[Look]] | None = None,
    photos: Sequence[Photo] = (),
) -> list[Piece]:
    """Return the files of the pack in the order of their names, without their sums, to be made one by one.

    `looks` are those at each clock (None: the document's). Weights are shares of the time that each takes on a large
    site.
    """
    many = len(site.devices)
    states = cache(lambda: _states(site, planned))
    tables = cache(lambda: _tables(site, planned, states(), ends, photos))
    asked = cache(lambda: {table.title: table for table in request_tables(request(site, planned))})
    found = [
        Piece("calendar.ics", 2 + many * 0.01, lambda: calendar_ics(site, today, looks)),
        Piece("flows.csv", 2 + many * 0.05, lambda: as_csv(asked()["Flows"].header, asked()["Flows"].rows).encode()),
        Piece("handover.pdf", 20 + many, lambda: _paper(site, planned, tables(), ends, states(), today)),
        Piece("labels.pdf", 5 + many * 0.2, lambda: _labels(site, planned)),
        Piece("log.csv", 1 + len(log) * 0.001, lambda: as_csv(_LOG, log).encode()),
        Piece("schedule.xlsx", 10 + many * 0.5, lambda: _steady(as_xlsx([*tables(), asked()["Flows"]]))),
        Piece("site.json", 1 + many * 0.01, lambda: write_site(site).encode()),
    ]
    found += [
        Piece(photo.name(number), 0.2, lambda path=photo.path: path)  # type: ignore[misc]
        for number, photo in enumerate(photos, 1)
    ]
    kept, _ = reservations(site, planned.assignments)
    if kept:
        networks = by_network(site, planned.assignments)
        found += [
            Piece(f"reservations/{key}.{server.ending}", 0.2, lambda server=server: server.write(networks).encode())  # type: ignore[misc]
            for key, server in SERVERS.items()
        ]
    return sorted(found)


def pack(
    site: Site, planned: Plan, ends: Sequence[LooseEnd], today: date, log: Log = (), **more: Any
) -> dict[str, bytes]:
    """Return the files of the pack by name, in order, without their sums; `more` as for `pieces`."""
    made = ((piece.name, piece.make()) for piece in pieces(site, planned, ends, today, log, **more))
    return {name: data if isinstance(data, bytes) else data.read_bytes() for name, data in made}


def sums(files: Mapping[str, bytes]) -> bytes:
    """Return the sums of the files as `sha256sum -c` reads them."""
    return _sums({name: hashlib.sha256(data).hexdigest() for name, data in files.items()})


def _sums(digests: Mapping[str, str]) -> bytes:
    return "".join(f"{digest}  {name}\n" for name, digest in digests.items()).encode()


def as_zip(files: Mapping[str, bytes]) -> bytes:
    """Return the pack with its sums as one ZIP. Same files, same bytes."""
    return _zipped({**files, SUMS: sums(files)})


def write_zip(
    parts: Sequence[Piece], out: BinaryIO, told: Callable[[str, float, float], None] = lambda _name, _done, _all: None
) -> None:
    """Write the pack with its sums as one ZIP, a file at a time, so that photographs need no room in memory.

    `told` hears which file is made next, the weight of what is done, and of all. Same pieces, same bytes as `as_zip`.
    """
    whole, done = sum(piece.weight for piece in parts), 0.0
    digests: dict[str, str] = {}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for piece in parts:
            told(piece.name, done, whole)
            made = piece.make()
            with io.BytesIO(made) if isinstance(made, bytes) else made.open("rb") as data:
                digests[piece.name] = hashlib.file_digest(data, "sha256").hexdigest()
                data.seek(0)
                _add(archive, piece.name, data)
            done += piece.weight
        _add(archive, SUMS, io.BytesIO(_sums(digests)))
    told("", whole, whole)


def _add(archive: zipfile.ZipFile, name: str, data: IO[bytes]) -> None:
    entry = zipfile.ZipInfo(name, _LONG_AGO)
    stored = name.endswith(".jpg")  # pressed already
    entry.compress_type = zipfile.ZIP_STORED if stored else zipfile.ZIP_DEFLATED
    entry.external_attr = 0o644 << 16
    with archive.open(entry, "w") as place:
        shutil.copyfileobj(data, place)


def _zipped(files: Mapping[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            _add(archive, name, io.BytesIO(data))
    return out.getvalue()


def _steady(workbook: bytes) -> bytes:
    """Return a workbook without the moment at which it was written."""
    with zipfile.ZipFile(io.BytesIO(workbook)) as archive:
        files = {name: archive.read(name) for name in archive.namelist()}
    core = "docProps/core.xml"
    files[core] = re.sub(rb"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ", b"1980-01-01T00:00:00Z", files[core])
    return _zipped(files)


def _states(site: Site, planned: Plan) -> dict[str, str]:
    last = latest(site.readings, site)
    wanted = all_expectations(site, planned.assignments)
    return {
        device.key: device_state(is_planned(site, device), False, wanted[device.key], last) for device in site.devices
    }


def _tables(
    site: Site,
    planned: Plan,
    states: Mapping[str, str],
    ends: Sequence[LooseEnd],
    photos: Sequence[Photo],
) -> list[Table]:
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


def _labels(site: Site, planned: Plan) -> bytes:
    addresses = planned.addresses()
    labels = [
        Label(
            device.key,
            device.label,
            (
                ", ".join(filter(None, (device.key, device.place))),
                addresses.get(device.key, ""),
                "; ".join(own_numbers(site, device)),
                device.serial or "",
                device.mac or "",
            ),
        )
        for device in site.walking_order(list(site.devices))
    ]
    return label_pdf(labels, f"Labels, {site.about.title}")


def _paper(
    site: Site,
    planned: Plan,
    tables: Sequence[Table],
    ends: Sequence[LooseEnd],
    states: Mapping[str, str],
    today: date,
) -> bytes:
    holding = [end for end in ends if end.blocks]
    note = "" if may_sign(ends) else f"NOT READY: {count(len(holding), 'open end')}"
    story: list[Flowable] = [
        words("Handover", TITLE),
        words(f"{site.about.title} · {spoken_date(today)}"),
        words(_who(site)),
        HRFlowable(width="100%", thickness=1.2, color=INK, spaceBefore=4, spaceAfter=2),
        heading("What is left open"),
        *lines([f"{end.message} {end.fix} Turn: {end.whose}." for end in ends] or ["Nothing."], box=bool(ends)),
        *_signed(site),
    ]
    proven = sum(1 for state in states.values() if state == "proven")
    story += [heading("Proof"), words(f"{proven} of {count(len(states), 'device')} proven by what was measured.")]
    for table in tables:
        if table.title not in _NOT_ON_PAPER:
            story += [heading(table.title), *_printed(site, table)]
    story += [heading("Every year, and when the clocks change"), *lines(YEARLY)]
    story += [heading("Whom to call"), words(_who(site)), words("Credentials are handed over apart from this paper.")]
    story += [Spacer(1, 8), signatures(["For the installer", f"For {site.about.name[:40]}"])]
    return pdf("Handover", site.about.title, today, story, note, site.survey.installer or "Tutelar")


def _signed(site: Site) -> list[Flowable]:
    signed = site.sign_off
    if signed is None:
        return [words("Not signed off.")]
    left = f" Left open then: {', '.join(signed.open)}." if signed.open else ""
    return [words(f"Signed off by {signed.by} for {signed.for_ or 'nobody named'}, {signed.at or 'no day'}.{left}")]


def _who(site: Site) -> str:
    survey = site.survey
    if not survey.installer:
        return "Installer: not said"
    return f"Installer: {survey.installer}, telephone {survey.installer_telephone or 'not said'}"


_NOT_ON_PAPER = frozenset({"Loose ends", "Checklist"})  # said in full on the first page; in the workbook
_ON_PAPER = {  # columns that tell most, with their shares of the width
    "Addresses": (
        *(("Name", 26), ("Place", 16), ("Address", 16)),
        *(("Gateway", 15), ("Hardware address", 20), ("State", 10)),
    ),
    "Links": (("Link", 14), ("From", 26), ("To", 26), ("Number", 8), ("Account", 12)),
    "Recording": (("Recorder", 18), ("Channel", 8), ("Device", 26), ("Recorded", 18), ("kbit/s", 8), ("GB a day", 9)),
    "Who may open what": (("Person", 18), ("Groups", 14), ("Door", 16), ("Rule", 14), ("When", 14), ("Until", 10)),
}
_MONO = frozenset({"Address", "Gateway", "Hardware address"})
_BELOW = {"Recorded": ". ", "When": ": "}  # a name and what it stands for, which is said once below the table


def _printed(site: Site, table: Table) -> list[Flowable]:
    """Return a table as it stands on paper: the columns that tell most, names for keys, long weeks once below it."""
    chosen = _ON_PAPER.get(table.title) or tuple((head, 1) for head in table.header[:9])
    at = [table.header.index(head) for head, _ in chosen]
    below: dict[str, None] = {}
    rows = []
    for row in table.rows:
        cells = []
        for place in at:
            text, head = _spoken(row[place]), table.header[place]
            if table.title == "Links" and head in ("From", "To"):
                text = site.label_of(text)
            if (mark := _BELOW.get(head)) is not None and mark in text:
                below[text] = None
                text = text.partition(mark)[0]
            cells.append(text)
        rows.append(cells)
    mono = frozenset(number for number, (head, _) in enumerate(chosen) if head in _MONO)
    return [grid([head for head, _ in chosen], rows, [share for _, share in chosen], mono), *lines(below)]


def _spoken(value: Cell) -> str:
    if isinstance(value, float):
        return f"{value:.4g}" if abs(value) < 10_000 else f"{value:.0f}"
    return "" if value is None else str(value)
