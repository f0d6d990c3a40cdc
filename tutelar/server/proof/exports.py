"""The proof as a file."""

import json
from dataclasses import asdict

from django.utils import timezone

from tutelar.paper.proof import proof_pdf
from tutelar.paper.proof_row import HEADER, ProofRow
from tutelar.paper.tables import Table
from tutelar.server import models
from tutelar.server.files import Asked, Export
from tutelar.server.logbook import views as logbook_views
from tutelar.server.proof import views
from tutelar.server.proof.schemas import ProofSheet
from tutelar.server.store import documents


def _rows(row: models.Site) -> tuple[ProofSheet, list[ProofRow]]:
    """Return the sheet, and its cells in walking order."""
    sheet = views.proof(row)
    order = {column.key: at for at, column in enumerate(sheet.columns)}
    return sheet, sorted((item for item in sheet.cells if item.device in order), key=lambda item: order[item.device])


def _table(row: models.Site, _asked: Asked) -> Table:
    """Return every reading in walking order and the site's own time."""
    zone = logbook_views.site_zone(documents.document(row))
    return Table("Proof", HEADER, tuple(item.cells(zone) for item in _rows(row)[1]))


def _json(row: models.Site, _asked: Asked) -> str:
    names = ("coverage", "columns", "checks", "changes", "cells")
    whole = {name: part for name, part in asdict(views.proof(row)).items() if name in names}
    return json.dumps(whole, ensure_ascii=False, indent=1, default=str)


def _pdf(row: models.Site, _asked: Asked) -> bytes:
    (sheet, rows), site = _rows(row), documents.document(row)
    zone = logbook_views.site_zone(site)
    return proof_pdf(site.about.title, sheet.coverage.sentence, rows, zone, timezone.localdate())


EXPORTS = (Export("proof", "Proof", {"json": _json, "pdf": _pdf}, _table),)
