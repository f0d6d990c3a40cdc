"""The recording schedule: which channel follows what, and what it writes."""

from tutelar.core.recording import channels_of
from tutelar.paper.recording import recording_table
from tutelar.paper.tables import Table
from tutelar.server import models
from tutelar.server.files import Asked, Export
from tutelar.server.store import documents


def _table(row: models.Site, _asked: Asked) -> Table:
    return recording_table(documents.document(row))


def _recorded(row: models.Site) -> bool:
    return bool(channels_of(documents.document(row)))


EXPORTS = (Export("recording", "Recording schedule", table=_table, offered=_recorded),)
