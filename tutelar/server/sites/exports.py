"""What is taken away: the address schedule, reservations, the request to the IT person."""

import json
from datetime import datetime, timedelta
from typing import Any

from django.utils import timezone
from icalendar import Alarm, Calendar, Event

from tutelar.core.addressing.reservations import ENDINGS, WRITERS, reservations
from tutelar.core.clock import UnknownZone, coming
from tutelar.core.handover.request import request
from tutelar.core.links.numbering import own_numbers
from tutelar.core.links.table import link_table
from tutelar.core.site.values import netmask
from tutelar.core.wording import sentence
from tutelar.server.catalogue import FORMAT
from tutelar.server.paper.labels import Label, label_pdf, label_svg
from tutelar.server.paper.logbook import Entry, logbook_pdf
from tutelar.server.paper.proof import HEADER as PROOF_HEADER
from tutelar.server.paper.proof import ProofLine, proof_pdf
from tutelar.server.paper.request import request_pdf, tables
from tutelar.server.paper.tables import Table, as_csv, as_xlsx
from tutelar.server.sites import models, queries, services, sheets
from tutelar.server.sites.services import Rejected, catalogue_parts

HEADER = (
    "Device",
    "Name",
    "Place",
    "Family",
    "Model",
    "Network",
    "Address",
    "Mask",
    "Gateway",
    "DNS",
    "Addressing",
    "Hardware address",
    "Serial number",
    "State",
    "Why",
)


def schedule_csv(row: models.Site) -> str:
    """Return the address schedule of a site: one row a device in walking order."""
    site, planned = queries.document(row), queries.planned(row)
    assignments = {item.device: item for item in planned.assignments}
    states = queries.device_states(row, queries.readings(row), queries.finished(queries.step_records(row)))
    rows = []
    for device in site.walking_order(list(site.devices)):
        item, model = assignments.get(device.key), site.model_of(device)
        rows.append(
            (
                device.key,
                device.label,
                device.place,
                site.family_of(device),
                model.label if model else device.model,
                item.network if item else device.network,
                item.address if item else None,
                netmask(item.prefix) if item else None,
                item.gateway if item else None,
                " ".join(item.dns) if item else None,
                device.addressing,
                device.mac,
                device.serial,
                states[device.key],
                item.why if item else "Leased: the router gives it an address.",
            )
        )
    return as_csv(HEADER, rows)


def links_csv(row: models.Site) -> str:
    """Return the links of a site as a table that can be brought in again."""
    header, *rows = link_table(queries.document(row))
    return as_csv(header, rows)


_STATES = {"not-measured": "not measured", "planned": "not looked at yet", "excepted": "left open"}


def proof_file(row: models.Site, ending: str) -> tuple[str | bytes, str]:
    """Return (content, media type) of every reading as csv, json, pdf or xlsx, in walking order and the site's time.

    Raises Rejected for another ending.
    """
    if ending not in ("csv", "json", "pdf", "xlsx"):
        raise Rejected(f"The proof comes as csv, json, pdf or xlsx, not as '{ending}'.", status=404)
    sheet = sheets.proof(row)
    if ending == "json":
        names = ("coverage", "columns", "checks", "cells", "changes")
        text = json.dumps({name: sheet[name] for name in names}, ensure_ascii=False, indent=1, default=str)
        return text, "application/json"
    rows = _proof_lines(row, sheet)
    if ending == "csv":
        return as_csv(PROOF_HEADER, [line.cells for line in rows]), "text/csv; charset=utf-8"
    if ending == "xlsx":
        table = Table("Proof", PROOF_HEADER, tuple(line.cells for line in rows))
        return as_xlsx([table]), "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return proof_pdf(row.name, sheet["coverage"]["sentence"], rows, timezone.localdate()), "application/pdf"


