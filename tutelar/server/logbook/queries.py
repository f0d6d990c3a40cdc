"""Reads of the log."""

from django.db.models import Q, QuerySet

from tutelar.server import models
from tutelar.server.store import documents


def log_lines(row: models.Site, search: str = "", device: str = "") -> QuerySet[models.Event]:
    """Return the lines of a site's log that hold every word, newest first; a word may be part of a device's name."""
    lines = models.Event.objects.filter(site_key=row.key)
    if device:
        lines = lines.filter(subject=device)
    elif not search.strip():
        lines = lines.exclude(kind="value.tick")  # dozens a device: found by a search and under their device
    for word in search.split()[:10]:
        named = [part.key for part in documents.document(row).devices if word.lower() in part.label.lower()]
        lines = lines.filter(
            Q(sentence__icontains=word)
            | Q(by__icontains=word)
            | Q(kind__icontains=word)
            | Q(subject__icontains=word)
            | Q(subject__in=named[:500])
        )
    return lines
