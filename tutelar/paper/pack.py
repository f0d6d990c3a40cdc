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

from tutelar.core.addressing.assignment import Plan
from tutelar.core.addressing.reservations import SERVERS, by_network, reservations
from tutelar.core.handover.request import request
from tutelar.core.later.diary import YEARLY
from tutelar.core.later.footage import Look
from tutelar.core.links.numbering import own_numbers
from tutelar.core.loose_ends import LEFT_OPEN, LooseEnd, may_sign
from tutelar.core.proof import all_expectations, device_state, is_planned, latest
from tutelar.core.site.types import Site
from tutelar.core.site.writing import write_site
from tutelar.core.wording import count, spoken_date
from tutelar.paper.calendar import calendar_ics
from tutelar.paper.labels import Label, label_pdf
from tutelar.paper.pack_tables import Photo, pack_tables
from tutelar.paper.page import INK, TITLE, grid, heading, lines, pdf, signatures, words
from tutelar.paper.request import tables as request_tables
from tutelar.paper.tables import Cell, Table, as_csv, as_xlsx

SUMS = "SHA256SUMS"
_LONG_AGO = (1980, 1, 1, 0, 0, 0)  # the first moment that a ZIP knows
_LOG = ("When", "Who", "What", "About", "Sentence")
Log = Sequence[tuple[str, str, str, str, str]]


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
    tables = cache(lambda: pack_tables(site, planned, states(), ends, photos))
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
    left = _left_open(site)
    note = f"LEFT OPEN: {count(len(left), 'end')}, see page 1" if left else ""
    note = note if may_sign(ends) else f"NOT READY: {count(len(holding), 'open end')}"
    story: list[Flowable] = [
        words("Handover", TITLE),
        words(f"{site.about.title} · {spoken_date(today)}"),
        words(_who(site)),
        HRFlowable(width="100%", thickness=1.2, color=INK, spaceBefore=4, spaceAfter=2),
        heading("What is left open"),
        *lines([_open_line(end, left) for end in ends] or ["Nothing."], box=bool(ends)),
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


def _left_open(site: Site) -> dict[str, str]:
    """Return why and by whom ends are left open by decision, by "code:subject"; those that were signed so at least."""
    found = dict.fromkeys(site.sign_off.open if site.sign_off is not None else (), "")
    given = (site.model_extra or {}).get(LEFT_OPEN)
    for item in given if isinstance(given, list) else ():
        if isinstance(item, dict) and {"code", "subject", "reason", "by"} <= item.keys():
            found[f"{item['code']}:{item['subject']}"] = f"{item['by']}: {item['reason']}"
    return found


def _open_line(end: LooseEnd, left: Mapping[str, str]) -> str:
    why = left.get(f"{end.code}:{end.subject}")
    if why is not None:
        return f"{end.message} Left open{f' by {why}' if why else ''}."
    return f"{end.message} {end.fix} Turn: {end.whose}."


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