def _proof_lines(row: models.Site, sheet: dict[str, Any]) -> list[ProofLine]:
    zone = sheets.site_zone(queries.document(row))
    columns = {column["key"]: column for column in sheet["columns"]}
    titles = {check["check"]: check["title"] for check in sheet["checks"]}
    order = {key: at for at, key in enumerate(columns)}
    cells = sorted(
        (cell for cell in sheet["cells"] if cell["device"] in columns), key=lambda cell: order[cell["device"]]
    )
    found = []
    for cell in cells:
        column, when = columns[cell["device"]], cell["at"]
        at = datetime.fromisoformat(when).astimezone(zone).strftime("%Y-%m-%d %H:%M") if when else ""
        state = _STATES.get(cell["state"], cell["state"])
        measured = cell["measured"] or ""
        if (left := cell["left_open"]) is not None and cell["state"] == "excepted":
            until = f" until {left['until']}" if left["until"] else ""
            measured = f"Left open by {left['by'] or 'somebody'}{until}: {left['reason']}"
        found.append(
            ProofLine(
                column["place"],
                column["name"],
                titles[cell["check"]],
                state,
                cell["expected"] or "",
                measured,
                at,
                cell["by"] or "",
            )
        )
    return found


_REQUEST_FILES = ("request.pdf", "request.xlsx", "addresses.csv", "flows.csv", "open.csv")


def request_file(row: models.Site, name: str) -> tuple[bytes, str]:
    """Return (bytes, media type) of the request to the IT person. Raises Rejected for a file it does not have."""
    if name not in _REQUEST_FILES:
        raise Rejected(f"The request has no file '{name}'; choose one of {', '.join(_REQUEST_FILES)}.", status=404)
    asked = request(queries.document(row), queries.planned(row))
    if name == "request.pdf":
        return request_pdf(asked, timezone.localdate()), "application/pdf"
    if name == "request.xlsx":
        return as_xlsx(tables(asked)), "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    table = next(item for item in tables(asked) if item.title.lower() == name.removesuffix(".csv"))
    return as_csv(table.header, table.rows).encode(), "text/csv; charset=utf-8"


LOG_HEADER = ("When", "Device", "What", "By", "Kind", "It said before", "Corrected later")
LOG_MOST = 20_000


def logbook_file(row: models.Site, ending: str, search: str, device: str) -> tuple[str | bytes, str]:
    """Return (content, media type) of the logbook as csv or pdf, oldest line first, in the site's own time."""
    if ending not in ("csv", "pdf"):
        raise Rejected(f"The logbook comes as csv or pdf, not as '{ending}'.", status=404)
    zone = sheets.site_zone(queries.document(row))
    lines = sheets.logbook(row, search, device, most=LOG_MOST)["lines"][::-1]
    if ending == "csv":
        rows = [
            (
                line["at"].astimezone(zone).isoformat(timespec="seconds"),
                line["subject"],
                line["sentence"],
                line["by"],
                line["kind"],
                line["corrects"],
                "; ".join(item["sentence"] for item in line["corrected"]),
            )
            for line in lines
        ]
        return as_csv(LOG_HEADER, rows), "text/csv; charset=utf-8"
    entries = [
        Entry(
            line["at"].astimezone(zone),
            line["name"] if line["subject"] != row.key else "",
            line["sentence"],
            line["by"],
            _correction(line),
        )
        for line in lines
    ]
    return logbook_pdf(row.name, entries, timezone.localdate()), "application/pdf"


def _correction(line: dict[str, Any]) -> str:
    if line["corrects"]:
        return f"(Corrects: {line['corrects']})"
    return "".join(f"(Corrected by {item['by']}: {item['sentence']})" for item in line["corrected"])


