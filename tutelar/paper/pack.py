"""The handover pack: everything that is left behind, readable by somebody who never saw Tutelar.

Credentials are no part of it: they are handed over apart. The same state gives the same bytes, file by file.
"""

import hashlib
import io
import re
import zipfile
from collections.abc import Mapping, Sequence
from datetime import date

from reportlab.platypus import Flowable, HRFlowable, Spacer

from tutelar.core.access import AccessIndex
from tutelar.core.addressing.assignment import Plan
from tutelar.core.addressing.reservations import SERVERS, by_network, reservations
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


def pack(
    site: Site,
    planned: Plan,
    ends: Sequence[LooseEnd],
    today: date,
    log: Log = (),
    *,
    looks: Mapping[str, Sequence[Look]] | None = None,
) -> dict[str, bytes]:
    """Return the files of the pack by name, in order, without their sums; `looks` are those at each clock (None: the
    document's)."""
    states = _states(site, planned)
    tables = _tables(site, planned, states, ends)
    asked = {table.title: table for table in request_tables(request(site, planned))}
    found = {
        "calendar.ics": calendar_ics(site, today, looks),
        "flows.csv": as_csv(asked["Flows"].header, asked["Flows"].rows).encode(),
        "handover.pdf": _paper(site, planned, tables, ends, states, today),
        "labels.pdf": _labels(site, planned),
        "log.csv": as_csv(_LOG, log).encode(),
        "schedule.xlsx": _steady(as_xlsx([*tables, asked["Flows"]])),
        "site.json": write_site(site).encode(),
    }
    kept, _ = reservations(site, planned.assignments)
    if kept:
        networks = by_network(site, planned.assignments)
        for key, server in SERVERS.items():
            found[f"reservations/{key}.{server.ending}"] = server.write(networks).encode()
    return dict(sorted(found.items()))


def sums(files: Mapping[str, bytes]) -> bytes:
    """Return the sums of the files as `sha256sum -c` reads them."""
    return "".join(f"{hashlib.sha256(data).hexdigest()}  {name}\n" for name, data in files.items()).encode()


def as_zip(files: Mapping[str, bytes]) -> bytes:
    """Return the pack with its sums as one ZIP. Same files, same bytes."""
    return _zipped({**files, SUMS: sums(files)})


def _zipped(files: Mapping[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            entry = zipfile.ZipInfo(name, _LONG_AGO)
            entry.compress_type, entry.external_attr = zipfile.ZIP_DEFLATED, 0o644 << 16
            archive.writestr(entry, data)
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


def _tables(site: Site, planned: Plan, states: Mapping[str, str], ends: Sequence[LooseEnd]) -> list[Table]:
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
        if table.title != "Loose ends":
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
