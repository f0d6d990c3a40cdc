"""The table of links."""

from tutelar.core.links.table import link_table
from tutelar.paper.tables import Table
from tutelar.server import models
from tutelar.server.files import Asked, Export
from tutelar.server.store import documents


def links(row: models.Site, _asked: Asked) -> Table:
    """Return the links of a site as a table that can be imported again."""
    header, *rows = link_table(documents.document(row))
    return Table("Links", tuple(header), tuple(map(tuple, rows)))


EXPORTS = (Export("links", "Links", table=links),)
