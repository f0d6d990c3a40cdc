"""The diary as a calendar."""

from django.utils import timezone

from tutelar.paper.calendar import calendar_ics
from tutelar.server import models
from tutelar.server.files import Asked, Export
from tutelar.server.later import queries
from tutelar.server.store import documents


def _diary(row: models.Site, _asked: Asked) -> bytes:
    return calendar_ics(documents.document(row), timezone.localdate(), queries.looks(row))


EXPORTS = (Export("diary", "Diary", {"ics": _diary}),)
