"""The proof as a file."""

import json
from datetime import datetime
from typing import Any

from django.utils import timezone

from tutelar.server import models
from tutelar.server.logbook import views as logbook_views
from tutelar.server.paper.proof import HEADER as PROOF_HEADER
from tutelar.server.paper.proof import ProofLine, proof_pdf
from tutelar.server.paper.tables import Table, as_csv, as_xlsx
from tutelar.server.proof import views
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected

_STATES = {"not-measured": "not measured", "planned": "not looked at yet", "excepted": "left open"}


def proof_file(row: models.Site, ending: str) -> tuple[str | bytes, str]:
    """Return (content, media type) of every reading as csv, json, pdf or xlsx, in walking order and the site's time.

    Raises Rejected for another ending.
    """
    if ending not in ("csv", "json", "pdf", "xlsx"):
        raise WriteRejected(f"The proof comes as csv, json, pdf or xlsx, not as '{ending}'.", status=404)
    sheet = views.proof(row)
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
    zone = logbook_views.site_zone(documents.document(row))
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
