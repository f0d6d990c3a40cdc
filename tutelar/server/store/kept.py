"""Answers that are kept as long as a site stands as it stood: twenty who look at one sheet have it worked out once.

What a sheet shows depends on the site's rows, its readings, the catalogue and the day. Every write of rows changes the
version token or leaves a line in the log; notes of the logbook change no sheet. Each process keeps its own answers.
"""

from collections import OrderedDict
from collections.abc import Callable
from functools import cache
from threading import Lock
from typing import Any

from django.conf import settings
from django.db import connection
from django.http import HttpResponse
from django.utils import timezone
from pydantic import TypeAdapter

from tutelar.server import models

LOGBOOK = ("note", "reading", "photo", "correction")  # kinds of lines that are words only
_MOST_BYTES = 64_000_000
_kept: OrderedDict[tuple[Any, ...], bytes] = OrderedDict()
_writing = Lock()


def kept(view: Callable[[models.Site], Any], row: models.Site) -> HttpResponse:
    """Return what a view shows of a site as JSON, worked out anew only where the site does not stand as it stood."""
    mark = (view.__module__, view.__qualname__, *state_of(row))
    with _writing:
        text = _kept.get(mark)
        if text is not None:
            _kept.move_to_end(mark)
    if text is None:
        shown = view(row)
        text = _writer(shown.__class__).dump_json(shown)
        with _writing:
            _kept[mark] = text
            size = sum(map(len, _kept.values()))
            while size > _MOST_BYTES:
                size -= len(_kept.popitem(last=False)[1])
    return HttpResponse(text, content_type="application/json; charset=utf-8")


@cache
def _writer(shape: Any) -> TypeAdapter[Any]:
    return TypeAdapter(shape)


def state_of(row: models.Site) -> tuple[Any, ...]:
    """Return what changes whenever a sheet of a site may look otherwise."""
    with connection.cursor() as cursor:
        cursor.execute(_STATE, [row.key, *LOGBOOK, row.pk, row.pk])
        rows = cursor.fetchone()
    return (row.pk, row.version_token, *rows, timezone.localdate(), settings.LIVE)


# asked with every answer, so in one question: the newest line that is no note, the newest reading, how far the last
# measuring is, how often the catalogue was changed
_STATE = f"""
    SELECT
        (SELECT id FROM tutelar_event WHERE site_key = %s AND kind NOT IN ({", ".join(["%s"] * len(LOGBOOK))})
         ORDER BY id DESC LIMIT 1),
        (SELECT id FROM tutelar_reading WHERE site_id = %s ORDER BY id DESC LIMIT 1),
        (SELECT id || state || measured FROM tutelar_proof WHERE site_id = %s ORDER BY id DESC LIMIT 1),
        (SELECT COUNT(*) FROM tutelar_profile), (SELECT SUM(revision) FROM tutelar_profile)
"""  # noqa: S608 - nothing in it but as many signs as there are kinds