def labels(row: models.Site, ending: str, keys: list[str], base: str) -> tuple[str | bytes, str]:
    """Return (content, media type) of the labels of these devices, or of all; `base` is the server's own address.

    Raises Rejected for an ending other than pdf or svg, and for a device that the site does not have.
    """
    if ending not in ("pdf", "svg"):
        raise Rejected(f"Labels come as pdf or svg, not as '{ending}'.", status=404)
    site, planned = queries.document(row), queries.planned(row).addresses()
    strange = next((key for key in keys if key not in site.device_by_key), None)
    if strange is not None:
        raise Rejected(f"The site {row.name} has no device '{strange}'.", status=404)
    chosen = [site.device_by_key[key] for key in keys] or site.walking_order(list(site.devices))
    if not chosen:
        raise Rejected(f"{row.name} has no device yet; there is nothing to print.")
    found = [
        Label(
            f"{base}sites/{row.key}/devices/{device.key}",
            device.label,
            (
                ", ".join(filter(None, (device.key, device.place))),
                planned.get(device.key, ""),
                "; ".join(own_numbers(site, device)),
                device.serial or "",
                device.mac or "",
            ),
        )
        for device in chosen
    ]
    title = f"Labels, {row.name}"
    return (
        (label_pdf(found, title), "application/pdf") if ending == "pdf" else (label_svg(found, title), "image/svg+xml")
    )


def clock_changes(row: models.Site, base: str, years: int = 3) -> bytes:
    """Return the coming changes of the site's clocks as iCalendar (RFC 5545): an hour after each, what to look at.

    Raises Rejected where there are none to come.
    """
    site, now = queries.document(row), timezone.now()
    if site.about.time_zone is None:
        raise Rejected("The site's time zone is not known yet; ask for it in the survey.")
    try:
        turns = coming(site, now, years)
    except UnknownZone as error:
        raise Rejected(sentence(error)) from None
    if not turns:
        raise Rejected(f"The clocks of {site.about.time_zone} are not turned in the next {years} years.")
    calendar = Calendar()
    calendar.add("prodid", "-//Tutelar//Clock changes//EN")
    calendar.add("version", "2.0")
    for turn in turns:
        event = Event()
        event.add("uid", f"{row.key}-{turn.at:%Y%m%dT%H%M%S}@tutelar")
        event.add("dtstamp", now)
        event.add("dtstart", turn.at)
        event.add("dtend", turn.at + timedelta(hours=1))
        event.add("summary", turn.sentence.rstrip("."))
        looks = [f"{site.label_of(look.device)} ({look.device}): {look.why}" for look in turn.looks]
        event.add("description", "\n".join([turn.sentence, "Look at:", *looks]))
        event.add("url", f"{base}sites/{row.key}/settings?part=clocks")
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", turn.sentence)
        alarm.add("trigger", timedelta(days=-1))
        event.add_component(alarm)
        calendar.add_component(event)
    return bytes(calendar.to_ical())


def renumber_csv(row: models.Site, network: str, to: str, gateway: str) -> str:
    """Return what a renumbering changes, own addresses first, then what others have typed in. Raises Rejected."""
    site = queries.document(row)
    _, result = services.preview_renumber(site, network, to, gateway)
    rows = [(site.label_of(item.device), "own address", item.old, item.new, "") for item in result.moved]
    rows += [
        (site.label_of(item.device), item.setting, item.old, item.new, ", ".join(map(site.label_of, item.after)))
        for item in result.partners
    ]
    return as_csv(("Device", "Setting", "Old", "New", "After these have changed"), rows)


def reservation_file(row: models.Site, server: str) -> tuple[str, str]:
    """Return (text, file ending) of the reservations for a DHCP server. Raises Rejected for one that is unknown,
    and where nothing can be reserved."""
    if server not in WRITERS:
        raise Rejected(f"'{server}' is not a known DHCP server; choose one of {', '.join(WRITERS)}.", status=404)
    found, missing = reservations(queries.document(row), queries.planned(row).assignments)
    if not found:
        waiting = f" {', '.join(missing)} lack a hardware address." if missing else ""
        raise Rejected(f"No device of {row.name} has its address reserved in the router.{waiting}")
    return WRITERS[server](found), ENDINGS[server]


def catalogue_text() -> str:
    """Return the whole catalogue as an open JSON file, ready to be imported elsewhere."""
    whole = {"format": FORMAT, "version": 1, "models": list(catalogue_parts().values())}
    return json.dumps(whole, ensure_ascii=False, indent=1) + "\n"
