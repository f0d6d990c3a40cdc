"""The table of links."""

from tutelar.core.links.table import link_table
from tutelar.server import models
from tutelar.server.paper.tables import as_csv
from tutelar.server.store import documents


def links_csv(row: models.Site) -> str:
    """Return the links of a site as a table that can be brought in again."""
    header, *rows = link_table(documents.document(row))
    return as_csv(header, rows)
