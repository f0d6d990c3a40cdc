"""The proof as a file."""

import json
from dataclasses import asdict

from django.utils import timezone

from tutelar.server import models
from tutelar.server.logbook import views as logbook_views
from tutelar.server.paper.proof import proof_pdf
from tutelar.server.paper.proof_row import HEADER
from tutelar.server.paper.tables import Table, as_csv, as_xlsx
from tutelar.server.proof import views
from tutelar.server.store import documents
from tutelar.server.store.writes import WriteRejected


def proof_file(row: models.Site, ending: str) -> tuple[str | bytes, str]:
    """Return (content, media type) of every reading as csv, json, pdf or xlsx, in walking order and the site's time.

    Raises WriteRejected for another ending.
    """
    if ending not in ("csv", "json", "pdf", "xlsx"):
        raise WriteRejected(f"The proof comes as csv, json, pdf or xlsx, not as '{ending}'.", status=404)
    sheet = views.proof(row)
    if ending == "json":
        names = ("coverage", "columns", "checks", "changes", "cells")
        whole = {name: part for name, part in asdict(sheet).items() if name in names}
        return json.dumps(whole, ensure_ascii=False, indent=1, default=str), "application/json"
    zone = logbook_views.site_zone(documents.document(row))
    order = {column.key: at for at, column in enumerate(sheet.columns)}
    rows = sorted((item for item in sheet.cells if item.device in order), key=lambda item: order[item.device])
    if ending == "csv":
        return as_csv(HEADER, [item.cells(zone) for item in rows]), "text/csv; charset=utf-8"
    if ending == "xlsx":
        table = Table("Proof", HEADER, tuple(item.cells(zone) for item in rows))
        return as_xlsx([table]), "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return proof_pdf(
        documents.document(row).about.title, sheet.coverage.sentence, rows, zone, timezone.localdate()
    ), "application/pdf"
